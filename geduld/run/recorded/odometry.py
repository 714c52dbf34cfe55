"""How far motors have turned by the motion model, where nothing was recorded that measures it.

The model is the plainest there is: a motor turns at a rate that is proportional to its power, at once. The rate is
the rig's, from its calibration or from the motor's full speed.
"""

from __future__ import annotations

import math

import numpy as np

from geduld.rig.model import Rig
from geduld.run.record.journal import Journal
from geduld.run.search.turns import ChangingTurn, SteadyTurn
from geduld.worlds.trace import Floats, Ticks, Trace


def split(name: str) -> tuple[str, bool]:
    """A channel's motor, and whether the channel is its angle, not its speed."""
    motor, _, word = name.partition(".")
    return motor, word == "angle"


class Odometer:
    """What the encoders of one run would say: recorded values where there are some, else the motion model's."""

    def __init__(self, rig: Rig, trace: Trace, journal: Journal) -> None:
        self.rig = rig
        self.trace = trace
        self.journal = journal
        self._angles: dict[str, tuple[int, float]] = {}

    def rate(self, motor: str) -> float:
        """What a motor turns at one percent of power, in deg/s; NaN when the rig does not say."""
        rate = self.rig.turn_rate(motor)
        return math.nan if rate is None else rate

    def turn(self, name: str, now: int) -> SteadyTurn | None:
        """An encoder's value from `now` on, while the motor's command stays; None where it was recorded."""
        if self.trace.column(name) is not None:
            return None
        motor, is_angle = split(name)
        ticks, levels = self.journal.ticks[motor], self.journal.levels[motor]
        rate = self.rate(motor)
        index, angle = self._angles.get(motor, (0, 0.0))
        while index + 1 < len(ticks) and ticks[index + 1] < now:
            angle += levels[index] * rate * ((ticks[index + 1] - ticks[index]) / 1_000_000)
            index += 1
        self._angles[motor] = index, angle
        if index + 1 < len(ticks) and ticks[index + 1] == now:
            angle += levels[index] * rate * ((ticks[index + 1] - ticks[index]) / 1_000_000)
            index += 1
        speed = levels[index] * rate
        return SteadyTurn(ticks[index], angle, speed) if is_angle else SteadyTurn(ticks[index], speed, 0.0)

    def value(self, name: str, now: int, place: int) -> float:
        """An encoder's value at `now`; `place` is the sample that holds then."""
        turn = self.turn(name, now)
        if turn is None:
            column = self.trace.column(name)
            assert column is not None
            return float(column[place])
        return float(turn.at(now))

    def changing(self, name: str, now: int, ticks: Ticks, levels: Floats) -> ChangingTurn:
        """An encoder's value while a motor is set to `levels` at `ticks`, all after `now`."""
        before = self.turn(name, now)
        assert before is not None
        motor, is_angle = split(name)
        speeds = np.concatenate((np.array([self.journal.levels[motor][-1]]), levels)) * self.rate(motor)
        knots = np.concatenate((np.array([now], np.int64), ticks))
        if not is_angle:
            return ChangingTurn(knots, speeds, np.zeros(len(knots)))
        ways = speeds[:-1] * (np.diff(knots) / 1_000_000)
        angles = np.cumsum(np.concatenate((np.array([float(before.at(now))]), ways)))
        return ChangingTurn(knots, angles, speeds)
