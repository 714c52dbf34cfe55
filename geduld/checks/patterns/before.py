"""`before A, never D`: D holds at no instant before A becomes true for the first time."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.kept import kept, until
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: before knob > 62 %, never drive > 0 %"


class Before(OverTime):
    """`before A, never D`."""

    kind = "before"
    words = ("before", "never")
    start = ("before",)
    forms = (Form("before …, never …", "not too early", "before ${<near>}, never ${<moves>}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`A, never D`."""
        end = expression(cursor)
        cursor.expect(",", "behind the condition", _EXAMPLE)
        cursor.expect("never", "behind the comma", _EXAMPLE)
        return Sentence(self.kind, (end, expression(cursor)))

    def written(self, sentence: Sentence) -> str:
        """`before A, never D`."""
        return "before {}, never {}".format(*parts(sentence))

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant before A; none where neither ever comes true, or A holds at the start."""
        end = timeline.course(check.looks[0]).first()
        early = timeline.course(check.looks[1]).first()
        if end == 0 or (end is None and early is None):
            return Findings.of([])
        spans = until(timeline.record.lasted + 1 if end is None else end)
        return kept(timeline, spans, check.looks[1], check.words[1], False, f" before {quoted(check.words[0])}")
