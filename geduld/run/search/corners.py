"""The instants between samples at which a condition on the clock, a timer or a modelled angle changes."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from typing import Any

from geduld.binding import terms
from geduld.run.search.turns import SteadyTurn

Line = tuple[float, float]  # a value as slope * tick + offset
MOST_LINES = 16


def corners(term: terms.Compare, kept: Mapping[Any, Any]) -> Iterator[int]:
    """The ticks around each instant at which the two sides of a comparison may meet.

    A side counts when it is a straight line over time: the clock, a timer, an angle that the motion model says,
    fixed values, and what `+ - * /` and the functions make of them. `kept` holds the variables' values and the
    encoders' turns.
    """
    left, right = _lines(term.left, kept), _lines(term.right, kept)
    for slope, offset in left:
        for other_slope, other_offset in right:
            if slope != other_slope:
                meet = (other_offset - offset) / (slope - other_slope)
                if math.isfinite(meet) and abs(meet) < 1e15:
                    tick = math.floor(meet)
                    yield from (tick - 1, tick, tick + 1, tick + 2)


def crossings(condition: terms.Term, kept: Mapping[Any, Any]) -> list[int] | None:
    """All rising ticks at which a condition may change, when it is one on straight lines alone; else None.

    Absolute values, least and greatest ones and clamps of straight lines change only where one of the lines meets the
    other side. A rounded line does not, nor what depends on a reading.
    """
    found: set[int] = set()
    for term in condition.walk():
        if isinstance(term, terms.Absent | terms.Just) or (isinstance(term, terms.Function) and term.name == "round"):
            return None
        if isinstance(term, terms.Compare):
            sides = _lines(term.left, kept), _lines(term.right, kept)
            if any(not side or len(side) >= MOST_LINES for side in sides):
                return None
            found.update(corners(term, kept))
    return sorted(found)


def _lines(term: terms.Term, kept: Mapping[Any, Any]) -> list[Line]:
    """The straight lines that a term may be at one time or another; none when it depends on a reading."""
    match term:
        case terms.Const():
            return [(0.0, term.value)]
        case terms.Variable():
            return [(0.0, kept[term.index])]
        case terms.Clock():
            return [(1e-6, 0.0)]
        case terms.Timer():
            return [(1e-6, -kept[term.index] / 1_000_000)]
        case terms.Encoder():
            turn = kept.get(term.part)
            if isinstance(turn, SteadyTurn):
                return [(turn.slope / 1_000_000, turn.start - turn.slope * (turn.tick / 1_000_000))]
            return []
        case terms.Function():
            found = [line for value in term.values for line in _lines(value, kept)]
            return (found + [(-slope, -offset) for slope, offset in found])[:MOST_LINES]
        case terms.Arithmetic():
            pairs = [(a, b) for a in _lines(term.left, kept) for b in _lines(term.right, kept)]
            return [line for a, b in pairs[:MOST_LINES] for line in _joined(term.sign, a, b)]
    return []


def _joined(sign: str, a: Line, b: Line) -> list[Line]:
    if sign == "+":
        return [(a[0] + b[0], a[1] + b[1])]
    if sign == "-":
        return [(a[0] - b[0], a[1] - b[1])]
    if sign == "*" and 0.0 in (a[0], b[0]):
        return [(a[0] * b[1] + b[0] * a[1], a[1] * b[1])]
    if sign == "/" and b[0] == 0.0 and b[1] != 0.0:
        return [(a[0] / b[1], a[1] / b[1])]
    return []
