"""Runs a compiled program on a trace by time."""

from __future__ import annotations

import hashlib
from array import array
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.compiler import AWAIT, FOLLOW, OVER, PASS, POLL, RAMP, Compiled, StepsExhausted, compile_program
from geduld.run.polling import chunks
from geduld.run.record import Bar, Event, Record, Signal
from geduld.run.search import Search, columns
from geduld.run.trust import trust_horizons
from geduld.run.vector import as_array
from geduld.run.vector import values as values_of
from geduld.worlds.trace import NEVER, Floats, Ticks, Trace

ENGINE = "geduld 0.1.0"
LEAST_EVENTS = 10_000
MOST_SEARCHES = 256
LEAST_STEPS = 1_000_000


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
        return _Run(self, trace.from_the_start(), limit_us).record(trace, program)


class _EventsExhausted(Exception):
    pass


class _Run:
    """The mutable state of one run."""

    def __init__(self, runner: Runner, trace: Trace, limit_us: int | None) -> None:
        self.runner = runner
        self.rig = runner.rig
        self.trace = trace
        self.end = trace.duration_us if limit_us is None else min(limit_us, trace.duration_us)
        self.limited = limit_us is not None and limit_us < trace.duration_us
        self.parts = {part.name: part for part in self.rig.outputs}
        self.ticks = {name: array("q", [0]) for name in self.parts}
        self.levels = {
            name: array("d", [np.nan if part.kind.word == "servo" else 0.0]) for name, part in self.parts.items()
        }
        self.events: list[Event] = []
        self.most_events = LEAST_EVENTS + self.end // self.rig.loop_us
        self.bars: list[tuple[int, int, int, str]] = []
        self.absent_lines: set[int] = set()
        self.set_by: dict[str, int] = {}
        self.no_wait: dict[int, None] = {}
        self.searches: dict[Any, Search] = {}

    def put(self, name: str, value: float, now: int, line: int) -> float:
        """Commands an output: the last command of an instant counts; no change leaves no trace.

        Gives back the value that the output has now.
        """
        ticks, levels = self.ticks[name], self.levels[name]
        self.set_by[name] = line
        if value != value:
            self._event(now, "absent", line, _kept(name))
            return levels[-1]
        value = self.parts[name].clamp(value)
        if ticks[-1] == now:
            if len(ticks) > 1 and levels[-2] == value:
                ticks.pop()
                levels.pop()
            else:
                levels[-1] = value
        elif levels[-1] != value:
            ticks.append(now)
            levels.append(value)
        return value

    def channel(self, name: str) -> memoryview:
        """A channel's values at each sample; absent all along when it was not recorded."""
        values = self.trace.channels.get(name)
        if values is None:
            values = np.full(self.trace.samples, np.nan)
        return np.ascontiguousarray(values).data

    def _event(self, tick: int, kind: str, line: int, text: str) -> None:
        if kind == "absent":
            if line in self.absent_lines:
                return
            self.absent_lines.add(line)
        if len(self.events) >= self.most_events:
            raise _EventsExhausted
        self.events.append(Event(tick, kind, line, text))

    def event(self, tick: int, kind: str, line: int, text: int) -> None:
        """Notes an event whose text stands in the program's table."""
        said = self.runner.compiled.texts[text] if text >= 0 else ""
        if kind == "patience":
            said = "The patience ran out before the condition held."
        self._event(tick, kind, line, said or "")

    def looped(self, line: int, start: int, stop: int) -> None:
        """Notes one pass of a loop that never waited; passes in a row become one bar."""
        bars = self.bars
        if bars and bars[-1][3] == "looping" and bars[-1][0] == line and bars[-1][2] == start:
            bars[-1] = (line, bars[-1][1], stop, "looping")
        else:
            bars.append((line, start, stop, "looping"))

    def drive(self) -> tuple[str, int]:
        """Runs the program; says why it ended, and when."""
        lane = self.runner.compiled.lane(
            self.put,
            self.channel,
            self.event,
            self.looped,
            self.trace.ticks.data,
            self.end,
            self.rig.loop_us,
            LEAST_STEPS + 20 * self.end // self.rig.loop_us,
        )
        times = self.trace.times
        try:
            request = next(lane)
            while request[0] != OVER:
                line, start = request[1], request[2]
                stop, came = self._stop(request)
                if stop == start == 0 and came == 1:
                    self.no_wait[line] = None
                if request[0] in (PASS, POLL):
                    self.looped(line, start, stop)
                elif stop > start:
                    self.bars.append((line, start, min(stop, self.end), "waiting"))
                if stop > self.end:
                    break
                request = lane.send((stop, int(times.searchsorted(stop, "right")) - 1, came))
        except StopIteration as done:
            return "finished", done.value
        except StepsExhausted as problem:
            return "steps", problem.args[0]
        except _EventsExhausted:
            return "events", self.events[-1].tick
        return "time", self.end

    def _stop(self, request: tuple[Any, ...]) -> tuple[int, int]:
        """When a wait ends and why: 1 for its own reason, 0 when its patience ran out, 2 + n for guard n.

        Outputs that move meanwhile are moved. Of a guard and the wait's own end at one instant the guard counts.
        """
        kind, line, now, guards = request[:4]
        if kind == POLL:
            return self._poll(line, now, *request[4:])
        limit, why = NEVER, 1
        for number, condition, variables in guards:
            holds = self._search(condition, variables).first(now, 0)
            if holds < limit:
                limit, why = holds, 2 + number
        stop, came = self._own_stop(request)
        if guards and limit <= stop:
            stop, came = limit, why
        if kind == FOLLOW:
            self._follow(line, now, min(stop, self.end + 1), request[5], dict(request[6]))
        elif kind == RAMP:
            over, parts, first, last = request[4:]
            ticks = np.arange(now + self.rig.loop_us, min(stop, self.end + 1), self.rig.loop_us, dtype=np.int64)
            values = first + (last - first) * ((ticks - now) / max(1, over - now))
            self._move(line, ticks, [(name, values) for name in parts])
        return stop, came

    def _poll(
        self, line: int, now: int, index: int, variables: tuple[tuple[int, float], ...], cost: int, budget: int
    ) -> tuple[int, int]:
        """Goes round a loop without state: when it is left, and how many steps it took; -1 past the budget."""
        loop = self.rig.loop_us
        affordable = budget // cost
        possible = (self.end - now) // loop + 1
        done = 0
        step = self.runner.compiled.polls[index]
        for passes, left in chunks(step, self.trace, now, min(possible, affordable), loop, dict(variables)):
            done += len(passes.ticks)
            for part, touched in passes.touched.items():
                self._command_passes(part, passes.ticks[touched], passes.values[part][touched], now)
            self.set_by.update(passes.lines)
            for tick, at_line, part in sorted(passes.absent, key=lambda item: item[0]):
                self._event(tick, "absent", at_line, _kept(part))
            if left:
                return now + done * loop, done * cost
        return now + done * loop, done * cost if possible <= affordable else -1

    def _command_passes(self, part: str, ticks: Ticks, values: Floats, now: int) -> None:
        """Commands an output at the instants of passes, of which the first may be this very instant."""
        if len(ticks) and ticks[0] == now:
            self.put(part, float(values[0]), now, 0)
            ticks, values = ticks[1:], values[1:]
        self._put_many(part, ticks, values)

    def _own_stop(self, request: tuple[Any, ...]) -> tuple[int, int]:
        """When a wait would end without its guards."""
        if request[0] == FOLLOW:
            return self._own_stop(request[4])
        if request[0] == AWAIT:
            return self._answer(request[2], *request[4:])
        return request[4], 1

    def _follow(
        self, line: int, now: int, stop: int, followers: tuple[tuple[str, int], ...], variables: dict[int, float]
    ) -> None:
        """Sets outputs at every sample after `now` and before `stop`."""
        first = int(self.trace.times.searchsorted(now, "right"))
        last = int(self.trace.times.searchsorted(stop, "left"))
        ticks = self.trace.times[first:last]
        if not len(ticks):
            return
        lookup = columns(self.trace, slice(first, last), ticks, variables)
        follows = self.runner.compiled.follows
        self._move(
            line, ticks, [(name, as_array(values_of(follows[index], lookup), len(ticks))) for name, index in followers]
        )

    def _move(self, line: int, ticks: Ticks, moves: list[tuple[str, Floats]]) -> None:
        """Commands outputs at rising instants; an absent value leaves an output as it is, and is said once."""
        absent = []
        for order, (name, values) in enumerate(moves):
            missing = np.isnan(values)
            if missing.any():
                absent.append((int(ticks[missing.argmax()]), order, name))
            self._put_many(name, ticks[~missing], values[~missing])
        for tick, _, name in sorted(absent)[:1]:
            self._event(tick, "absent", line, _kept(name))

    def _put_many(self, name: str, ticks: Ticks, values: Floats) -> None:
        """Commands an output at rising instants, all later than its last change."""
        low, high = self.parts[name].bounds
        clamped = np.minimum(np.maximum(values, low), high)
        keep = clamped != np.concatenate((self.levels[name][-1:], clamped[:-1]))
        self.ticks[name].frombytes(np.ascontiguousarray(ticks[keep]).tobytes())
        self.levels[name].frombytes(clamped[keep].tobytes())

    def _answer(
        self, now: int, condition: int, variables: tuple[tuple[int, float], ...], held: int, patience: int | None
    ) -> tuple[int, int]:
        """When a wait for a condition ends, and 1 when the condition came, 0 when the patience ran out."""
        found = self._search(condition, variables).first(now, held)
        if patience is not None and found > now + patience:
            return now + patience, 0
        return found, 1

    def _search(self, condition: int, variables: tuple[tuple[int, float], ...]) -> Search:
        key = (condition, variables)
        search = self.searches.get(key)
        if search is None:
            if len(self.searches) >= MOST_SEARCHES:
                self.searches.clear()
            search = Search(self.runner.compiled.conditions[condition], self.trace, dict(variables))
            self.searches[key] = search
        return search

    def record(self, trace: Trace, program: str) -> Record:
        """Runs the program and gathers what it did."""
        why, ended_at = self.drive()
        if why == "finished" and self.rig.stops_at_end:
            for name, part in self.parts.items():
                if part.kind.word in ("motor", "lamp", "buzzer"):
                    self.put(name, 0.0, ended_at, 0)
        if why in _LIMITS:
            self.events.append(Event(ended_at, "limit", 0, _LIMITS[why]))
        commands = {
            name: Signal(np.array(self.ticks[name], np.int64), np.array(self.levels[name])) for name in self.parts
        }
        finishes = [event.text for event in self.events if event.kind == "finish"]
        bars = tuple(Bar(line, start, min(stop, self.end), state) for line, start, stop, state in self.bars)
        sensors = {part.name for part in self.rig.sensors}
        last = int(self.trace.times.searchsorted(self.end, "right"))
        readings = {
            name: Signal(self.trace.times[:last], values[:last])
            for name, values in self.trace.channels.items()
            if name in sensors
        }
        return Record(
            rig=self.rig,
            ended_at=ended_at,
            lasted=self.end,
            why=why,
            said=finishes[-1] if finishes else "",
            commands=commands,
            program=bars,
            events=tuple(self.events),
            readings=readings,
            trust_of=partial(trust_horizons, self.rig, trace, commands, self.end),
            made_from={
                "engine": ENGINE,
                "program": hashlib.sha256(program.encode()).hexdigest(),
                "rig": self.rig.fingerprint,
                "trace": trace.fingerprint,
                "limit": self.end / 1_000_000 if self.limited else None,
            },
            set_by=self.set_by,
            no_wait=tuple(self.no_wait),
        )


def _kept(name: str) -> str:
    return f'"{name}" was given an absent value and kept what it had.'


_LIMITS = {
    "steps": "The program took more steps than a run may, so the run was ended here. Put a wait into its loop.",
    "events": "The program made more events than a run may, so the run was ended here. Note less often.",
}
