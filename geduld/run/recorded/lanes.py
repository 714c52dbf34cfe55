"""Runs lanes side by side: of all that is waited for, the earliest end goes on first."""

from __future__ import annotations

import heapq
from bisect import bisect_right
from dataclasses import dataclass, field
from itertools import count

from geduld.run.program.compiler import Lane
from geduld.run.program.functions import Abandoned, Finished, StepsExhausted
from geduld.run.program.requests import ASKING, AWAIT, FOLLOW, OVER, SEARCHING, SIDE, WAKING, Kept, Request, full
from geduld.run.recorded.waits import Waits
from geduld.worlds.trace import Trace


@dataclass(eq=False)
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


class Lanes:
    """One run of a program with lanes.

    `values` are those that `set` keeps, which all lanes share; `budget` is what waking them may cost, in steps.
    """

    def __init__(
        self, waits: Waits, trace: Trace, end: int, values: list[float], at_once: dict[int, int], budget: int
    ) -> None:
        self.budget = budget
        self.waits = waits
        self.times = trace.times_view
        self.end = end
        self.values = values
        self.at_once = at_once
        # A lane may begin again at the instant at which an older one of its place ended: the counter tells them apart.
        self.queue: list[tuple[int, tuple[int, ...], int, int, _Strand]] = []
        self.queued = count()
        self.reading: set[_Strand] = set()

    def run(self, lane: Lane) -> None:
        """Runs the program. Returns when the world ends first; raises Finished when the program does."""
        try:
            self._start(_Strand(lane, "begin", ()), 0)
            self._look_again(0)
            while self.queue:
                stop, _, _, version, strand = heapq.heappop(self.queue)
                if version != strand.version:
                    continue
                if stop > self.end:
                    self._cut(strand)
                    return
                self._wake(strand)
        except Finished as done:
            self._cut(None, done.args[0])
            raise

    def _start(self, strand: _Strand, now: int) -> None:
        try:
            self._ask(strand, full(next(strand.lane)))
        except StopIteration as done:
            self._over(strand, done.value, 1)
        except Abandoned as gone:
            self._over(strand, now, 2 + gone.args[0])

    def _ask(self, strand: _Strand, request: Request) -> None:
        """Takes what a lane waits for, and queues its end. The request says when: passes may have moved the clock."""
        op, now = request[0], request[1]
        if op.kind == SIDE:
            strand.request = request
            strand.called = 1
            strand.inside = [
                _Strand(lane, name, (*strand.order, index), strand)
                for index, (lane, name) in enumerate(zip(request[5], op.lanes, strict=True))
            ]
            for inner in list(strand.inside):
                self._start(inner, now)
            return
        if op.kind == OVER:
            strand.request, strand.stop, strand.came = request, self.end + 1, 1
        else:
            request = strand.request = self.waits.begin(request)
            strand.stop, strand.came = self.waits.ends(request, now)
            if request[3] or request[6] or any(kept for _, _, kept in request[2]):
                self.reading.add(strand)
                self._charge(SEARCHING, now)
            if strand.stop == now and strand.came == 1:
                self.at_once.setdefault(op.line, now)
        self._queue(strand)

    def _queue(self, strand: _Strand) -> None:
        strand.version += 1
        heapq.heappush(self.queue, (strand.stop, strand.order, next(self.queued), strand.version, strand))

    def _wake(self, strand: _Strand) -> None:
        """A wait is over: its lane goes on."""
        now = strand.stop
        self._charge(WAKING + ASKING * len(self.reading), now)
        self.reading.discard(strand)
        if strand.request[0].kind not in (SIDE, OVER):
            self.waits.finish(strand.request, now, strand.came, strand.name, strand.order)
        try:
            request = strand.lane.send((now, bisect_right(self.times, now) - 1, strand.came))
        except StopIteration as done:
            self._over(strand, done.value, 1)
        except Abandoned as gone:
            self._over(strand, now, 2 + gone.args[0])
        else:
            self._ask(strand, full(request))
        self._look_again(now)

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

    def _charge(self, steps: int, now: int) -> None:
        self.budget -= steps
        if self.budget < 0:
            raise StepsExhausted(now)

    def _cut(self, first: _Strand | None, stop: int | None = None) -> None:
        """Writes down the waits that the end of the run, or of the program, cuts short."""
        pending = [strand for _, _, _, version, strand in sorted(self.queue) if version == strand.version]
        for strand in [first, *pending] if first else pending:
            if strand.request[0].kind not in (SIDE, OVER):
                until = min(strand.stop, self.end + 1 if stop is None else stop)
                self.waits.write_down(strand.request, until, strand.name, strand.order)

    def _look_again(self, now: int) -> None:
        """Works out anew the waits whose conditions read values that another lane has just set."""
        for strand in sorted(self.reading, key=lambda strand: strand.order):
            fresh = self._fresh(strand.request, now)
            if fresh != strand.request:
                self._charge(SEARCHING, now)
                if fresh[6] != strand.request[6]:
                    self.waits.moving.moved(strand.request, now)
                strand.request = fresh
                strand.stop, strand.came = self.waits.ends(fresh, now)
                self._queue(strand)

    def _fresh(self, request: Request, now: int) -> Request:
        """A request with the values that its conditions read as they are now."""
        guards = tuple((number, condition, self._now(kept, now)) for number, condition, kept in request[2])
        op, kept = request[0], request[3]
        if op.ending == AWAIT and op.kind in (AWAIT, FOLLOW):
            kept = self._now(kept, now)
        follows = self._now(request[6], now) if request[6] else request[6]
        return (op, request[1], guards, kept, request[4], request[5], follows)

    def _now(self, kept: Kept, now: int) -> Kept:
        turn = self.waits.odometer.turn
        return tuple((key, turn(key, now) if isinstance(key, str) else self.values[key]) for key, _ in kept)
