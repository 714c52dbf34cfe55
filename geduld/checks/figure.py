"""Lays the phases of a figure over the stretches of a run, so that most of them are as wanted.

A phase is one whole stretch in which its condition holds; where the phase right behind it begins earlier, it ends
there. Phases come in their order. Each one found joins the one found before it, or does not: there is a gap between
them that is too long, or another phase of the figure begins in it. Of all ways to lay them the best has the most
phases that join and are as long as wanted; then the most that the run's end leaves open; then the most that are there
at all; then the earliest phases and stretches. It is found by dynamic programming over phases and stretches.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.checks.courses import Spans
from geduld.checks.lengths import VERDICTS, BoundLength
from geduld.checks.phases import BoundPhase
from geduld.checks.verdicts import PASS
from geduld.run.record.record import Record
from geduld.worlds.trace import Ticks

Scores = NDArray[np.int64]
_THERE, _OPEN, _PASSED = 1, 1_000, 1_000_000
_NONE = -(1 << 40)  # no way to lay the phases so
_WORTH = np.array([0, _OPEN, _PASSED])  # by the places of VERDICTS


@dataclass(frozen=True)
class Laid:
    """Where a phase was found, from `start` to `stop` (the first tick behind), and whether it joins.

    `cut` when it was still going on when the run ended; `verdict` is how long it is against what was wanted.
    """

    start: int
    stop: int
    cut: bool
    joins: bool
    verdict: str


def lay(phases: Sequence[BoundPhase], spans: Sequence[Spans], record: Record) -> list[Laid | None]:
    """Where each phase is; None for one that is not there. `spans` are the stretches of each condition."""
    return _Laying(phases, spans, record).best()


class _Phase:
    """A phase with all its stretches, as it is laid: scores by stretch, and from where each is reached.

    A score of True is up to a stretch that joins, of False to one that does not; neither has the phase's own length in
    it, which is known only when the next one begins.
    """

    def __init__(self, wanted: BoundPhase, spans: Spans, record: Record) -> None:
        self.wanted = wanted
        self.record = record
        self.starts, self.behinds = spans
        self.whole = self.judged(self.starts, self.behinds)

    def judged(self, starts: Ticks, behinds: Ticks) -> NDArray[np.int8]:
        """How long stretches are against what is wanted: places in VERDICTS."""
        length = self.wanted.length
        if length is None:
            return np.full(len(starts), VERDICTS.index(PASS), np.int8)
        stops, cut = self.wanted.ends(self.record, starts, behinds)
        return length.judged(length.of_stretches(self.record, starts, stops), cut)

    @cached_property
    def listed(self) -> tuple[list[int], list[int], list[bool]]:
        """The stretches as plain lists, and which of them are as long as wanted: a few are looked at sooner so."""
        return self.starts.tolist(), self.behinds.tolist(), (self.whole == VERDICTS.index(PASS)).tolist()

    def again(self, wanted: BoundPhase) -> _Phase:
        """The same once more in the figure."""
        copy = object.__new__(_Phase)
        copy.__dict__ = {**self.__dict__, "wanted": wanted}
        return copy

    def begin(self) -> None:
        """Any of its stretches may be the first of the figure that is there."""
        count = len(self.starts)
        self.reached = {joins: _Reached(count, joins) for joins in (True, False)}

    def with_lengths(self, places: Any, verdicts: NDArray[np.int8]) -> tuple[Scores, NDArray[np.bool_]]:
        """The scores of some stretches with such lengths, and whether they are better where they join.

        Where both come to the same, the one that does not join has no mistake further ahead: what was as wanted up to
        there stays so, and the mistake is told where it was made.
        """
        joined, parted = self.reached[True].scores[places], self.reached[False].scores[places]
        joins = joined + _WORTH[verdicts]
        return np.maximum(joins, parted), (joins > parted) | (joins == parted) & (joined == parted)


class _Reached:
    """The best ways to the stretches of a phase: scores, and the phase, the stretch and the joining they come from."""

    def __init__(self, count: int, first: bool) -> None:
        self.scores = np.full(count, _THERE if first else _NONE)
        self.phase, self.place = np.full(count, -1), np.zeros(count, np.intp)
        self.joins = np.zeros(count, np.bool_)

    def offer(self, scores: Scores, phase: Any, place: NDArray[np.intp], joins: NDArray[np.bool_]) -> None:
        """Takes what is better than what was reached so far."""
        better = scores + _THERE > np.maximum(self.scores, 0)
        if better.any():
            self.scores[better] = scores[better] + _THERE
            self.phase[better] = phase[better] if isinstance(phase, np.ndarray) else phase
            self.place[better], self.joins[better] = place[better], joins[better]


class _Closed:
    """Stretches with which some phases have ended, in the order of their ends: the best phase that ended with each.

    They are of all conditions, or of one whose phases have no length.
    """

    def __init__(self, spans: dict[int, Spans]) -> None:
        conditions = np.concatenate([np.full(len(starts), number) for number, (starts, _) in spans.items()])
        places = np.concatenate([np.arange(len(starts)) for starts, _ in spans.values()])
        behinds = np.concatenate([behinds for _, behinds in spans.values()])
        order = np.argsort(behinds, kind="stable")
        self.behinds, self.places = behinds[order], places[order]
        self.of = {number: np.flatnonzero(conditions[order] == number) for number in spans}
        self.scores = np.full(len(order), _NONE)
        self.phase, self.joins = np.full(len(order), -1), np.zeros(len(order), np.bool_)
        self.ranges: _Greatest | None = None

    def add(self, number: int, condition: int, scores: Scores, joins: NDArray[np.bool_]) -> None:
        """What ends with the stretches of a phase, where that is better than what did before."""
        at = self.of[condition]
        better = scores > self.scores[at]
        chosen = at[better]
        self.scores[chosen], self.phase[chosen], self.joins[chosen] = scores[better], number, joins[better]
        self.ranges = None

    def offered_to(self, phase: _Phase, nearest: Ticks) -> None:
        """Goes on from all that ended before the stretches of a phase; what ended from `nearest` on, it joins."""
        if not len(self.behinds):
            return
        if self.ranges is None:
            self.ranges = _Greatest(self.scores)
        ended = self.behinds.searchsorted(phase.starts, "right")
        for joins, first in (
            (False, np.zeros(len(ended), np.intp)),
            (True, self.behinds.searchsorted(nearest, "left")),
        ):
            best, at = self.ranges.asked(first, ended)
            phase.reached[joins].offer(best, self.phase[at], self.places[at], self.joins[at])


class _Laying:
    def __init__(self, phases: Sequence[BoundPhase], spans: Sequence[Spans], record: Record) -> None:
        self.record = record
        alike: dict[tuple[int, BoundLength | None], _Phase] = {}
        self.phases: list[_Phase] = []
        for wanted in phases:
            same = alike.get((wanted.condition, wanted.length))
            self.phases.append(same.again(wanted) if same else _Phase(wanted, spans[wanted.condition], record))
            alike.setdefault((wanted.condition, wanted.length), self.phases[-1])
        self.spans = {phase.condition: spans[phase.condition] for phase in phases}
        self.begins = {p.condition: spans[p.condition][0] for p in phases if not p.pause}
        self.nearest: dict[Any, Ticks] = {}

    def best(self) -> list[Laid | None]:
        """The phases where they are laid best: as wanted one and all, if that can be."""
        places = self._one_and_all()
        if places is not None:
            return self._laid([(number, place, True) for number, place in enumerate(places)])
        self._scored()
        return self._laid(self._traced())

    def _one_and_all(self) -> list[int] | None:
        """A stretch for each phase, all of them joining and as long as wanted; None where there is no such way."""
        back: list[list[int | None]] = [[-1] * len(self.phases[0].starts)]
        for before, phase in pairwise(self.phases):
            nearest = self._nearest_end(phase, before).tolist()
            row = [self._from(before, back[-1], phase, start, near) for start, near in
                   zip(phase.listed[0], nearest, strict=True)]  # fmt: skip
            if all(place is None for place in row):
                return None
            back.append(row)
        last = self.phases[-1].listed[2]
        place = next((at for at, whence in enumerate(back[-1]) if whence is not None and last[at]), None)
        if place is None:
            return None
        found = [place]
        for row in reversed(back[1:]):
            found.append(row[found[-1]])  # type: ignore[arg-type]
        return found[::-1]

    def _from(self, before: _Phase, ways: list[int | None], phase: _Phase, start: int, nearest: int) -> int | None:
        """The first stretch of the phase before from which one that begins at `start` can go on as wanted."""
        starts, behinds, long_enough = before.listed
        for place in range(bisect_left(behinds, nearest), bisect_right(behinds, start)):
            if ways[place] is not None and long_enough[place]:
                return place
        place = bisect_right(starts, start) - 1
        if place < 0 or behinds[place] <= start or ways[place] is None:
            return None
        if before.wanted.condition == phase.wanted.condition:
            return None
        cut = before.judged(np.array([starts[place]]), np.array([start]))
        return place if VERDICTS[int(cut[0])] == PASS else None

    def _scored(self) -> None:
        """Scores every stretch of every phase, with any of them left out."""
        with_length = _Closed(self.spans)
        without = {
            phase.wanted.condition: _Closed({phase.wanted.condition: self.spans[phase.wanted.condition]})
            for phase in self.phases
            if phase.wanted.length is None
        }
        for number, phase in enumerate(self.phases):
            phase.begin()
            if not len(phase.starts):
                continue
            if number:
                with_length.offered_to(phase, self._nearest_end(phase, None))
                for condition, closed in without.items():
                    closed.offered_to(phase, self._nearest_end(phase, condition))
                self._cut_off(number - 1, phase)
            scores, joins = phase.with_lengths(slice(None), phase.whole)
            own = phase.wanted.condition
            (without[own] if phase.wanted.length is None else with_length).add(number, own, scores, joins)

    def _nearest_end(self, phase: _Phase, before: _Phase | int | None) -> Ticks:
        """For each stretch the earliest end of one before that it joins.

        A phase before that has no length may begin again in between: `before` is that phase, or its condition.
        """
        own = before
        if isinstance(before, _Phase):
            own = before.wanted.condition if before.wanted.length is None else None
        wanted = phase.wanted
        key = wanted.condition, wanted.gap, wanted.anything, own
        if key not in self.nearest:
            self.nearest[key] = self._nearest(phase, own)
        return self.nearest[key]

    def _nearest(self, phase: _Phase, own: Any) -> Ticks:
        starts = phase.starts
        if phase.wanted.gap is not None:
            return starts - phase.wanted.gap
        latest = np.full(len(starts), -1)
        if not phase.wanted.anything:
            for condition, begins in self.begins.items():
                if condition != own and len(begins):
                    index = begins.searchsorted(starts, "left")
                    latest = np.maximum(latest, np.where(index > 0, begins[np.maximum(index, 1) - 1], -1))
        return latest + 1

    def _cut_off(self, number: int, phase: _Phase) -> None:
        """Goes on from a stretch of the phase right before, in which one of this phase begins: it ends there."""
        before = self.phases[number]
        if before.wanted.condition == phase.wanted.condition or not len(before.starts):
            return
        place = np.maximum(before.starts.searchsorted(phase.starts, "right") - 1, 0)
        starts = before.starts[place]
        inside = (starts <= phase.starts) & (before.behinds[place] > phase.starts)
        if inside.any():
            best, joins = before.with_lengths(place, before.judged(starts, phase.starts))
            phase.reached[True].offer(np.where(inside, best, _NONE), number, place, joins)

    def _traced(self) -> list[tuple[int, int, bool]]:
        """The best way: phases with their stretches, and whether they join."""
        ends = []
        for number, phase in enumerate(self.phases):
            if len(phase.starts):
                scores, joins = phase.with_lengths(slice(None), phase.whole)
                place = int(scores.argmax())
                ends.append((int(scores[place]), -number, place, bool(joins[place])))
        if not ends:
            return []
        _, number, place, joined = max(ends, key=lambda end: end[:2])
        number, found = -number, []
        while number >= 0:
            found.append((number, place, joined))
            way = self.phases[number].reached[joined]
            number, joined, place = int(way.phase[place]), bool(way.joins[place]), int(way.place[place])
        return found[::-1]

    def _laid(self, way: list[tuple[int, int, bool]]) -> list[Laid | None]:
        """Where each phase is on a way."""
        found: list[Laid | None] = [None] * len(self.phases)
        until, lasted = self.record.lasted + 1, self.record.lasted
        for number, place, joins in reversed(way):
            phase = self.phases[number]
            start, behind = int(phase.starts[place]), int(phase.behinds[place])
            verdict = int(phase.whole[place])
            if until < behind:
                behind, verdict = until, int(phase.judged(np.array([start]), np.array([until]))[0])
            found[number] = Laid(start, min(behind, lasted), behind > lasted, joins, VERDICTS[verdict])
            until = start
        return found


class _Greatest:
    """The greatest of any range of some scores, and its first place: a sparse table."""

    def __init__(self, scores: Scores) -> None:
        self.levels = [np.arange(len(scores))]
        self.scores = scores
        width = 1
        while 2 * width <= len(scores):
            left, right = self.levels[-1][:-width], self.levels[-1][width:]
            self.levels.append(np.where(scores[right] > scores[left], right, left))
            width *= 2

    def asked(self, begins: NDArray[np.intp], behinds: NDArray[np.intp]) -> tuple[Scores, NDArray[np.intp]]:
        """For each range from its beginning to the place behind it; `_NONE` for an empty one."""
        best, place = np.full(len(begins), _NONE), np.zeros(len(begins), np.intp)
        lengths = behinds - begins
        for level, places in enumerate(self.levels):
            here = (lengths >= 1 << level) & (lengths < 2 << level)
            if not here.any():
                continue
            left, right = places[begins[here]], places[behinds[here] - (1 << level)]
            chosen = np.where(self.scores[right] > self.scores[left], right, left)
            best[here], place[here] = self.scores[chosen], chosen
        return best, place
