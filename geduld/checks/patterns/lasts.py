"""`C lasts T +- e`: the length of each stretch of C."""

from __future__ import annotations

from functools import partial

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.tree import Expression


class Lasts(OverTime):
    """`C lasts T +- e`."""

    kind = "lasts"
    words = ("lasts",)
    behind = ("lasts",)
    forms = (Form("… lasts … +- …", "how long a stretch is", "${<moves>} lasts ${1.5} s +- ${0.2} s"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`T +- e`."""
        assert first is not None
        time = arithmetic(cursor)
        cursor.expect("+-", "and the tolerance", "Write for example: valve > 0 % lasts 1.5 s +- 0.2 s")
        return Sentence(self.kind, (first,), (time, arithmetic(cursor)))

    def written(self, sentence: Sentence) -> str:
        """`C lasts T +- e`."""
        time, tolerance = times(sentence)
        return f"{parts(sentence)[0]} lasts {time} +- {tolerance}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """Each stretch."""
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
