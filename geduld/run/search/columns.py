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

Lookup = Callable[[Any], Any]
Evaluator = Callable[[Lookup], Any]


def values(term: terms.Term, lookup: Lookup) -> Any:
    """The term's values: floats, or bools for a truth; an array, or one number where nothing varies.

    `lookup` gives the values of readings, outputs, variables and the clock.
    """
    return evaluator(term)(lookup)


def evaluator(term: terms.Term) -> Evaluator:
    """The term as a function of a lookup, to be asked often."""
    return _MAKERS.get(type(term), _leaf)(term)


def _leaf(term: Any) -> Evaluator:
    return lambda lookup: lookup(term)


def _const(term: terms.Const) -> Evaluator:
    value = term.value
    return lambda lookup: value


def _just(term: terms.Just) -> Evaluator:
    counter = terms.Reading(term.counter)
    return lambda lookup: np.greater(lookup(counter), lookup(term))


def _arithmetic(term: terms.Arithmetic) -> Evaluator:
    work, left, right = _SIGNS[term.sign], evaluator(term.left), evaluator(term.right)

    def evaluate(lookup: Lookup) -> Any:
        with np.errstate(all="ignore"):
            return work(left(lookup), right(lookup))

    return evaluate


def _divide(left: Any, right: Any) -> Any:
    none = np.equal(right, 0)
    return np.where(none, np.nan, np.divide(left, np.where(none, 1.0, right)))


def _function(term: terms.Function) -> Evaluator:
    work, items = _FUNCTIONS[term.name], [evaluator(value) for value in term.values]
    return lambda lookup: work(*(item(lookup) for item in items))


def _clamp(value: Any, low: Any, high: Any) -> Any:
    return np.minimum(np.maximum(value, low), high)


def _least(first: Any, *others: Any) -> Any:
    for other in others:
        first = np.minimum(first, other)
    return first


def _most(first: Any, *others: Any) -> Any:
    for other in others:
        first = np.maximum(first, other)
    return first


def _unequal(left: Any, right: Any) -> Any:
    return np.less(left, right) | np.greater(left, right)


def _compare(term: terms.Compare) -> Evaluator:
    work, left, right = COMPARISONS[term.sign], evaluator(term.left), evaluator(term.right)
    if isinstance(term.right, terms.Const):
        value = term.right.value
        return lambda lookup: work(left(lookup), value)
    return lambda lookup: work(left(lookup), right(lookup))


def _junction(term: terms.Junction) -> Evaluator:
    left, right = evaluator(term.left), evaluator(term.right)
    if term.word == "and":
        return lambda lookup: left(lookup) & right(lookup)
    return lambda lookup: left(lookup) | right(lookup)


def _opposite(term: terms.Opposite) -> Evaluator:
    inner = evaluator(term.value)
    return lambda lookup: np.logical_not(inner(lookup))


def _absent(term: terms.Absent) -> Evaluator:
    inner = evaluator(term.value)
    return lambda lookup: np.isnan(inner(lookup))


_SIGNS: dict[str, Callable[[Any, Any], Any]] = {
    "+": lambda left, right: left + right,
    "-": lambda left, right: left - right,
    "*": lambda left, right: left * right,
    "/": _divide,
}
_FUNCTIONS: dict[str, Callable[..., Any]] = {
    "abs": np.abs,
    "round": np.rint,
    "clamp": _clamp,
    "min": _least,
    "max": _most,
}
COMPARISONS: dict[str, Callable[[Any, Any], Any]] = {
    "<": np.less,
    "<=": np.less_equal,
    ">": np.greater,
    ">=": np.greater_equal,
    "=": np.equal,
    "!=": _unequal,
}
_MAKERS: dict[type, Callable[[Any], Evaluator]] = {
    terms.Const: _const,
    terms.Just: _just,
    terms.Arithmetic: _arithmetic,
    terms.Function: _function,
    terms.Compare: _compare,
    terms.Junction: _junction,
    terms.Opposite: _opposite,
    terms.Absent: _absent,
}


def applied(name: str, given: list[Any]) -> Any:
    """One of the functions, of values that are known."""
    return _FUNCTIONS[name](*given)


def compare(sign: str, left: Any, right: Any) -> Any:
    """A comparison, false where a side is NaN; `!=` is below or above."""
    return COMPARISONS[sign](left, right)


def as_array(result: Any, count: int) -> Floats:
    """A result as an array of `count` values, also where nothing varies."""
    return result if isinstance(result, np.ndarray) and result.ndim else np.broadcast_to(result, (count,))
