"""`always D [after the first T]`: D holds at every instant of the run."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.kept import kept, until
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.settling import WORDS, read_settling, said, settled, settling_text
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression


class Always(OverTime):
    """`always D [after the first T]`."""

    kind = "always"
    words = ("always", *WORDS)
    start = ("always",)
    forms = (Form("always …", "holds in the whole run", "always ${<near>}"),)
    all_or_none = True

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`D`."""
        return Sentence(self.kind, (expression(cursor),), read_settling(cursor))

    def written(self, sentence: Sentence) -> str:
        """`always D`."""
        return f"always {parts(sentence)[0]}{settling_text(sentence)}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of the run."""
        spans = settled(check, until(timeline.record.lasted + 1))
        return kept(timeline, spans, check.looks[0], check.words[0], True, said(check))

    def nothing(self, check: BoundCheck) -> str:
        """The run is too short."""
        return f"The run was over{said(check).replace('after', 'before')} were."
