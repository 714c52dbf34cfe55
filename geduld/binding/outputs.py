"""Outputs as a step names them: which parts are meant, and what they are set to."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from geduld.binding import moves, terms
from geduld.binding.scale import in_scale
from geduld.binding.scope import Scope
from geduld.language import tree
from geduld.language.messages import Hint, Problem, Span, error, listed, nearest
from geduld.language.quantities import RATIO, show
from geduld.rig.model import Part, Rig


class Outputs:
    """The outputs of a rig, for the steps of one program."""

    def __init__(self, rig: Rig, scope: Scope) -> None:
        self.rig = rig
        self.scope = scope

    def targets(self, word: str, span: Span) -> tuple[Part, ...]:
        """The outputs that a command names: both wheels, or one part. Raises Problem."""
        word = self.scope.real(word)
        if word in ("drive", "turn"):
            if self.rig.drive is None:
                remedy = "Name the motors one by one, or describe the drive in the rig."
                raise Problem(error("no-drive", span, "This rig has no drive.", remedy))
            return self.rig.parts[self.rig.drive.left], self.rig.parts[self.rig.drive.right]
        part = self.rig.parts.get(word)
        outputs = [p.name for p in self.rig.outputs]
        if part is not None and part.is_output:
            return (part,)
        if part is not None:
            message = f'"{word}" is a sensor, so it cannot be commanded.'
            remedy = f"The outputs of this rig are {listed(outputs)}."
            raise Problem(error("not-an-output", span, message, remedy))
        like = nearest(word, [*outputs, *self.scope.outputs, "drive"])
        remedy = f"Did you mean {like}?" if like else f"The outputs of this rig are {listed(outputs)}."
        message = f'"{word}" is not a part of the rig "{self.rig.name}".'
        raise Problem(error("unknown-part", span, message, remedy, like))

    def stopped(self, step: tree.Stop) -> tuple[str, ...]:
        """The outputs that a stop names. Raises Problem for what cannot be stopped."""
        if step.target == "all":
            return tuple(part.name for part in self.rig.outputs if part.kind.stops)
        parts = self.targets(step.target, step.span)
        for part in parts:
            if not part.kind.stops:
                message = f'"{part.name}" is a {part.kind.word}, which holds its angle; there is nothing to stop.'
                raise Problem(error("cannot-stop", step.span, message, "Delete this step."))
        return tuple(part.name for part in parts)

    def _lamp(self, step: tree.Action, part: Part) -> list[terms.Term]:
        if not part.kind.switches:
            message = f"A {part.kind.word} is not just {step.state}; say how much."
            example = f"{step.target} at 60 %" if part.dimension == RATIO else f"{step.target} at 90 deg"
            stop = f", or: stop {step.target}" if step.state == "off" and part.kind.stops else ""
            raise Problem(error("not-a-lamp", step.span, message, f"Write for example: {example}{stop}"))
        return [terms.Const(100.0 if step.state == "on" else 0.0, dimension=RATIO)]

    def values(self, step: tree.Action, parts: tuple[Part, ...]) -> tuple[list[terms.Term], bool]:
        """Each part's value, and whether the values are speeds that are kept."""
        if step.state:
            return self._lamp(step, parts[0]), False
        pivot = (step.about or "centre") if step.turn else ""
        found = self.scope.each(
            *(
                partial(self.value, expression, part, step.target, pivot)
                for expression, part in zip(step.values, parts, strict=False)
            )
        )
        values, regulated = [value for value, _ in found], found[0][1]
        if any(other != regulated for _, other in found):
            raise Problem(two_controls(step.values[1].span))
        if step.turn:
            return _turned(step.turn, pivot, values[0]), regulated
        return values * len(parts) if len(values) == 1 else values, regulated

    def value(self, expression: tree.Expression, part: Part, target: str, pivot: str = "") -> tuple[terms.Term, bool]:
        """A part's value in its own unit, and whether it was written as a speed that is kept."""
        term = in_scale(self.scope.term(expression), part)
        if not (part.kind.spins and moves.is_speed(term)):
            self.scope.must_be(expression, term, part.dimension, f"The value of {target}")
            self._in_range(expression, term, part)
            return term, False
        power = moves.as_power(self.rig, part, term, pivot, expression)
        if isinstance(power, terms.Const) and part.clamp(power.value) != power.value:
            most = moves.fastest(self.rig, part, term.dimension, pivot, expression)
            message = f'"{part.name}" cannot keep this speed; at full power it does {most}.'
            hint = error("past-range", expression.span, message, "Write less, so that it has power to spare.")
            self.scope.hints.append(replace(hint, level="warning"))
        return power, True

    def _in_range(self, expression: tree.Expression, term: terms.Term, part: Part) -> None:
        if isinstance(term, terms.Const) and part.clamp(term.value) != term.value:
            unit = part.unit_word
            shown = show(part.unit.from_base(part.clamp(term.value)) if part.unit else term.value, unit)
            message = f'"{part.name}" cannot do this much; it will do {shown}.'
            hint = error("past-range", expression.span, message, f"Write {shown}, so that the text tells the truth.")
            self.scope.hints.append(replace(hint, level="warning", fix=shown))


def head(step: tree.Action | tree.Ramp) -> Span:
    """The target of a step in the text."""
    span = step.span
    return Span(span.line, span.column, span.line, span.column + len(step.target))


def two_controls(span: Span) -> Hint:
    """The error for a power beside a speed that is kept."""
    message = "One value is a power and the other a speed that is kept."
    return error("two-controls", span, message, "Write both in %, or both as a speed.")


def _turned(side: str, pivot: str, value: terms.Term) -> list[terms.Term]:
    """The values of the left and the right wheel: opposite ones, or none for the wheel that is turned about."""
    back, rest = _negative(value), terms.Const(0.0, dimension=value.dimension)
    left, right = (back, value) if side == "left" else (value, back)
    return [rest if pivot == "left wheel" else left, rest if pivot == "right wheel" else right]


def _negative(term: terms.Term) -> terms.Term:
    if isinstance(term, terms.Const):
        return terms.Const(0.0 - term.value, dimension=term.dimension)
    zero = terms.Const(0.0, dimension=term.dimension)
    return terms.Arithmetic("-", zero, term, dimension=term.dimension)
