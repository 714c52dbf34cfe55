"""What a program wants performed each time something happens, between two of its own steps."""

from __future__ import annotations

from collections.abc import Callable, Generator
from dataclasses import dataclass
from typing import Any

Steps = Generator[Any, Any, Any]


@dataclass(frozen=True)
class Call:
    """An interrupt: the lane that notices each time, what makes a lane that performs it, and what it is called."""

    watch: Steps
    perform: Callable[[], Steps]
    name: str


class Calls:
    """The interrupts of one run, by their keys.

    `asked` are those that are new (None where one is no longer wanted), `pending` those that have been noticed and wait
    to be performed, each once. While one is `performing`, all else stands still; `done` counts those that are over.
    """

    def __init__(self) -> None:
        self.asked: dict[int, Call | None] = {}
        self.pending: dict[int, None] = {}
        self.performing: int | None = None
        self.done = 0

    def hook(self, key: int, watch: Steps | None, perform: Callable[[], Steps], name: str) -> None:
        """From now on, perform this each time; what was asked for under the same key before is forgotten."""
        self.asked[key] = None if watch is None else Call(watch, perform, name)
