"""Recordings at pin level: what the levels on the controller's lines made the parts do, by the drivers' own tables."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from geduld.language.quantities import RATIO, TRUTH
from geduld.rig.model import Driver, Rig
from geduld.worlds.signal import Signal, instants
from geduld.worlds.trace import Floats, Ticks

# The longest time from one rise to the next of a line that is switched quickly to have a share of the power.
LONGEST_PERIOD_US = 25_000
_SIGNS = {"forward": 1.0, "backward": -1.0, "brake": 0.0, "coast": 0.0}


def known_lines(rig: Rig) -> list[str]:
    """The lines of a rig: those of its drivers, and the ports of outputs and contacts."""
    driven = [line for driver in rig.drivers for line in driver.lines.values()]
    ports = [part.port for part in rig.parts.values() if part.port and part.dimension in (RATIO, TRUTH)]
    return list(dict.fromkeys([*driven, *ports]))


def channels_of_lines(levels: Mapping[str, Signal], shares: Mapping[str, Signal], rig: Rig) -> dict[str, Signal]:
    """What the recorded lines say of the parts: outputs in %, contacts as 0 or 1.

    `levels` are lines that are low (0) or high (1), `shares` lines whose share of time at high is known, in %. A line
    of a driver that was not recorded is low.
    """
    found: dict[str, Signal] = {}
    for driver in rig.drivers:
        if any(line in levels or line in shares for line in driver.lines.values()):
            found[driver.motor] = _driven(driver, levels, shares)
    for part in rig.parts.values():
        if part.name in found or not part.port:
            continue
        level = levels.get(part.port)
        if part.dimension == TRUTH and level is not None:
            found[part.name] = Signal(level.times, 1 - level.values) if part.active_low else level
        elif part.is_output and part.dimension == RATIO and part.port in {*levels, *shares}:
            found[part.name] = shares[part.port] if level is None else share_of(level)
    return found


def _driven(driver: Driver, levels: Mapping[str, Signal], shares: Mapping[str, Signal]) -> Signal:
    """The power of a motor, from the lines of its driver."""
    known: dict[str, Signal] = {}
    for role, line in driver.lines.items():
        level = levels.get(line)
        if level is not None:
            known[line] = share_of(level) if role == driver.duty else Signal(level.times, level.values * 100)
        elif line in shares:
            known[line] = shares[line]
    times = instants(*(steps.times for steps in known.values()))
    rows = np.column_stack([np.nan_to_num(steps.at(times)) for steps in known.values()])
    kinds, which = np.unique(rows, axis=0, return_inverse=True)
    powers = []
    for row in kinds:
        does, duty = driver.does(dict(zip(known, row.tolist(), strict=True)))
        powers.append(_SIGNS[does] * duty)
    return changes_of(times, np.array(powers)[which.reshape(-1)])


def changes_of(times: Ticks, values: Floats) -> Signal:
    """A value's first instant and those at which it changes."""
    new = np.ones(len(values), np.bool_)
    new[1:] = values[1:] != values[:-1]
    return Signal(times[new], values[new])


def share_of(level: Signal) -> Signal:
    """The share of time at high, in %, of a line that is switched between low and high.

    From one rise to the next, if that comes within LONGEST_PERIOD_US, it is the share of that time at which the line
    was high. The last pulse of such a row lasts as long as the one before; a line that is switched slowly is at 0 or
    100 %.
    """
    plain = changes_of(level.times, (np.nan_to_num(level.values) > 0).astype(np.float64))
    high = plain.values > 0
    if not high.any():
        return Signal(plain.times, plain.values * 100)
    times: list[int] = [] if high[0] else [int(plain.times[0])]
    values: list[float] = [] if high[0] else [0.0]
    rises = plain.times[high]
    # behind each rise comes a fall, or the end of the recording
    falls = np.append(plain.times[~high], np.iinfo(np.int64).max)
    falls = falls[np.searchsorted(falls, rises, "right")]
    periods = np.append(np.diff(rises), np.iinfo(np.int64).max)
    before = 0
    for rise, fall, period in zip(rises.tolist(), falls.tolist(), periods.tolist(), strict=True):
        if period <= LONGEST_PERIOD_US:
            times.append(rise)
            values.append(100.0 * (fall - rise) / period)
        elif before and fall - rise < before:
            times += [rise, rise + before]
            values += [100.0 * (fall - rise) / before, 0.0]
        else:
            times += [rise, fall]
            values += [100.0, 0.0]
        before = period if period <= LONGEST_PERIOD_US else 0
    ticks, found = np.array(times, np.int64), np.round(np.array(values), 3)
    kept = ticks < np.iinfo(np.int64).max
    return changes_of(ticks[kept], found[kept])
