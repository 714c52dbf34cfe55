"""Evaluates a term over many instants at once.

The results equal the generated scalar code bit for bit: the same operations in the same order, NaN for
absent values, and every comparison with an absent value false.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.worlds.trace import Floats

Lookup = Callable[[terms.Term], Any]


def values(term: terms.Term, lookup: Lookup) -> Any:
    """The term's values: floats, or bools for a truth; an array, or one number where nothing varies.

    `lookup` gives the values of readings, outputs, variables and the clock.
    """
    match term:
        case terms.Const():
            return term.value
        case terms.Reading() | terms.Output() | terms.Variable() | terms.Clock() | terms.Timer():
            return lookup(term)
        case terms.Just():
            return np.greater(lookup(terms.Reading(term.counter)), lookup(term))
        case terms.Arithmetic():
            return _arithmetic(term.sign, values(term.left, lookup), values(term.right, lookup))
        case terms.Function():
            return _function(term.name, [values(value, lookup) for value in term.values])
        case terms.Compare():
            return compare(term.sign, values(term.left, lookup), values(term.right, lookup))
        case terms.Junction():
            left, right = values(term.left, lookup), values(term.right, lookup)
            return left & right if term.word == "and" else left | right
        case terms.Opposite():
            return np.logical_not(values(term.value, lookup))
        case terms.Absent():
            return np.isnan(values(term.value, lookup))
    raise TypeError(f"not a term: {term!r}")


def _arithmetic(sign: str, left: Any, right: Any) -> Any:
    with np.errstate(all="ignore"):
        if sign == "+":
            return left + right
        if sign == "-":
            return left - right
        if sign == "*":
            return left * right
        return np.where(np.equal(right, 0), np.nan, np.divide(left, np.where(np.equal(right, 0), 1.0, right)))


def _function(name: str, items: list[Any]) -> Any:
    if name == "abs":
        return np.abs(items[0])
    if name == "round":
        return np.rint(items[0])
    if name == "clamp":
        return np.minimum(np.maximum(items[0], items[1]), items[2])
    result = items[0]
    for item in items[1:]:
        result = np.minimum(result, item) if name == "min" else np.maximum(result, item)
    return result


def compare(sign: str, left: Any, right: Any) -> Any:
    """A comparison, false where a side is NaN; `!=` is below or above."""
    if sign == "<":
        return np.less(left, right)
    if sign == "<=":
        return np.less_equal(left, right)
    if sign == ">":
        return np.greater(left, right)
    if sign == ">=":
        return np.greater_equal(left, right)
    if sign == "=":
        return np.equal(left, right)
    return np.less(left, right) | np.greater(left, right)


def as_array(result: Any, count: int) -> Floats:
    """A result as an array of `count` values, also where nothing varies."""
    return np.broadcast_to(result, (count,))
