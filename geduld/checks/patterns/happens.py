"""`C happens N times`: how often C becomes true in the run, at the start too; or in each stretch between A and B."""

from __future__ import annotations

from collections.abc import Sequence

from geduld.checks.between import stretches
from geduld.checks.bound import BoundCheck
from geduld.checks.conditions import Condition
from geduld.checks.counting import counted, counted_in
from geduld.checks.evidence import quoted
from geduld.checks.pattern import Form, OverTime, often, parts, read_often
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import single_condition
from geduld.language.formatter import ALONE, expression_text
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: valve > 0 % happens 2 times between nose is pressed and nose is released"


class Happens(OverTime):
    """`C happens [at least | at most] N times [between A and B]`.

    With `between`, what holds already when a stretch begins does not become true in it.
    """

    kind = "happens"
    words = ("happens", "least", "most", "time")
    behind = ("happens",)
    forms = (
        Form("… happens at most … times", "how often", "${<touch>} happens at most ${1} times"),
        Form(
            "… happens … times between … and …",
            "how often from one moment to another",
            "${<moves>} happens ${2} times between ${<near>} and ${<touch>}",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`at most N times`."""
        assert first is not None
        bound, count = read_often(cursor, "Write for example: nose is pressed happens 3 times")
        if not cursor.take("between"):
            return Sentence(self.kind, (first,), bound=bound, count=count)
        start = single_condition(cursor)
        cursor.expect("and", "and what ends the stretch", _EXAMPLE)
        return Sentence(self.kind, (first, start, single_condition(cursor)), bound=bound, count=count)

    def written(self, sentence: Sentence) -> str:
        """`C happens at most N times`."""
        what = f"{parts(sentence)[0]} happens {often(sentence)}"
        between = [expression_text(item, ALONE) for item in sentence.conditions[1:]]
        return what + (" between {} and {}".format(*between) if between else "")

    def opens(self, check: BoundCheck) -> Sequence[Condition]:
        """What opens a stretch, where it is counted in stretches."""
        return check.looks[1:2] or check.looks[:1]

    def nothing(self, check: BoundCheck) -> str:
        """No stretch."""
        return f"There is no stretch from {quoted(check.words[1])} to {quoted(check.words[2])} in this run."

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """How often, once; or once for each stretch."""
        starts = timeline.course(check.looks[0]).spans[0].tolist()
        what = f"{quoted(check.words[0])} became true"
        if len(check.looks) == 1:
            return Findings.of([counted(check, timeline, starts, what)])
        spans = stretches(timeline, check.looks[1], check.looks[2])
        return Findings.of(
            [counted_in(check, timeline, starts, what, *span) for span in zip(*map(list, spans), strict=True)]
        )
