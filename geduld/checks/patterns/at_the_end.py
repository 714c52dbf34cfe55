"""`at the end, D`: D holds at the last instant of the run."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.instant import at_the_end
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression


class AtTheEnd(OverTime):
    """`at the end, D`."""

    kind = "at the end"
    words = ("the", "end")
    start = ("at", "the", "end")
    forms = (Form("at the end, …", "when the run is over", "at the end, ${<rests>}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`, D`."""
        cursor.expect(",", "behind at the end", "Write for example: at the end, drive = 0 %")
        return Sentence(self.kind, (expression(cursor),))

    def written(self, sentence: Sentence) -> str:
        """`at the end, D`."""
        return f"at the end, {parts(sentence)[0]}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """That one instant."""
        return at_the_end(check, timeline)
