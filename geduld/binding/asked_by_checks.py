"""What only checks can ask for: where the robot is, what a run's record tells, and what the reference behaviour did."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import reduce
from typing import Protocol

from geduld.binding import terms
from geduld.language import tree
from geduld.language.messages import Problem, Span, error
from geduld.language.quantities import ANGLE, LENGTH, RATIO, SPEED, TRUTH, TURN_RATE, Dimension
from geduld.language.words import CONTROLS
from geduld.rig.model import Part, Rig

Placed = tree.Within | tree.Inside | tree.Towards
_EXAMPLES = {"heading": "heading is 90 deg +- 5 deg", "cart": 'cart is within 4 cm of mark "A"'}


class Binds(Protocol):
    """Whoever turns expressions into terms."""

    rig: Rig

    @property
    def partner(self) -> Binds | None:
        """Whoever does so for the other device's rig, where there is one."""

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
    """`reference.left`, `partner.lamp`: what it is in another run. Raises Problem."""
    whose, _, rest = name.name.partition(".")
    own = scope if whose == "reference" else _partner_of(scope, name.span)
    inner = own.term(tree.Name(rest, span=name.span))
    if isinstance(inner, terms.Reading | terms.Output | terms.Pose):
        return terms.Reference(inner, whose, dimension=inner.dimension)
    message = f"Only a part, a reading or the pose stands behind {whose}."
    raise Problem(error("unknown-name", name.span, message, f"Write for example: {whose}.left"))


def _partner_of(scope: Binds, span: Span) -> Binds:
    if scope.partner is None:
        message = "No case has another device, so there is no partner."
        raise Problem(error("no-partner", span, message, "Give a case a partner, or ask for this device's own parts."))
    return scope.partner


def told(scope: Binds, expression: tree.Told) -> terms.Term:
    """What the record of a run tells as a yes or no. Raises Problem for a partner that there is not."""
    fact: terms.Term = terms.Told(expression.word, expression.text, dimension=TRUTH)
    if expression.of_partner:
        _partner_of(scope, expression.span)
        fact = terms.Reference(fact, "partner", dimension=TRUTH)  # type: ignore[arg-type]
    return terms.Compare("=", fact, terms.Const(1.0, dimension=TRUTH))


def controlled(scope: Binds, expression: tree.Is) -> terms.Term:
    """`left is braking`, `drive is coasting`. Raises Problem."""
    code = terms.Const(2.0 + CONTROLS.index(expression.state), dimension=TRUTH)
    what = f"What is {expression.state}"
    return _of_all(
        _motors(scope.rig, expression.value, what),
        lambda motor: terms.Compare("=", terms.Told("control", motor.name, dimension=TRUTH), code),
    )


def still(rig: Rig, span: Span) -> terms.Term:
    """That no wheel is driven; on a rig without a drive, no motor. Raises Problem where there is neither."""
    motors = [part for part in rig.outputs if part.kind.spins]
    if rig.drive is not None:
        motors = [rig.parts[rig.drive.left], rig.parts[rig.drive.right]]
    if not motors:
        message = "This rig has no motor, so it is always still."
        raise Problem(error("no-drive", span, message, "Compare what it has: lamp = 0 %"))
    nothing = terms.Const(0.0, dimension=RATIO)
    return _of_all(motors, lambda motor: terms.Compare("=", terms.Output(motor.name, dimension=RATIO), nothing))


def is_still(rig: Rig, term: terms.Term) -> bool:
    """Whether a condition says that no wheel is driven, however it is written."""
    return any(part.kind.spins for part in rig.outputs) and term == still(rig, tree.NOWHERE)


def keeps(scope: Binds, expression: tree.Keeps) -> terms.Term:
    """How fast motors really turn, or their wheels roll; a tolerance in % is of the wanted speed. Raises Problem."""
    rig, wanted, around = scope.rig, scope.term(expression.wanted), scope.term(expression.tolerance)
    motors = _motors(rig, expression.value, "What keeps a speed")
    wheels = (rig.drive.left, rig.drive.right) if rig.drive else ()
    rolls = wanted.dimension == SPEED and all(motor.name in wheels for motor in motors)
    if not isinstance(wanted, terms.Const) or not (rolls or wanted.dimension == TURN_RATE):
        message = f"What a motor keeps is a fixed speed, and this is {wanted.dimension}."
        raise Problem(error("wrong-dimension", expression.wanted.span, message, "Write for example: 200 deg/s"))
    if around.dimension == RATIO and isinstance(around, terms.Const):
        around = terms.Const(abs(wanted.value) * around.value / 100, dimension=wanted.dimension)
    if not isinstance(around, terms.Const) or around.dimension != wanted.dimension:
        message = f"The tolerance is a part of the speed or a fixed speed, and this is {around.dimension}."
        raise Problem(error("wrong-dimension", expression.tolerance.span, message, "Write for example: +- 10 %"))
    what, tolerance = "rolling" if rolls else "turning", around

    def kept(motor: Part) -> terms.Term:
        gap = terms.Arithmetic(
            "-", terms.Told(what, motor.name, dimension=wanted.dimension), wanted, dimension=wanted.dimension
        )
        return terms.Compare("<=", terms.Function("abs", (gap,), dimension=wanted.dimension), tolerance)

    return _of_all(motors, kept)


def _motors(rig: Rig, named: tree.Expression, what: str) -> list[Part]:
    """The motors that a name stands for: both wheels for `drive`. Raises Problem."""
    name = named.name if isinstance(named, tree.Name) else ""
    if name == "drive" and rig.drive is not None:
        return [rig.parts[rig.drive.left], rig.parts[rig.drive.right]]
    part = rig.parts.get(name)
    if part is None or not part.kind.spins:
        motors = [part.name for part in rig.outputs if part.kind.spins]
        remedy = f"Name one of its motors, for example: {motors[0]}" if motors else "This rig has no motor."
        raise Problem(error("not-a-motor", named.span, f"{what} is a motor.", remedy))
    return [part]


def _of_all(motors: Iterable[Part], truth: Callable[[Part], terms.Term]) -> terms.Term:
    return reduce(lambda left, right: terms.Junction("and", left, right), map(truth, motors))
