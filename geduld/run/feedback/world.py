"""What a world is that answers to what a program does in it."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any, Protocol

from geduld.worlds.inputs import Inputs
from geduld.worlds.trace import Floats, Trace


class FeedbackWorld(Protocol):
    """A world as it goes on, from its start to `end` ticks; a floor, or a recording by travel.

    `now` is the instant up to which it has gone, `place` the sample that holds then. `motors` are those whose commands
    it wants to be told, `columns` the channels that it has.
    """

    end: int
    now: int
    inputs: Inputs

    @property
    def place(self) -> int:
        """The sample that holds now."""

    @property
    def motors(self) -> Collection[str]:
        """The motors that move it."""

    @property
    def columns(self) -> Any:
        """The channels it has, by name."""

    @property
    def filled(self) -> int:
        """The last sample that is known already, if no command changes."""

    def tick(self, place: int) -> int:
        """The instant of a sample that is known."""

    def column(self, name: str) -> Floats:
        """A channel's values at each sample, also those still to come; absent all along when there is no such."""

    def command(self, motor: str, power: float, control: int) -> None:
        """Sets a motor from now on: its command in %, and how it is controlled (as in `run.program.requests`)."""

    def go(self, until: int) -> int:
        """Goes on up to an instant: the sample that holds then."""

    def next_sample(self) -> int:
        """The instant of the next sample."""

    def trace(self) -> Trace:
        """All that was read so far."""
