"""Counters of what a channel does: how often a contact was pressed or released, and how many messages came.

An absent reading of a contact changes nothing; behind one, a message counts anew. The floor's kernel counts by the same
rules (`worlds.kernel.advance`).
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

COUNTED = ("presses", "releases", "messages")


def counted(word: str, values: NDArray[np.float64]) -> NDArray[np.float64]:
    """The count up to each sample of a channel, shape (n,); `word` is one of COUNTED."""
    if word == "messages":
        before = np.concatenate(([np.nan], values[:-1]))
        return np.cumsum(~np.isnan(values) & (values != before)).astype(np.float64)
    to = _changes_to(word)
    known = np.flatnonzero(~np.isnan(values))
    counts = np.zeros(len(values))
    if len(known):
        seen = values[known]
        counts[known[np.flatnonzero((seen[1:] == to) & (seen[:-1] != to)) + 1]] = 1
    return np.cumsum(counts)


def _changes_to(word: str) -> float:
    return 1.0 if word == "presses" else 0.0


class Counter:
    """The same, one sample after another."""

    def __init__(self, word: str) -> None:
        self.word = word
        self.known = math.nan
        self.count = 0.0

    def next(self, value: float) -> float:
        """The count when the channel has this value now."""
        absent = value != value
        if self.word == "messages":
            self.count += not absent and value != self.known
            self.known = value
        elif not absent:
            to = _changes_to(self.word)
            self.count += self.known == self.known and value == to and self.known != to
            self.known = value
        return self.count
