"""Times of day that a serial monitor writes before each line."""

from __future__ import annotations

import re

_STAMP = re.compile(
    r"\s*\[?((?:\d{4}-\d\d-\d\d[ T])?\d{1,2}:\d\d:\d\d(?:[.,:]\d{1,6})?)\s*(?:\]\s*[:>-]{0,2}|->|>|\||=>)\s*(.*)",
    re.ASCII,
)


def unstamped(line: str) -> tuple[str, str]:
    """The time of day before a line, empty where there is none, and the rest of the line."""
    match = _STAMP.fullmatch(line)
    return (match[1], match[2]) if match else ("", line)
