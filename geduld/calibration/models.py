"""What moves make, as models of a few parameters: by encoder, by time, and how they bend."""

from __future__ import annotations

from collections import Counter

import numpy as np

from geduld.calibration.fitting import Fit, fitted, fitted_straight
from geduld.calibration.measurements import STRAIGHT, Measurement
from geduld.worlds.trace import Floats

POWER, ASKED = 0, 1


def rows_for(rows: tuple[Measurement, ...], move: str, by: str) -> list[Measurement]:
    """The measured moves of one kind that are not kept out."""
    return [row for row in rows if row.move == move and row.by == by and row.measured is not None and not row.kept_out]


def usual_power(rows: list[Measurement]) -> float:
    """The power that most moves were made with; of several such the middle one."""
    counts = Counter(row.power for row in rows)
    usual = sorted(power for power, count in counts.items() if count == max(counts.values()))
    return usual[len(usual) // 2]


def inputs_of(rows: list[Measurement]) -> Floats:
    """Power in % and what was asked, shape (n, 2)."""
    return np.array([[row.power, row.asked] for row in rows], np.float64).reshape(-1, 2)


def measured_of(rows: list[Measurement]) -> Floats:
    """What was measured, shape (n,)."""
    return np.array([row.measured for row in rows], np.float64)


def by_encoder(rows: list[Measurement]) -> Fit | None:
    """Measured over asked: a slope, and what comes on top of each move because it rolls on; parameters (slope, on top).

    With fewer than three measurements, or one amount alone, nothing comes on top.
    """
    if not rows:
        return None
    inputs, measured = inputs_of(rows), measured_of(rows)
    if len(rows) >= 3 and len(set(inputs[:, ASKED].tolist())) > 1:
        return fitted_straight(lambda x: np.column_stack([x[:, ASKED], np.ones(len(x))]), inputs, measured)
    return fitted_straight(lambda x: x[:, [ASKED]], inputs, measured)


def by_time(rows: list[Measurement]) -> Fit | None:
    """Measured over power and time: rate * (power - dead zone) * (time - lag); parameters (rate, dead zone, lag).

    The dead zone is found where there are several powers, the lag where there are several times; else they are 0 and
    no parameters: `dead_zone_of` and `lag_of` say which one is.
    """
    if not rows:
        return None
    inputs, measured = inputs_of(rows), measured_of(rows)
    several_powers = len(set(inputs[:, POWER].tolist())) > 1 and len(rows) >= 3
    several_times = len(set(inputs[:, ASKED].tolist())) > 1 and len(rows) >= (4 if several_powers else 3)
    rate = float(np.median(measured / (inputs[:, POWER] * inputs[:, ASKED])))
    start = [rate, *([2.0] if several_powers else []), *([0.02] if several_times else [])]

    def model(params: Floats, x: Floats) -> Floats:
        zone = params[1] if several_powers else 0.0
        lag = params[-1] if several_times else 0.0
        made: Floats = params[0] * (x[:, POWER] - zone) * (x[:, ASKED] - lag)
        return made

    return fitted(model, np.array(start), inputs, measured)


def has_several(rows: list[Measurement]) -> tuple[bool, bool]:
    """Whether the dead zone, and the lag, are parameters of `by_time`."""
    powers, times = {row.power for row in rows}, {row.asked for row in rows}
    zone = len(powers) > 1 and len(rows) >= 3
    return zone, len(times) > 1 and len(rows) >= (4 if zone else 3)


def bend(rows: tuple[Measurement, ...]) -> Fit | None:
    """How straight moves bend: the heading in radians, to the left, that they gain for each cm; parameter (bend,).

    A move along an arc that ends `sideways` after a way has turned by twice that over the way.
    """
    kept = [
        row for row in rows if row.move == STRAIGHT and row.sideways is not None and row.measured and not row.kept_out
    ]
    if not kept:
        return None
    ways = np.array([[row.measured or 0.0] for row in kept])
    aside = np.array([row.sideways or 0.0 for row in kept])
    return fitted_straight(lambda x: x**2 / 2, ways, aside)
