"""A signal: values that hold from instant to instant, as outputs, lines and what is read without noise do."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from geduld.language.nodes import node
from geduld.worlds.trace import Floats, Ticks


def instants(*ticks: ArrayLike) -> Ticks:
    """All instants of several signals, each once, in order. `ticks` are whole numbers of shapes (n,), at best in
    order; they become int64.

    To sort runs that are in order is to merge them; NumPy's `unique` hashes every number, at fifty times the cost.
    """
    found = np.concatenate([np.asarray(each, np.int64) for each in ticks])
    found.sort(kind="stable")
    new = np.ones(len(found), np.bool_)
    np.not_equal(found[1:], found[:-1], out=new[1:])
    return found[new]


@node
class Signal:
    """Values that hold from their instant until the next. `times` are n rising ticks (us), `values` n in base units."""

    times: Ticks
    values: Floats

    def at(self, ticks: Ticks) -> Floats:
        """The values that hold at these instants; NaN before the first."""
        index = np.searchsorted(self.times, ticks, "right") - 1
        return np.where(index < 0, np.nan, self.values[np.maximum(index, 0)])
