"""`first A, then B, then C`: each comes, none before the one in front of it."""

from __future__ import annotations

import math
from itertools import pairwise

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted, seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: first range < 40 cm, then nose is pressed"


class First(OverTime):
    """`first A, then B, then C`. The margin is the smallest gap."""

    kind = "first"
    words = ("first", "then")
    start = ("first",)
    forms = (Form("first …, then …", "in this order", "first ${<near>}, then ${<touch>}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`A, then B, then C`."""
        found = [expression(cursor)]
        while cursor.take(","):
            cursor.expect("then", "behind the comma", _EXAMPLE)
            found.append(expression(cursor))
        if len(found) < 2:
            raise cursor.unexpected('", then"', _EXAMPLE)
        return Sentence(self.kind, tuple(found))

    def written(self, sentence: Sentence) -> str:
        """`first A, then B`."""
        return f"first {', then '.join(parts(sentence))}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The order of the first instants."""
        return Findings.of(_in_order(check, timeline))

    def nothing(self, check: BoundCheck) -> str:
        """Not one of them."""
        return "None of these ever came true in this run."


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
