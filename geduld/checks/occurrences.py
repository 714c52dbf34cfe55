"""Patterns that count occurrences: after, lasts, happens, first."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise

from geduld.checks.binder import BoundCheck
from geduld.checks.courses import Course
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window


def after(check: BoundCheck, timeline: Timeline) -> Findings:
    """`after C, within T, D`: each time C becomes true, D holds at some instant from then to T later."""
    triggers = timeline.course(check.looks[0]).spans[0].tolist()
    wanted = timeline.course(check.looks[1]) if triggers else None
    return Findings.of([_after(check, timeline, trigger, wanted) for trigger in triggers if wanted])


def _after(check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> Finding:
    within, lasted, horizon = check.times[0], timeline.record.lasted, timeline.horizon
    came = course.first(trigger)
    stop = min(trigger + within, lasted)
    came = None if came is not None and came > max(stop, horizon) else came
    if horizon < (came if came is not None and came <= stop else stop):
        return uncertain(trigger, stop, horizon, trigger)
    head = partial("{} came true at {}".format, quoted(check.words[0]))
    wanted = quoted(check.words[1])
    if came is not None and came - trigger <= within:
        took = came - trigger
        return Finding(
            Window(trigger, stop, PASS),
            (within - took) / 1e6,
            "s",
            came,
            lambda: f"{head(seconds(trigger))}; {wanted} followed after {span(took)}, {span(within - took)} to spare.",
        )
    if trigger + within > lasted:
        ended = f"the run ended at {seconds(lasted)}, before the {span(within)} were over"
        because = f"{head(seconds(trigger))}, and {ended}."
        return cut_short(trigger, stop, because)
    if came is not None:
        late = came - trigger - within
        because = f"{head(seconds(trigger))}; {wanted} was due within {span(within)} and came {span(late)} too late."
        return Finding(Window(trigger, stop, FAIL), -late / 1e6, "s", stop, because)
    found = timeline.values_at(check.looks[1], stop)
    because = f"{head(seconds(trigger))}; {wanted} was due by {seconds(stop)} and never came: {found} then."
    margin = float(course.margin[course.place(trigger) : course.place(stop) + 1].max())
    return Finding(Window(trigger, stop, FAIL), margin, course.unit, stop, because)


def lasts(check: BoundCheck, timeline: Timeline) -> Findings:
    """`C lasts T +- e`: the length of each stretch of C."""
    starts, stops = timeline.course(check.looks[0]).spans
    pairs = zip(starts.tolist(), stops.tolist(), strict=True)
    return Findings.of([_lasts(check, timeline, start, stop) for start, stop in pairs])


def _lasts(check: BoundCheck, timeline: Timeline, start: int, stop: int) -> Finding:
    wanted, around = check.times
    lasted = timeline.record.lasted
    cut = stop > lasted
    end = min(stop, lasted)
    length = end - start
    if timeline.horizon < end:
        return uncertain(start, end, timeline.horizon, start)
    because = partial(_lasted, check, start, length, cut)
    if cut and length <= wanted + around:
        return cut_short(start, end, because)
    margin = (around - abs(length - wanted)) / 1e6
    if margin >= 0:
        return Finding(Window(start, end, PASS), margin, "s", start, because)
    failed_at = start + wanted + around if length > wanted else end
    return Finding(Window(start, end, FAIL), margin, "s", failed_at, because)


def _lasted(check: BoundCheck, start: int, length: int, cut: bool) -> str:
    wanted, around = check.times
    words, target = quoted(check.words[0]), f"{span(wanted)} +- {span(around)} was wanted"
    if cut and length <= wanted + around:
        return f"{words} held from {seconds(start)}, and the run ended {span(length)} later; {target}."
    open_end = " and was still so when the run ended" if cut else ""
    return f"{words} held for {span(length)} from {seconds(start)}{open_end}; {target}."


def happens(check: BoundCheck, timeline: Timeline) -> Findings:
    """`C happens N times`: how often C becomes true in the run, at the start too."""
    starts = timeline.course(check.looks[0]).spans[0].tolist()
    return Findings.of([counted(check, timeline, starts, f"{quoted(check.words[0])} became true")])


def counted(check: BoundCheck, timeline: Timeline, starts: list[int], what: str) -> Finding:
    """Whether something came as often as wanted; the margin is a count."""
    starts = [start for start in starts if start <= timeline.horizon]
    number, wanted, lasted = len(starts), check.count, timeline.record.lasted
    # one more than may be is decided at once, whatever comes later; so is as often as must be
    decided = lasted
    if check.bound == "at least" and number >= wanted:
        decided = starts[wanted - 1] if wanted else 0
    elif check.bound != "at least" and number > wanted:
        decided = starts[wanted]
    if timeline.horizon < decided:
        return uncertain(0, lasted, timeline.horizon, 0)
    margin = {"at least": number - wanted, "at most": wanted - number, "": -abs(number - wanted)}[check.bound]
    target = f"{check.bound} {wanted} {'time' if wanted == 1 else 'times'}".lstrip()
    times = f" (at {', '.join(map(seconds, starts[:5]))}{', …' if number > 5 else ''})" if number else ""
    because = f"{what} {number} {'time' if number == 1 else 'times'}{times}; {target} was wanted."
    return Finding(Window(0, lasted, PASS if margin >= 0 else FAIL), float(margin), "", decided, because)


def first(check: BoundCheck, timeline: Timeline) -> Findings:
    """`first A, then B, then C`: each comes, none before the one in front of it. The margin is the smallest gap."""
    return Findings.of(_in_order(check, timeline))


def _in_order(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    lasted = timeline.record.lasted
    times = [timeline.course(look).first() for look in check.looks]
    if all(time is None for time in times):
        return []
    known = [time for time in times if time is not None]
    if timeline.horizon < (max(known) if len(known) == len(times) else lasted):
        return [uncertain(0, lasted, timeline.horizon, 0)]
    for index in range(1, len(times)):
        before, now, words = times[index - 1], times[index], check.words[index]
        if before is None:
            at = lasted if now is None else now
            missing = quoted(check.words[index - 1])
            tail = "" if now is None else f", and {quoted(words)} came at {seconds(now)} all the same"
            return [Finding(Window(0, at, FAIL), -math.inf, "", at, f"{missing} never came true{tail}.")]
        if now is None:
            because = (
                f"{quoted(check.words[index - 1])} came at {seconds(before)}, and {quoted(words)} never came after it."
            )
            return [Finding(Window(before, lasted, FAIL), -math.inf, "", lasted, because)]
        if now < before:
            early = (
                f"{quoted(words)} came at {seconds(now)}, {span(before - now)} before {quoted(check.words[index - 1])}"
            )
            return [Finding(Window(now, before, FAIL), (now - before) / 1e6, "s", now, f"{early}.")]
    gaps = [(now - before, index) for index, (before, now) in enumerate(pairwise(known), 1)]
    gap, index = min(gaps)
    order = ", ".join(f"{quoted(word)} at {seconds(time)}" for word, time in zip(check.words, known, strict=True))
    return [Finding(Window(known[0], known[-1], PASS), gap / 1e6, "s", known[index], f"In order: {order}.")]
