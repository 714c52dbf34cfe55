"""How a motor turns by the motion model, from one command to the next."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from geduld.worlds.trace import Floats, Ticks


@dataclass(frozen=True)
class SteadyTurn:
    """A motor's angle (deg) or speed (deg/s) while its command stays: `start` at `tick`, and `slope` a second."""

    tick: int
    start: float
    slope: float

    def at(self, ticks: Ticks | int) -> Floats | float:
        """The value at some instants from `tick` on."""
        return self.start + self.slope * ((ticks - self.tick) / 1_000_000)


@dataclass(frozen=True, eq=False)
class ChangingTurn:
    """A motor's angle or speed while its command changes: a steady turn from each of `ticks` on."""

    ticks: Ticks
    starts: Floats
    slopes: Floats

    def at(self, ticks: Ticks | int) -> Floats | float:
        """The value at some instants from the first tick on."""
        index = np.maximum(np.searchsorted(self.ticks, ticks, "right") - 1, 0)
        return self.starts[index] + self.slopes[index] * ((ticks - self.ticks[index]) / 1_000_000)
