"""The points that count: what the checks gave, less what a late hand-in loses, rounded as the teacher says."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, timedelta

from geduld.language.quantities import show

_DAY = timedelta(days=1)


@dataclass(frozen=True)
class PointRules:
    """The teacher's rules for a hand-in's points.

    `due` is when hand-ins are due; without one nothing is late. Each day begun after it costs the share
    `late_per_day` (0 to 1) of the points reached, all days together at most `late_at_most` (0 to 1). What is left
    is rounded to a multiple of `round_to` points, halves up; 0 leaves it as it is.
    """

    due: datetime | None = None
    late_per_day: float = 0.0
    late_at_most: float = 1.0
    round_to: float = 0.0


NO_RULES = PointRules()


@dataclass(frozen=True)
class Points:
    """A hand-in's points: `earned` by its marks, and those that `count` after the rules. `because` says how."""

    earned: float
    counting: float
    late_days: int = 0
    because: str = ""


def counted(earned: float, received: datetime | None, rules: PointRules) -> Points:
    """The points that count. A hand-in of which nobody knows when it was `received` is on time."""
    days = 0
    if rules.due is not None and received is not None and received > rules.due:
        days = math.ceil((received - rules.due) / _DAY)
    share = min(days * rules.late_per_day, rules.late_at_most)
    left = earned * (1 - share)
    points = rounded(left, rules.round_to)
    reasons = []
    if days:
        lost = f"minus {show(share * 100, '%')} of {_points(earned)}" if share * earned else "which costs nothing"
        reasons.append(f"{days} {'day' if days == 1 else 'days'} late, {lost}")
    if abs(points - left) > 1e-9:
        reasons.append(f"{show(left)} rounded to {_points(points)}")
    because = "; ".join(reasons)
    return Points(earned, points, days, f"{because[:1].upper()}{because[1:]}." if because else "")


def rounded(points: float, step: float) -> float:
    """The nearest multiple of a step, halves up. A billionth of a step below a half is a half: sums of floats are."""
    return points if step < 1e-9 else math.floor(points / step + 0.5 + 1e-9) * step


def _points(number: float) -> str:
    return show(number, "point" if number == 1 else "points")
