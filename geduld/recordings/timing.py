"""When each row of a recording was taken: worked out in microseconds, as a recipe says."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from geduld.language.quantities import unit_from_text
from geduld.recordings.cells import Column
from geduld.recordings.layout import Table
from geduld.recordings.moments import DAY, seconds_of
from geduld.worlds.trace import Floats, Ticks

CLOCK, FILE, ZERO, DROP, SPREAD = "clock", "file", "zero", "drop", "spread"
# What numbers of a time can be counted in, in seconds; a clock's are seconds of the day.
SECONDS = {"s": 1.0, "ms": 1e-3, "us": 1e-6, "ns": 1e-9, "min": 60.0, "h": 3600.0, CLOCK: 1.0}


@dataclass(frozen=True)
class Timing:
    """How a recording's time is read.

    `column` holds it, or is empty, and then `rate` rows were taken each second. `unit` is a key of SECONDS; `date` the
    column with the days of a clock's times, or empty. `wraps` is where the numbers begin again, in the column's own
    unit, 0 where they do not. `starts` is FILE when the times are kept as they are and ZERO when the first row is at
    0 s. `equal` says what becomes of rows with the time of the row before: DROP or SPREAD, which shares the time up
    to the next one evenly among them. `day_first` says how 3/4/2026 is read.
    """

    column: str = ""
    unit: str = "s"
    date: str = ""
    rate: float = 0.0
    wraps: float = 0.0
    starts: str = FILE
    equal: str = DROP
    day_first: bool = True


def unwrapped(raw: Floats, wraps: float) -> Floats:
    """Numbers that go on where they began again. A step back of more than half the way round is such a place."""
    if not wraps:
        return raw
    filled = np.where(np.isfinite(raw), raw, np.nan)
    known = np.flatnonzero(np.isfinite(filled))
    values = filled[known]
    rounds = np.cumsum(np.concatenate(([0.0], (np.diff(values) < -wraps / 2).astype(np.float64))))
    filled[known] = values + rounds * wraps
    return filled


def raw_times(table: Table, timing: Timing, taken: NDArray[np.bool_] | None = None) -> tuple[Floats, NDArray[np.bool_]]:
    """Each row's time in the column's own unit (seconds for a clock), and where there is none.

    `taken`, shape (n,), says which rows are readings, where others stand between them: time goes on with those alone.
    """
    column = next((column for column in table.columns if column.name == timing.column), None)
    if column is None:
        known = np.ones(table.rows, np.bool_) if taken is None else taken
        return np.maximum(np.cumsum(known) - 1, 0) / timing.rate, ~known
    if timing.unit != CLOCK:
        return column.numbers, ~np.isfinite(column.numbers)
    seconds = _of_words(column, timing.day_first)
    date = next((other for other in table.columns if other.name == timing.date), None)
    if date is not None:
        seconds = seconds + _of_words(date, timing.day_first)
    return seconds, ~np.isfinite(seconds)


def _of_words(column: Column, day_first: bool) -> Floats:
    known = [np.nan if (found := seconds_of(word, day_first)) is None else found for word in column.words[1:]]
    return np.where(column.codes > 0, np.array([np.nan, *known])[column.codes], column.numbers)


def ticks_of(
    table: Table, timing: Timing, taken: NDArray[np.bool_] | None = None
) -> tuple[Ticks, NDArray[np.bool_], list[tuple[NDArray[np.bool_], str]]]:
    """Each row's instant in microseconds, shape (n,), which rows are kept, and which are not for which reason."""
    raw, unknown = raw_times(table, timing, taken)
    factor = SECONDS[timing.unit]
    exact = unit_from_text(timing.unit)
    factor = exact.to_base(1.0) if exact is not None else factor
    if timing.unit == CLOCK and not timing.date and np.nanmax(raw, initial=0.0) <= DAY:
        raw = unwrapped(raw, DAY)
    elif timing.wraps:
        raw = unwrapped(raw, timing.wraps)
    kept = ~unknown
    reasons = [(unknown, "no time")] if timing.column else []  # what a board says between its readings is no fault
    rows = np.flatnonzero(kept)
    wild = np.zeros(table.rows, np.bool_)
    wild[rows[_wild(raw[rows])]] = True
    kept &= ~wild
    reasons.append((wild, "a time far from its neighbours'"))
    rows = np.flatnonzero(kept)
    values = raw[rows]
    reached = np.concatenate(([-np.inf], np.maximum.accumulate(values)[:-1])) if len(values) else values
    back, same = values < reached, values == reached
    reasons.append((_at(rows[back], table.rows), "time goes back"))
    kept[rows[back]] = False
    if timing.equal == SPREAD:
        raw = raw.copy()
        going = rows[~back]
        raw[going] = _spread(raw[going])
    else:
        reasons.append((_at(rows[same], table.rows), "the time of the row before"))
        kept[rows[same]] = False
    first = raw[kept][0] if timing.starts == ZERO and kept.any() else 0.0
    with np.errstate(invalid="ignore"):
        seconds = np.where(kept, factor * (raw - first), 0.0)
    early = kept & ((seconds < 0) | (seconds > 1e6))
    reasons.append((early, "a time before 0 s or after 1,000,000 s"))
    kept &= ~early
    ticks = np.where(kept, np.rint(np.clip(seconds, 0, 1e6) * 1e6), 0).astype(np.int64)
    rows = np.flatnonzero(kept)
    close = np.concatenate(([False], np.diff(ticks[rows]) <= 0)) if len(rows) else np.zeros(0, np.bool_)
    reasons.append((_at(rows[close], table.rows), "less than 1 us after the row before"))
    kept[rows[close]] = False
    return ticks, kept, [(which, why) for which, why in reasons if which.any()]


def _at(rows: NDArray[np.int64], count: int) -> NDArray[np.bool_]:
    found = np.zeros(count, np.bool_)
    found[rows] = True
    return found


def _wild(values: Floats) -> NDArray[np.bool_]:
    """Single times that lie past the two behind them, while the row before does not."""
    found = np.zeros(len(values), np.bool_)
    if len(values) > 3:
        now, before = values[1:-2], values[:-3]
        one, two = values[2:-1], values[3:]
        found[1:-2] = (now > one) & (now > two) & (one >= before) & (two >= one)
    return found


def _spread(values: Floats) -> Floats:
    """Rising values, those of one value shared out evenly up to the next."""
    distinct, which, counts = np.unique(values, return_inverse=True, return_counts=True)
    if len(distinct) < 2:
        return values
    steps = np.diff(distinct)
    width = np.append(steps, np.median(steps))
    # the first and last stretch may have begun before and gone on after the recording: they get the usual step
    usual = float(np.median(width / counts))
    width[0] = min(width[0], counts[0] * usual) if counts[0] * usual < width[0] else width[0]
    starts = np.concatenate(([0], np.cumsum(counts)[:-1]))
    place = np.arange(len(values)) - starts[which]
    first = distinct[which] + (steps[0] - width[0] if len(steps) else 0.0) * (which == 0)
    spread: Floats = first + place * (width / counts)[which]
    return spread
