"""Judges checks on a record."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import numpy as np

from geduld.checks.binder import BoundCheck
from geduld.checks.timeline import Course, Timeline
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, PASS, Finding, Verdict, Window, gather
from geduld.language.quantities import show
from geduld.run.record import Record


def judge_all(checks: Iterable[BoundCheck], record: Record) -> list[Verdict]:
    """The verdict of each check on a record."""
    return [judge(check, record) for check in checks]


def judge(check: BoundCheck, record: Record) -> Verdict:
    """One check's verdict, with its margin, its windows and a sentence of evidence.

    Truths are piecewise constant and exact: a window counts its first and its last instant. What lies
    past the trust horizon of a reading the check uses is `not certain` unless it was decided before.
    """
    timeline = Timeline(record, (check.condition, check.wanted))
    if check.kind == "after":
        findings = [_after(check, timeline, tick) for tick in _triggers(check, timeline)]
        nothing = f"{_sentence(check.condition_words)} never came true in this run."
    elif check.kind == "lasts":
        findings = [_lasts(check, timeline, start, stop) for start, stop in _stretches(check, timeline)]
        nothing = f"{_sentence(check.condition_words)} was never so in this run."
    elif check.kind == "at the end":
        findings = [_at_the_end(check, timeline)]
        nothing = ""
    else:
        findings = list(_throughout(check, timeline))
        nothing = f"{_sentence(check.wanted_words)} was never so in this run."
    return gather(check.title, check.points, findings, nothing, check.kind in ("never", "always"))


def _sentence(words: str) -> str:
    return f'"{words}"'


def _seconds(ticks: int) -> str:
    return show(ticks / 1e6, "s")


def _span(ticks: int) -> str:
    return show(ticks / 1e3, "ms") if abs(ticks) < 1_000_000 else _seconds(ticks)


def _edges(course: Course) -> list[tuple[int, int]]:
    """The stretches of a truth as pairs of indices into its ticks; the stop is the first one not in it."""
    padded = np.concatenate(([0], course.true.astype(np.int8), [0]))
    edges = np.flatnonzero(np.diff(padded))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


def _stretches(check: BoundCheck, timeline: Timeline) -> Iterator[tuple[int, int]]:
    assert check.condition is not None
    ticks = timeline.ticks
    for start, stop in _edges(timeline.course(check.condition)):
        yield int(ticks[start]), int(ticks[stop]) if stop < len(ticks) else -1


def _triggers(check: BoundCheck, timeline: Timeline) -> list[int]:
    return [start for start, _ in _stretches(check, timeline)]


def _uncertain(start: int, stop: int, horizon: int, at: int) -> Finding:
    because = (
        f"From {_seconds(horizon)} on this program drove differently from the recording, "
        "so the readings after that cannot be trusted."
    )
    return Finding(Window(start, stop, NOT_CERTAIN), math.inf, "", at, because)


def _after(check: BoundCheck, timeline: Timeline, trigger: int) -> Finding:
    assert check.wanted is not None
    within, lasted = check.times[0], timeline.record.lasted
    course = timeline.course(check.wanted)
    first = int(np.searchsorted(course.ticks, trigger))
    ahead = np.flatnonzero(course.true[first:])
    came = int(course.ticks[first + ahead[0]]) if len(ahead) else None
    stop = min(trigger + within, lasted)
    if timeline.horizon < (came if came is not None and came <= stop else stop):
        return _uncertain(trigger, stop, timeline.horizon, trigger)
    head = f"{_sentence(check.condition_words)} came true at {_seconds(trigger)}"
    wanted = _sentence(check.wanted_words)
    if came is not None and came - trigger <= within:
        spare = within - (came - trigger)
        because = f"{head}; {wanted} followed after {_span(came - trigger)}, {_span(spare)} to spare."
        return Finding(Window(trigger, stop, PASS), spare / 1e6, "s", came, because)
    if trigger + within > lasted:
        because = f"{head}, and the run ended at {_seconds(lasted)}, before the {_span(within)} were over."
        return Finding(Window(trigger, stop, NOT_CERTAIN), math.inf, "", trigger, because)
    if came is not None:
        late = came - trigger - within
        because = f"{head}; {wanted} was due within {_span(within)} and came {_span(late)} too late."
        return Finding(Window(trigger, stop, FAIL), -late / 1e6, "s", stop, because)
    last = int(np.searchsorted(course.ticks, stop, "right"))
    found = timeline.values_at(check.wanted, stop)
    because = f"{head}; {wanted} was due by {_seconds(stop)} and never came: {found} then."
    return Finding(Window(trigger, stop, FAIL), float(course.margin[first:last].max()), course.unit, stop, because)


def _lasts(check: BoundCheck, timeline: Timeline, start: int, stop: int) -> Finding:
    wanted, around = check.times
    lasted = timeline.record.lasted
    cut = stop < 0
    end = lasted if cut else stop
    length = end - start
    words = _sentence(check.condition_words)
    if timeline.horizon < end:
        return _uncertain(start, end, timeline.horizon, start)
    margin = (around - abs(length - wanted)) / 1e6
    target = f"{_span(wanted)} +- {_span(around)} was wanted"
    if cut and length <= wanted + around:
        because = f"{words} held from {_seconds(start)}, and the run ended {_span(length)} later; {target}."
        return Finding(Window(start, end, NOT_CERTAIN), math.inf, "", start, because)
    open_end = " and was still so when the run ended" if cut else ""
    because = f"{words} held for {_span(length)} from {_seconds(start)}{open_end}; {target}."
    verdict = PASS if margin >= 0 else FAIL
    failed_at = start + wanted + around if length > wanted else end
    return Finding(Window(start, end, verdict), margin, "s", start if verdict == PASS else failed_at, because)


def _at_the_end(check: BoundCheck, timeline: Timeline) -> Finding:
    assert check.wanted is not None
    lasted = timeline.record.lasted
    if timeline.horizon <= lasted:
        return _uncertain(lasted, lasted, timeline.horizon, lasted)
    course = timeline.course(check.wanted)
    found = timeline.values_at(check.wanted, lasted)
    held = bool(course.true[-1])
    because = f"At the end, {_seconds(lasted)}, {found}; {_sentence(check.wanted_words)} was wanted."
    return Finding(
        Window(lasted, lasted, PASS if held else FAIL), float(course.margin[-1]), course.unit, lasted, because
    )


def _throughout(check: BoundCheck, timeline: Timeline) -> Iterator[Finding]:
    """`always D` and `never C [while D]`: one finding for each stretch in which it was tested."""
    assert check.condition is not None
    course = timeline.course(check.condition)
    good = course.true if check.kind == "always" else ~course.true
    margin = course.margin if check.kind == "always" else -course.margin
    ticks, lasted = timeline.ticks, timeline.record.lasted
    spans = [(0, len(ticks))]
    if check.wanted is not None:
        spans = _edges(timeline.course(check.wanted))
    for start, stop in spans:
        begin, end = int(ticks[start]), int(ticks[stop]) if stop < len(ticks) else lasted
        broken = np.flatnonzero(~good[start:stop])
        decided = int(ticks[start + broken[0]]) if len(broken) else end
        if timeline.horizon < decided:
            yield _uncertain(begin, end, timeline.horizon, begin)
            continue
        worst = start + int(margin[start:stop].argmin())
        value = float(margin[worst])
        if len(broken):
            yield _broken(check, timeline, begin, end, decided, value, course.unit)
        else:
            spare = f", {show(value, course.unit, 2)} to spare" if math.isfinite(value) and value > 0 else ""
            found = timeline.values_at(check.condition, int(ticks[worst]))
            because = f"Closest at {_seconds(int(ticks[worst]))}: {found}{spare}."
            yield Finding(Window(begin, end, PASS), value, course.unit, int(ticks[worst]), because)


def _broken(check: BoundCheck, timeline: Timeline, begin: int, end: int, at: int, margin: float, unit: str) -> Finding:
    assert check.condition is not None
    found = timeline.values_at(check.condition, at)
    if check.kind == "always":
        because = f"{_sentence(check.condition_words)} was not so at {_seconds(at)}: {found}."
    else:
        during = f" while {_sentence(check.wanted_words)}" if check.wanted_words else ""
        because = f"{_sentence(check.condition_words)} held at {_seconds(at)}{during}: {found}."
    return Finding(Window(begin, end, FAIL), margin, unit, at, because)
