"""The values of one reading for which a condition holds."""

from __future__ import annotations

import math

from geduld.binding import terms
from geduld.language.nodes import node

# A comparison's sign when its two sides change places.
TURNED = {"<": ">", "<=": ">=", ">": "<", ">=": "<=", "=": "="}


@node
class Interval:
    """From `low` to `high` of the reading of `part`; `low_closed` and `high_closed`: the ends belong to it.

    `whole` when the reading is always a whole number.
    """

    part: str
    low: float
    high: float
    low_closed: bool
    high_closed: bool
    whole: bool = False

    @property
    def empty(self) -> bool:
        """Whether no value is in it."""
        return self.low > self.high or (self.low == self.high and not (self.low_closed and self.high_closed))

    def apart(self, other: Interval) -> bool:
        """Whether no value of one reading is in both."""
        return self.part == other.part and both(self, other).empty


def both(one: Interval, other: Interval) -> Interval:
    """What is in two intervals of one reading."""
    low = max((one.low, not one.low_closed), (other.low, not other.low_closed))
    high = min((one.high, one.high_closed), (other.high, other.high_closed))
    return Interval(one.part, low[0], high[0], not low[1], high[1], one.whole)


def interval(term: terms.Term | None) -> Interval | None:
    """The values for which a comparison, or several joined with and, holds; None where it is about more than a reading.

    A contact is 1 where it is pressed and 0 where it is released.
    """
    if isinstance(term, terms.Junction) and term.word == "and":
        left, right = interval(term.left), interval(term.right)
        return None if left is None or right is None or left.part != right.part else both(left, right)
    if not isinstance(term, terms.Compare) or term.sign == "!=":
        return None
    left_term, right_term, sign = term.left, term.right, term.sign
    if isinstance(right_term, terms.Reading):
        left_term, right_term = right_term, left_term
        sign = TURNED[sign]
    if not isinstance(left_term, terms.Reading) or not isinstance(right_term, terms.Const):
        return None
    return compared(left_term.part, sign, right_term.value)


def compared(part: str, sign: str, edge: float, whole: bool = False) -> Interval:
    """The values for which a reading compared with a number holds; `sign` is <, <=, >, >= or =."""
    closed = sign in ("<=", ">=", "=")
    if sign == "=":
        return Interval(part, edge, edge, True, True, whole)
    if sign in ("<", "<="):
        return Interval(part, -math.inf, edge, False, closed, whole)
    return Interval(part, edge, math.inf, closed, False, whole)
