"""What stands in a recording where a sensor had no reading."""

from __future__ import annotations

NOTHING = (
    "", "-", "--", "---", "?", "nan", "none", "null", "nil", "na", "n/a", "#n/a", "#nv", "inf", "-inf", "+inf",
    "undefined", "missing", "ovf", "overflow", "timeout", "out of range", "oor", "err", "error", "no echo", "absent",
)  # fmt: skip
# Numbers that boards print for "no reading", where the part could not read them.
CODES = (-1.0, 0.0, 255.0, 999.0, 9999.0, -999.0, -9999.0, 65535.0, 32767.0, 4294967295.0, 8190.0, 8191.0, -127.0, 1e9)
