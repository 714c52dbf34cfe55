"""Finds out which column of a recording is its time, and how that is read."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence

import numpy as np

from geduld.language.quantities import TIME, show, unit_from_text
from geduld.recordings.cells import Column
from geduld.recordings.headings import heading_of
from geduld.recordings.layout import LEADING, STAMP, Table
from geduld.recordings.moments import seconds_of
from geduld.recordings.timing import CLOCK, DROP, FILE, SECONDS, SPREAD, ZERO, Timing, raw_times, unwrapped
from geduld.worlds.trace import Floats

OWN = re.compile(r"time \[\w+\]")  # how Geduld itself heads the time
_NAMES = {
    "time", "t", "zeit", "timestamp", "ts", "clock", "uhrzeit", "datetime", "elapsed", "zeitstempel", "laufzeit",
    "uptime",
    "sec", "secs", "seconds", "s", "ms", "msec", "millis", "milliseconds", "us", "micros", "microseconds", "µs", STAMP,
}  # fmt: skip
_DATES = {"date", "datum", "day", "tag"}
_COUNTERS = {"n", "nr", "no", "index", "i", "id", "row", "sample", "samples", "#", "count", "number", "zeile", "seq"}
_MILLIS, _MICROS = {"ms", "msec", "millis", "milliseconds"}, {"us", "micros", "microseconds", "µs"}
# Where counters of boards begin again: at 16 or 32 bits; also after microseconds were divided.
WRAPS = (2.0**16, 2.0**32, 2.0**32 / 1e3, 2.0**32 / 1e6, 2.0**24)
USUAL_HZ = 20.0  # a class's robots are recorded at about this rate
_NEAR = 40  # so many usual steps may be missing where a counter begins again


def timing_of(table: Table) -> tuple[Timing, str]:
    """How a table's time is probably read, and why."""
    found = _column(table.columns)
    if found is None:
        rate, said = _rate_said(table.comments)
        return Timing(rate=rate, starts=ZERO), said
    column, why = found
    if _moments(column):
        date = next((other.name for other in table.columns if other is not column and _is_date(other)), "")
        timing = Timing(column.name, CLOCK, date, starts=ZERO)
        seconds, _ = raw_times(table, timing)
        told = "its cells are times of day"
        why += ("" if told in why else f"; {told}") + (f', with the days in "{date}"' if date else "")
        return Timing(column.name, CLOCK, date, starts=ZERO, equal=_equal(seconds)), why
    raw = column.numbers
    unit, because = _unit(column)
    wraps = _wraps(raw)
    why += f"; {because}"
    if wraps:
        why += f"; it begins again at {wraps:,.0f}"
    seconds = unwrapped(raw, wraps) * SECONDS[unit]
    known = seconds[np.isfinite(seconds)]
    own = OWN.fullmatch(column.name) is not None and bool(((known >= 0) & (known <= 1e6)).all())
    timing = Timing(column.name, unit, wraps=wraps, starts=FILE if own else _starts(seconds), equal=_equal(seconds))
    if timing.starts == ZERO:
        why += f"; it starts at {show(float(seconds[np.isfinite(seconds)][0]), 's')}, which becomes 0 s"
    return timing, why


def _column(columns: Sequence[Column]) -> tuple[Column, str] | None:
    """The column that is the time."""
    best: tuple[float, Column, str] | None = None
    for place, column in enumerate(columns):
        heading = heading_of(column.name)
        name = heading.name.lower().strip(" _.:")
        words = set(name.replace("_", " ").replace("-", " ").split())
        unit = unit_from_text(heading.unit) if heading.unit else None
        moments, rising = _moments(column), _rises(column)
        called = name in _NAMES or (unit is not None and unit.dimension == TIME)
        if not moments and (rising < 0.5 and not (called and rising)):
            continue
        if name in _COUNTERS and not (unit and unit.dimension == TIME):
            continue
        score, why = 0.0, ""
        if name in _NAMES:
            score, why = 3.0, "it is called so"
        elif words & _NAMES or any(word in name for word in ("time", "zeit")):
            score, why = 2.6, "its name says so"
        elif unit is not None and unit.dimension == TIME:
            score, why = 2.4, "its unit is one of time"
        elif moments and name not in _DATES:
            score, why = 2.2, "its cells are times of day"
        elif moments:
            score, why = 1.5, "its cells are dates"
        elif place == 0 and _is_unnamed(column, rising):
            score, why = 1.2, "its numbers rise from row to row"
        score += 0.2 * rising - 0.01 * place
        if why and (best is None or score > best[0]):
            best = score, column, why
    return None if best is None else (best[1], best[2])


def _is_unnamed(column: Column, rising: float) -> bool:
    """Whether a first column that is not called a time can be one: it has no name, or rises at each row."""
    if len(column.numbers) < 3 or rising < 0.98 or heading_of(column.name).unit:
        return False
    numbers = column.numbers[:20_000]
    steps = np.diff(unwrapped(numbers, _wraps(numbers)))
    return column.name in ("column 1", LEADING) or (len(steps) > 4 and bool((steps > 0).all()))


def _moments(column: Column) -> bool:
    """Whether a column's cells are times of day or dates."""
    if not column.is_words:
        return False
    seen = [column.words[code] for code in column.codes[:50].tolist() if code and column.words[code]]
    return bool(seen) and sum(seconds_of(cell) is not None for cell in seen) > 0.7 * len(seen)


def _is_date(column: Column) -> bool:
    seen = [column.words[code] for code in column.codes[:50].tolist() if code and column.words[code]]
    return bool(seen) and all(":" not in cell and seconds_of(cell) is not None for cell in seen)


def _rises(column: Column) -> float:
    """The share of steps from row to row that do not go back; 0 where the numbers stand still."""
    numbers = column.numbers[:20_000]
    numbers = numbers[np.isfinite(numbers)]
    if len(numbers) < 2:
        return 1.0 if len(numbers) == 1 else 0.0
    steps = np.diff(unwrapped(numbers, _wraps(numbers)))
    return float((steps >= 0).mean()) if (steps > 0).mean() > 0.02 else 0.0


def _unit(column: Column) -> tuple[str, str]:
    """What a column of numbers counts time in, and why."""
    heading = heading_of(column.name)
    if heading.unit in SECONDS:
        return heading.unit, f"its heading says {heading.unit}"
    words = set(heading.name.lower().replace("_", " ").split())
    if words & _MILLIS:
        return "ms", f'"{heading.name}" counts in ms'
    if words & _MICROS:
        return "us", f'"{heading.name}" counts in us'
    numbers = column.numbers[np.isfinite(column.numbers)]
    least = float(numbers.min()) if len(numbers) else 0.0
    for unit, since_1970 in (("ns", 1e18), ("us", 1e15), ("ms", 1e12), ("s", 1e9)):
        if since_1970 <= least < 10 * since_1970 and (unit != "s" or least < 4.2e9):
            return unit, f"its numbers are {unit} since 1970"
    steps = np.diff(numbers)
    steps = steps[steps > 0]
    step = float(np.median(steps)) if len(steps) else 1.0
    whole = bool((numbers == np.round(numbers)).all())
    likely = ("s", "ms", "us") if whole else ("s", "ms")
    unit = min(likely, key=lambda word: abs(math.log(1 / (step * SECONDS[word]) / USUAL_HZ)))
    rate = show(1 / (step * SECONDS[unit]), "Hz", 1)
    return unit, f"its steps of {step:g} are probably {unit}, which makes {rate}"


def _wraps(raw: Floats) -> float:
    """Where numbers begin again, 0 where they do not."""
    known = raw[np.isfinite(raw)]
    steps = np.diff(known)
    usual = float(np.median(steps[steps > 0])) if (steps > 0).any() else 0.0
    for back in np.sort(steps[steps < 0])[:5].tolist():
        for at in WRAPS:
            if 0 < back + at <= _NEAR * usual:
                return at
    return 0.0


def _starts(seconds: Floats) -> str:
    known = seconds[np.isfinite(seconds)]
    if not len(known):
        return FILE
    return FILE if 0 <= known[0] <= max(0.5, 0.02 * (known[-1] - known[0])) else ZERO


def _equal(seconds: Floats) -> str:
    """Rows of one time are spread where there are many: then the clock was coarser than the rows."""
    steps = np.diff(seconds[np.isfinite(seconds)])
    return SPREAD if len(steps) and (steps == 0).mean() > 0.3 else DROP


def _rate_said(comments: Sequence[str]) -> tuple[float, str]:
    """The rate that a comment tells, 0 where none does."""
    for line in comments:
        match = re.search(r"(\d+(?:[.,]\d+)?)\s*(Hz|ms\b|samples/s|samples per second)", line, re.IGNORECASE)
        if match and (number := float(match[1].replace(",", "."))) > 0:
            rate = 1000 / number if match[2].lower() == "ms" else number
            return rate, f'no column is a time; a comment says "{match[0]}"'
    return 0.0, "no column is a time; say how many rows were taken each second"
