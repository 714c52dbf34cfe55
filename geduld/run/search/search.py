"""Finds the first instant at which a condition holds, without stepping through the samples one by one."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from functools import cached_property
from typing import Any, Union

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.language.nodes import node
from geduld.run.search.between import SearchBetween, SearchLines
from geduld.run.search.blocks import Maybe, possible
from geduld.run.search.columns import COMPARISONS, Evaluator, evaluator
from geduld.run.search.corners import crossings
from geduld.run.search.edges import Simple
from geduld.run.search.samples import Samples
from geduld.worlds.trace import BLOCK, NEVER, Trace

_FIRST_CHUNK = 256
_LARGEST_CHUNK = 65_536
_MOVING = (terms.Clock, terms.Timer, terms.Encoder)
Searching = Union["Search", SearchBetween, SearchLines]
Mask = NDArray[np.bool_]


@node
class Condition:
    """A condition ready to be searched for.

    `moves` when it may change between samples; `simple` is the comparison of a reading with a value that is the whole
    condition.
    """

    term: terms.Term
    moves: bool
    simple: Simple | None = None

    @classmethod
    def of(cls, term: terms.Term) -> Condition:
        """The condition that a term is."""
        if isinstance(term, terms.Compare) and type(term.left) is terms.Reading and isinstance(term.right, terms.Const):
            return cls(term, False, Simple(term.left.part, term.sign, COMPARISONS[term.sign], term.right.value))
        return cls(term, any(isinstance(item, _MOVING) for item in term.walk()))

    @cached_property
    def holds(self) -> Evaluator:
        """The condition as a function of what is looked at."""
        return evaluator(self.term)

    @cached_property
    def maybe(self) -> Maybe | None:
        """Tells of a long trace in which of its blocks the condition may hold at all."""
        return None if self.moves else possible(self.term)

    def search(self, trace: Trace, kept: Mapping[Any, Any]) -> Searching:
        """A search for it in a trace, with the values that it reads beside the trace."""
        if self.moves:
            lines = crossings(self.term, kept)
            if lines is not None:
                return SearchLines(self.holds, lines, trace, kept)
            return SearchBetween(self.term, self.holds, trace, kept)
        return Search(self, trace, kept)


class Search:
    """A condition that changes at samples alone, evaluated in chunks only as far as it is asked for."""

    def __init__(self, condition: Condition, trace: Trace, kept: Mapping[Any, Any]) -> None:
        self.condition = condition
        self.trace = trace
        self.times = trace.times_view
        self.look = Samples(trace, slice(0), trace.times, kept)
        self.holds = condition.holds
        self.mask: Mask = np.empty(0, np.bool_)
        self.blocks: Mask | None = None
        self.begin, self.stop = 0, -1
        self.chunk = _FIRST_CHUNK

    def first(self, start: int, held: int, limit: int) -> int:
        """The first tick from `start` on at which the condition holds and has held for `held` ticks.

        It must hold on the whole closed stretch, counted from `start` at the earliest. NEVER, or a tick past `limit`,
        when that is not before `limit`.
        """
        times = self.times
        place = bisect_right(times, start) - 1
        while True:
            place = self._next_true(place, limit)
            if place < 0:
                return NEVER
            since = times[place]
            if since < start:
                since = start
            if not held:
                return since
            place = self._next_false(place, since + held)
            if place < 0:
                return since + held

    def _next_true(self, place: int, limit: int) -> int:
        """The first sample from `place` on at which the condition holds; -1 when there is none up to `limit`."""
        while True:
            if not self.begin <= place < self.stop and not self._evaluate(place):
                return -1
            rest = self.mask[place - self.begin :] if place > self.begin else self.mask
            found = int(rest.argmax())
            if rest[found]:
                return place + found
            place = self.stop
            if place >= len(self.times) or self.times[place] > limit:
                return -1
            place = self._skip(place)

    def _next_false(self, place: int, until: int) -> int:
        """The first sample from `place` on, and at `until` the latest, at which it does not hold; -1 for none."""
        while True:
            if not self.begin <= place < self.stop and not self._evaluate(place):
                return -1
            rest = self.mask[place - self.begin :]
            found = int(rest.argmin())
            if not rest[found]:
                return place + found if self.times[place + found] <= until else -1
            place = self.stop
            if place >= len(self.times) or self.times[place] > until:
                return -1

    def _skip(self, place: int) -> int:
        """The first sample from the start of a chunk on in whose block the condition may hold."""
        if self.condition.maybe is None or self.trace.samples < 4 * BLOCK:
            return place
        if self.blocks is None:
            self.blocks = self.condition.maybe(self.trace)
        blocks = self.blocks[place // BLOCK :]
        ahead = int(blocks.argmax())
        if not blocks[ahead]:
            return self.trace.samples
        return place if ahead == 0 else (place // BLOCK + ahead) * BLOCK

    def _evaluate(self, place: int) -> bool:
        """Evaluates the condition over the next chunk from a sample on; false past the last one."""
        count = self.trace.samples
        if place >= count:
            return False
        self.chunk = min(_LARGEST_CHUNK, self.chunk * 8) if place == self.stop else _FIRST_CHUNK
        self.begin, self.stop = place, min(count, place + self.chunk)
        self.look.places = slice(self.begin, self.stop)
        mask = self.holds(self.look)
        self.mask = mask if isinstance(mask, np.ndarray) and mask.ndim else np.full(self.stop - place, bool(mask))
        return True
