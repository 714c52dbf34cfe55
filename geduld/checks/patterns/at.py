"""`at T, D`: D holds T after the start."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import cut_short, seconds
from geduld.checks.instant import at_instant
from geduld.checks.pattern import Form, OverTime, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.tree import Expression


class At(OverTime):
    """`at T, D`."""

    kind = "at"
    start = ("at",)
    forms = (Form("at … s, …", "at one moment", "at ${5} s, ${<rests>}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`T, D`."""
        time = arithmetic(cursor)
        cursor.expect(",", "behind the time", "Write for example: at 5 s, drive = 0 %")
        return Sentence(self.kind, (expression(cursor),), (time,))

    def written(self, sentence: Sentence) -> str:
        """`at T, D`."""
        return f"at {times(sentence)[0]}, {parts(sentence)[0]}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """That one instant."""
        tick, lasted = check.times[0], timeline.record.lasted
        if tick > lasted:
            because = f"The run ended at {seconds(lasted)}, before {seconds(tick)}."
            return Findings.of([cut_short(lasted, lasted, because)])
        return at_instant(check, timeline, tick, f"At {seconds(tick)}")
