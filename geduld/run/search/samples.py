"""What terms read, over some samples of a trace."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from geduld.binding import terms
from geduld.worlds.trace import Ticks, Trace


class Samples:
    """A lookup of readings at `places`, and of the clock at the `ticks` that go with them.

    `kept` holds the values of variables by their index, and how the encoders turn by their name.
    """

    __slots__ = ("kept", "places", "ticks", "trace")

    def __init__(self, trace: Trace, places: slice | Ticks, ticks: Ticks, kept: Mapping[Any, Any]) -> None:
        self.trace = trace
        self.places = places
        self.ticks = ticks
        self.kept = kept

    def __call__(self, term: Any) -> Any:
        """The values of a reading, a kept value, a timer or the clock."""
        kind = type(term)
        if kind is terms.Encoder and self.kept.get(term.part) is not None:
            return self.kept[term.part].at(self.ticks)
        if kind is terms.Reading or kind is terms.Encoder:
            column = self.trace.column(term.part)
            return math.nan if column is None else column[self.places]
        if kind is terms.Variable or kind is terms.Just:
            return self.kept[term.index]
        if kind is terms.Clock:
            return self.ticks / 1_000_000
        if kind is terms.Timer:
            return (self.ticks - self.kept[term.index]) / 1_000_000
        raise TypeError(f"not known by looking: {term!r}")
