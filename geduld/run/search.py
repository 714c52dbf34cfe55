"""Finds the first instant at which a condition holds, without stepping through the samples one by one."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.run.corners import corners
from geduld.run.odometry import ChangingTurn
from geduld.run.vector import Lookup, as_array, values
from geduld.worlds.trace import NEVER, Floats, Ticks, Trace

_FIRST_CHUNK = 512
Kept = Mapping[Any, Any]


class Search:
    """A condition over the instants at which it can change, evaluated only where it was asked.

    Readings change at samples. Where the clock or a timer is compared with something that does not vary, the ticks
    around that value are instants as well, so that a timer is exact to the microsecond. Questions come with rising
    times, so what lies before the last question is never looked at.
    """

    def __init__(self, condition: terms.Term, trace: Trace, kept: Kept) -> None:
        self.condition = condition
        self.kept = kept
        self.trace = trace
        self.between = _between_samples(condition, kept)
        self.times: Ticks = np.empty(0, np.int64)
        self.mask: NDArray[np.bool_] = np.empty(0, np.bool_)
        self.place = 0
        self.chunk = _FIRST_CHUNK

    def first(self, start: int, held: int) -> int:
        """The first tick from `start` on at which the condition holds and has held for `held` ticks.

        It must hold on the whole closed stretch, counted from `start` at the earliest. NEVER if none.
        """
        if not len(self.times) or start >= self.times[-1]:
            self._begin(start)
        index = int(self.times.searchsorted(start, "right")) - 1
        while True:
            index = self._next(index, True)
            if index < 0:
                return NEVER
            since = max(start, int(self.times[index]))
            if not held:
                return since
            index = self._next(index, False)
            if index < 0 or self.times[index] > since + held:
                return since + held

    def _begin(self, start: int) -> None:
        """Looks from the sample that holds at `start` on, and no more at what was before."""
        self.place = int(self.trace.times.searchsorted(start, "right")) - 1
        self.times, self.mask = self.times[:0], self.mask[:0]
        self.chunk = _FIRST_CHUNK
        self._fill()

    def _next(self, index: int, wanted: bool) -> int:
        """The first index from `index` on whose mask is `wanted`, or -1."""
        while True:
            part = self.mask[index:]
            if len(part):
                found = int(part.argmax() if wanted else part.argmin())
                if part[found] == wanted:
                    return index + found
                index = len(self.mask)
            if self.place >= self.trace.samples:
                return -1
            self._fill()

    def _fill(self) -> None:
        """Evaluates the condition over the next samples, and over the instants between them."""
        first, stop = self.place, min(self.trace.samples, self.place + self.chunk)
        ticks, places = self.trace.times[first:stop], None
        if len(self.between):
            until = self.trace.ticks[stop] if stop < self.trace.samples else self.trace.duration_us + 1
            inside = self.between[(self.between >= ticks[0]) & (self.between < until)]
            if len(inside):
                ticks = np.union1d(ticks, inside)
                places = self.trace.times.searchsorted(ticks, "right") - 1
        lookup = columns(self.trace, slice(first, stop) if places is None else places, ticks, self.kept)
        mask = as_array(values(self.condition, lookup), len(ticks)).astype(np.bool_)
        self.times = np.concatenate((self.times, ticks)) if len(self.times) else ticks
        self.mask = np.concatenate((self.mask, mask)) if len(self.mask) else mask
        self.place = stop
        self.chunk *= 2


def columns(trace: Trace, places: slice | Ticks, ticks: Ticks, kept: Kept) -> Lookup:
    """The values of readings at some samples, of what is kept, and of the clock at the ticks that go with them."""

    def lookup(term: terms.Term) -> Floats | float:
        match term:
            case terms.Clock():
                return ticks / 1_000_000
            case terms.Timer():
                return (ticks - kept[term.index]) / 1_000_000  # type: ignore[no-any-return]
            case terms.Variable() | terms.Just():
                return kept[term.index]  # type: ignore[no-any-return]
            case terms.Encoder() if kept.get(term.part) is not None:
                return kept[term.part].at(ticks)  # type: ignore[no-any-return]
            case terms.Reading():
                column = trace.column(term.part)
                return math.nan if column is None else column[places]
        raise TypeError(f"not known by looking: {term!r}")

    return lookup


def _between_samples(condition: terms.Term, kept: Kept) -> Ticks:
    """The rising instants between samples at which the condition may change."""
    compared = [term for term in condition.walk() if isinstance(term, terms.Compare)]
    found = sorted({tick for term in compared for tick in corners(term, kept)})
    turns = [turn.ticks for turn in kept.values() if isinstance(turn, ChangingTurn)]
    between = np.array(found, np.int64)
    return np.unique(np.concatenate([between, *turns])) if turns else between
