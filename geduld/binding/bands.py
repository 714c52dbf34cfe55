"""The bands of a `by`: together they own every value, and each owns its lower edge, where none says otherwise."""

from __future__ import annotations

import math

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.language import tree
from geduld.language.messages import Problem, error
from geduld.language.quantities import Dimension, show

Found = tuple[float, float, tree.Band]


def bands_of(scope: Scope, step: tree.By, value: terms.Term) -> tuple[list[tree.Band], tuple[float, ...]]:
    """The bands of a step by their values, without `absent`, and the edges between them.

    Raises Problem for an edge that is not fixed, and for a gap or an overlap, naming the values.
    """
    found: list[Found] = []
    dimension = value.dimension

    def edge(written: tree.Expression | None, none: float) -> float:
        if written is None:
            return none
        at = fixed(scope, written, dimension, "The value")
        if isinstance(value, terms.Reading):
            line = step.span.line
            scope.handles.sets("edge", line, scope.literal(written), terms.Const(at, dimension=dimension), value.part)
        return at

    for band in step.bands:
        if band.form != "absent":
            found.append((edge(band.low, -math.inf), edge(band.high, math.inf), band))
    found.sort(key=lambda item: item[:2])
    return [band for _, _, band in found], _complete(found, dimension, step)


def fixed(scope: Scope, expression: tree.Expression, wanted: Dimension, what: str) -> float:
    """A value that must be known beforehand. Raises Problem when it is not."""
    term = scope.value(expression, wanted, what)
    if isinstance(term, terms.Const):
        return term.value
    message = "A band's edge and its slack are fixed values."
    raise Problem(error("band-edge", expression.span, message, "Write for example: over 40 cm"))


def _complete(found: list[Found], dimension: Dimension, step: tree.By) -> tuple[float, ...]:
    """The edges between the bands. A gap or an overlap is an error that names the values."""
    reached = -math.inf
    for low, high, band in found:
        span = band.span
        if low > reached:
            under = f"under {show(low, dimension.unit)}"
            missing = under if reached == -math.inf else f"{show(reached)} to {show(low, dimension.unit)}"
            message = (
                f"No band says what happens from {missing}."
                if reached > -math.inf
                else f"No band says what happens {missing}."
            )
            raise Problem(error("band-gap", span, message, f"Add a band: {missing}: …"))
        if low < reached or high <= low:
            shared = f"{show(low)} to {show(min(reached, high), dimension.unit)}"
            message = f"Two bands own {shared}." if low < reached else "This band is empty."
            raise Problem(error("band-overlap", span, message, "Let each band begin where the one below ends."))
        reached = high
    if reached < math.inf:
        over = f"over {show(reached, dimension.unit)}"
        message = f"No band says what happens {over}."
        raise Problem(error("band-gap", step.span, message, f"Add a band: {over}: …"))
    # a band owns the edge below it; one that owns the edge above it ends just behind that
    return tuple(math.nextafter(high, math.inf) if band.ends else high for _, high, band in found[:-1])
