"""What must hold, or must not, all along some stretches of a run: always, never, while, before, from, stays."""

from __future__ import annotations

import math

import numpy as np

from geduld.checks.conditions import Condition
from geduld.checks.courses import Spans
from geduld.checks.evidence import quoted, seconds, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, PASS, Finding, Findings, Window
from geduld.language.quantities import show


def until(behind: int) -> Spans:
    """The one stretch from the start to an instant."""
    return np.zeros(1, np.int64), np.full(1, behind)


def kept(timeline: Timeline, spans: Spans, condition: Condition, words: str, wanted: bool, during: str) -> Findings:
    """For each stretch whether a truth is as wanted all along; the margin is that of its worst instant."""
    if not len(spans[0]):
        return Findings.of([])
    course = timeline.course(condition)
    lasted, horizon = timeline.record.lasted, timeline.horizon
    # past the horizon nothing counts, not even as a margin
    known = spans if horizon > lasted else (spans[0], np.maximum(np.minimum(spans[1], horizon + 1), spans[0] + 1))
    begins, behinds, parted = (item.tolist() for item in (*spans, course.parted(wanted, spans)))
    each = zip(begins, behinds, parted, strict=True)
    if horizon > lasted:
        windows = [Window(begin, min(behind, lasted), PASS if at >= behind else FAIL) for begin, behind, at in each]
    else:
        windows = [_window(begin, behind, at, lasted, horizon) for begin, behind, at in each]

    def told(number: int) -> Finding:
        window, at = windows[number], parted[number]
        if window.verdict == NOT_CERTAIN:
            return uncertain(window.start, window.stop, horizon, window.start)
        margin, nearest = course.nearest(wanted, window.start, int(known[1][number]))
        if window.verdict == FAIL:
            how = "was not so" if wanted else "held"
            seen = timeline.values_at(condition, at)
            return Finding(window, margin, course.unit, at, f"{quoted(words)} {how} at {seconds(at)}{during}: {seen}.")
        spare = f", {show(margin, course.unit, 2)} to spare" if math.isfinite(margin) and margin > 0 else ""
        because = f"Closest at {seconds(nearest)}: {timeline.values_at(condition, nearest)}{spare}."
        return Finding(window, margin, course.unit, nearest, because)

    def worst(verdict: str) -> int:
        with_it = np.array([window.verdict == verdict for window in windows])
        return int(np.where(with_it, course.worst(wanted, known), np.inf).argmin()) if len(windows) > 1 else 0

    return Findings(windows, told, worst)


def _window(begin: int, behind: int, at: int, lasted: int, horizon: int) -> Window:
    end = min(behind, lasted)
    if horizon < (at if at < behind else end):
        return Window(begin, end, NOT_CERTAIN)
    return Window(begin, end, FAIL if at < behind else PASS)
