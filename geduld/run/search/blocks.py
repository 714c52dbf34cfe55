"""Tells in which blocks of a long trace a condition may hold at all, from each block's least and greatest value.

So a wait that ends hours later costs a look at the blocks, and not at every sample.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.worlds.trace import Trace

Blocks = NDArray[np.bool_]
Maybe = Callable[[Trace], Blocks]


def possible(term: terms.Term) -> Maybe | None:
    """For a condition, the blocks in which it may hold; None when their extremes say nothing about it."""
    if isinstance(term, terms.Junction):
        sides = possible(term.left), possible(term.right)
        left, right = sides
        if left is not None and right is not None:
            return partial(_both if term.word == "and" else _either, left, right)
        return (left or right) if term.word == "and" else None
    if not isinstance(term, terms.Compare) or term.sign == "!=":
        return None
    if type(term.left) is terms.Reading and isinstance(term.right, terms.Const):
        return partial(_compared, term.left.part, term.sign, term.right.value)
    return None


def _both(left: Maybe, right: Maybe, trace: Trace) -> Blocks:
    return left(trace) & right(trace)


def _either(left: Maybe, right: Maybe, trace: Trace) -> Blocks:
    return left(trace) | right(trace)


def _compared(part: str, sign: str, value: float, trace: Trace) -> Blocks:
    """A comparison may hold where the block's extremes reach over the value; a block of absent readings never does."""
    least, greatest = trace.extremes(part)
    if sign in ("<", "<="):
        return least <= value
    if sign in (">", ">="):
        return greatest >= value
    return (least <= value) & (greatest >= value)
