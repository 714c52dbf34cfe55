"""The tree of lanes that run side by side: how they begin, go on and end, in whatever world."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Generic, TypeVar

from geduld.run.program.calls import Call, Calls
from geduld.run.program.compiler import Lane
from geduld.run.program.functions import Abandoned, Finished, StepsExhausted, Stuck
from geduld.run.program.requests import CALLED, NOTHING, OVER, SIDE, Asked, Request

_NOTHING = Request(NOTHING, 0)


@dataclass(eq=False)
class Task:
    """A lane as it runs: its generator, what it waits for, and the lanes inside it that it waits for in turn.

    `order` is its place in the text: that of the lane around it, and its number there. `called` is the reason with
    which a guard has ended one of the lanes inside; 1 when none has. `call` is the key of the interrupt that it
    notices, or that it `performs`; None of a lane of the program itself.
    """

    lane: Lane
    name: str
    order: tuple[int, ...]
    parent: Task | None = None
    request: Request = _NOTHING
    inside: list[Task] = field(default_factory=list)
    called: int = 1
    call: int | None = None
    performs: bool = False

    @property
    def notices(self) -> bool:
        """Whether it only waits for what interrupts: no step of the program."""
        return self.call is not None and not self.performs


T = TypeVar("T", bound=Task)


class Tasks(ABC, Generic[T]):
    """The lanes of one run. `kind` is what its tasks are; `budget` is what they may cost, in steps.

    `calls` are its interrupts: each is a lane of its own, and while one is being performed all others stand still.
    """

    kind: type[T]

    def __init__(self, budget: int, calls: Calls) -> None:
        self.budget = budget
        self.calls = calls
        self.noticing: dict[int, tuple[T, Call]] = {}
        self.parked: list[T] = []
        self.seen = 0

    @abstractmethod
    def wait(self, task: T) -> None:
        """Notes what a task waits for now."""

    @abstractmethod
    def joined(self, task: T, now: int, why: int) -> None:
        """The last lane inside a task has ended: the task goes on."""

    @abstractmethod
    def forget(self, task: T) -> None:
        """A task is no longer wanted."""

    @abstractmethod
    def unpark(self, task: T, now: int) -> None:
        """An interrupt has been performed: who waited for that goes on."""

    @abstractmethod
    def clock(self, now: int) -> int:
        """The instant at which a lane was abandoned that was last looked at `now`."""

    def begin(self, lane: Lane) -> None:
        """Begins a program."""
        self._on(self.kind(lane, "begin", ()), 0, partial(next, lane))

    def go_on(self, task: T, now: int, place: int, came: int) -> None:
        """A wait is over: its lane goes on, told the instant, the sample that holds then, and why."""
        self._on(task, now, partial(task.lane.send, (now, place, came)))

    def stands_still(self, task: T) -> bool:
        """Whether an interrupt is being performed, and this is a lane of the program itself."""
        return self.calls.performing is not None and task.call is None

    def begin_calls(self, now: int) -> None:
        """Begins what was asked for, performs what was noticed, and lets those go on who wait for that."""
        calls = self.calls
        while calls.asked:
            key, call = calls.asked.popitem()
            calls.pending.pop(key, None)
            old = self.noticing.pop(key, None)
            if old is not None:
                self.forget(old[0])
            if call is not None:
                task = self.kind(call.watch, call.name, (), call=key)
                self.noticing[key] = task, call
                self._on(task, now, partial(next, call.watch))
        while calls.pending and calls.performing is None:
            key = calls.performing = next(iter(calls.pending))
            del calls.pending[key]
            call = self.noticing[key][1]
            lane = call.perform()
            self._on(self.kind(lane, call.name, (), call=key, performs=True), now, partial(next, lane))
        if self.seen != calls.done and calls.performing is None:
            self.seen = calls.done
            parked, self.parked = self.parked, []
            for waiting in parked:
                self.unpark(waiting, now)
        if self.parked and not self.noticing and calls.performing is None:
            raise Stuck(now, "idle")  # nothing can interrupt any more what waits for just that

    def charge(self, steps: int, now: int) -> None:
        """Counts what the lanes cost. Raises StepsExhausted past the budget."""
        self.budget -= steps
        if self.budget < 0:
            raise StepsExhausted(now)

    def _on(self, task: T, now: int, go: Callable[[], Asked]) -> None:
        """Lets a lane go on until it asks for the next step, ends, or is called out of a wait."""
        try:
            asked = go()
        except StopIteration as done:
            self._over(task, done.value, 1)
        except Abandoned as gone:
            self._over(task, self.clock(now), 2 + gone.args[0])
        else:
            self._ask(task, asked)

    def _ask(self, task: T, asked: Asked) -> None:
        """Takes what a lane waits for. The request says when: passes may have moved the clock."""
        request = task.request = Request(*asked)
        if request.op.kind == CALLED:
            self.parked.append(task)
        if request.op.kind != SIDE:
            self.wait(task)
            return
        task.called = 1
        lanes = zip(request.amount, request.op.lanes, strict=True)
        inside = [self.kind(lane, name, (*task.order, index), task) for index, (lane, name) in enumerate(lanes)]
        task.inside = list(inside)
        for inner in inside:
            self._on(inner, request.now, partial(next, inner.lane))

    def _over(self, task: T, now: int, why: int) -> None:
        """A lane has ended; when it was the last of its side by side, the lane around goes on."""
        if task.performs:
            self.calls.performing = None
            self.calls.done += 1
            return
        parent = task.parent
        if parent is None:
            raise Finished(now)
        assert isinstance(parent, self.kind)
        parent.inside.remove(task)
        parent.called = max(parent.called, why)
        if not parent.inside:
            self.joined(parent, now, parent.called)


def waits(task: Task) -> bool:
    """Whether it waits for something that ends, and not for lanes inside it or for nothing."""
    return task.request.op.kind not in (SIDE, OVER)
