"""The instants between samples at which a condition on the clock, a timer or a modelled angle changes."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any, Protocol

import numpy as np

from geduld.binding import terms
from geduld.run.search.columns import applied
from geduld.run.search.turns import SteadyTurn
from geduld.worlds.trace import Ticks


class Kept(Protocol):
    """Kept values by their index, and the encoders' turns by their name."""

    def __getitem__(self, index: Any, /) -> Any:
        """A kept value."""

    def get(self, name: Any, /) -> Any:
        """How an encoder turns; None where samples say it."""


Line = tuple[Any, Any]  # a value as slope * tick + offset; an array has a line for each stretch between two samples
Held = Callable[[Any], Any]  # what a reading is while it is held: one number, or one for each stretch
MOST_LINES = 16
_AROUND = (-1, 0, 1, 2)  # a meeting is a rounded number, and `<` changes a tick behind it
_LATEST = 1e15


def unread(term: terms.Term) -> Any:
    """The held value of a reading where none is to be used: no line."""
    return None


def corners(term: terms.Compare, kept: Kept, held: Held = unread) -> Iterator[int]:
    """The ticks around each instant at which the two sides of a comparison may meet.

    A side counts when it is a straight line over time: the clock, a timer, an angle that the motion model says,
    fixed values, readings while they are held, and what `+ - * /` and the functions make of them. `kept` holds the
    variables' values and the encoders' turns, `held` one number for each reading.
    """
    for meet in _meetings(term, kept, held):
        if math.isfinite(meet) and abs(meet) < _LATEST:
            tick = math.floor(meet)
            yield from (tick + step for step in _AROUND)


def corners_within(term: terms.Compare, kept: Kept, held: Held, starts: Ticks, stops: Ticks) -> Ticks:
    """The same over many stretches in which readings are held: `held` gives an array of one value for each.

    Only the ticks from a stretch's start up to the one before its stop.
    """
    found = []
    with np.errstate(all="ignore"):
        for meet in _meetings(term, kept, held):
            meets = np.broadcast_to(meet, starts.shape)
            near = np.flatnonzero((meets >= starts - 3) & (meets <= stops + 3))  # false for what is not finite
            ticks = np.floor(meets[near]).astype(np.int64)[:, None] + np.array(_AROUND)
            found.append(ticks[(ticks >= starts[near][:, None]) & (ticks < stops[near][:, None])])
    return np.concatenate(found) if found else np.empty(0, np.int64)


def crossings(condition: terms.Term, kept: Kept) -> list[int] | None:
    """All rising ticks at which a condition may change, when it is one on straight lines alone; else None.

    Absolute values, least and greatest ones and clamps of straight lines change only where one of the lines meets the
    other side. A rounded line does not, nor what depends on a reading.
    """
    found: set[int] = set()
    for term in condition.walk():
        if isinstance(term, terms.Absent | terms.Just):
            return None
        if isinstance(term, terms.Compare):
            if not (_is_straight(term.left, kept) and _is_straight(term.right, kept)):
                return None
            found.update(corners(term, kept))
    return sorted(found)


def _is_straight(term: terms.Term, kept: Kept) -> bool:
    """Whether a value follows one of its straight lines at any time, and all of them are known."""
    match term:
        case terms.Const() | terms.Variable() | terms.Clock() | terms.Timer():
            return True
        case terms.Encoder():
            return isinstance(kept.get(term.part), SteadyTurn)
        case terms.Function():
            inside = all(_is_straight(value, kept) for value in term.values)
            return term.name != "round" and inside and len(_lines(term, kept, unread)) < MOST_LINES
        case terms.Arithmetic():
            left, right = _lines(term.left, kept, unread), _lines(term.right, kept, unread)
            inside = _is_straight(term.left, kept) and _is_straight(term.right, kept)
            pairs = [(a, b) for a in left for b in right]
            return inside and len(pairs) < MOST_LINES and all(_joined(term.sign, a, b) for a, b in pairs)
    return False


def _meetings(term: terms.Compare, kept: Kept, held: Held) -> Iterator[Any]:
    """Where lines of the two sides meet, in ticks; not finite where they do not."""
    left, right = _lines(term.left, kept, held), _lines(term.right, kept, held)
    for slope, offset in left:
        for other_slope, other_offset in right:
            if not (_is_level(slope) and _is_level(other_slope)):
                yield _quotient(other_offset - offset, slope - other_slope)


def _lines(term: terms.Term, kept: Kept, held: Held) -> list[Line]:
    """The straight lines that a term may be at one time or another; none when it depends on what nobody holds."""
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
            return _level(held(term)) if turn is None else []
        case terms.Reading() | terms.Output() | terms.Pose() | terms.Told() | terms.Reference():
            return _level(held(term))
        case terms.Function():
            lines = [_lines(value, kept, held) for value in term.values]
            if all(len(each) == 1 and _is_level(each[0][0]) for each in lines):
                return [(0.0, applied(term.name, [each[0][1] for each in lines]))]
            found = [line for each in lines for line in each]
            return (found + [(-slope, -offset) for slope, offset in found])[:MOST_LINES]
        case terms.Arithmetic():
            pairs = [(a, b) for a in _lines(term.left, kept, held) for b in _lines(term.right, kept, held)]
            return [line for a, b in pairs[:MOST_LINES] for line in _joined(term.sign, a, b)]
    return []


def _level(value: Any) -> list[Line]:
    return [] if value is None else [(0.0, value)]


def _is_level(slope: Any) -> bool:
    return type(slope) is float and slope == 0.0


def _joined(sign: str, a: Line, b: Line) -> list[Line]:
    if sign == "+":
        return [(a[0] + b[0], a[1] + b[1])]
    if sign == "-":
        return [(a[0] - b[0], a[1] - b[1])]
    level, other_level = _is_level(a[0]), _is_level(b[0])
    if sign == "*" and (level or other_level):
        slope = 0.0 if level and other_level else a[0] * b[1] + b[0] * a[1]
        return [(slope, a[1] * b[1])]
    if sign == "/" and other_level:
        return [(0.0 if level else _quotient(a[0], b[1]), _quotient(a[1], b[1]))]
    return []


def _quotient(value: Any, by: Any) -> Any:
    """A quotient, not a number where nothing divides."""
    if isinstance(value, float) and isinstance(by, float):
        return value / by if by != 0.0 else math.nan
    with np.errstate(all="ignore"):
        return np.divide(value, np.where(np.equal(by, 0.0), np.nan, by))
