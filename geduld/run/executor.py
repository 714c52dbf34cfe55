"""Runs a compiled program on a trace by time."""

from __future__ import annotations

import hashlib
from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.compiler import Compiled, Lane, compile_program
from geduld.run.journal import EventsExhausted, Journal
from geduld.run.lanes import Lanes
from geduld.run.ops import AWAIT, OVER, POLL, Request, full
from geduld.run.polling import Polling
from geduld.run.record import Bar, Event, Record, Signal
from geduld.run.tools import Finished, StepsExhausted
from geduld.run.trust import trust_horizons
from geduld.run.waits import Waits
from geduld.worlds.trace import Trace

ENGINE = "geduld 0.1.0"
LEAST_STEPS, MOST_STEPS = 15_000_000, 20_000_000


@dataclass
class Runner:
    """A program ready to run on any trace of its rig."""

    bound: terms.Bound
    rig: Rig
    compiled: Compiled

    @classmethod
    def of(cls, bound: terms.Bound, rig: Rig) -> Runner:
        """Compiles a bound program. It must have no errors."""
        if not bound.good:
            raise ValueError("a program with errors cannot be run")
        return cls(bound, rig, compile_program(bound, rig))

    def run(self, trace: Trace, limit_us: int | None = None, program: str = "") -> Record:
        """The record of a run on a trace by time.

        It lasts to the end of the trace, or to `limit_us` if that comes first. `program` is the text
        it was made from, for the record's fingerprints. A program that takes more steps or makes more
        events than a run may is ended there, and the record's `why` says which limit it was.
        """
        return _Run(self, trace, limit_us, program).record()


class _Run:
    """The mutable state of one run, and then the details of its record."""

    def __init__(self, runner: Runner, trace: Trace, limit_us: int | None, program: str) -> None:
        self.runner = runner
        self.rig = runner.rig
        self.recording = trace
        self.text = program
        self.trace = trace.from_the_start()
        self.end = trace.duration_us if limit_us is None else min(limit_us, trace.duration_us)
        self.limit = limit_us if limit_us is not None and limit_us < trace.duration_us else None
        self.journal = Journal(self.rig, self.end, runner.compiled.texts)
        self.waits = Waits(runner.compiled, self.rig, self.trace, self.end, self.journal)
        self.values = [float("nan")] * len(runner.bound.variables)
        self.at_once: dict[int, int] = {}

    def record(self) -> Record:
        """Runs the program and gathers what it did."""
        why, ended_at = self._drive()
        journal = self.journal
        if why == "finished" and self.rig.stops_at_end:
            for name, part in journal.parts.items():
                if part.kind.word in ("motor", "lamp", "buzzer"):
                    journal.put(name, 0.0, ended_at, 0)
        if why in _LIMITS:
            journal.events.append(Event(ended_at, "limit", 0, _LIMITS[why]))
        events = journal.events
        if len(events) > 1:
            events = sorted(events, key=lambda event: event.tick)
        said = next((event.text for event in reversed(events) if event.kind == "finish"), "") if events else ""
        return Record(
            self.rig,
            ended_at,
            self.end,
            why,
            said,
            tuple(events),
            self,
            self.at_once,
            self.trace.texts,
        )

    def _drive(self) -> tuple[str, int]:
        """Runs the program; says why it ended, and when."""
        journal, waits = self.journal, self.waits
        lane = self.runner.compiled.lane(
            journal.put,
            waits.set_known,
            self.trace.values_view,
            journal.event,
            journal.looped,
            journal.control,
            waits.encoder,
            self.trace.ticks_view if self.runner.compiled.looks_ahead else None,
            self.end,
            self.rig.loop_us,
            min(LEAST_STEPS + 10 * self.end // self.rig.loop_us, MOST_STEPS),
            self.values,
        )
        try:
            if self.runner.compiled.has_lanes:
                Lanes(waits, self.trace, self.end, self.values, self.at_once).run(lane)
            else:
                ended = self._alone(lane)
                if ended is not None:
                    return "finished", ended
        except Finished as done:
            return "finished", done.args[0]
        except StepsExhausted as problem:
            return "steps", problem.args[0]
        except EventsExhausted as problem:
            return "events", problem.args[0]
        finally:
            lane.close()
        return "time", self.end

    def _alone(self, lane: Lane) -> int | None:
        """Runs a program without side by side, one wait after another: when it ends; None when the world ends first."""
        waits, end, times, send = self.waits, self.end, self.trace.times_view, lane.send
        try:
            request, stop, place = next(lane), 0, 0
            while True:
                op, now = request[0], request[1]
                if len(request) == 2 and op.kind <= AWAIT:
                    if now != stop:
                        place = bisect_right(times, now) - 1
                    stop, place, came = waits.plain(op, now, place)
                else:
                    if op.kind == OVER:
                        return None
                    stop, came = self._poll(request) if op.kind == POLL else self._whole(full(request), now)
                    place = bisect_right(times, stop) - 1
                if stop > end and came >= 0:
                    return None
                if stop == now and came == 1:
                    self.at_once.setdefault(op.line, now)
                request = send((stop, place, came))
        except StopIteration as done:
            ended: int = done.value
            return ended

    def _whole(self, request: Request, now: int) -> tuple[int, int]:
        """Makes a step that takes time, past the end of the world at most: when it ends, and why."""
        waits = self.waits
        request = waits.begin(request)
        stop, came = waits.ends(request, now)
        if stop > self.end:
            waits.write_down(request, stop, "begin", ())
        else:
            waits.finish(request, stop, came)
        return stop, came

    def _poll(self, request: Request) -> tuple[int, int]:
        """Goes round a loop without state: when it is left, and how many steps it took; -1 past the budget."""
        op, now, kept, (cost, budget) = request[0], request[1], request[3], request[5]
        loop, affordable = self.rig.loop_us, budget // cost
        possible = (self.end - now) // loop + 1
        polling = Polling(self.runner.compiled.polls[op.index], self.trace, self.journal, dict(kept), loop)
        done, left = polling.run(now, min(possible, affordable))
        stop = now + done * loop
        self.journal.looped(op.line, now, stop)
        return stop, done * cost if left or possible <= affordable else -1

    def commands(self) -> Mapping[str, Signal]:
        """Every output's changes."""
        return self.journal.commands()

    def controls(self) -> Mapping[str, Signal]:
        """How motors were controlled, of those that were ever controlled otherwise than by power."""
        return self.journal.control_signals()

    def program(self) -> tuple[Bar, ...]:
        """Which line waited when."""
        return self.journal.program(self.end)

    def readings(self) -> Mapping[str, Signal]:
        """What the program could see: the trace's sensors, up to the end of the run."""
        sensors = {name for name, part in self.rig.channels.items() if not part.is_output}
        last = int(self.trace.times.searchsorted(self.end, "right"))
        return {
            name: Signal(self.trace.times[:last], values[:last])
            for name, values in self.trace.channels.items()
            if name in sensors
        }

    def trust(self, commands: Mapping[str, Signal]) -> Mapping[str, int]:
        """For each channel that parts from the recording, the tick past which it is not to be trusted."""
        return trust_horizons(self.rig, self.recording, commands, self.end)

    def set_by(self) -> Mapping[str, int]:
        """The line that commanded each output last."""
        return self.journal.lines()

    def made_from(self) -> Mapping[str, Any]:
        """Hashes of what the run was made from."""
        return {
            "engine": ENGINE,
            "program": hashlib.sha256(self.text.encode()).hexdigest(),
            "rig": self.rig.fingerprint,
            "trace": self.recording.fingerprint,
            "limit": None if self.limit is None else self.limit / 1_000_000,
        }


_LIMITS = {
    "steps": "The program took more steps than a run may, so the run was ended here. Let its loops wait longer.",
    "events": "The program made more events than a run may, so the run was ended here. Note less often.",
}
