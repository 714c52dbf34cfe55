"""When a move has made its way."""

from __future__ import annotations

import math

import numpy as np

from geduld.binding.terms import Travel
from geduld.language.quantities import show
from geduld.worlds.signal import instants
from geduld.worlds.trace import NEVER, Floats, Ticks

RECORDED = "The way of this move is counted by the recorded encoders."
_CHUNK = 4_096


def recorded(times: Ticks, ways: list[tuple[Floats, float]], start: int, amount: float) -> int:
    """The first sample from `start` on at which the recorded angles (deg) have made the way; NEVER if none.

    `ways` are the angles with what one degree of each adds to the amount.
    """
    if not amount > 0:
        return start
    first = int(times.searchsorted(start, "right")) - 1
    for begin in range(first, len(times), _CHUNK):
        stop = begin + _CHUNK
        made = sum(((column[begin:stop] - column[first]) * way for column, way in ways), np.zeros(1))
        done = np.abs(made) >= amount
        if done.any():
            return max(start, int(times[begin + int(done.argmax())]))
    return NEVER


def modelled(wheels: list[tuple[float, tuple[Ticks, Floats] | None, float]], start: int, amount: float) -> int:
    """When the motion model has made the way; NEVER when it does not get there.

    Each wheel is its power at `start`, its powers at later ticks if it is moved meanwhile, and what one percent of
    power adds to the amount in a second.
    """
    if not amount > 0:
        return start
    knots = instants([start], *(moved[0] for _, moved, _ in wheels if moved))
    rates = np.zeros(len(knots))
    for level, moved, timed in wheels:
        levels = np.full(len(knots), level)
        if moved:
            index = np.searchsorted(moved[0], knots, "right") - 1
            levels = np.where(index < 0, level, moved[1][np.maximum(index, 0)])
        rates += levels * timed
    made = np.concatenate((np.zeros(1), np.cumsum(rates[:-1] * (np.diff(knots) / 1_000_000))))
    reached = np.append(np.abs(made[1:]) >= amount, True)
    last = int(reached.argmax())
    rate, before = float(rates[last]), float(made[last])
    if not math.isfinite(rate) or rate == 0.0:
        return NEVER
    seconds = (math.copysign(amount, rate) - before) / rate
    return int(knots[last]) + round(seconds * 1_000_000) if seconds < 1e9 else NEVER


def said(move: Travel, ticks: int | None) -> str:
    """How the way of a move was measured by the motion model, and how long that takes."""
    if ticks is None:
        if any(math.isnan(timed) for _, _, timed in move.wheels):
            return "The rig does not say how fast its motors turn, and no encoder was recorded: this move never ends."
        return "With these powers the way is never made."
    took = show(ticks / 1_000_000, "s", 3)
    if move.by == "time":
        return f"This move is timed by the rig's motion model: {took}."
    return f"No encoder was recorded, so the way of this move follows the rig's motion model: {took}."
