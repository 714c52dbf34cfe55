"""What only checks can ask for: where the robot is on its floor, and what the reference behaviour did."""

from __future__ import annotations

from typing import Protocol

from geduld.binding import terms
from geduld.language import tree
from geduld.language.messages import Problem, error
from geduld.language.quantities import ANGLE, LENGTH, Dimension

Placed = tree.Within | tree.Inside | tree.Towards
_EXAMPLES = {"heading": "heading is 90 deg +- 5 deg", "cart": 'cart is within 4 cm of mark "A"'}


class Binds(Protocol):
    """Whoever turns expressions into terms."""

    def term(self, expression: tree.Expression) -> terms.Term:
        """The term that an expression is. Raises Problem."""

    def value(self, expression: tree.Expression, dimension: Dimension, what: str) -> terms.Term:
        """The same, of a dimension that is wanted. Raises Problem."""


def only_in_a_check(expression: tree.Expression) -> Problem:
    """The error for a behaviour that asks what a robot cannot know."""
    message = "A robot does not know this of itself: only a check can ask it."
    return Problem(error("only-in-a-check", expression.span, message, "Ask a sensor, or a motor's angle."))


def placed(scope: Binds, expression: Placed) -> terms.Term:
    """Where the robot is: near a mark, inside a corridor, or which way it faces. Raises Problem."""
    wanted = "heading" if isinstance(expression, tree.Towards) else "cart"
    if not isinstance(expression.value, tree.Name) or expression.value.name != wanted:
        message = f'Here "{wanted}" belongs.'
        raise Problem(error("only-of-the-cart", expression.value.span, message, f"Write: {_EXAMPLES[wanted]}"))
    if isinstance(expression, tree.Inside):
        inside = terms.Pose("inside", expression.corridor, dimension=LENGTH)
        return terms.Compare(">=", inside, terms.Const(0.0, dimension=LENGTH))
    if isinstance(expression, tree.Within):
        away = terms.Pose("away", expression.mark, dimension=LENGTH)
        return terms.Compare("<=", away, scope.value(expression.distance, LENGTH, "The distance"))
    heading = scope.value(expression.wanted, ANGLE, "The heading")
    if not isinstance(heading, terms.Const):
        message = "The wanted heading is a fixed angle."
        raise Problem(error("wrong-dimension", expression.wanted.span, message, "Write for example: 90 deg"))
    off = terms.Pose("off", towards=heading.value, dimension=ANGLE)
    return terms.Compare("<=", off, scope.value(expression.tolerance, ANGLE, "The tolerance"))


def referred(scope: Binds, name: tree.Name) -> terms.Term:
    """`reference.left`: what it is in the reference behaviour's run. Raises Problem."""
    inner = scope.term(tree.Name(name.name.partition(".")[2], span=name.span))
    if isinstance(inner, terms.Reading | terms.Output | terms.Pose):
        return terms.Reference(inner, dimension=inner.dimension)
    message = "Only a part, a reading or the pose stands behind reference."
    raise Problem(error("unknown-name", name.span, message, "Write for example: reference.left"))
