"""Times of day and dates, as loggers and spreadsheets write them, as seconds."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta

DAY = 86_400.0
_CLOCK = r"(?P<h>\d{1,2}):(?P<m>\d\d)(?::(?P<s>\d\d(?:[.,]\d{1,9})?))?(?:\s*(?P<half>[aApP])\.?[mM]\.?)?"
_ZONE = r"(?:\s*(?P<zone>Z|UTC|[+-]\d\d:?\d\d))?"
_DATE = (
    r"(?:(?P<y>\d{4})[-/.](?P<mo>\d{1,2})[-/.](?P<d>\d{1,2})|(?P<a>\d{1,2})[./-](?P<b>\d{1,2})[./-](?P<c>\d{4}|\d\d))"
)
_FORMS = [
    re.compile(rf"\s*{form}\s*", re.ASCII)
    for form in (rf"{_DATE}(?:[T ,]\s*|\s+){_CLOCK}{_ZONE}", _CLOCK + _ZONE, _DATE)
]
_MINUTES = re.compile(r"\s*(?P<m>\d{1,3}):(?P<s>\d\d[.,]\d{1,9})\s*", re.ASCII)


def is_moment(cell: str) -> bool:
    """Whether a cell is a time of day, a date, or both."""
    return len(cell) <= 40 and (":" in cell or any(sign in cell for sign in "./-")) and seconds_of(cell) is not None


def seconds_of(cell: str, day_first: bool = True) -> float | None:
    """A time of day as seconds since midnight, one with a date as seconds since 1970; None for anything else.

    `day_first` says what 3/4/2026 is: the third of April, or the fourth of March.
    """
    if len(cell) > 40:
        return None
    for form in (_MINUTES, *_FORMS):
        match = form.fullmatch(cell)
        if match is not None:
            return _seconds(match.groupdict(), day_first)
    return None


def _seconds(found: dict[str, str | None], day_first: bool) -> float | None:
    hours, minutes = int(found.get("h") or 0), int(found.get("m") or 0)
    seconds = float((found.get("s") or "0").replace(",", "."))
    half = (found.get("half") or "").lower()
    if half:
        if not 1 <= hours <= 12:
            return None
        hours = hours % 12 + (12 if half == "p" else 0)
    if hours > 24 or ("h" in found and minutes > 59) or seconds >= 61:
        return None
    clock = hours * 3600 + minutes * 60 + seconds
    if not (found.get("y") or found.get("c")):
        return clock
    day = _day(found, day_first)
    if day is None:
        return None
    zone = found.get("zone") or "Z"
    shift = 0.0
    if zone[0] in "+-":
        shift = (1 if zone[0] == "+" else -1) * (int(zone[1:3]) * 3600 + int(zone[-2:]) * 60)
    midnight = datetime(day.year, day.month, day.day, tzinfo=UTC)
    return (midnight - datetime(1970, 1, 1, tzinfo=UTC)) / timedelta(seconds=1) + clock - shift


def _day(found: dict[str, str | None], day_first: bool) -> date | None:
    if found.get("y"):
        year, month, day = int(found["y"] or 0), int(found["mo"] or 0), int(found["d"] or 0)
    else:
        first, second = int(found["a"] or 0), int(found["b"] or 0)
        year = int(found["c"] or 0)
        year += 2000 if year < 100 else 0
        day, month = (first, second) if day_first else (second, first)
        if month > 12 >= day:  # there is one way to read it
            day, month = month, day
    try:
        return date(year, month, day)
    except ValueError:
        return None
