"""Runs lanes side by side on a recording: of all that is waited for, the earliest end goes on first."""

from __future__ import annotations

import heapq
from bisect import bisect_right
from dataclasses import dataclass
from itertools import count

from geduld.run.program.calls import Calls
from geduld.run.program.compiler import Lane
from geduld.run.program.functions import Finished, Stuck
from geduld.run.program.requests import ASKING, AWAIT, CALLED, FOLLOW, OVER, SEARCHING, WAKING, Kept, Request
from geduld.run.program.tasks import Task, Tasks, waits
from geduld.run.recorded.waits import Waits
from geduld.worlds.trace import Trace


@dataclass(eq=False)
class RecordedTask(Task):
    """A lane whose wait's end is known: when, and why. `version` tells a wait in the queue from one worked out anew."""

    stop: int = 0
    came: int = 1
    version: int = 0


class Lanes(Tasks[RecordedTask]):
    """One run of a program with lanes. `values` are those that `set` keeps, which all lanes share."""

    kind = RecordedTask

    def __init__(
        self,
        known: Waits,
        trace: Trace,
        end: int,
        values: list[float],
        at_once: dict[int, int],
        budget: int,
        calls: Calls,
    ) -> None:
        super().__init__(budget, calls)
        self.waits = known
        self.times = trace.times_view
        self.end = end
        self.values = values
        self.at_once = at_once
        # A lane may begin again at the instant at which an older one of its place ended: the counter tells them apart.
        # At one instant what interrupts comes first.
        self.queue: list[tuple[int, bool, tuple[int, ...], int, int, RecordedTask]] = []
        self.still: list[RecordedTask] = []
        self.queued = count()
        self.reading: set[RecordedTask] = set()

    def run(self, lane: Lane) -> None:
        """Runs the program. Returns when the world ends first; raises Finished when the program does."""
        try:
            self.begin(lane)
            self.begin_calls(0)
            self._look_again(0)
            while self.queue:
                stop, _, _, _, version, task = heapq.heappop(self.queue)
                if version != task.version:
                    continue
                if stop > self.end:
                    self._cut(task)
                    return
                if self.stands_still(task):
                    self.still.append(task)
                    continue
                self._wake(task)
                self._after(stop)
        except (Finished, Stuck) as done:
            self._cut(None, done.args[0])
            raise

    def _after(self, now: int) -> None:
        """What stood still goes on when the interrupt is over; what polls looks at what holds then."""
        if self.calls.performing is None:
            still, self.still = self.still, []
            for task in still:
                task.stop = max(task.stop, now)
                if task.call is None and task.request.op.kind == AWAIT:
                    task.stop, task.came = self.waits.ends(task.request, now)
                self._queue(task)
        self.begin_calls(now)

    def forget(self, task: RecordedTask) -> None:
        """What is queued of it no longer counts."""
        task.version += 1
        self.reading.discard(task)

    def unpark(self, task: RecordedTask, now: int) -> None:
        """It goes on now."""
        task.stop = now
        self._queue(task)

    def wait(self, task: RecordedTask) -> None:
        """Works out when a wait ends, and queues that."""
        request = task.request
        if request.op.kind in (OVER, CALLED):
            task.stop, task.came = self.end + 1, 1
        else:
            request = task.request = self.waits.begin(request)
            task.stop, task.came = self.waits.ends(request, request.now)
            if request.kept or request.followed or any(kept for _, _, kept in request.guards):
                self.reading.add(task)
                self.charge(SEARCHING, request.now)
            if task.stop == request.now and task.came == 1 and task.call is None:
                self.at_once.setdefault(request.op.line, request.now)
        self._queue(task)

    def joined(self, task: RecordedTask, now: int, why: int) -> None:
        """In its turn among all that ends then."""
        task.stop, task.came = now, why
        self._queue(task)

    def clock(self, now: int) -> int:
        """A lane is called out of a wait, and that was looked at now."""
        return now

    def _queue(self, task: RecordedTask) -> None:
        task.version += 1
        entry = (task.stop, task.call is None, task.order, next(self.queued), task.version, task)
        heapq.heappush(self.queue, entry)

    def _wake(self, task: RecordedTask) -> None:
        """A wait is over: its lane goes on."""
        now = task.stop
        self.charge(WAKING + ASKING * len(self.reading), now)
        self.reading.discard(task)
        if waits(task) and not task.notices:
            self.waits.finish(task.request, now, task.came, task.name, task.order)
        self.go_on(task, now, bisect_right(self.times, now) - 1, task.came)
        self._look_again(now)

    def _cut(self, first: RecordedTask | None, stop: int | None = None) -> None:
        """Writes down the waits that the end of the run, or of the program, cuts short."""
        pending = [task for *_, version, task in sorted(self.queue) if version == task.version] + self.still
        for task in [first, *pending] if first else pending:
            if waits(task) and not task.notices:
                until = min(task.stop, self.end + 1 if stop is None else stop)
                self.waits.write_down(task.request, until, task.name, task.order)

    def _look_again(self, now: int) -> None:
        """Works out anew the waits whose conditions read values that another lane has just set."""
        for task in sorted(self.reading, key=lambda task: task.order):
            at = max(now, task.request.now)  # passes may have moved the clock before the lane began
            fresh = self._fresh(task.request, at)
            if fresh != task.request:
                self.charge(SEARCHING, at)
                if fresh.followed != task.request.followed:
                    self.waits.moving.moved(task.request, at)
                task.request = fresh
                task.stop, task.came = self.waits.ends(fresh, at)
                self._queue(task)

    def _fresh(self, request: Request, now: int) -> Request:
        """A request with the values that its conditions read as they are now."""
        guards = tuple((number, condition, self._now(kept, now)) for number, condition, kept in request.guards)
        op, kept = request.op, request.kept
        if op.ending == AWAIT and op.kind in (AWAIT, FOLLOW):
            kept = self._now(kept, now)
        followed = self._now(request.followed, now) if request.followed else request.followed
        return request._replace(guards=guards, kept=kept, followed=followed)

    def _now(self, kept: Kept, now: int) -> Kept:
        turn = self.waits.odometer.turn
        return tuple((key, turn(key, now) if isinstance(key, str) else self.values[key]) for key, _ in kept)
