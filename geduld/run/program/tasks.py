"""The tree of lanes that run side by side: how they begin, go on and end, in whatever world."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Generic, TypeVar

from geduld.run.program.compiler import Lane
from geduld.run.program.functions import Abandoned, Finished, StepsExhausted
from geduld.run.program.requests import NOTHING, OVER, SIDE, Asked, Request

_NOTHING = Request(NOTHING, 0)


@dataclass(eq=False)
class Task:
    """A lane as it runs: its generator, what it waits for, and the lanes inside it that it waits for in turn.

    `order` is its place in the text: that of the lane around it, and its number there. `called` is the reason with
    which a guard has ended one of the lanes inside; 1 when none has.
    """

    lane: Lane
    name: str
    order: tuple[int, ...]
    parent: Task | None = None
    request: Request = _NOTHING
    inside: list[Task] = field(default_factory=list)
    called: int = 1


T = TypeVar("T", bound=Task)


class Tasks(ABC, Generic[T]):
    """The lanes of one run. `kind` is what its tasks are; `budget` is what they may cost, in steps."""

    kind: type[T]

    def __init__(self, budget: int) -> None:
        self.budget = budget

    @abstractmethod
    def wait(self, task: T) -> None:
        """Notes what a task waits for now."""

    @abstractmethod
    def joined(self, task: T, now: int, why: int) -> None:
        """The last lane inside a task has ended: the task goes on."""

    @abstractmethod
    def clock(self, now: int) -> int:
        """The instant at which a lane was abandoned that was last looked at `now`."""

    def begin(self, lane: Lane) -> None:
        """Begins a program."""
        self._on(self.kind(lane, "begin", ()), 0, partial(next, lane))

    def go_on(self, task: T, now: int, place: int, came: int) -> None:
        """A wait is over: its lane goes on, told the instant, the sample that holds then, and why."""
        self._on(task, now, partial(task.lane.send, (now, place, came)))

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
