"""`never C [while D] [after the first T]`: C holds at no instant of the run, or of any stretch of D."""

from __future__ import annotations

from collections.abc import Sequence

from geduld.checks.bound import BoundCheck
from geduld.checks.conditions import Condition
from geduld.checks.evidence import quoted
from geduld.checks.kept import kept, until
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.settling import WORDS, read_settling, said, settled, settling_text
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression


class Never(OverTime):
    """`never C [while D] [after the first T]`."""

    kind = "never"
    words = ("never", *WORDS)
    start = ("never",)
    forms = (Form("never … while …", "must not be", "never ${<moves>} while ${<touch>}"),)
    all_or_none = True

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`C [while D]`."""
        unwanted = expression(cursor)
        conditions = (unwanted, expression(cursor)) if cursor.take("while") else (unwanted,)
        return Sentence(self.kind, conditions, read_settling(cursor))

    def written(self, sentence: Sentence) -> str:
        """`never C while D`."""
        return f"never {' while '.join(parts(sentence))}{settling_text(sentence)}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of each stretch."""
        spans, during = until(timeline.record.lasted + 1), ""
        if len(check.looks) > 1:
            spans, during = timeline.course(check.looks[1]).spans, f" while {quoted(check.words[1])}"
        spans = settled(check, spans)
        return kept(timeline, spans, check.looks[0], check.words[0], False, during + said(check))

    def opens(self, check: BoundCheck) -> Sequence[Condition]:
        """What begins an occurrence."""
        return check.looks[-1:]

    def nothing(self, check: BoundCheck) -> str:
        """No stretch of D."""
        return f"{quoted(check.words[-1])} was never so in this run."
