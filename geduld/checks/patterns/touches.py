"""`touches "barrel" at most N times`: contacts with what is nearest to where they were."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.counting import counted
from geduld.checks.evidence import quoted
from geduld.checks.pattern import Form, Pattern, often, read_name, read_often
from geduld.checks.places import touched
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.tree import Expression
from geduld.run.program.program import Facts
from geduld.run.record.record import Record

_EXAMPLE = 'Write for example: touches "barrel" at most 1 time'


class Touches(Pattern):
    """`touches "barrel" at most N times`, `touches anything …`."""

    kind = "touches"
    words = ("touches", "anything", "least", "most", "time")
    start = ("touches",)
    forms = (
        Form(
            'touches "<thing>" at most … times',
            "what it bumps into, on a floor",
            'touches "<thing>" at most ${1} times',
            "thing",
        ),
        Form(
            "touches anything at most … times",
            "whatever it bumps into, on a floor",
            "touches anything at most ${1} times",
            "things",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`"barrel" at most N times`."""
        name = "" if cursor.take("anything") else read_name(cursor, "a name, or anything,", _EXAMPLE)
        bound, count = read_often(cursor, _EXAMPLE)
        return Sentence(self.kind, name=name, bound=bound, count=count)

    def written(self, sentence: Sentence) -> str:
        """`touches "barrel" at most N times`."""
        return f"touches {quoted(sentence.name) if sentence.name else 'anything'} {often(sentence)}"

    def findings(
        self, check: BoundCheck, record: Record, reference: Record | None, program: Facts | None
    ) -> tuple[Findings, str]:
        """How often, once."""
        if record.pose is None:
            return Findings.of([]), "This run was not on a floor, so nobody knows what the robot touched."
        contacts = [event for event in record.events if event.kind == "contact"]
        hits = [event.tick for event in contacts if not check.name or touched(event, record.pose) == check.name]
        what = f"The robot touched {quoted(check.name) if check.name else 'something'}"
        return Findings.of([counted(check, Timeline(record, ()), hits, what)]), ""
