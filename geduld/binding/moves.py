"""Moves that are measured, and speeds that are kept: what the rig's sizes, encoders and calibration make of them.

A wheel that turns by `a` degrees rolls `a / 360` of its circumference. The robot's middle travels the mean of its
wheels' ways; it turns to the right by the difference of the two ways over the track width.
"""

from __future__ import annotations

import math

from geduld.binding import terms
from geduld.language import tree
from geduld.language.messages import Problem, Span, error
from geduld.language.quantities import ANGLE, LENGTH, RATIO, SPEED, TURN_RATE, Dimension, show
from geduld.rig.model import Drive, Part, Rig

_UNMEASURED = math.nan


def travel(rig: Rig, step: tree.Action, parts: tuple[Part, ...], ending: tree.For, amount: terms.Term) -> terms.Travel:
    """The ending of a move that is measured. Raises Problem where the rig cannot measure it."""
    span = ending.quantity.span
    if isinstance(amount, terms.Const) and amount.value < 0:
        remedy = "Take the minus sign away; a negative power or speed goes backwards."
        raise Problem(error("negative-move", span, "A move is not shorter than nothing.", remedy))
    ways = _ways(rig, step, parts, amount.dimension, span)
    by = ending.by or rig.calibration.prefers or ("encoder" if all(p.counts_per_turn for p in parts) else "time")
    for part in parts:
        if by == "encoder" and not part.counts_per_turn:
            message = f'"{part.name}" has no encoder, so this move cannot be measured by encoder.'
            raise Problem(error("not-measured", span, message, "Write by time, or say in the rig that it has one."))
    wheels = []
    for part, way in zip(parts, ways, strict=True):
        rate = rig.turn_rate(part.name)
        if rate is None and by == "time":
            message = f'The rig does not say how fast "{part.name}" goes, so this move cannot be timed.'
            remedy = "Measure a move and write it into the rig's calibration, or give the motor its full_speed."
            raise Problem(error("no-calibration", span, message, remedy))
        wheels.append((part.name, way, _UNMEASURED if rate is None else way * rate))
    turn = rig.calibration.turn
    if step.target == "turn" and turn is not None:
        wheels = [(name, way, math.copysign(turn / 2, way)) for name, way, _ in wheels]
    return terms.Travel(tuple(wheels), amount, by)


def _ways(rig: Rig, step: tree.Action, parts: tuple[Part, ...], dimension: Dimension, span: Span) -> tuple[float, ...]:
    """What one degree of each motor adds to the amount that is measured."""
    drive = rig.drive
    wheels = (drive.left, drive.right) if drive else ()
    if step.target == "turn" and drive and dimension == ANGLE:
        way = drive.wheel_diameter / 2 / drive.track_width
        return way, -way
    rolls = drive is not None and step.target != "turn" and all(part.name in wheels for part in parts)
    if drive and rolls and dimension == LENGTH:
        return (rig.sizes()["wheel.circumference"] / 360 / len(parts),) * len(parts)
    if dimension == ANGLE and step.target != "turn" and all(part.kind.spins for part in parts):
        return (1 / len(parts),) * len(parts)
    what = "a turn is measured in deg" if step.target == "turn" else f"{step.target} is not measured in that"
    remedy = "Write a time, as in: for 1.5 s"
    if step.target == "turn":
        remedy = "Write for example: turn left at 30 % for 90 deg"
    elif rolls:
        remedy = "Write for example: for 30 cm, for 720 deg, or for 1.5 s"
    raise Problem(error("wrong-dimension", span, f"This is {dimension}, and {what}.", remedy))


def is_speed(term: terms.Term) -> bool:
    """Whether a value says how fast, not with how much power."""
    return term.dimension in (SPEED, TURN_RATE)


def as_power(rig: Rig, part: Part, term: terms.Term, turning: str, expression: tree.Expression) -> terms.Term:
    """The power at which a motor has this speed by the motion model.

    `turning` is empty, or what a `turn` turns about: then a turning speed is the robot's own. Raises Problem when
    the motor cannot measure its speed, or nothing says how fast it turns.
    """
    if not part.counts_per_turn:
        message = f'"{part.name}" has no encoder, so it cannot keep a speed.'
        remedy = "Write a power in %, or say in the rig that it has an encoder."
        raise Problem(error("not-measured", expression.span, message, remedy))
    rate = rig.turn_rate(part.name)
    if rate is None:
        message = f'The rig does not say how fast "{part.name}" turns at full power.'
        raise Problem(error("no-full-speed", expression.span, message, 'Give it: "full_speed": "600 deg/s"'))
    factor = _degrees(rig.drive, part, term.dimension, turning, expression) / rate
    if isinstance(term, terms.Const):
        return terms.Const(term.value * factor, dimension=RATIO)
    return terms.Arithmetic("*", term, terms.Const(factor), dimension=RATIO)


def _degrees(drive: Drive | None, part: Part, dimension: Dimension, turning: str, expression: tree.Expression) -> float:
    """How many degrees a second of the motor are one unit of the speed that was written."""
    if drive is not None and part.name in (drive.left, drive.right):
        if dimension == SPEED:
            return 360 / (drive.wheel_diameter * math.pi)
        if turning:
            return drive.track_width / drive.wheel_diameter * (1 if turning == "centre" else 2)
        return 1.0
    if dimension == TURN_RATE:
        return 1.0
    message = f'"{part.name}" drives no wheel, so its speed is not a way in a time.'
    raise Problem(error("wrong-dimension", expression.span, message, "Write for example: 360 deg/s, or 60 rpm"))


def fastest(rig: Rig, part: Part, dimension: Dimension, turning: str, expression: tree.Expression) -> str:
    """The most that a motor can keep, in the unit of the speed that was written, as text."""
    rate = rig.turn_rate(part.name) or 0.0
    most = part.bounds[1] * rate / _degrees(rig.drive, part, dimension, turning, expression)
    return show(most, dimension.unit, 1)
