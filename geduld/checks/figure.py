"""Lays the phases of a figure over the stretches of a run, so that most of them are as wanted.

A phase is one whole stretch in which its condition holds; where the next one begins earlier, it ends there. Phases
come in their order. Each one found joins the one found before it, or does not: there is a gap between them that is
too long, or another phase of the figure begins in it. Of all ways to lay them the best has the most phases that join
and are as long as wanted; then the most that the run's end leaves open; then the most that are there at all; then the
earliest phases and stretches. It is found by dynamic programming over phases and stretches.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
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
        length, lasted = self.wanted.length, self.record.lasted
        if length is None:
            return np.full(len(starts), VERDICTS.index(PASS), np.int8)
        return length.judged(length.of_stretches(self.record, starts, np.minimum(behinds, lasted)), behinds > lasted)

    def again(self, wanted: BoundPhase) -> _Phase:
        """The same once more in the figure."""
        copy = object.__new__(_Phase)
        copy.__dict__ = {**self.__dict__, "wanted": wanted}
        return copy

    def begin(self, may_be_first: bool) -> None:
        """Nothing is reached yet, but what may be the first that is there."""
        count = len(self.starts)
        self.reached = {joins: _Reached(count, joins and may_be_first) for joins in (True, False)}

    def close(self) -> None:
        """Adds the phase's own length, as it is where nothing cuts it off."""
        self.closed, self.joins = self.with_lengths(slice(None), self.whole)
        self.ranges = _Greatest(self.closed)

    def with_lengths(self, places: Any, verdicts: NDArray[np.int8]) -> tuple[Scores, NDArray[np.bool_]]:
        """The scores of some stretches with such lengths, and whether they are better where they join."""
        joins, parted = self.reached[True].scores[places] + _WORTH[verdicts], self.reached[False].scores[places]
        return np.maximum(joins, parted), joins >= parted


class _Reached:
    """The best ways to the stretches of a phase: scores, and the phase, the stretch and the joining they come from."""

    def __init__(self, count: int, first: bool) -> None:
        self.scores = np.full(count, _THERE if first else _NONE)
        self.phase, self.place = np.full(count, -1), np.zeros(count, np.intp)
        self.joins = np.zeros(count, np.bool_)

    def offer(self, scores: Scores, phase: int, place: NDArray[np.intp], joins: NDArray[np.bool_]) -> None:
        """Takes what is better than what was reached so far."""
        better = scores + _THERE > np.maximum(self.scores, 0)
        if better.any():
            self.scores[better] = scores[better] + _THERE
            self.phase[better], self.place[better], self.joins[better] = phase, place[better], joins[better]


class _Laying:
    def __init__(self, phases: Sequence[BoundPhase], spans: Sequence[Spans], record: Record) -> None:
        self.record = record
        alike: dict[tuple[int, BoundLength | None], _Phase] = {}
        self.phases: list[_Phase] = []
        for wanted in phases:
            same = alike.get((wanted.condition, wanted.length))
            self.phases.append(same.again(wanted) if same else _Phase(wanted, spans[wanted.condition], record))
            alike.setdefault((wanted.condition, wanted.length), self.phases[-1])
        self.begins = {p.condition: spans[p.condition][0] for p in phases if not p.pause}

    def best(self) -> list[Laid | None]:
        """The phases where they are laid best."""
        self._forward(leaves_out=False)
        ends = self.phases[-1].closed
        if not len(ends) or ends.max() < len(self.phases) * (_PASSED + _THERE):
            self._forward(leaves_out=True)
        return self._traced()

    def _forward(self, leaves_out: bool) -> None:
        """Scores every stretch of every phase, with phases left out or without."""
        for number, phase in enumerate(self.phases):
            phase.begin(number == 0 or leaves_out)
            nearest: dict[int, Ticks] = {}
            for before in range(0 if leaves_out else max(number - 1, 0), number):
                if len(phase.starts) and len(self.phases[before].starts):
                    self._join(before, phase, nearest)
            phase.close()

    def _join(self, number: int, phase: _Phase, nearest: dict[int, Ticks]) -> None:
        """Goes on from the stretches of an earlier phase to those of this one."""
        before = self.phases[number]
        ended = before.behinds.searchsorted(phase.starts, "right")
        best, place = before.ranges.asked(np.zeros(len(ended), np.intp), ended)
        phase.reached[False].offer(best, number, place, before.joins[place])
        own = before.wanted.condition if before.wanted.length is None else -1
        if own not in nearest:
            nearest[own] = self._nearest_end(phase, own)
        best, place = before.ranges.asked(before.behinds.searchsorted(nearest[own], "left"), ended)
        phase.reached[True].offer(best, number, place, before.joins[place])
        if before.wanted.condition != phase.wanted.condition:
            self._cut_off(number, phase)

    def _nearest_end(self, phase: _Phase, own: int) -> Ticks:
        """For each stretch the earliest end of one before that it joins; `own` may begin again in between."""
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
        """Goes on from a stretch in which one of this phase begins: it ends there."""
        before = self.phases[number]
        place = np.maximum(before.starts.searchsorted(phase.starts, "right") - 1, 0)
        starts = before.starts[place]
        inside = (starts <= phase.starts) & (before.behinds[place] > phase.starts)
        if inside.any():
            best, joins = before.with_lengths(place, before.judged(starts, phase.starts))
            phase.reached[True].offer(np.where(inside, best, _NONE), number, place, joins)

    def _traced(self) -> list[Laid | None]:
        """The way back from the best end."""
        found: list[Laid | None] = [None] * len(self.phases)
        ends = [(int(phase.closed.max()), -number) for number, phase in enumerate(self.phases) if len(phase.starts)]
        if not ends:
            return found
        number = -max(ends)[1]
        place = int(self.phases[number].closed.argmax())
        joins, until = bool(self.phases[number].joins[place]), self.record.lasted + 1
        while number >= 0:
            phase = self.phases[number]
            start, behind = int(phase.starts[place]), min(int(phase.behinds[place]), until)
            verdict = VERDICTS[int(phase.judged(np.array([start]), np.array([behind]))[0])]
            cut = behind > self.record.lasted
            found[number] = Laid(start, min(behind, self.record.lasted), cut, joins, verdict)
            way, until = phase.reached[joins], start
            number, joins, place = int(way.phase[place]), bool(way.joins[place]), int(way.place[place])
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
