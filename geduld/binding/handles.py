"""The numbers of a text that can be moved where they show: on a reading's lane, on an output's, at the end of a bar."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.binding import terms
from geduld.language import tree
from geduld.language.messages import Span
from geduld.language.quantities import unit_from_text
from geduld.rig.model import Part


@dataclass(frozen=True)
class Literal:
    """A number as it is written, with the sign in front of it; `span` is where it stands, sign and unit included."""

    number: float
    unit: str
    span: Span


def literal_of(expression: tree.Expression) -> Literal | None:
    """The number that an expression is written as; None for anything else."""
    if isinstance(expression, tree.Minus) and isinstance(expression.value, tree.Number):
        inner = literal_of(expression.value)
        return None if inner is None else Literal(-inner.number, inner.unit, expression.span)
    if isinstance(expression, tree.Number):
        return Literal(float(expression.text), expression.unit, expression.span)
    return None


class Handles:
    """What of a text's numbers is noted while it is bound. Not those of a library: they stand in another text.

    `raw` are the terms that stand for a converter's own numbers, with the part that it converts.
    """

    def __init__(self) -> None:
        self.thresholds: dict[terms.Threshold, None] = {}
        self.settings: dict[terms.Setting, None] = {}
        self.raw: dict[terms.Term, Part] = {}
        self.silent = False

    def compared(self, reading: terms.Term, literal: Literal | None, number: terms.Term) -> None:
        """Notes a number that a sensor's reading is compared with."""
        if self.silent or literal is None:
            return
        if not isinstance(number, terms.Const):
            return
        if isinstance(reading, terms.Reading):
            self.thresholds[terms.Threshold(reading.part, number.value, literal.span, literal.unit)] = None
        part = self.raw.get(reading) if isinstance(reading, terms.Function) else None
        unit = part and part.raw_unit
        if part and unit:
            found = (part.name, unit.to_base(number.value), literal.span, "", float(1 / unit.factor), unit.zero)
            self.thresholds[terms.Threshold(*found)] = None

    def sets(self, what: str, line: int, literal: Literal | None, term: terms.Term, part: str = "") -> None:
        """Notes a number that sets something. Of a speed of nothing nobody knows how much a power it would be."""
        if self.silent or literal is None or not isinstance(term, terms.Const):
            return
        unit = unit_from_text(literal.unit) if literal.unit else None
        if what == "output" and not term.value and unit is not None and unit.dimension != term.dimension:
            return
        factor = literal.number / term.value if what == "output" and term.value else 0.0
        self.settings[terms.Setting(what, part, line, term.value, literal.span, literal.unit, factor)] = None
