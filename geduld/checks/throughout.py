"""Patterns that hold, or are broken, over stretches: always, never, while, before, from, stays."""

from __future__ import annotations

import math

import numpy as np

from geduld.checks.binder import BoundCheck
from geduld.checks.conditions import Condition
from geduld.checks.courses import Spans
from geduld.checks.evidence import quoted, seconds, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, PASS, Finding, Findings, Window
from geduld.language.quantities import show


def always(check: BoundCheck, timeline: Timeline) -> Findings:
    """`always D`, `stays inside "aisle"`: D holds at every instant of the run."""
    return _kept(timeline, _until(timeline.record.lasted + 1), check.looks[0], check.words[0], True, "")


def never(check: BoundCheck, timeline: Timeline) -> Findings:
    """`never C [while D]`: C holds at no instant of the run, or of any stretch of D."""
    spans, during = _until(timeline.record.lasted + 1), ""
    if len(check.looks) > 1:
        spans, during = timeline.course(check.looks[1]).spans, f" while {quoted(check.words[1])}"
    return _kept(timeline, spans, check.looks[0], check.words[0], False, during)


def while_(check: BoundCheck, timeline: Timeline) -> Findings:
    """`while C, D`: D holds at every instant of each stretch of C."""
    spans = timeline.course(check.looks[0]).spans
    return _kept(timeline, spans, check.looks[1], check.words[1], True, f" while {quoted(check.words[0])}")


def before(check: BoundCheck, timeline: Timeline) -> Findings:
    """`before A, never D`: D holds at no instant before A becomes true for the first time."""
    end = timeline.course(check.looks[0]).first()
    early = timeline.course(check.looks[1]).first()
    if end == 0 or (end is None and early is None):
        return Findings.of([])
    spans = _until(timeline.record.lasted + 1 if end is None else end)
    return _kept(timeline, spans, check.looks[1], check.words[1], False, f" before {quoted(check.words[0])}")


def from_to(check: BoundCheck, timeline: Timeline) -> Findings:
    """`from A to B, D`: D holds from each instant at which A becomes true to the one at which B is true next.

    Stretches do not overlap: while one is open, another start of A opens none. Without B it goes on to the run's end.
    """
    begins: list[int] = []
    behinds: list[int] = []
    ends = timeline.course(check.looks[1])
    for start in timeline.course(check.looks[0]).spans[0].tolist():
        if behinds and start < behinds[-1]:
            continue
        stop = ends.first(start)
        if stop != start:
            begins.append(start)
            behinds.append(timeline.record.lasted + 1 if stop is None else stop)
    during = f" between {quoted(check.words[0])} and {quoted(check.words[1])}"
    spans = np.array(begins, np.int64), np.array(behinds, np.int64)
    return _kept(timeline, spans, check.looks[2], check.words[2], True, during)


def _until(behind: int) -> Spans:
    return np.zeros(1, np.int64), np.full(1, behind)


def _kept(timeline: Timeline, spans: Spans, condition: Condition, words: str, wanted: bool, during: str) -> Findings:
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

    return Findings(windows, told, lambda: int(course.worst(wanted, known).argmin()))


def _window(begin: int, behind: int, at: int, lasted: int, horizon: int) -> Window:
    end = min(behind, lasted)
    if horizon < (at if at < behind else end):
        return Window(begin, end, NOT_CERTAIN)
    return Window(begin, end, FAIL if at < behind else PASS)
