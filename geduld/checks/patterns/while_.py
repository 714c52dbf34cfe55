"""`while C, D [after the first T]`: D holds at every instant of each stretch of C."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.kept import kept
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.settling import WORDS, read_settling, said, settled, settling_text
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression


class While(OverTime):
    """`while C, D [after the first T]`."""

    kind = "while"
    words = WORDS
    start = ("while",)
    forms = (
        Form("while …, …", "holds all along in each stretch", "while ${<between>}, ${<moves>}"),
        Form(
            "while …, … after the first …",
            "with time to settle",
            "while ${<between>}, ${<moves>} after the first ${0.2} s",
        ),
        Form(
            "… follows … within …",
            "is worked out from a reading",
            "while ${<between>}, <motor> follows ${20 %} within ${5 %}",
            "motor",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`C, D`."""
        condition = expression(cursor)
        cursor.expect(",", "behind the condition", "Write for example: while range < 40 cm, drive < 30 %")
        return Sentence(self.kind, (condition, expression(cursor)), read_settling(cursor))

    def written(self, sentence: Sentence) -> str:
        """`while C, D`."""
        return "while {}, {}".format(*parts(sentence)) + settling_text(sentence)

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of each stretch."""
        spans = settled(check, timeline.course(check.looks[0]).spans)
        during = f" while {quoted(check.words[0])}{said(check)}"
        return kept(timeline, spans, check.looks[1], check.words[1], True, during)
