"""Finds the first instant at which a condition holds that may change between samples too."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.run.search.columns import Evaluator, as_array
from geduld.run.search.corners import corners, corners_within
from geduld.run.search.samples import Samples
from geduld.run.search.turns import ChangingTurn
from geduld.worlds.signal import instants
from geduld.worlds.trace import NEVER, Ticks, Trace

_FIRST_CHUNK = 512
_READ = (terms.Reading, terms.Encoder)


class SearchLines:
    """A condition on straight lines over time alone: the clock, timers, and angles that the motion model says.

    It changes only where two of the lines meet, so that nothing else is looked at.
    """

    def __init__(self, holds: Evaluator, crossings: list[int], trace: Trace, kept: Mapping[Any, Any]) -> None:
        self.crossings = crossings
        self.holds = holds
        self.trace = trace
        self.kept = kept

    def first(self, start: int, held: int, limit: int) -> int:
        """The first tick from `start` on at which the condition holds and has held for `held` ticks.

        It must hold on the whole closed stretch, counted from `start` at the earliest. NEVER when there is none.
        """
        looks = [start, *self.crossings[bisect_right(self.crossings, start) :]]
        ticks = np.array(looks, np.int64)
        mask = self.holds(Samples(self.trace, slice(0), ticks, self.kept))
        since = None
        for index, holds in enumerate(as_array(mask, len(looks)).tolist()):
            if not holds:
                since = None
                continue
            since = looks[index] if since is None else since
            if index + 1 == len(looks) or looks[index + 1] > since + held:
                return since + held
        return NEVER


class SearchBetween:
    """A condition on the clock, a timer or an angle that the motion model says.

    Where such a value is compared with something that does not vary until the next sample, the ticks around the meeting
    are looked at as well as the samples, so that a timer is exact to the microsecond. Questions come with rising times,
    so what lies before the last question is never looked at.
    """

    def __init__(self, term: terms.Term, holds: Evaluator, trace: Trace, kept: Mapping[Any, Any]) -> None:
        self.holds = holds
        self.kept = kept
        self.trace = trace
        compared = [item for item in term.walk() if isinstance(item, terms.Compare)]
        self.read = [item for item in compared if any(isinstance(leaf, _READ) for leaf in item.walk())]
        self.between = _between_samples([item for item in compared if item not in self.read], kept)
        self.times: Ticks = np.empty(0, np.int64)
        self.mask: NDArray[np.bool_] = np.empty(0, np.bool_)
        self.place = 0
        self.chunk = _FIRST_CHUNK

    def first(self, start: int, held: int, limit: int) -> int:
        """The first tick from `start` on at which the condition holds and has held for `held` ticks.

        It must hold on the whole closed stretch, counted from `start` at the earliest. NEVER, or a tick past `limit`,
        when that is not before `limit`.
        """
        if not len(self.times) or start >= self.times[-1]:
            self._begin(start)
        index = int(self.times.searchsorted(start, "right"))
        since = start if self._holds(start) else -1
        while True:
            if since < 0:
                index = self._next(index, True, limit)
                if index < 0:
                    return NEVER
                since = int(self.times[index])
            if not held:
                return since
            index = self._next(index, False, since + held)
            if index < 0 or self.times[index] > since + held:
                return since + held
            since = -1

    def _holds(self, tick: int) -> bool:
        """Whether it holds at an instant: it may have changed since the last one at which it was looked at."""
        ticks = np.array([tick], np.int64)
        places = self.trace.times.searchsorted(ticks, "right") - 1
        return bool(as_array(self.holds(Samples(self.trace, places, ticks, self.kept)), 1)[0])

    def _begin(self, start: int) -> None:
        """Looks from the sample that holds at `start` on, and no more at what was before."""
        self.place = int(self.trace.times.searchsorted(start, "right")) - 1
        self.times, self.mask = self.times[:0], self.mask[:0]
        self.chunk = _FIRST_CHUNK
        self._fill()

    def _next(self, index: int, wanted: bool, limit: int) -> int:
        """The first index from `index` on whose mask is `wanted`, or -1 when there is none up to `limit`."""
        while True:
            part = self.mask[index:]
            if len(part):
                found = int(part.argmax() if wanted else part.argmin())
                if part[found] == wanted:
                    return index + found
                index = len(self.mask)
            if self.place >= self.trace.samples or self.times[-1] > limit:
                return -1
            self._fill()

    def _fill(self) -> None:
        """Evaluates the condition over the next samples, and over the instants between them."""
        first, stop = self.place, min(self.trace.samples, self.place + self.chunk)
        ticks, places = self.trace.times[first:stop], None
        if len(self.between) or self.read:
            until = self.trace.ticks[stop] if stop < self.trace.samples else self.trace.duration_us + 1
            inside = self.between[(self.between >= ticks[0]) & (self.between < until)]
            if self.read:
                held = Samples(self.trace, slice(first, stop), ticks, self.kept)
                stops = np.append(ticks[1:], until)
                found = [corners_within(term, self.kept, held, ticks, stops) for term in self.read]
                inside = np.concatenate((inside, *found))
            if len(inside):
                ticks = np.union1d(ticks, inside)
                places = self.trace.times.searchsorted(ticks, "right") - 1
        look = Samples(self.trace, slice(first, stop) if places is None else places, ticks, self.kept)
        mask = as_array(self.holds(look), len(ticks)).astype(np.bool_)
        self.times = np.concatenate((self.times, ticks)) if len(self.times) else ticks
        self.mask = np.concatenate((self.mask, mask)) if len(self.mask) else mask
        self.place = stop
        self.chunk *= 2


def _between_samples(compared: list[terms.Compare], kept: Mapping[Any, Any]) -> Ticks:
    """The rising instants at which comparisons may change that read no sample, and those at which motors change."""
    found = sorted({tick for term in compared for tick in corners(term, kept)})
    turns = [turn.ticks for turn in kept.values() if isinstance(turn, ChangingTurn)]
    between = np.array(found, np.int64)
    return instants(between, *turns) if turns else between
