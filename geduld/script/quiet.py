"""Tells of a loop that neither takes time nor touches the world whether it will ever do anything again."""

from __future__ import annotations

from typing import Any

from geduld.script.ends import Idle
from geduld.script.memory import SOURCE, frames

_FIRST = 64
_MOST_NODES = 10_000


class Quiet:
    """The quiet passes of one loop, from when it was begun."""

    __slots__ = ("before", "look", "passes")

    def __init__(self) -> None:
        self.passes = 0
        self.look = _FIRST
        self.before: Any = None

    def passed(self) -> None:
        """One more quiet pass. Raises Idle when all is as it was a pass before: then it will be so for ever."""
        if self.still():
            raise Idle

    def still(self) -> bool:
        """One more quiet pass: whether all is as it was a pass before, and will be so until something interrupts."""
        self.passes += 1
        if self.passes < self.look:
            return False
        held = _frozen([dict(names) for names in frames()])
        if self.passes == self.look:
            self.before = held
            return False
        if held is not None and held == self.before:
            self.passes, self.look = 0, _FIRST
            return True
        self.look *= 4
        return False


def _frozen(value: Any) -> Any:
    """What the script's variables hold, to be compared; None when that is too much to be looked at."""
    budget = [_MOST_NODES]
    numbers: dict[int, int] = {}
    found = [
        _freeze(held, budget, numbers, 0)
        for names in value
        for name, held in sorted(names.items())
        if name[1:2] == "_" or name == "random_"
    ]
    return None if budget[0] <= 0 else found


def _freeze(value: Any, budget: list[int], numbers: dict[int, int], depth: int) -> Any:
    budget[0] -= 1
    kind = type(value)
    if budget[0] <= 0 or depth > 50:
        budget[0] = 0
        return None
    if kind in (int, float, bool, str) or value is None:
        return kind.__name__, repr(value) if kind is float else value
    if id(value) in numbers:
        return "again", numbers[id(value)]
    numbers[id(value)] = len(numbers)
    if kind in (list, tuple):
        return kind.__name__, tuple(_freeze(item, budget, numbers, depth + 1) for item in value)
    if kind is dict:
        items = value.items()
        return "dict", tuple((key, _freeze(item, budget, numbers, depth + 1)) for key, item in items)
    if kind.__module__ == SOURCE and hasattr(value, "__dict__"):
        return _freeze(value.__dict__, budget, numbers, depth + 1)
    if hasattr(value, "drawn"):
        return "drawn", value.drawn
    return "other", id(value)
