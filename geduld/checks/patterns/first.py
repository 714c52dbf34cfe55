"""`first A, then B, then C`: one comes after the other; `first ever …`: so do their very first times."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from geduld.checks.bound import BoundCheck
from geduld.checks.conditions import Condition
from geduld.checks.evidence import quoted, seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression
from geduld.worlds.trace import Ticks

EVER = "ever"
_EXAMPLE = "Write for example: first range < 40 cm, then nose is pressed"


class First(OverTime):
    """`first [ever] A, then B, then C`. The margin is the smallest gap.

    Each is looked for behind the one before it, at the same instant too: what came earlier does not count. With `ever`
    only the first time of each in the whole run counts.
    """

    kind = "first"
    words = ("first", "then", "ever")
    start = ("first",)
    forms = (
        Form("first …, then …", "one after the other", "first ${<near>}, then ${<touch>}"),
        Form("first ever …, then …", "the very first times, in this order", "first ever ${<near>}, then ${<touch>}"),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`A, then B, then C`."""
        options = (EVER,) if cursor.take(EVER) else ()
        found = [expression(cursor)]
        while cursor.take(","):
            cursor.expect("then", "behind the comma", _EXAMPLE)
            found.append(expression(cursor))
        if len(found) < 2:
            raise cursor.unexpected('", then"', _EXAMPLE)
        return Sentence(self.kind, tuple(found), options=options)

    def written(self, sentence: Sentence) -> str:
        """`first A, then B`."""
        return f"first {''.join(f'{option} ' for option in sentence.options)}{', then '.join(parts(sentence))}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The order of the instants."""
        return Findings.of(
            _in_order(check, timeline) if EVER in check.options else _one_after_the_other(check, timeline)
        )

    def opens(self, check: BoundCheck) -> Sequence[Condition]:
        """What begins an occurrence."""
        return check.looks

    def nothing(self, check: BoundCheck) -> str:
        """Not one of them."""
        return "None of these ever came true in this run."


def _one_after_the_other(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    lasted = timeline.record.lasted
    starts = [timeline.course(look).spans[0] for look in check.looks]
    if not any(map(len, starts)):
        return []
    known: list[int] = []
    for number, (begins, term) in enumerate(zip(starts, check.conditions, strict=True)):
        alike = [at for at, other in zip(known, check.conditions, strict=False) if other == term]
        since = max(known[-1] if known else 0, alike[-1] + 1 if alike else 0)
        place = int(begins.searchsorted(since))
        if place < len(begins):
            known.append(int(begins[place]))
            continue
        if timeline.horizon < lasted:
            return [uncertain(0, lasted, timeline.horizon, 0)]
        words = quoted(check.words[number])
        if not known:
            return [_never(check, starts[1], lasted)]
        before, last = quoted(check.words[number - 1]), known[-1]
        if len(begins) and not alike:
            early = int(begins[-1])
            because = f"{words} came at {seconds(early)}, {span(last - early)} before {before}, and never after it."
            return [Finding(Window(early, last, FAIL), (early - last) / 1e6, "s", early, because)]
        because = f"{before} came at {seconds(last)}, and {words} never came after it."
        return [Finding(Window(last, lasted, FAIL), -math.inf, "", lasted, because)]
    if timeline.horizon < known[-1]:
        return [uncertain(0, lasted, timeline.horizon, 0)]
    return [_came_in_order(check, known)]


def _never(check: BoundCheck, second: Ticks, lasted: int) -> Finding:
    """The first never came; what should have come behind it may have come all the same."""
    at = int(second[0]) if len(second) else lasted
    tail = f", and {quoted(check.words[1])} came at {seconds(at)} all the same" if len(second) else ""
    because = f"{quoted(check.words[0])} never came true{tail}."
    return Finding(Window(0, at, FAIL), -math.inf, "", at, because)


def _came_in_order(check: BoundCheck, known: list[int]) -> Finding:
    gaps = [(now - before, index) for index, (before, now) in enumerate(pairwise(known), 1)]
    gap, index = min(gaps)
    order = ", ".join(f"{quoted(word)} at {seconds(time)}" for word, time in zip(check.words, known, strict=True))
    tie = ""
    if not gap:
        one, other = quoted(check.words[index - 1]), quoted(check.words[index])
        tie = f" {one} and {other} came at the same instant, which is in order."
    return Finding(Window(known[0], known[-1], PASS), gap / 1e6, "s", known[index], f"In order: {order}.{tie}")


def _in_order(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    lasted, horizon = timeline.record.lasted, timeline.horizon
    times = [timeline.course(look).first() for look in check.looks]
    if all(time is None for time in times):
        return []
    # what came when nothing is to be trusted any more may have come then, or never
    times = [time if time is not None and time <= horizon else None for time in times]
    pairs = [
        (now - before, index)
        for index, (before, now) in enumerate(pairwise(times), 1)
        if before is not None and now is not None
    ]
    missing = next((index for index, time in enumerate(times) if time is None), None)
    if missing is not None:
        behind = next((index for index, time in enumerate(times) if index > missing and time is not None), None)
        if horizon < lasted and behind is None and not (pairs and min(pairs)[0] < 0):
            return [uncertain(0, lasted, horizon, 0)]
        if horizon >= lasted or behind is not None:
            return [_one_missing(check, times, missing, lasted)]
    gap, index = min(pairs)
    if gap < 0:
        now, words, before = times[index], quoted(check.words[index]), quoted(check.words[index - 1])
        assert now is not None
        early = f"{words} came at {seconds(now)}, {span(-gap)} before {before}"
        return [Finding(Window(now, now - gap, FAIL), gap / 1e6, "s", now, f"{early}.")]
    return [_came_in_order(check, [time for time in times if time is not None])]


def _one_missing(check: BoundCheck, times: list[int | None], missing: int, lasted: int) -> Finding:
    """One never came, whatever else came."""
    words = quoted(check.words[missing])
    before = times[missing - 1] if missing else None
    if before is not None:
        because = f"{quoted(check.words[missing - 1])} came at {seconds(before)}, and {words} never came after it."
        return Finding(Window(before, lasted, FAIL), -math.inf, "", lasted, because)
    behind = times[missing + 1] if missing + 1 < len(times) else None
    at = lasted if behind is None else behind
    tail = "" if behind is None else f", and {quoted(check.words[missing + 1])} came at {seconds(at)} all the same"
    return Finding(Window(0, at, FAIL), -math.inf, "", at, f"{words} never came true{tail}.")
