"""Patterns that hold, or are broken, over stretches: always, never, while, before, from, stays."""

from __future__ import annotations

import math
from functools import partial

import numpy as np

from geduld.binding import terms
from geduld.checks.binder import BoundCheck
from geduld.checks.evidence import edges, first_time, quoted, seconds, stretches, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Window
from geduld.language.quantities import show

Spans = list[tuple[int, int]]


def always(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    """`always D`, `stays inside "aisle"`: D holds at every instant of the run."""
    return _kept(timeline, [(0, len(timeline.ticks))], check.conditions[0], check.words[0], True, "")


def never(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    """`never C [while D]`: C holds at no instant of the run, or of any stretch of D."""
    spans, during = [(0, len(timeline.ticks))], ""
    if len(check.conditions) > 1:
        spans, during = edges(timeline.course(check.conditions[1])), f" while {quoted(check.words[1])}"
    return _kept(timeline, spans, check.conditions[0], check.words[0], False, during)


def while_(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    """`while C, D`: D holds at every instant of each stretch of C."""
    spans = edges(timeline.course(check.conditions[0]))
    during = f" while {quoted(check.words[0])}"
    return _kept(timeline, spans, check.conditions[1], check.words[1], True, during)


def before(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    """`before A, never D`: D holds at no instant before A becomes true for the first time."""
    end = first_time(check.conditions[0], timeline)
    early = first_time(check.conditions[1], timeline)
    if end is None and early is None:
        return []
    stop = len(timeline.ticks) if end is None else int(np.searchsorted(timeline.ticks, end))
    if stop == 0:
        return []
    return _kept(timeline, [(0, stop)], check.conditions[1], check.words[1], False, f" before {quoted(check.words[0])}")


def from_to(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    """`from A to B, D`: D holds from each instant at which A becomes true to the one at which B is true next.

    Stretches do not overlap: while one is open, another start of A opens none. Without B it goes on to the run's end.
    """
    spans: Spans = []
    ticks = timeline.ticks
    for start, _ in stretches(check.conditions[0], timeline):
        first = int(np.searchsorted(ticks, start))
        if spans and first < spans[-1][1]:
            continue
        stop = first_time(check.conditions[1], timeline, start)
        last = len(ticks) if stop is None else int(np.searchsorted(ticks, stop))
        if last > first:
            spans.append((first, last))
    during = f" between {quoted(check.words[0])} and {quoted(check.words[1])}"
    return _kept(timeline, spans, check.conditions[2], check.words[2], True, during)


def _kept(
    timeline: Timeline, spans: Spans, condition: terms.Term, words: str, wanted: bool, during: str
) -> list[Finding]:
    """For each stretch whether a truth is as wanted all along; the margin is that of its worst instant."""
    course = timeline.course(condition)
    good = course.true if wanted else ~course.true
    margin = course.margin if wanted else -course.margin
    ticks, lasted = timeline.ticks, timeline.record.lasted
    found = []
    for start, stop in spans:
        begin, end = int(ticks[start]), int(ticks[stop]) if stop < len(ticks) else lasted
        broken = np.flatnonzero(~good[start:stop])
        decided = int(ticks[start + broken[0]]) if len(broken) else end
        if timeline.horizon < decided:
            found.append(uncertain(begin, end, timeline.horizon, begin))
            continue
        # past the horizon nothing counts, not even as a margin
        known = min(stop, int(np.searchsorted(ticks, timeline.horizon, "right")))
        worst = start + int(margin[start:known].argmin())
        value = float(margin[worst])
        if len(broken):
            how = "was not so" if wanted else "held"
            because = partial(_broken, timeline, condition, words, f"{how} at {seconds(decided)}{during}", decided)
            found.append(Finding(Window(begin, end, FAIL), value, course.unit, decided, because))
        else:
            at = int(ticks[worst])
            because = partial(_closest, timeline, condition, at, value, course.unit)
            found.append(Finding(Window(begin, end, PASS), value, course.unit, at, because))
    return found


def _broken(timeline: Timeline, condition: terms.Term, words: str, how: str, at: int) -> str:
    return f"{quoted(words)} {how}: {timeline.values_at(condition, at)}."


def _closest(timeline: Timeline, condition: terms.Term, at: int, margin: float, unit: str) -> str:
    spare = f", {show(margin, unit, 2)} to spare" if math.isfinite(margin) and margin > 0 else ""
    return f"Closest at {seconds(at)}: {timeline.values_at(condition, at)}{spare}."
