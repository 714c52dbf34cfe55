"""Binds a plan to a rig: every name becomes a part or a value, every value gets its dimension."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial
from typing import Any

from geduld.binding import moves, terms
from geduld.binding.bands import bands_of, fixed
from geduld.binding.library import Library, as_outside, included
from geduld.binding.outputs import Outputs, head, two_controls
from geduld.binding.scope import Scope
from geduld.language import tree
from geduld.language.messages import Hint, Problem, Span, error, nearest
from geduld.language.quantities import ANGLE, COUNT, TEXT, TIME, TRUTH, TURN_RATE, Dimension, show
from geduld.language.words import STEP_WORDS
from geduld.rig.model import Part, Rig

MOST_STEPS = 20_000
MOST_LANES = 64
# A program becomes one Python function, in which at most 20 loops may stand in each other.
MOST_DEPTH = 18
MOST_PERFORMING = 40


def bind(plan: tree.Plan, rig: Rig, library: Library | None = None) -> terms.Bound:
    """The plan's steps as the rig can run them, or the hints that say why it cannot.

    Every line is looked at; a line with an error costs only itself. `library` holds what `include` may name.
    """
    return Binder(rig, library or {}).plan(plan)


class Binder:
    """Binds steps to a rig, line by line; `hints` is what is wrong with them."""

    def __init__(self, rig: Rig, library: Library) -> None:
        self.rig = rig
        self.library = library
        self.foreign: dict[str, str] = {}
        self.inside: tuple[str, Span] | None = None
        self.hints: list[Hint] = []
        self.scope = Scope(rig, self.hints)
        self.outputs = Outputs(rig, self.scope)
        self.loops = 0
        self.lanes = 0
        self.routines: dict[str, tree.Routine] = {}
        self.performing: list[str] = []
        self.in_held = 0
        self.performed: set[str] = set()
        self.count = 0
        self.depth = 0
        self.set_at: dict[str, Span] = {}

    def plan(self, plan: tree.Plan) -> terms.Bound:
        """A whole plan."""
        if plan.rig is not None and plan.rig != self.rig.name:
            message = f'This behaviour is written for the rig "{plan.rig}", and it is tried on "{self.rig.name}".'
            hint = error("other-rig", Span(1, 1, 1, 2), message, "Choose that rig, or change the line for rig.")
            self.hints.append(replace(hint, level="warning"))
        if plan.is_library:
            return self._as_library(plan)
        for include in plan.includes:
            try:
                self._include(include)
            except Problem as problem:
                self.hints.append(problem.hint)
        self._names(plan)
        steps = self.steps(plan.begin)
        counted = [*self.scope.resets.values(), *self.scope.looks]
        nothing = terms.Const(0.0)
        steps = (*(terms.Assign(1, index, nothing) for index in counted), *steps)
        thresholds = tuple(self.scope.handles.thresholds)
        # A routine is bound at each place that performs it, so its hints may come more than once.
        hints = tuple(sorted(dict.fromkeys(self.hints), key=lambda hint: hint.order))
        settings = tuple(self.scope.handles.settings)
        return terms.Bound(steps, tuple(self.scope.variables), hints, thresholds, settings, self._unused(plan))

    def _names(self, plan: tree.Plan) -> None:
        for name in (real for written in _reset_names(plan) for real in self._may_be(self._message_count(written))):
            channel = self.rig.channels.get(name)
            if channel is not None and channel.counts and name not in self.scope.resets:
                self.scope.resets[name] = self.hidden(channel.dimension)
        for let in plan.lets:
            try:
                self.scope.bind_let(let)
            except Problem as problem:
                self.hints.append(problem.hint)
        for routine in plan.routines:
            self._routine(routine)

    def _may_be(self, name: str) -> Iterator[str]:
        """The channels that a text may mean by a name: a motor may be called otherwise there."""
        first, dot, rest = name.partition(".")
        if dot and first not in self.rig.parts:
            yield from (f"{part.name}.{rest}" for part in self.rig.outputs)
        else:
            yield name

    def _as_library(self, plan: tree.Plan) -> terms.Bound:
        """A library cannot be run; its routines without values are bound so that their errors are said."""
        self._names(plan)
        for routine in plan.routines:
            if not routine.parameters:
                self.steps(routine.body)
        if not any(hint.level == "error" for hint in self.hints):
            message = "A library has no begin: it is run by the behaviours that include it."
            remedy = f'Write in a behaviour: include "{plan.title}"'
            self.hints.append(error("library-alone", Span(1, 1, 1, 2), message, remedy))
        return terms.Bound((), (), tuple(sorted(dict.fromkeys(self.hints), key=lambda hint: hint.order)))

    def _include(self, include: tree.Include) -> None:
        found = included(self.library, include)
        before = len(self.hints)
        self.scope.handles.silent = True
        self._names(found)
        self.scope.handles.silent = False
        self.foreign |= {routine.name: include.name for routine in found.routines}
        self.hints[before:] = [as_outside(hint, include.name, include.span) for hint in self.hints[before:]]

    def _unused(self, plan: tree.Plan) -> tuple[tuple[str, Span], ...]:
        """Lets, values and routines that nothing uses. A value that is only set is used by nothing."""
        named = [(let.name, let.name_span) for let in plan.lets]
        named += [(name, span) for name, span in self.set_at.items()]
        unused = [(name, span) for name, span in named if name not in self.scope.used]
        unused += [(r.name, r.name_span) for r in plan.routines if r.name not in self.performed]
        return tuple(unused)

    def steps(self, block: tree.Block) -> tuple[terms.Step, ...]:
        """The steps of a block that the rig can do; what is wrong with the others is kept as hints."""
        if self.depth >= MOST_DEPTH:
            message = f"Blocks stand inside blocks more than {MOST_DEPTH} deep here, counting routines at each use."
            span = block.steps[0].span if block.steps else Span(1, 1, 1, 2)
            self.hints.append(error("too-deep", span, message, "Take some of them apart."))
            return ()
        self.depth += 1
        steps = self._steps_inside(block)
        self.depth -= 1
        return steps

    def _steps_inside(self, block: tree.Block) -> tuple[terms.Step, ...]:
        steps: list[terms.Step] = []
        for step in block.steps:
            self.count += 1
            if self.count > MOST_STEPS:
                message = f"The program has more than {MOST_STEPS:,} steps, counting routines at each use."
                self.hints.append(error("too-long", step.span, message, "Use repeat, or fewer routines in routines."))
                break
            try:
                if isinstance(step, tree.Perform):
                    steps += self._perform(step)
                    continue
                if isinstance(step, tree.Do) and step.held:
                    steps += self._held_do(step)
                    continue
                steps.append(self.step(step))
            except Problem as problem:
                self.hints.append(problem.hint)
                self._look_inside(step)
        return tuple(steps)

    def _look_inside(self, step: tree.Step) -> None:
        """Binds the blocks of a step that has an error, so that errors inside them are said as well."""
        self.loops += isinstance(step, tree.Repeat)
        for block in tree.blocks_in(step):
            self.steps(block)
        self.loops -= isinstance(step, tree.Repeat)

    def step(self, step: tree.Step) -> terms.Step:
        """One step. Raises Problem when the rig cannot do it."""
        line = self.inside[1].line if self.inside else step.span.line
        match step:
            case tree.Action():
                return self._action(line, step)
            case tree.Ramp():
                return self._ramp(line, step)
            case tree.By():
                return self._by(line, step)
            case tree.Stop():
                return self._halt(line, step)
            case tree.Wait():
                return terms.Wait(line, self._wait_ending(line, step.ending))
            case tree.Repeat():
                return self._repeat(line, step)
            case tree.Side():
                return self._side(line, step)
            case tree.Do():
                condition = self.scope.condition(step.condition)
                return terms.Guarded(line, condition, self.steps(step.body), self.steps(step.handler))
            case tree.Leave():
                if not self.loops:
                    message = "Leave stands outside every repeat."
                    if self.in_held:
                        message = "A do that is abandoned when something was held for a time is not left with leave."
                    raise Problem(error("lonely-leave", step.span, message, "Delete it, or use finish."))
                return terms.Leave(line)
            case tree.If():
                return self._if(line, step)
            case tree.Set():
                return self._set(line, step)
            case tree.StartTimer():
                return self._start(line, step)
            case tree.Reset():
                return self._reset(line, step)
            case tree.Send():
                return terms.Send(line, step.text)
            case tree.Note():
                return terms.Note(line, step.text)
            case tree.Finish():
                return terms.Finish(line, step.why)
        raise TypeError(f"not a step: {step!r}")

    def _routine(self, routine: tree.Routine) -> None:
        taken = [*self.rig.parts, *self.scope.lets, *self.scope.outputs, *self.scope.formulas, *self.routines]
        twice = next((name for name in (routine.name, *routine.parameters) if name in taken), None)
        if twice is not None:
            message = f'"{twice}" is already the name of something else.'
            self.hints.append(error("name-taken", routine.name_span, message, "Choose another name."))
            return
        self.routines[routine.name] = routine

    def _perform(self, step: tree.Perform) -> tuple[terms.Step, ...]:
        routine = self.routines.get(step.name)
        if routine is None:
            raise Problem(self._no_routine(step))
        self.performed.add(step.name)
        if len(step.values) != len(routine.parameters):
            message = f'"{step.name}" takes {len(routine.parameters)} values, and {len(step.values)} are given.'
            raise Problem(error("value-count", step.span, message, "Add or take away a value."))
        if step.name in self.performing:
            message = f'"{step.name}" performs itself, so it would never end.'
            raise Problem(error("routine-circle", step.span, message, "Use repeat."))
        if len(self.performing) >= MOST_PERFORMING:
            message = f"Routines perform each other more than {MOST_PERFORMING} deep here."
            raise Problem(error("too-deep", step.span, message, "Put some of them into one."))
        before: list[terms.Step] = []
        names, outputs = {}, {}
        for name, expression in zip(routine.parameters, step.values, strict=True):
            output = self.scope.output(expression)
            if output:
                outputs[name] = output
                continue
            term = self.scope.term(expression)
            if not isinstance(term, terms.Const):
                index = self.hidden(term.dimension)
                before.append(terms.Assign(step.span.line, index, term))
                term = terms.Variable(index, dimension=term.dimension)
            names[name] = self.scope.given(expression, term)
        loops, self.loops = self.loops, 0
        self.performing.append(step.name)
        self.depth -= 1  # its steps take the place of this one, in the same block
        body = self.scope.named(names, lambda: self._body(step, routine), outputs)
        self.depth += 1
        self.performing.pop()
        self.loops = loops
        return (*before, *body)

    def _body(self, step: tree.Perform, routine: tree.Routine) -> tuple[terms.Step, ...]:
        """A routine's steps. Those of a library stand at the line that performs them: its text is not shown."""
        library = self.foreign.get(routine.name)
        if library is None or self.inside:
            return self.steps(routine.body)
        self.inside = library, step.span
        self.scope.handles.silent = True
        before = len(self.hints)
        body = self.steps(routine.body)
        self.inside, self.scope.handles.silent = None, False
        self.hints[before:] = [as_outside(hint, library, step.span) for hint in self.hints[before:]]
        return body

    def hidden(self, dimension: Dimension) -> int:
        """A variable that no text names."""
        return self.scope.hidden(dimension)

    def _no_routine(self, step: tree.Perform) -> Hint:
        span = Span(step.span.line, step.span.column, step.span.line, step.span.column + len(step.name))
        if step.name in self.rig.parts:
            message = f'"{step.name}" is a part; say what it should do.'
            return error("unexpected", span, message, f"Write for example: {step.name} at 40 % for 2 s")
        like = nearest(step.name, [*STEP_WORDS, *self.routines])
        message = f'"{step.name}" does not start a step, and no routine is called so.'
        remedy = f"Did you mean {like}?" if like else f'A routine is written above begin: "to {step.name}:"'
        return error("unknown-step", span, message, remedy, like)

    def _ramp(self, line: int, step: tree.Ramp) -> terms.Step:
        parts = self.outputs.targets(step.target, head(step))
        looks: tuple[Callable[[], Any], ...] = (
            lambda: self.outputs.value(step.start, parts[0], step.target),
            lambda: self.outputs.value(step.stop, parts[0], step.target),
            lambda: self._time(line, step.over, "How long"),
        )
        (start, starts_regulated), (stop, regulated), over = self.scope.each(*looks)
        if regulated != starts_regulated:
            raise Problem(two_controls(step.stop.span))
        for part in parts:
            self._sets_output(line, step.start, start, part)
            self._sets_output(line, step.stop, stop, part)
        names = tuple(part.name for part in parts)
        stops = tuple(part.name for part in parts if part.kind.stops)
        return terms.Ramp(line, names, start, stop, over, () if step.keep_going else stops, stops, regulated)

    def _held_do(self, step: tree.Do) -> tuple[terms.Step, ...]:
        """`do: … unless C, held T:`: a lane that watches runs beside the body.

        When C has held for T it raises a flag, and that abandons the body; when the body ends first, that ends the
        watching.
        """
        line = self.inside[1].line if self.inside else step.span.line
        flag, over = self.hidden(COUNT), self.hidden(COUNT)
        one = terms.Const(1.0)
        raised, ended = (terms.Compare("=", terms.Variable(index), one) for index in (flag, over))
        until = self._until(line, tree.Until(step.condition, step.held))
        loops, self.loops, self.in_held = self.loops, 0, self.in_held + 1
        body = self.steps(step.body)
        self.loops, self.in_held = loops, self.in_held - 1
        watching = terms.Guarded(line, ended, (terms.Wait(line, until), terms.Assign(line, flag, one)), ())
        doing = (terms.Guarded(line, raised, body, ()), terms.Assign(line, over, one))
        self.lanes += 2
        nothing = terms.Const(0.0)
        return (
            terms.Assign(line, flag, nothing),
            terms.Assign(line, over, nothing),
            terms.Side(line, (("watching", (watching,)), ("doing", doing))),
            terms.Branches(line, ((raised, self.steps(step.handler)),)),
        )

    def _side(self, line: int, step: tree.Side) -> terms.Step:
        lanes: list[tuple[str, tuple[terms.Step, ...]]] = []
        owner: dict[str, str] = {}
        loops, self.loops = self.loops, 0
        for lane in step.lanes:
            body = self.steps(lane.body)
            for name in commanded(body):
                if owner.setdefault(name, lane.name) != lane.name:
                    message = f'The lanes "{owner[name]}" and "{lane.name}" both command "{name}".'
                    remedy = "Let one lane command each part; stop all commands every motor and lamp."
                    raise Problem(error("two-lanes-one-part", lane.span, message, remedy))
            lanes.append((lane.name, body))
        self.loops = loops
        self.lanes += len(lanes)
        if self.lanes > MOST_LANES:
            message = f"The program has more than {MOST_LANES} lanes, counting routines at each use."
            raise Problem(error("too-long", step.span, message, "Use fewer lanes: one for each group of parts."))
        return terms.Side(line, tuple(lanes))

    def _by(self, line: int, step: tree.By) -> terms.Step:
        value = self.scope.term(step.value)
        if value.dimension in (TRUTH, TEXT):
            message = f"Bands divide a number, and this is {value.dimension}."
            raise Problem(error("wrong-dimension", step.value.span, message, "Use if."))
        slack = fixed(self.scope, step.slack, value.dimension, "The slack") if step.slack else 0.0
        absent = next((self.steps(band.body) for band in step.bands if band.form == "absent"), ())
        bands, edges = bands_of(self.scope, step, value)
        bodies = tuple(self.steps(band.body) for band in bands)
        return terms.Bands(line, self.hidden(COUNT), value, edges, slack, bodies, absent)

    def _if(self, line: int, step: tree.If) -> terms.Step:
        arms = []
        for branch in step.branches:
            condition = None
            try:
                condition = self.scope.condition(branch.condition) if branch.condition else None
            except Problem as problem:
                self.hints.append(problem.hint)
            arms.append((condition, self.steps(branch.body)))
        return terms.Branches(line, tuple(arms))

    def _repeat(self, line: int, step: tree.Repeat) -> terms.Step:
        value = None
        if step.form == "times" and step.value:
            value = self.scope.value(step.value, COUNT, "How often to repeat")
            if isinstance(value, terms.Const) and (value.value < 0 or value.value % 1):
                message = f"A body cannot be repeated {show(value.value)} times."
                raise Problem(error("repeat-count", step.value.span, message, "Write a whole number."))
        elif step.value:
            value = self.scope.condition(step.value)
        self.loops += 1
        body = self.steps(step.body)
        self.loops -= 1
        return terms.Repeat(line, step.form, value, body)

    def _set(self, line: int, step: tree.Set) -> terms.Step:
        taken = "a part of the rig" if step.name in self.rig.parts else "named by let"
        taken = "a timer" if step.name in self.scope.timers else taken
        if step.name in self.rig.parts or step.name in self.scope.lets or step.name in self.scope.timers:
            message = f'"{step.name}" is {taken}, so set cannot change it.'
            raise Problem(error("name-taken", step.name_span, message, "Use another name."))
        value = self.scope.term(step.value)
        if value.dimension in (TRUTH, TEXT):
            message = f"A value is a number with its unit, and this is {value.dimension}."
            raise Problem(error("wrong-dimension", step.value.span, message, "Use if, and set a number in it."))
        self.set_at.setdefault(step.name, step.name_span)
        known = self.scope.variables.setdefault(step.name, value.dimension)
        self.scope.must_be(step.value, value, known, f'What "{step.name}" holds')
        return terms.Assign(line, list(self.scope.variables).index(step.name), value)

    def _start(self, line: int, step: tree.StartTimer) -> terms.Step:
        named = (
            *self.rig.parts,
            *self.scope.lets,
            *self.scope.outputs,
            *self.scope.formulas,
            *self.scope.variables,
            *self.routines,
        )
        if step.name in named:
            message = f'"{step.name}" is already the name of something else.'
            raise Problem(error("name-taken", step.name_span, message, "Use another name for the timer."))
        self.set_at.setdefault(step.name, step.name_span)
        index = self.scope.timers.get(step.name)
        if index is None:
            index = self.scope.timers[step.name] = self.hidden(COUNT)
        return terms.Assign(line, index, _TICK)

    def _reset(self, line: int, step: tree.Reset) -> terms.Step:
        name = self.scope.real(self._message_count(step.name))
        if name in self.scope.timers:
            return terms.Assign(line, self.scope.timers[name], _TICK)
        if name in self.scope.variables:
            nothing = terms.Const(0.0, dimension=self.scope.variables[name])
            return terms.Assign(line, list(self.scope.variables).index(name), nothing)
        term = self.scope.term(tree.Name(name, span=step.name_span))
        if name not in self.scope.resets:
            message = f'"{name}" does not count, so it cannot be reset.'
            remedy = "An angle, a count of presses, a timer and a value that set has given can be reset."
            raise Problem(error("cannot-reset", step.name_span, message, remedy))
        counted = next(item for item in term.walk() if isinstance(item, terms.Reading))
        return terms.Assign(line, self.scope.resets[name], counted)

    def _message_count(self, name: str) -> str:
        """`reset message` starts the count of messages anew, so that only one that comes from now on is a message."""
        return f"{self.rig.radio.name}.messages" if name == "message" and self.rig.radio else name

    def _wait_ending(self, line: int, ending: tree.For | tree.Until) -> terms.Term | terms.Until:
        if isinstance(ending, tree.Until):
            return self._until(line, ending)
        if ending.by:
            message = "A wait is a time; nothing moves that could be measured."
            raise Problem(error("nothing-measured", ending.span, message, f"Delete by {ending.by}."))
        return self._time(line, ending.quantity, "How long")

    def _ending(self, line: int, step: tree.Action, parts: tuple[Part, ...]) -> terms.Ending | None:
        ending = step.ending
        if ending is None or isinstance(ending, tree.Until):
            return None if ending is None else self._until(line, ending)
        amount = self.scope.term(ending.quantity)
        if amount.dimension in (COUNT, TRUTH, TEXT):
            self.scope.must_be(ending.quantity, amount, TIME, "How long")
        if amount.dimension != TIME:
            self.scope.handles.sets("way", line, self.scope.literal(ending.quantity), amount)
            return moves.travel(self.rig, step, parts, ending, amount)
        return self._wait_ending(line, ending)

    def _look_at_values(self, step: tree.Action) -> None:
        """Of a step that commands nothing we know: what is wrong with its values and its ending all the same."""
        looks: list[Callable[[], Any]] = [partial(self.scope.term, value) for value in step.values]
        if isinstance(step.ending, tree.Until):
            looks.append(partial(self.scope.condition, step.ending.condition))
        elif step.ending is not None:
            looks.append(partial(self.scope.term, step.ending.quantity))
        for look in looks:
            try:
                look()
            except Problem as problem:
                self.hints.append(problem.hint)

    def _until(self, line: int, ending: tree.Until) -> terms.Until:
        held_for, patience_for = ending.held, ending.patience
        looks: tuple[Callable[[], Any], ...] = (
            lambda: self.scope.condition(ending.condition),
            lambda: self._time(line, held_for, "How long it is held", "held") if held_for else None,
            lambda: self._time(line, patience_for, "The patience", "patience") if patience_for else None,
        )
        condition, held, patience = self.scope.each(*looks)
        if ending.held and any(isinstance(term, terms.Just) for term in condition.walk()):
            message = "Just pressed is one instant, so it cannot be held."
            raise Problem(error("just-held", ending.held.span, message, "Write is pressed, or delete held."))
        otherwise = self.steps(ending.otherwise) if ending.otherwise else ()
        return terms.Until(condition, held, patience, otherwise, ending.otherwise is not None)

    def _time(self, line: int, expression: tree.Expression, what: str, sets: str = "time") -> terms.Term:
        term = self.scope.value(expression, TIME, what)
        if isinstance(term, terms.Const) and term.value < 0:
            message = "A time cannot be less than nothing."
            raise Problem(error("negative-time", expression.span, message, "Take the minus sign away."))
        self.scope.handles.sets(sets, line, self.scope.literal(expression), term)
        return term

    def _halt(self, line: int, step: tree.Stop) -> terms.Step:
        stopped = self.outputs.stopped(step)
        style = {"": "", "braking": "brake", "coasting": "coast"}[step.by]
        if style and any(not self.rig.parts[name].kind.spins for name in stopped) and step.target != "all":
            message = f'"{step.target}" is not a motor, so it neither brakes nor coasts.'
            raise Problem(error("cannot-brake", step.span, message, f"Delete by {step.by}."))
        return terms.Halt(line, stopped, style)

    def _action(self, line: int, step: tree.Action) -> terms.Step:
        if step.keep_going and step.ending is None:
            message = "Keep going belongs behind for or until; this step has no ending."
            raise Problem(error("keep-going-without-ending", step.span, message, "Delete it."))
        try:
            parts = self.outputs.targets(step.target, head(step))
        except Problem:
            self._look_at_values(step)
            raise
        if parts[0].kind.steps and len(step.values) == 1 and not step.follows:
            rate = self.scope.term(step.values[0])
            if rate.dimension == TURN_RATE:
                return self._turn_on(line, step, parts[0], rate)
        looks: tuple[Callable[[], Any], ...] = (
            lambda: self.outputs.values(step, parts),
            lambda: self._ending(line, step, parts),
        )
        (values, regulated), ending = self.scope.each(*looks)
        for index, (part, value) in enumerate(zip(parts, values, strict=True)):
            if step.values:
                self._sets_output(line, step.values[min(index, len(step.values) - 1)], value, part)
        settings = tuple((part.name, value) for part, value in zip(parts, values, strict=True))
        stops = tuple(part.name for part in parts if part.kind.stops)
        if step.follows and ending is not None:
            return terms.Follow(line, settings, ending, () if step.keep_going else stops, stops, regulated)
        stopped = () if step.keep_going or not step.ending else stops
        return terms.Command(line, settings, ending, stopped, stops, regulated)

    def _sets_output(self, line: int, expression: tree.Expression, value: terms.Term, part: Part) -> None:
        self.scope.handles.sets("output", line, self.scope.literal(expression), value, part.name)

    def _turn_on(self, line: int, step: tree.Action, part: Part, rate: terms.Term) -> terms.Step:
        """A stepper that turns on from where it stands, at a speed: for a time, or by an angle."""
        example = f"Write for example: {part.name} at 360 deg/s for 2 s"
        if not isinstance(step.ending, tree.For) or step.ending.by:
            message = f'"{part.name}" is a {part.kind.word}: at a speed it turns for a time, or by an angle.'
            raise Problem(error("missing-time", step.span, message, example))
        amount = self.scope.term(step.ending.quantity)
        if amount.dimension == ANGLE:
            if not isinstance(rate, terms.Const) or rate.value == 0:
                message = "An angle is made at a fixed speed that is not nothing."
                raise Problem(error("missing-time", step.values[0].span, message, example))
            self.scope.handles.sets("way", line, self.scope.literal(step.ending.quantity), amount)
            way = _worked_out("*", amount, terms.Const(math.copysign(1.0, rate.value)), ANGLE)
            over = _worked_out("/", amount, terms.Const(abs(rate.value), dimension=TURN_RATE), TIME)
        else:
            over = self._time(line, step.ending.quantity, "How long it turns")
            way = _worked_out("*", rate, over, ANGLE)
        nothing = terms.Const(0.0, dimension=ANGLE)
        return terms.Ramp(line, (part.name,), nothing, way, over, (), (), onwards=True)


def _worked_out(sign: str, left: terms.Term, right: terms.Term, dimension: Dimension) -> terms.Term:
    """A product or a quotient; of fixed values what it comes to."""
    if isinstance(left, terms.Const) and isinstance(right, terms.Const):
        return terms.Const(left.value * right.value if sign == "*" else left.value / right.value, dimension=dimension)
    return terms.Arithmetic(sign, left, right, dimension=dimension)


_TICK = terms.Now()


def _reset_names(plan: tree.Plan) -> Iterator[str]:
    """What a plan resets, anywhere in it."""
    for step in _all_steps((plan.begin, *(routine.body for routine in plan.routines))):
        if isinstance(step, tree.Reset):
            yield step.name


def _all_steps(blocks: tuple[tree.Block, ...]) -> Iterator[tree.Step]:
    for block in blocks:
        for step in block.steps:
            yield step
            yield from _all_steps(tree.blocks_in(step))


def commanded(steps: tuple[terms.Step, ...]) -> Iterator[str]:
    """Every output that some steps command, with those inside them."""
    for step, _ in terms.walk_steps(steps):
        if isinstance(step, terms.Command | terms.Follow):
            yield from (part for part, _ in step.settings)
        elif isinstance(step, terms.Ramp | terms.Halt):
            yield from step.parts
