"""`ends within d of mark "A"`: at the last instant the robot is that near to a mark."""

from __future__ import annotations

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.bound import BoundCheck
from geduld.checks.instant import at_the_end
from geduld.checks.pattern import Form, OverTime, around, read_name, tolerance_of
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.quantities import LENGTH, show
from geduld.language.tree import Expression

_EXAMPLE = 'Write for example: ends within 4 cm of mark "A"'


class Ends(OverTime):
    """`ends within d of mark "A"`."""

    kind = "ends"
    words = ("ends", "within", "of")
    start = ("ends",)
    forms = (
        Form(
            'ends within … of mark "<mark>"',
            "where it stops, on a floor",
            'ends within ${4} cm of mark "<mark>"',
            "mark",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`within d of mark "A"`."""
        cursor.expect("within", "behind ends", _EXAMPLE)
        distance = arithmetic(cursor)
        if not cursor.take("of", "mark"):
            raise cursor.unexpected('"of mark"', _EXAMPLE)
        return Sentence(self.kind, tolerance=distance, name=read_name(cursor, "the mark's name", _EXAMPLE))

    def written(self, sentence: Sentence) -> str:
        """`ends within d of mark "A"`."""
        return f'ends within {around(sentence)} of mark "{sentence.name}"'

    def bind(self, sentence: Sentence, scope: Scope) -> tuple[tuple[terms.Term, ...], tuple[str, ...]]:
        """As a condition on the distance."""
        near = tolerance_of(sentence, (), scope)
        away = terms.Pose("away", sentence.name, dimension=LENGTH)
        condition = terms.Compare("<=", away, terms.Const(near, dimension=LENGTH))
        return (condition,), (f'cart is within {show(near, "cm")} of mark "{sentence.name}"',)

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The last instant."""
        return at_the_end(check, timeline)
