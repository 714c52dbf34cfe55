"""Reads the rules for points from an exercise's JSON."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal
from typing import Any

from geduld.grading.cases import wrong
from geduld.grading.points import PointRules

LATE_KEYS = ("per_day", "at_most")


def read_point_rules(source: dict[str, Any]) -> PointRules:
    """The rules of `due`, `late` and `round_to`. Raises ExerciseError with the path to what is wrong."""
    late = source.get("late", {})
    if not isinstance(late, dict) or any(key not in LATE_KEYS for key in late):
        raise wrong("late", "What a late hand-in loses has per_day and at_most.", '{"per_day": "10 %"}')
    due = moment(source["due"]) if "due" in source else None
    if due is None and "due" in source:
        message, example = "A date and a time with its time zone were expected.", '"2026-11-20T16:00:00+01:00"'
        raise wrong("due", message, f"For example: {example}")
    return PointRules(
        due=due,
        late_per_day=_value(late, "per_day", "%", "late.", 100, 0.0),
        late_at_most=_value(late, "at_most", "%", "late.", 100, 1.0),
        round_to=_value(source, "round_to", "points", "", 100, 0.0),
    )


def moment(text: Any) -> datetime | None:
    """A moment with its time zone, as ISO 8601 writes it; None where a text is none."""
    try:
        found = datetime.fromisoformat(text)
    except (TypeError, ValueError):
        return None
    return found if found.tzinfo is not None else None


def _value(source: dict[str, Any], key: str, unit: str, before: str, most: float, otherwise: float) -> float:
    if key not in source:
        return otherwise
    number, _, word = source[key].partition(" ") if isinstance(source[key], str) else ("", "", "")
    try:
        value = float(number)
    except ValueError:
        value = -1.0
    if word not in (unit, unit.removesuffix("s")) or not 0 <= value <= most:
        expected = f"A number from 0 to {most:g} with its unit, {unit}, was expected."
        raise wrong(f"{before}{key}", expected, f'For example: "{"10 %" if unit == "%" else "0.5 points"}"')
    # A share is divided as a decimal, so that what was written for a number is read as that number.
    return float(Decimal(number) / 100) if unit == "%" else value
