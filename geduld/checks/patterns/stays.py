"""`stays inside "aisle"`: the robot is inside a corridor at every instant of the run."""

from __future__ import annotations

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.bound import BoundCheck
from geduld.checks.kept import kept, until
from geduld.checks.pattern import Form, OverTime, read_name
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.quantities import LENGTH
from geduld.language.tree import Expression

_EXAMPLE = 'Write for example: stays inside "aisle"'


class Stays(OverTime):
    """`stays inside "aisle"`."""

    kind = "stays"
    words = ("stays", "inside")
    start = ("stays",)
    forms = (
        Form('stays inside "<corridor>"', "keeps to a corridor, on a floor", 'stays inside "<corridor>"', "corridor"),
    )
    all_or_none = True

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`inside "aisle"`."""
        cursor.expect("inside", "behind stays", _EXAMPLE)
        return Sentence(self.kind, name=read_name(cursor, "the corridor's name", _EXAMPLE))

    def written(self, sentence: Sentence) -> str:
        """`stays inside "aisle"`."""
        return f'stays inside "{sentence.name}"'

    def bind(self, sentence: Sentence, scope: Scope) -> tuple[tuple[terms.Term, ...], tuple[str, ...]]:
        """As a condition on the room that is left inside."""
        inside = terms.Pose("inside", sentence.name, dimension=LENGTH)
        condition = terms.Compare(">=", inside, terms.Const(0.0, dimension=LENGTH))
        return (condition,), (f'cart is inside "{sentence.name}"',)

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of the run."""
        return kept(timeline, until(timeline.record.lasted + 1), check.looks[0], check.words[0], True, "")
