"""Plain numbers where an output has a scale of its own: 64 of -127 to 127 is a power of 50.4 %."""

from __future__ import annotations

from geduld.binding import terms
from geduld.language.quantities import COUNT, RATIO
from geduld.rig.model import Part


def in_scale(term: terms.Term, part: Part) -> terms.Term:
    """A plain number as the power that it is on the part's scale; any other value as it is."""
    if not part.scaled or part.unit is None or term.dimension != COUNT:
        return term
    if isinstance(term, terms.Const):
        return terms.Const(part.unit.to_base(term.value), dimension=RATIO)
    return terms.Arithmetic("*", term, terms.Const(part.unit.to_base(1.0), dimension=RATIO), dimension=RATIO)
