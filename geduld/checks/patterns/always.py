"""`always D`: D holds at every instant of the run."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.kept import kept, until
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression


class Always(OverTime):
    """`always D`."""

    kind = "always"
    words = ("always",)
    start = ("always",)
    forms = (Form("always …", "holds in the whole run", "always ${<near>}"),)
    all_or_none = True

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`D`."""
        return Sentence(self.kind, (expression(cursor),))

    def written(self, sentence: Sentence) -> str:
        """`always D`."""
        return f"always {parts(sentence)[0]}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of the run."""
        return kept(timeline, until(timeline.record.lasted + 1), check.looks[0], check.words[0], True, "")
