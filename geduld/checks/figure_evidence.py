"""What a figure's evidence says: each phase with its number, where it was, what came instead, and when."""

from __future__ import annotations

import math

import numpy as np

from geduld.checks.bound import BoundCheck
from geduld.checks.conditions import Condition
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.figure import Laid
from geduld.checks.lengths import ABOUT, TO_THE_END, VERDICTS
from geduld.checks.phases import BoundPhase
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, OPEN, PASS, Finding, Findings, Window

_SURE = math.inf
# What a figure with its phases in a wrong order is worth at most, and the sentence for it.
_WRONG_ORDER, _SAID = 0.5, " Their order is wrong, so they are worth at most half."


def found_in(check: BoundCheck, timeline: Timeline, laid: list[Laid | None]) -> Findings:
    """How each phase went, in their order."""
    figure = _Figure(check, timeline, laid)
    found = [figure.phase(number) for number in range(len(laid))]

    def worst(verdict: str) -> int:
        numbers = [number for number, item in enumerate(found) if item.window.verdict == verdict]
        # a phase that failed makes the next ones fail too, so the first one says why
        return min(numbers, key=figure.share_to_spare) if verdict == PASS else numbers[0]

    at_most, said = (_WRONG_ORDER, _SAID) if figure.order_is_wrong() else (1.0, "")
    return Findings([item.window for item in found], found.__getitem__, worst, "phases", at_most, said)


class _Figure:
    def __init__(self, check: BoundCheck, timeline: Timeline, laid: list[Laid | None]) -> None:
        self.check = check
        self.timeline = timeline
        self.record = timeline.record
        self.laid = laid

    def phase(self, number: int) -> Finding:
        """How one phase went."""
        wanted, laid = self.check.phases[number], self.laid[number]
        if laid is None:
            return self._missing(number)
        due = None if wanted.length is None else wanted.length.due(self.record, laid.start)
        window = Window(laid.start, laid.stop, self._verdict(laid), self._label(number), due)
        decided = laid.start if not laid.joins else laid.stop
        if self.timeline.horizon < decided:
            return self._uncertain(window)
        if not laid.joins:
            return self._apart(number, window)
        if laid.verdict == OPEN:
            return cut_short(laid.start, laid.stop, lambda: self._how_long(number), window.label)
        margin, unit = self._margin(wanted, laid)
        at = laid.start if laid.verdict == PASS else self._failed_at(window)
        return Finding(window, margin, unit, at, lambda: self._how_long(number))

    def order_is_wrong(self) -> bool:
        """Whether a phase that is not there in its place stands somewhere else in the run, as long as wanted."""
        used = {
            (phase.condition, laid.start)
            for phase, laid in zip(self.check.phases, self.laid, strict=True)
            if laid is not None
        }
        missing = {
            phase for phase, laid in zip(self.check.phases, self.laid, strict=True) if laid is None and not phase.pause
        }
        return any(self._stands_elsewhere(phase, used) for phase in missing)

    def _stands_elsewhere(self, phase: BoundPhase, used: set[tuple[int, int]]) -> bool:
        starts, behinds = self.timeline.course(self.check.looks[phase.condition]).spans
        free = np.array([(phase.condition, start) not in used for start in starts.tolist()], np.bool_)
        free &= starts <= self.timeline.horizon
        starts, behinds = starts[free], behinds[free]
        if phase.length is None or not len(starts):
            return bool(len(starts))
        stops, cut = phase.ends(self.record, starts, behinds)
        verdicts = phase.length.judged(phase.length.of_stretches(self.record, starts, stops), cut)
        return bool((verdicts == VERDICTS.index(PASS)).any())

    def share_to_spare(self, number: int) -> float:
        """What a phase has to spare, of all that it could have: to find the closest among seconds and degrees."""
        wanted, laid = self.check.phases[number], self.laid[number]
        if wanted.length is None or laid is None or wanted.length.form != ABOUT or not wanted.length.around:
            return math.inf
        around = wanted.length.around / 1e6 if wanted.length.what == "time" else wanted.length.around
        return self._margin(wanted, laid)[0] / around

    def _verdict(self, laid: Laid) -> str:
        return laid.verdict if laid.joins else FAIL

    def _label(self, number: int) -> str:
        return f"{number + 1}: {self._words(number)}"

    def _words(self, number: int) -> str:
        wanted = self.check.phases[number]
        words = self.check.words[wanted.condition]
        if wanted.length is None:
            return words
        return (
            f"{words} {wanted.length.words}"
            if wanted.length.form == TO_THE_END
            else f"{words} for {wanted.length.words}"
        )

    def _head(self, number: int) -> str:
        wanted = self.check.phases[number]
        turn = f", round {wanted.round}" if wanted.round else ""
        return f"Phase {number + 1} of {len(self.laid)} ({quoted(self._words(number))}{turn})"

    def _length(self, wanted: BoundPhase, laid: Laid) -> float:
        assert wanted.length is not None
        starts = np.array([laid.start])
        stops, _ = wanted.ends(self.record, starts, np.array([laid.stop + laid.cut]))
        return float(wanted.length.of_stretches(self.record, starts, stops)[0])

    def _margin(self, wanted: BoundPhase, laid: Laid) -> tuple[float, str]:
        if wanted.length is None or wanted.length.form == TO_THE_END:
            return (_SURE, "") if laid.verdict == PASS else (-_SURE, "")
        return wanted.length.margin(self._length(wanted, laid)), wanted.length.unit

    def _failed_at(self, window: Window) -> int:
        """The instant at which a phase was too long, or ended too early."""
        return window.stop if window.due is None else min(window.stop, max(window.due, window.start))

    def _how_long(self, number: int) -> str:
        wanted, laid = self.check.phases[number], self.laid[number]
        assert laid is not None
        from_to = f"from {seconds(laid.start)} to {seconds(laid.stop)}"
        end = ", when the run ended" if laid.cut else ""
        if wanted.length is None:
            return f"{self._head(number)} was there {from_to}{end}."
        if wanted.length.form == TO_THE_END:
            was = "lasted to the end" if laid.verdict == PASS else "did not last to the end"
            return f"{self._head(number)} {was}: it was there {from_to}{end}."
        if int(wanted.ends(self.record, np.array([laid.start]), np.array([laid.stop + laid.cut]))[0][0]) < laid.stop:
            over = f"the program finished at {seconds(self.record.ended_at)}, so that it went on does not count"
            return f"{self._head(number)} was there from {seconds(laid.start)} on; {over}."
        long = wanted.length.shown(self._length(wanted, laid))
        return f"{self._head(number)} was {long} long, {from_to}{end}."

    def _apart(self, number: int, window: Window) -> Finding:
        """It is there, and does not join the one before."""
        before = next(laid for laid in reversed(self.laid[:number]) if laid is not None)
        gap = window.start - before.stop
        most = self.check.phases[number].gap
        head = f"{self._head(number)} came at {seconds(window.start)}, {span(gap)} after the one before it"
        if most is not None:
            late = before.stop + most
            seen = self.timeline.values_at(self._look(number), late)
            because = f"{head}; gaps up to {span(most)} were wanted, and at {seconds(late)} {seen}."
            return Finding(window, (most - gap) / 1e6, "s", late, because)
        at, words = self._between(before.stop, window.start) or (before.stop, "another phase")
        because = f"{head}; in between, at {seconds(at)}, came {quoted(words)}."
        return Finding(window, -_SURE, "", at, because)

    def _between(self, start: int, stop: int) -> tuple[int, str] | None:
        """The first phase of the figure that begins in a stretch, and its words."""
        found = []
        for phase in self.check.phases:
            if not phase.pause:
                starts, _ = self.timeline.course(self.check.looks[phase.condition]).spans
                inside = starts[(starts >= start) & (starts < stop)]
                found += [(int(inside[0]), self.check.words[phase.condition])] if len(inside) else []
        return min(found, default=None)

    def _missing(self, number: int) -> Finding:
        """It is not there: what came instead, behind the phase before it."""
        start = max((laid.stop for laid in self.laid[:number] if laid is not None), default=0)
        lasted = self.record.lasted
        stop = min((laid.start for laid in self.laid[number:] if laid is not None), default=lasted)
        window = Window(start, max(start, stop), FAIL, self._label(number))
        if self.timeline.horizon < window.stop:
            return self._uncertain(window)
        return Finding(window, -_SURE, "", start, lambda: f"{self._head(number)} {self._instead(number, start)}")

    def _instead(self, number: int, start: int) -> str:
        """What was there instead of a phase that is not."""
        lasted = self.record.lasted
        if start >= lasted:
            return "never came: the run was over."
        if all(laid is None for laid in self.laid[:number]):
            first = next((n for n, laid in enumerate(self.laid) if laid is not None), None)
            if first is None:
                return "never came, nor did any other."
            began = self.laid[first]
            return f"did not come: the first that did is phase {first + 1}, at {seconds(began.start if began else 0)}."
        seen_at = min(start + (self.check.phases[number].gap or 0), lasted)
        seen = self.timeline.values_at(self._look(number), seen_at)
        found = self._between(start, lasted + 1)
        came = f", and then {quoted(found[1])} came at {seconds(found[0])}" if found else ""
        ended = f"the one before it, which ended at {seconds(start)}"
        return f"did not come behind {ended}: at {seconds(seen_at)} {seen}{came}."

    def _look(self, number: int) -> Condition:
        return self.check.looks[self.check.phases[number].condition]

    def _uncertain(self, window: Window) -> Finding:
        return uncertain(window.start, window.stop, self.timeline.horizon, window.start)
