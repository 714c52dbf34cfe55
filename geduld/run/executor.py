"""Runs a compiled program on a trace by time."""

from __future__ import annotations

import hashlib
import heapq
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.compiler import (
    AWAIT,
    FOLLOW,
    OVER,
    PASS,
    POLL,
    SIDE,
    Compiled,
    Lane,
    compile_program,
)
from geduld.run.journal import EventsExhausted, Journal
from geduld.run.record import Event, Record, Signal
from geduld.run.tools import Abandoned, Finished, StepsExhausted
from geduld.run.trust import trust_horizons
from geduld.run.waits import Kept, Request, Waits
from geduld.worlds.trace import Trace

ENGINE = "geduld 0.1.0"
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


@dataclass
class _Strand:
    """A lane as it runs: its generator, what it waits for, and the lanes that it waits for in turn.

    `version` tells a wait in the queue from an older one that was worked out anew. `called` is the reason
    with which a guard has ended one of the lanes inside.
    """

    lane: Lane
    name: str
    order: tuple[int, ...]
    parent: _Strand | None = None
    request: Request = ()
    stop: int = 0
    came: int = 1
    version: int = 0
    inside: list[_Strand] = field(default_factory=list)
    called: int = 1


class _Run:
    """The mutable state of one run."""

    def __init__(self, runner: Runner, trace: Trace, limit_us: int | None) -> None:
        self.runner = runner
        self.rig = runner.rig
        self.trace = trace
        self.end = trace.duration_us if limit_us is None else min(limit_us, trace.duration_us)
        self.limited = limit_us is not None and limit_us < trace.duration_us
        self.journal = Journal(self.rig, self.end, runner.compiled.texts)
        self.waits = Waits(runner.compiled, self.rig, trace, self.end, self.journal)
        self.kept = [float("nan")] * len(runner.bound.variables)
        self.no_wait: dict[int, None] = {}
        self.queue: list[tuple[int, tuple[int, ...], int, _Strand]] = []

    def channel(self, name: str) -> memoryview:
        """A channel's values at each sample; absent all along when it was not recorded."""
        values = self.trace.column(name)
        if values is None:
            values = np.full(self.trace.samples, np.nan)
        return np.ascontiguousarray(values).data

    def drive(self) -> tuple[str, int]:
        """Runs the program; says why it ended, and when."""
        lane = self.runner.compiled.lane(
            self.journal.put,
            self.channel,
            self.journal.event,
            self.journal.looped,
            self.journal.control,
            self.waits.odometer.value,
            self.waits.odometer.turn,
            self.trace.ticks.data,
            self.end,
            self.rig.loop_us,
            LEAST_STEPS + 20 * self.end // self.rig.loop_us,
            self.kept,
        )
        try:
            if self.runner.compiled.has_lanes:
                self._together(lane)
            else:
                self._alone(lane)
        except Finished as done:
            self._cut(None, done.args[0])
            return "finished", done.args[0]
        except StepsExhausted as problem:
            return "steps", problem.args[0]
        except EventsExhausted as problem:
            return "events", problem.args[0]
        return "time", self.end

    def _alone(self, lane: Lane) -> None:
        """Runs a program without side by side: one wait after another. Returns when the world ends first."""
        strand = _Strand(lane, "begin", ())
        try:
            request = next(lane)
            while request[0] != OVER:
                now = request[2]
                stop, came = self.waits.poll(request) if request[0] == POLL else self.waits.ends(request, now)
                if stop == 0 and came == 1 and request[0] != POLL:
                    self.no_wait[request[1]] = None
                strand.request = request
                self._done(strand, stop)
                if stop > self.end:
                    return
                request = lane.send((stop, int(self.trace.times.searchsorted(stop, "right")) - 1, came))
        except StopIteration as done:
            raise Finished(done.value) from None

    def _together(self, lane: Lane) -> None:
        """Runs a program with lanes: the earliest wait goes on first. Returns when the world ends first."""
        self._start(_Strand(lane, "begin", ()), 0)
        while self.queue:
            stop, _, version, strand = heapq.heappop(self.queue)
            if version != strand.version:
                continue
            if stop > self.end:
                self._cut(strand)
                return
            self._wake(strand)

    def _start(self, strand: _Strand, now: int) -> None:
        try:
            self._ask(strand, next(strand.lane), now)
        except StopIteration as done:
            self._over(strand, done.value, 1)
        except Abandoned as gone:
            self._over(strand, now, 2 + gone.args[0])

    def _ask(self, strand: _Strand, request: Request, now: int) -> None:
        """Takes what a lane waits for, and queues its end."""
        strand.request = request
        if request[0] == SIDE:
            lanes, names = request[4:]
            strand.called = 1
            strand.inside = [
                _Strand(lane, name, (*strand.order, index), strand)
                for index, (lane, name) in enumerate(zip(lanes, names, strict=True))
            ]
            for inner in list(strand.inside):
                self._start(inner, now)
            return
        if request[0] == OVER:
            strand.stop, strand.came = self.end + 1, 1
        elif request[0] == POLL:
            strand.stop, strand.came = self.waits.poll(request)
        else:
            strand.stop, strand.came = self.waits.ends(request, now)
            if strand.stop == now == 0 and strand.came == 1:
                self.no_wait[request[1]] = None
        self._queue(strand)

    def _queue(self, strand: _Strand) -> None:
        strand.version += 1
        heapq.heappush(self.queue, (strand.stop, strand.order, strand.version, strand))

    def _wake(self, strand: _Strand) -> None:
        """A wait is over: its lane goes on."""
        now = strand.stop
        self._done(strand, now)
        place = int(self.trace.times.searchsorted(now, "right")) - 1
        try:
            request = strand.lane.send((now, place, strand.came))
        except StopIteration as done:
            self._over(strand, done.value, 1)
        except Abandoned as gone:
            self._over(strand, now, 2 + gone.args[0])
        else:
            self._ask(strand, request, now)
        self._look_again(now)

    def _done(self, strand: _Strand, stop: int) -> None:
        """Writes down a wait up to `stop`, and moves what it kept moving."""
        request = strand.request
        if request[0] in (SIDE, OVER):
            return
        start = request[2]
        if request[0] in (PASS, POLL):
            self.journal.looped(request[1], start, stop, strand.name, strand.order)
        else:
            self.waits.move(request, min(stop, self.end + 1))
            self.journal.waited(request[1], start, stop, strand.name, strand.order)

    def _over(self, strand: _Strand, now: int, why: int) -> None:
        """A lane has ended; when it was the last of its side by side, the lane around goes on."""
        parent = strand.parent
        if parent is None:
            raise Finished(now)
        parent.inside.remove(strand)
        parent.called = max(parent.called, why)
        if not parent.inside:
            parent.stop, parent.came = now, parent.called
            self._queue(parent)

    def _cut(self, first: _Strand | None, stop: int | None = None) -> None:
        """Writes down the waits that the end of the run, or of the program, cuts short."""
        pending = [strand for _, _, version, strand in sorted(self.queue) if version == strand.version]
        for strand in [first, *pending] if first else pending:
            self._done(strand, min(strand.stop, self.end + 1 if stop is None else stop))

    def _look_again(self, now: int) -> None:
        """Works out anew the waits whose conditions read values that another lane has just set."""
        for _, _, version, strand in list(self.queue):
            if version != strand.version or strand.request[0] in (SIDE, OVER, POLL):
                continue
            fresh = self._fresh(strand.request, now)
            if fresh != strand.request:
                strand.request = fresh
                strand.stop, strand.came = self.waits.ends(fresh, now)
                self._queue(strand)

    def _fresh(self, request: Request, now: int) -> Request:
        """A request with the values that its conditions read as they are now."""
        guards = tuple((number, condition, self._now(kept, now)) for number, condition, kept in request[3])
        rest = request[4:]
        if request[0] == AWAIT:
            rest = (rest[0], self._now(rest[1], now), *rest[2:])
        elif request[0] == FOLLOW:
            rest = (self._fresh(rest[0], now), *rest[1:])
        return (*request[:3], guards, *rest)

    def _now(self, kept: Kept, now: int) -> Kept:
        turn = self.waits.odometer.turn
        return tuple((key, turn(key, now) if isinstance(key, str) else self.kept[key]) for key, _ in kept)

    def record(self, trace: Trace, program: str) -> Record:
        """Runs the program and gathers what it did."""
        why, ended_at = self.drive()
        journal = self.journal
        if why == "finished" and self.rig.stops_at_end:
            for name, part in journal.parts.items():
                if part.kind.word in ("motor", "lamp", "buzzer"):
                    journal.put(name, 0.0, ended_at, 0)
        if why in _LIMITS:
            journal.events.append(Event(ended_at, "limit", 0, _LIMITS[why]))
        events = sorted(journal.events, key=lambda event: event.tick)
        commands = journal.commands()
        return Record(
            rig=self.rig,
            ended_at=ended_at,
            lasted=self.end,
            why=why,
            said=_said(events),
            commands=commands,
            program=journal.program(self.end),
            events=tuple(events),
            readings=self._readings(),
            trust_of=partial(trust_horizons, self.rig, trace, commands, self.end),
            made_from={
                "engine": ENGINE,
                "program": hashlib.sha256(program.encode()).hexdigest(),
                "rig": self.rig.fingerprint,
                "trace": trace.fingerprint,
                "limit": self.end / 1_000_000 if self.limited else None,
            },
            set_by=journal.set_by,
            no_wait=tuple(self.no_wait),
            controls=journal.control_signals(),
            texts=self.trace.texts,
        )

    def _readings(self) -> dict[str, Signal]:
        sensors = {name for name, part in self.rig.channels.items() if not part.is_output}
        last = int(self.trace.times.searchsorted(self.end, "right"))
        return {
            name: Signal(self.trace.times[:last], values[:last])
            for name, values in self.trace.channels.items()
            if name in sensors
        }


def _said(events: Sequence[Event]) -> str:
    """The text of the last `finish`."""
    return next((event.text for event in reversed(events) if event.kind == "finish"), "")


_LIMITS = {
    "steps": "The program took more steps than a run may, so the run was ended here. Put a wait into its loop.",
    "events": "The program made more events than a run may, so the run was ended here. Note less often.",
}
