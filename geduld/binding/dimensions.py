"""What is said when a value is not of the dimension that belongs there."""

from __future__ import annotations

from geduld.binding import terms
from geduld.language import tree
from geduld.language.messages import Hint, error
from geduld.language.quantities import COUNT, RATIO, TIME, Dimension, show


def remedy_for(wanted: Dimension) -> str:
    """What to write where a value of this dimension belongs."""
    examples = {"%": "60 %", "cm": "40 cm", "deg": "90 deg", "s": "1.5 s", "lx": "300 lx", "1/s": "440 Hz"}
    if wanted == COUNT:
        return "Write a plain number, for example: 3"
    example = examples.get(wanted.unit)
    return f"Write for example: {example}" if example else "Check the units on both sides."


def without_unit(expression: tree.Expression, term: terms.Term, wanted: Dimension, what: str) -> Hint:
    """The error for a number without its unit, with the number that is probably meant as its fix."""
    number = term.value if isinstance(term, terms.Const) else 0.0
    unit = "Hz" if wanted.unit == "1/s" else wanted.unit
    if wanted == RATIO and 0 < abs(number) <= 1:
        fix = f"{show(number * 100)} %"
    elif wanted == TIME and abs(number) >= 100:
        fix = f"{show(number)} ms"
    else:
        fix = f"{show(number)} {unit}"
    message = f"This number has no unit; {what[0].lower()}{what[1:]} is {wanted}."
    return error("number-without-unit", expression.span, message, f"Write {fix}, if that is what you mean.", fix)
