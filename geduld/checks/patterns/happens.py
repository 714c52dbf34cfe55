"""`C happens N times`: how often C becomes true in the run, at the start too."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.counting import counted
from geduld.checks.evidence import quoted
from geduld.checks.pattern import Form, OverTime, often, parts, read_often
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.tree import Expression


class Happens(OverTime):
    """`C happens [at least | at most] N times`."""

    kind = "happens"
    words = ("happens", "least", "most", "time")
    behind = ("happens",)
    forms = (Form("… happens at most … times", "how often", "${<touch>} happens at most ${1} times"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`at most N times`."""
        assert first is not None
        bound, count = read_often(cursor, "Write for example: nose is pressed happens 3 times")
        return Sentence(self.kind, (first,), bound=bound, count=count)

    def written(self, sentence: Sentence) -> str:
        """`C happens at most N times`."""
        return f"{parts(sentence)[0]} happens {often(sentence)}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """How often, once."""
        starts = timeline.course(check.looks[0]).spans[0].tolist()
        return Findings.of([counted(check, timeline, starts, f"{quoted(check.words[0])} became true")])
