"""Finds the first instant at which a condition holds, without stepping through the samples one by one."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.run.vector import Lookup, as_array, values
from geduld.worlds.trace import NEVER, Floats, Ticks, Trace

_FIRST_CHUNK = 1024


class Search:
    """A condition over the instants at which it can change, evaluated only as far as it was asked."""

    def __init__(self, condition: terms.Term, trace: Trace, variables: Mapping[int, float]) -> None:
        self.condition = condition
        self.variables = variables
        self.trace = trace
        self.times, self.places = _instants(condition, trace, variables)
        self.mask: NDArray[np.bool_] = np.zeros(len(self.times), np.bool_)
        self.filled = 0
        self.chunk = _FIRST_CHUNK

    def first(self, start: int, held: int) -> int:
        """The first tick from `start` on at which the condition holds and has held for `held` ticks.

        It must hold on the whole closed stretch, counted from `start` at the earliest. NEVER if none.
        """
        index = int(np.searchsorted(self.times, start, "right")) - 1
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

    def _next(self, index: int, wanted: bool) -> int:
        """The first index from `index` on whose mask is `wanted`, or -1."""
        while index < len(self.times):
            while index >= self.filled:
                self._fill()
            part = self.mask[index : self.filled]
            found = int(part.argmax() if wanted else part.argmin())
            if part[found] == wanted:
                return index + found
            index = self.filled
        return -1

    def _fill(self) -> None:
        start, stop = self.filled, min(len(self.times), self.filled + self.chunk)
        result = values(self.condition, self._lookup(start, stop))
        self.mask[start:stop] = as_array(result, stop - start)
        self.filled = stop
        self.chunk *= 2

    def _lookup(self, start: int, stop: int) -> Lookup:
        places = slice(start, stop) if self.places is None else self.places[start:stop]
        return columns(self.trace, places, self.times[start:stop], self.variables)


def columns(trace: Trace, places: slice | Ticks, ticks: Ticks, variables: Mapping[int, float]) -> Lookup:
    """The values of readings at some samples, of variables, and of the clock at the ticks that go with them."""

    def lookup(term: terms.Term) -> Floats | float:
        if isinstance(term, terms.Reading):
            channel = trace.channels.get(term.part)
            return math.nan if channel is None else channel[places]
        if isinstance(term, terms.Variable):
            return variables[term.index]
        return ticks / 1_000_000

    return lookup


def _instants(condition: terms.Term, trace: Trace, variables: Mapping[int, float]) -> tuple[Ticks, Ticks | None]:
    """The instants at which the condition can change, and the sample that holds at each.

    Readings change at samples. Where the clock is compared with something that does not vary, the ticks
    around that value are instants as well, so that a timer is exact to the microsecond.
    """
    corners = [
        tick for term in condition.walk() if isinstance(term, terms.Compare) for tick in clock_corners(term, variables)
    ]
    inside = [tick for tick in corners if 0 <= tick <= trace.duration_us]
    if not inside:
        return trace.times, None
    times = np.union1d(trace.times, np.array(inside, np.int64))
    return times, np.searchsorted(trace.times, times, "right") - 1


def clock_corners(term: terms.Compare, variables: Mapping[int, float]) -> list[int]:
    """The ticks around the instant at which a comparison of the clock with a fixed value changes."""
    sides = [(term.left, term.right), (term.right, term.left)]
    for clock, other in sides:
        if isinstance(clock, terms.Clock) and not _varies(other):
            value = float(values(other, lambda item: variables[item.index]))  # type: ignore[attr-defined]
            if math.isfinite(value):
                tick = math.floor(value * 1_000_000)
                return [tick - 1, tick, tick + 1]
    return []


def _varies(term: terms.Term) -> bool:
    return any(isinstance(item, terms.Reading | terms.Clock) for item in term.walk())
