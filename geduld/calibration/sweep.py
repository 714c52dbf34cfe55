"""Dead zone, lag and rate of a motor from a recording of it: what it was told, and how far it turned.

The motor is the kernel's: it comes up to `rate * (power - dead zone)` with one time constant, the lag. Between two
samples what it is told stays the same, so that the way it makes is exact for given parameters.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from geduld.calibration.fitting import Fit, Interval
from geduld.errors import TraceError
from geduld.language.messages import listed
from geduld.worlds.trace import Floats, Trace

MOST_SAMPLES = 6_000


@dataclass(frozen=True)
class Sweep:
    """What a recorded sweep says of a motor: `rate` in deg/s for each % above the dead zone, `dead_zone` in %, `lag` in
    s; `residual` is the angle's usual deviation in deg."""

    motor: str
    rate: Interval
    dead_zone: Interval
    lag: Interval
    residual: float


def sweep_of(trace: Trace, motor: str) -> Sweep:
    """What a recording says of a motor. Raises TraceError where it was not recorded, or hardly moved."""
    power, angle = trace.column(motor), trace.column(f"{motor}.angle")
    if power is None or angle is None:
        message = f'The recording does not hold both "{motor}" and "{motor}.angle".'
        raise TraceError("unknown-channel", message, f"It has {listed(trace.channels)}.")
    known = np.flatnonzero(~np.isnan(power) & ~np.isnan(angle))[:MOST_SAMPLES]
    if len(known) < 20 or len(set(np.abs(power[known]).tolist()) - {0.0}) < 2:
        message = f'"{motor}" was hardly told anything different in this recording.'
        raise TraceError("no-sweep", message, "Record it at several powers, from nothing up, half a second each.")
    seconds, told = trace.times[known] / 1e6, power[known]
    turned = angle[known]
    steps = np.diff(seconds)
    fastest = np.abs(np.diff(turned) / steps).max() / max(1.0, np.abs(told).max())
    # the last parameter is the angle at the start: its own reading is no better than any other
    start = np.array([max(fastest, 0.1), 3.0, 0.08, turned[0]])

    def off(params: Floats) -> Floats:
        found: Floats = turned - params[3] - turning(params[:3], told, steps)
        return found

    limits = ([1e-6, 0.0, 1e-4, -np.inf], [1e3, 60.0, 5.0, np.inf])
    found = least_squares(off, start, bounds=limits, x_scale=[1.0, 1.0, 0.05, 1.0])
    freedom = max(1, len(told) - 4)
    spread = float(np.sqrt((found.fun**2).sum() / freedom))
    fit = Fit(_none, found.x, found.jac, found.fun, spread, freedom)
    rate, zone, lag = (fit.of(_parameter(place)) for place in range(3))
    return Sweep(motor, rate, zone, lag, spread)


def _none(params: Floats, inputs: Floats) -> Floats:
    """Nothing is predicted here: the angles come from the whole recording."""
    return np.empty(0)


def _parameter(place: int) -> Callable[[Floats], float]:
    return lambda params: float(params[place])


def turning(params: Floats, told: Floats, steps: Floats) -> Floats:
    """How far the motor has turned at each sample, in deg. `params` are rate, dead zone and lag; `steps` are in s."""
    rate, zone, lag = params.tolist()
    wanted = np.sign(told) * np.maximum(np.abs(told) - zone, 0.0) * rate
    decays = np.exp(-steps / lag)
    angles = np.zeros(len(told))
    speed = angle = 0.0
    for place, (level, step, decay) in enumerate(
        zip(wanted[:-1].tolist(), steps.tolist(), decays.tolist(), strict=True), 1
    ):
        angle += level * step + (speed - level) * lag * (1 - decay)
        speed = level + (speed - level) * decay
        angles[place] = angle
    return angles
