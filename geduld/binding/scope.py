"""The names an expression may use, and how it becomes a term."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial
from typing import TypeVar

from geduld.binding import terms
from geduld.binding.asked_by_checks import controlled, keeps, only_in_a_check, placed, referred, still, told
from geduld.binding.dimensions import remedy_for, without_unit
from geduld.binding.handles import Handles, Literal, literal_of
from geduld.binding.scale import in_scale
from geduld.language import tree
from geduld.language.cursor import unknown_unit
from geduld.language.messages import Hint, Problem, Span, error, listed, nearest
from geduld.language.quantities import (
    ANGLE,
    COUNT,
    LENGTH,
    RATIO,
    ROUNDING,
    TEXT,
    TRUTH,
    UNITS,
    Dimension,
    exact,
    show,
    text_code,
    unit_from_text,
)
from geduld.language.words import CONTROLS, FUNCTIONS, JUST, OTHERS, POSE, STATES
from geduld.rig.kinds import ANGLE_OF_A_MOTOR, SPEED_OF_A_MOTOR
from geduld.rig.model import Part, Rig

MOST_TERMS = 5_000
# Expressions become Python expressions, which may hold at most 200 parentheses in each other.
MOST_NESTED, MOST_DEPTH = 64, 150
T = TypeVar("T")
NONE: Mapping[str, str] = {}


@dataclass(frozen=True)
class Value:
    """A let: its term, the number it was written as (to find its handle), and its size."""

    term: terms.Term
    literal: Literal | None
    size: int


class Scope:
    """Turns expressions into terms. `reads_outputs` is true for checks, which may ask what was commanded."""

    def __init__(self, rig: Rig, hints: list[Hint], reads_outputs: bool = False, partner: Rig | None = None) -> None:
        self.rig = rig
        self._partner = None if partner is None else Scope(partner, hints, reads_outputs)
        self.hints = hints
        self.reads_outputs = reads_outputs
        self.lets: dict[str, Value] = {}
        self.outputs: dict[str, str] = {}
        self.formulas: dict[str, tree.Let] = {}
        self.variables: dict[str, Dimension] = {}
        self.timers: dict[str, int] = {}
        self.resets: dict[str, int] = {}
        self.looks: list[int] = []
        self.handles = Handles()
        self.outside: set[str] = set()
        self.size = 0
        self.nested = 0
        self.used: set[str] = set()

    @property
    def partner(self) -> Scope | None:
        """The scope of the other device, where a check may ask for it."""
        return self._partner

    def bind_let(self, let: tree.Let) -> None:
        """Adds a name; a second one, or a part's name, is an error."""
        if let.name in self.lets or let.name in self.formulas or let.name in self.outputs or let.name in self.rig.parts:
            what = "a part of the rig" if let.name in self.rig.parts else "a name above"
            message = f'"{let.name}" is already {what}.'
            raise Problem(error("name-taken", let.name_span, message, "Choose another name."))
        if let.parameters:
            self.formulas[let.name] = let
            if self.handles.silent:
                self.outside.add(let.name)
            return
        output = self.output(let.value)
        if output:
            self.outputs[let.name] = output
            return
        before = self.size
        term = self.term(let.value)
        literal = None if self.handles.silent else literal_of(let.value)
        self.lets[let.name] = Value(term, literal, self.size - before)

    def output(self, expression: tree.Expression) -> str:
        """The output of the rig that a name stands for; empty where it is none."""
        if not isinstance(expression, tree.Name):
            return ""
        self.used.add(expression.name)
        name = self.real(expression.name)
        return name if name in self.rig.output_parts else ""

    def real(self, word: str) -> str:
        """A part, or a property of one, under its own name: an output may have been given another one."""
        first, dot, rest = word.partition(".")
        if first not in self.outputs:
            return word
        self.used.add(first)
        return f"{self.outputs[first]}{dot}{rest}"

    def each(self, *looks: Callable[[], T]) -> list[T]:
        """What several looks find that do not depend on each other.

        Where some raise a Problem, the first is raised, and the hints of the others are kept: each mistake is said.
        """
        found: list[T] = []
        first: Problem | None = None
        for look in looks:
            try:
                found.append(look())
            except Problem as problem:
                if first is None:
                    first = problem
                else:
                    self.hints.append(problem.hint)
        if first is not None:
            raise first
        return found

    def value(
        self, expression: tree.Expression, wanted: Dimension, what: str, beside: terms.Term | None = None
    ) -> terms.Term:
        """A term that must have this dimension; `what` names it in the message; it belongs to what is `beside` it."""
        term = self.term(expression) if beside is None else self._scaled(self.term(expression), beside)
        self.must_be(expression, term, wanted, what)
        return term

    def condition(self, expression: tree.Expression) -> terms.Term:
        """A term that must be a yes or no."""
        term = self.term(expression)
        if term.dimension == TRUTH and not isinstance(term, terms.Reading):
            return term
        if isinstance(term, terms.Reading) and term.dimension == TRUTH:
            fix = f"{term.part} is pressed"
            message = "A condition says what the contact is."
            raise Problem(error("not-a-condition", expression.span, message, f"Write: {fix}", fix))
        message = f"A condition is a yes or no, and this is {term.dimension}."
        raise Problem(error("not-a-condition", expression.span, message, "Compare it: range < 40 cm"))

    def must_be(self, expression: tree.Expression, term: terms.Term, wanted: Dimension, what: str) -> None:
        """Raises the error that shows both dimensions when they differ."""
        if term.dimension is wanted or term.dimension == wanted:
            return
        if term.dimension == COUNT and isinstance(expression, tree.Number | tree.Minus) and wanted.unit:
            raise Problem(without_unit(expression, term, wanted, what))
        message = f"{what} is {wanted}, and this is {term.dimension}."
        raise Problem(error("wrong-dimension", expression.span, message, remedy_for(wanted)))

    def term(self, expression: tree.Expression) -> terms.Term:
        """The term of an expression. Raises Problem with the hint when it has none."""
        self.size += 1
        if self.size > MOST_TERMS:
            message = (
                f"The program's expressions have more than {MOST_TERMS:,} values, counting named ones at each use."
            )
            raise Problem(error("too-long", expression.span, message, "Use fewer names inside names."))
        self.nested += 1
        try:
            term = self._term(expression) if self.nested <= MOST_NESTED else None
        finally:
            self.nested -= 1
        if term is None or (not self.nested and term.depth > MOST_DEPTH):
            message = "Too many values stand inside each other here, counting named ones and formulas at each use."
            raise Problem(error("too-deep", expression.span, message, "Work out a part of it beforehand, with set."))
        return term

    def _term(self, expression: tree.Expression) -> terms.Term:
        match expression:
            case tree.Number():
                unit = unit_from_text(expression.unit) if expression.unit else None
                if expression.unit and unit is None:
                    span = expression.span
                    column = span.end_column - len(expression.unit)
                    raise unknown_unit(expression.unit, Span(span.line, column, span.end_line, span.end_column))
                return terms.Const(exact(expression.text, unit), dimension=unit.dimension if unit else COUNT)
            case tree.Binary():
                return self._binary(expression)
            case tree.Name():
                return self._name(expression)
            case tree.Text():
                message = "A text cannot stand in an expression."
                remedy = 'Use a number or a part; a message is compared with: message is "go"'
                raise Problem(error("wrong-dimension", expression.span, message, remedy))
            case tree.Minus():
                inner = self._number(expression.value)
                if isinstance(inner, terms.Const):
                    return terms.Const(0.0 - inner.value, dimension=inner.dimension)
                zero = terms.Const(0.0, dimension=inner.dimension)
                return terms.Arithmetic("-", zero, inner, dimension=inner.dimension)
            case tree.Call():
                return self._call(expression)
            case tree.Not():
                return terms.Opposite(self.condition(expression.value))
            case tree.Is():
                return self._just(expression) if expression.state in JUST else self._is(expression)
            case tree.Says():
                return self._says(expression)
            case tree.Between():
                low, high = self.each(
                    lambda: self._compare(">=", expression.value, expression.low, expression.span),
                    lambda: self._compare("<=", expression.value, expression.high, expression.span),
                )
                return terms.Junction("or" if self._goes_round(low, high) else "and", low, high)
            case tree.Near():
                return self._near(expression)
            case tree.Follows() | tree.Within() | tree.Inside() | tree.Towards() | tree.Keeps() | tree.Told():
                return self._asked_by_a_check(expression)
        raise TypeError(f"not an expression: {expression!r}")

    def _asked_by_a_check(self, expression: tree.Expression) -> terms.Term:
        if not self.reads_outputs:
            raise only_in_a_check(expression)
        match expression:
            case tree.Follows():
                return self._near(expression)
            case tree.Keeps():
                return keeps(self, expression)
            case tree.Told():
                return told(self, expression)
        assert isinstance(expression, tree.Within | tree.Inside | tree.Towards)
        return placed(self, expression)

    def _number(self, expression: tree.Expression) -> terms.Term:
        """A term that is a number, not a yes or no."""
        term = self.term(expression)
        if term.dimension in (TRUTH, TEXT):
            message = f"A number belongs here, and this is {term.dimension}."
            raise Problem(error("wrong-dimension", expression.span, message, "Take the condition out."))
        return term

    def _name(self, name: tree.Name) -> terms.Term:
        self.used.add(name.name)
        word = self.real(name.name)
        if word in self.lets:
            self.size += self.lets[word].size
            return self.lets[word].term
        if word in self.variables:
            index = list(self.variables).index(word)
            return terms.Variable(index, dimension=self.variables[word])
        if word in self.timers:
            return terms.Timer(self.timers[word])
        if word == "clock":
            return terms.Clock()
        if word == "message":
            return self._message(name.span)
        if word == "pi":
            return terms.Const(math.pi)
        if self.reads_outputs and word.partition(".")[0] in OTHERS and "." in word:
            return referred(self, name)
        if self.reads_outputs and word in POSE:
            what = word.rpartition(".")[2]
            return terms.Pose(what, dimension=ANGLE if what == "heading" else LENGTH)
        if word in self.rig.parts:
            return self._part(self.rig.parts[word], name.span)
        sizes = self.rig.sizes()
        if word in sizes:
            return terms.Const(sizes[word], dimension=LENGTH)
        if word in self.rig.channels:
            return self._property(self.rig.channels[word])
        if self.reads_outputs and word in ("still", "finished"):
            return still(self.rig, name.span) if word == "still" else told(self, tree.Told("finished", ""))
        part = self.rig.parts.get(word.partition(".")[0])
        if part is not None:
            return self._raw(part, word, name.span)
        raise Problem(self._unknown(name))

    def _property(self, channel: Part) -> terms.Term:
        """`left.angle`, `nose.presses`: counted from the last reset, where the program has one."""
        if channel.kind in (ANGLE_OF_A_MOTOR, SPEED_OF_A_MOTOR):
            motor = channel.name.partition(".")[0]
            reading: terms.Term = terms.Encoder(channel.name, motor, dimension=channel.dimension)
        else:
            reading = terms.Reading(channel.name, dimension=channel.dimension)
        index = self.resets.get(channel.name)
        if index is None:
            return reading
        base = terms.Variable(index, dimension=channel.dimension)
        return terms.Arithmetic("-", reading, base, dimension=channel.dimension)

    def _raw(self, part: Part, word: str, span: Span) -> terms.Term:
        """`knob.raw`: the converter's own number, rounded to a whole one."""
        if word == f"{part.name}.raw" and part.raw is not None:
            low = 0.0 if part.low is None else part.low
            high = 100.0 if part.high is None else part.high
            reading = terms.Reading(part.name, dimension=part.dimension)
            above = terms.Arithmetic("-", reading, terms.Const(low, dimension=part.dimension), dimension=part.dimension)
            slope = (part.raw[1] - part.raw[0]) / (high - low)
            scaled = terms.Arithmetic("*", above, terms.Const(slope))
            term = terms.Function("round", (terms.Arithmetic("+", scaled, terms.Const(part.raw[0])),))
            self.handles.raw[term] = part
            return term
        known = [name for name in self.rig.channels if name.startswith(f"{part.name}.")]
        known += [f"{part.name}.raw"] if part.raw else []
        like = nearest(word, known)
        message = f'"{part.name}" has nothing called "{word.partition(".")[2]}".'
        if part.kind.spins and not part.counts_per_turn:
            message = f'"{part.name}" has no encoder, so neither its angle nor its speed can be measured.'
            raise Problem(error("not-measured", span, message, "Say in the rig that it has an encoder, or use a time."))
        remedy = f"Did you mean {like}?" if like else f"There is {listed(known) or 'its reading alone'}."
        raise Problem(error("unknown-property", span, message, remedy, like))

    def _message(self, span: Span) -> terms.Term:
        if self.rig.radio is None:
            message = "This rig has nothing that receives messages."
            raise Problem(error("no-radio", span, message, 'Give the rig a part of the kind "radio".'))
        return terms.Reading(self.rig.radio.name, dimension=TEXT)

    def _says(self, expression: tree.Says) -> terms.Term:
        term = self.term(expression.value)
        if term.dimension != TEXT:
            message = f"This is {term.dimension}, so it is not a text."
            raise Problem(error("wrong-dimension", expression.value.span, message, 'Write: message is "go"'))
        says = terms.Compare("=", term, terms.Const(text_code(expression.text), dimension=TEXT))
        count = self.rig.channels.get(f"{term.part}.messages") if isinstance(term, terms.Reading) else None
        if count is None or count.name not in self.resets:
            return says
        since = self._property(count)
        return terms.Junction("and", says, terms.Compare(">", since, terms.Const(0.0)))

    def _just(self, expression: tree.Is) -> terms.Term:
        """Each place that asks keeps the count it has seen, so that each press is noticed once there."""
        term = self.term(expression.value)
        if not isinstance(term, terms.Reading) or term.dimension != TRUTH:
            message = f"Only a contact is {expression.state}."
            raise Problem(error("wrong-dimension", expression.span, message, "Write: nose is just pressed"))
        if self.reads_outputs:
            message = "A check says when something becomes so with after."
            raise Problem(error("just-in-a-check", expression.span, message, "Write: after nose is pressed, within …"))
        index = self.hidden(COUNT)
        self.looks.append(index)
        word = "presses" if expression.state == "just pressed" else "releases"
        return terms.Just(f"{term.part}.{word}", index)

    def hidden(self, dimension: Dimension) -> int:
        """A variable of our own, which no text can name."""
        index = len(self.variables)
        self.variables[f"#{index}"] = dimension
        return index

    def _part(self, part: Part, span: Span) -> terms.Term:
        if not part.is_output and not part.kind.whole:
            read = [name for name in self.rig.reads if name.startswith(f"{part.name}.")]
            message = f'"{part.name}" is more than one reading.'
            raise Problem(error("unknown-property", span, message, f"Ask for one of them: {listed(read)}."))
        if not part.is_output:
            return terms.Reading(part.name, dimension=part.dimension)
        if self.reads_outputs:
            return terms.Output(part.name, dimension=part.dimension)
        message = f'"{part.name}" is a {part.kind.word}: a behaviour commands it and cannot read it back.'
        remedy = f"{self._sensors()}."
        raise Problem(error("not-a-sensor", span, message, remedy))

    def _sensors(self) -> str:
        names = listed(part.name for part in self.rig.sensors)
        return f"The sensors of this rig are {names}" if names else "This rig has no sensors"

    def _unknown(self, name: tree.Name) -> Hint:
        if name.name == "drive" and self.rig.drive:
            message = "Drive is two motors, so it stands alone on the left of a comparison."
            return error("drive-alone", name.span, message, "Write for example: drive = 0 %")
        known = [
            *self.lets,
            *self.outputs,
            *self.variables,
            *self.timers,
            *self.rig.channels,
            *self.rig.sizes(),
            "clock",
            "pi",
        ]
        like = nearest(name.name, known)
        remedy = f"Did you mean {like}?" if like else f"{self._sensors()}; a value is named by let."
        message = f'"{name.name}" is not a part of the rig, and no value is called so.'
        if name.name in UNITS:
            message = f'"{name.name}" is a unit, and no number stands before it.'
        return error("unknown-name", name.span, message, remedy, like)

    def named(self, names: dict[str, Value], inside: Callable[[], T], outputs: Mapping[str, str] = NONE) -> T:
        """Does something while more names are known: of values, and of outputs."""
        before, before_outputs = self.lets, self.outputs
        self.lets, self.outputs = {**before, **names}, {**before_outputs, **outputs}
        try:
            return inside()
        finally:
            self.lets, self.outputs = before, before_outputs

    def given(self, expression: tree.Expression, term: terms.Term) -> Value:
        """A value for a formula's or routine's name."""
        return Value(term, self.literal(expression), 1 + sum(1 for _ in term.walk()))

    def literal(self, expression: tree.Expression) -> Literal | None:
        """The number that an expression is, or that the let is which it names; None for anything else."""
        if isinstance(expression, tree.Name) and expression.name in self.lets:
            return self.lets[expression.name].literal
        return literal_of(expression)

    def _formula(self, call: tree.Call) -> terms.Term:
        formula = self.formulas.get(call.function)
        self.used.add(call.function)
        if formula is None:
            like = nearest(call.function, [*FUNCTIONS, *self.formulas])
            known = listed([*FUNCTIONS, *self.formulas])
            remedy = f"Did you mean {like}?" if like else f"There are {known}."
            message = f'There is no function or formula called "{call.function}".'
            start = call.span
            span = Span(start.line, start.column, start.line, start.column + len(call.function))
            raise Problem(error("unknown-function", span, message, remedy, like))
        if len(call.values) != len(formula.parameters):
            message = f'"{call.function}" takes {len(formula.parameters)} values, and {len(call.values)} are given.'
            raise Problem(error("value-count", call.span, message, "Add or take away a value."))
        numbers = self.each(*(partial(self._number, value) for value in call.values))
        values = [self.given(value, number) for value, number in zip(call.values, numbers, strict=True)]
        names = dict(zip(formula.parameters, values, strict=True))
        # A formula sees only the formulas above it, so it cannot call itself.
        above, silent = self.formulas, self.handles.silent
        self.handles.silent = silent or call.function in self.outside
        self.formulas = {name: above[name] for name in list(above)[: list(above).index(call.function)]}
        try:
            return self.named(names, lambda: self.term(formula.value))
        except Problem as problem:
            if call.function not in self.outside:
                raise
            message = f'In the library\'s formula "{call.function}": {problem.hint.message}'
            raise Problem(error(problem.hint.code, call.span, message, problem.hint.remedy)) from None
        finally:
            self.formulas, self.handles.silent = above, silent

    def _scale(self, call: tree.Call) -> terms.Term:
        """`(x - a) * ((d - c) / (b - a)) + c`, kept between c and d."""
        x, a, b, c, d = self.each(*(partial(self._number, value) for value in call.values))
        self.must_be(call.values[1], a, x.dimension, "The value that is scaled")
        self.must_be(call.values[2], b, x.dimension, "The value that is scaled")
        self.must_be(call.values[4], d, c.dimension, "The other end")
        ends = [term.value for term in (a, b, c, d) if isinstance(term, terms.Const)]
        if len(ends) != 4 or ends[0] == ends[1]:
            message = "The ends of scale are four fixed values, and the first two differ."
            raise Problem(error("scale-ends", call.span, message, "Write for example: from 0 % to 100 %"))
        low, high, start, stop = ends
        slope = terms.Const((stop - start) / (high - low), dimension=c.dimension / x.dimension)
        rise = terms.Arithmetic("-", x, a, dimension=x.dimension)
        moved = terms.Arithmetic("*", rise, slope, dimension=c.dimension)
        value = terms.Arithmetic("+", moved, c, dimension=c.dimension)
        between = (
            terms.Const(min(start, stop), dimension=c.dimension),
            terms.Const(max(start, stop), dimension=c.dimension),
        )
        return terms.Function("clamp", (value, *between), dimension=c.dimension)

    def _call(self, call: tree.Call) -> terms.Term:
        if call.function not in FUNCTIONS:
            return self._formula(call)
        if call.function == "scale":
            return self._scale(call)
        values = [self._number(value) for value in call.values]
        for expression, term in zip(call.values[1:], values[1:], strict=True):
            self.must_be(expression, term, values[0].dimension, f"The first value of {call.function}")
        return terms.Function(call.function, tuple(values), dimension=values[0].dimension)

    def _is(self, expression: tree.Is) -> terms.Term:
        if expression.state in CONTROLS:
            if not self.reads_outputs:
                raise only_in_a_check(expression)
            return controlled(self, expression)
        term = self.term(expression.value)
        if expression.state == "absent":
            if not isinstance(term, terms.Reading):
                message = "Only a sensor's reading can be absent."
                raise Problem(error("not-a-sensor", expression.span, message, "Write for example: range is absent"))
            return terms.Absent(term)
        wanted = STATES[expression.state]
        inner = term.inner if isinstance(term, terms.Reference) else term
        if isinstance(inner, terms.Output) and expression.state in ("on", "off"):
            return terms.Compare("!=" if wanted else "=", term, terms.Const(0.0, dimension=term.dimension))
        if isinstance(inner, terms.Reading) and term.dimension == TRUTH:
            return terms.Compare("=", term, terms.Const(1.0 if wanted else 0.0, dimension=TRUTH))
        contacts = [name for name, part in self.rig.reads.items() if part.kind.is_contact]
        message = f'This is {term.dimension}, so it cannot be "{expression.state}".'
        remedy = f"Only contacts can: {listed(contacts) or 'this rig has none'}. Or compare it: range < 40 cm"
        raise Problem(error("wrong-dimension", expression.span, message, remedy))

    def _binary(self, expression: tree.Binary) -> terms.Term:
        if expression.sign in ("and", "or"):
            left, right = self.each(lambda: self.condition(expression.left), lambda: self.condition(expression.right))
            return terms.Junction(expression.sign, left, right)
        if expression.sign not in ("+", "-", "*", "/"):
            return self._compare(expression.sign, expression.left, expression.right, expression.span)
        left, right = self.each(lambda: self._number(expression.left), lambda: self._number(expression.right))
        if expression.sign in ("+", "-"):
            same = "added" if expression.sign == "+" else "taken away"
            self._same(expression, left, right, same)
            dimension = left.dimension
        elif expression.sign == "*":
            dimension = left.dimension * right.dimension
        else:
            dimension = left.dimension / right.dimension
            if isinstance(right, terms.Const) and right.value == 0:
                message = "This divides by zero."
                raise Problem(error("divides-by-zero", expression.span, message, "Mend the number below the /."))
        if isinstance(left, terms.Const) and isinstance(right, terms.Const):
            return terms.Const(_fold(expression.sign, left.value, right.value), dimension=dimension)
        return terms.Arithmetic(expression.sign, left, right, dimension=dimension)

    def _same(self, expression: tree.Binary, left: terms.Term, right: terms.Term, verb: str) -> None:
        if left.dimension == right.dimension:
            return
        for here, term, other in ((expression.right, right, left), (expression.left, left, right)):
            if term.dimension == COUNT and isinstance(here, tree.Number):
                raise Problem(without_unit(here, term, other.dimension, "The other value"))
        message = f"Here {left.dimension} and {right.dimension} are {verb}."
        remedy = "Both must be of one kind, for example: range - 12 cm"
        raise Problem(error("wrong-dimension", expression.span, message, remedy))

    def _compare(self, sign: str, left: tree.Expression, right: tree.Expression, span: Span) -> terms.Term:
        if isinstance(left, tree.Name) and left.name == "drive":
            return self._compare_drive(sign, left, right, span)
        a, b = self.each(lambda: self.term(left), lambda: self.term(right))
        a, b = self._scaled(a, b), self._scaled(b, a)
        if TEXT in (a.dimension, b.dimension):
            raise Problem(error("wrong-dimension", span, "A text is not compared so.", 'Write: message is "go"'))
        if a.dimension == TRUTH or b.dimension == TRUTH:
            message = "A contact is not compared with a number."
            raise Problem(error("wrong-dimension", span, message, "Write: nose is pressed, or: nose is released"))
        if a.dimension != b.dimension:
            for here, term, other, named in ((right, b, a, left), (left, a, b, right)):
                if term.dimension == COUNT and isinstance(here, tree.Number | tree.Minus):
                    raise Problem(
                        self._raw_meant(named, other) or without_unit(here, term, other.dimension, "The other side")
                    )
            message = f"Here {a.dimension} is compared with {b.dimension}."
            raise Problem(error("wrong-dimension", span, message, remedy_for(a.dimension)))
        self.handles.compared(a, self.literal(right), b)
        self.handles.compared(b, self.literal(left), a)
        return terms.Compare(sign, a, b)

    def _scaled(self, term: terms.Term, other: terms.Term) -> terms.Term:
        """A plain number beside an output that has a scale of its own, as the power that it is there."""
        inner = other.inner if isinstance(other, terms.Reference) else other
        return in_scale(term, self._rig_of(other).parts[inner.part]) if isinstance(inner, terms.Output) else term

    def _rig_of(self, term: terms.Term) -> Rig:
        """The rig of the device that a reading or an output belongs to."""
        partners = self.partner is not None and isinstance(term, terms.Reference) and term.whose == "partner"
        return self.partner.rig if partners and self.partner is not None else self.rig

    def _raw_meant(self, named: tree.Expression, term: terms.Term) -> Hint | None:
        """The error for a plain number beside a reading whose converter's numbers are known: they are meant."""
        part = self.rig.parts.get(term.part) if isinstance(term, terms.Reading) else None
        if part is None or part.raw is None or not isinstance(named, tree.Name):
            return None
        ends = f"{show(part.raw[0])} to {show(part.raw[1])}"
        message = f"{named.name} is {term.dimension}; the converter's own numbers, {ends}, are {named.name}.raw."
        fix = f"{named.name}.raw"
        return error("number-without-unit", named.span, message, f"Write {fix}, or give the number its unit.", fix)

    def _compare_drive(self, sign: str, left: tree.Name, right: tree.Expression, span: Span) -> terms.Term:
        """A comparison of `drive` holds when it holds for both wheels; `!=` when `=` does not."""
        sides = self._drive_sides(left.span)
        value = self._scaled(self.term(right), sides[0])
        self.must_be(right, value, RATIO, "The power of drive")
        if sign == "!=":
            return terms.Opposite(_on_both("=", sides, value))
        return _on_both(sign, sides, value)

    def _drive_sides(self, span: Span) -> tuple[terms.Term, terms.Term]:
        drive = self.rig.drive
        if drive is None:
            remedy = "Name a motor, or describe the drive in the rig."
            raise Problem(error("no-drive", span, "This rig has no drive.", remedy))
        parts = self.rig.parts
        return self._part(parts[drive.left], span), self._part(parts[drive.right], span)

    def _near(self, expression: tree.Near | tree.Follows) -> terms.Term:
        of_drive = isinstance(expression.value, tree.Name) and expression.value.name == "drive"
        measured = self._drive_sides(expression.value.span)[0] if of_drive else self._number(expression.value)
        wanted = self._scaled(self._number(expression.wanted), measured)
        tolerance = self._number(expression.tolerance)
        around = self._scaled(tolerance, measured)
        if isinstance(around, terms.Const) and around is not tolerance:
            # a number of a scale is no decimal number of percents
            around = terms.Const(around.value + ROUNDING, dimension=RATIO)
        self.must_be(expression.tolerance, around, wanted.dimension, "The tolerance")
        if of_drive:
            self.must_be(expression.wanted, wanted, RATIO, "The power of drive")
            left, right = self._drive_sides(expression.value.span)
            return terms.Junction("and", _near(left, wanted, around), _near(right, wanted, around))
        value = measured
        if isinstance(value, terms.Reading):
            written = expression.wanted
            self.handles.sets("near", written.span.line, self.literal(written), wanted, value.part)
        sign = "=" if isinstance(expression, tree.Near) else "follows"
        self.must_be(expression.wanted, wanted, value.dimension, f"The value before {sign}")
        return _near(value, wanted, around, self._full_turn(value))

    def _full_turn(self, value: terms.Term) -> float:
        """Where the values of a reading begin again; 0 where they do not."""
        inner = value.inner if isinstance(value, terms.Reference) else value
        return self._rig_of(value).channels[inner.part].kind.full_turn if isinstance(inner, terms.Reading) else 0.0

    def _goes_round(self, low: terms.Term, high: terms.Term) -> bool:
        """Whether a band goes on over the full turn: from 330 deg to 30 deg."""
        if not isinstance(low, terms.Compare) or not isinstance(high, terms.Compare) or not self._full_turn(low.left):
            return False
        ends = low.right, high.right
        return isinstance(ends[0], terms.Const) and isinstance(ends[1], terms.Const) and ends[0].value > ends[1].value


def _near(value: terms.Term, wanted: terms.Term, around: terms.Term, full_turn: float = 0.0) -> terms.Term:
    """Not farther apart than a tolerance; of values that begin again after a full turn, the shorter way round."""
    dimension = value.dimension
    if full_turn and isinstance(wanted, terms.Const):
        wanted = terms.Const(wanted.value % full_turn, dimension=dimension)
    gap: terms.Term = terms.Function(
        "abs", (terms.Arithmetic("-", value, wanted, dimension=dimension),), dimension=dimension
    )
    if full_turn:
        other_way = terms.Arithmetic("-", terms.Const(full_turn, dimension=dimension), gap, dimension=dimension)
        gap = terms.Function("min", (gap, other_way), dimension=dimension)
    return terms.Compare("<=", gap, around)


def _on_both(sign: str, sides: tuple[terms.Term, terms.Term], value: terms.Term) -> terms.Term:
    left, right = (terms.Compare(sign, side, value) for side in sides)
    return terms.Junction("and", left, right)


def _fold(sign: str, left: float, right: float) -> float:
    if sign == "+":
        return left + right
    if sign == "-":
        return left - right
    return left * right if sign == "*" else left / right
