"""Binds a plan to a rig: every name becomes a part or a value, every value gets its dimension."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.language import tree
from geduld.language.messages import Hint, Problem, Span, error, listed, nearest
from geduld.language.quantities import COUNT, RATIO, TIME, TRUTH, Dimension, show
from geduld.language.words import STEP_WORDS
from geduld.rig.model import Part, Rig

_STOPPABLE = ("motor", "lamp", "buzzer")
MOST_STEPS = 20_000


def bind(plan: tree.Plan, rig: Rig) -> terms.Bound:
    """The plan's steps as the rig can run them, or the hints that say why it cannot.

    Every line is looked at; a line with an error costs only itself.
    """
    return _Binder(rig).plan(plan)


class _Binder:
    def __init__(self, rig: Rig) -> None:
        self.rig = rig
        self.hints: list[Hint] = []
        self.scope = Scope(rig, self.hints)
        self.loops = 0
        self.routines: dict[str, tree.Routine] = {}
        self.performing: list[str] = []
        self.performed: set[str] = set()
        self.count = 0
        self.set_at: dict[str, Span] = {}

    def plan(self, plan: tree.Plan) -> terms.Bound:
        if plan.rig is not None and plan.rig != self.rig.name:
            message = f'This behaviour is written for the rig "{plan.rig}", and it is tried on "{self.rig.name}".'
            hint = error("other-rig", Span(1, 1, 1, 2), message, "Choose that rig, or change the line for rig.")
            self.hints.append(replace(hint, level="warning"))
        for let in plan.lets:
            try:
                self.scope.bind_let(let)
            except Problem as problem:
                self.hints.append(problem.hint)
        for routine in plan.routines:
            self._routine(routine)
        steps = self._steps(plan.begin)
        thresholds = tuple(self.scope.thresholds)
        # A routine is bound at each place that performs it, so its hints may come more than once.
        hints = tuple(sorted(dict.fromkeys(self.hints), key=lambda hint: hint.order))
        return terms.Bound(steps, tuple(self.scope.variables), hints, thresholds, self._unused(plan))

    def _unused(self, plan: tree.Plan) -> tuple[tuple[str, Span], ...]:
        """Lets, values and routines that nothing uses. A value that is only set is used by nothing."""
        named = [(let.name, let.name_span) for let in plan.lets]
        named += [(name, span) for name, span in self.set_at.items()]
        unused = [(name, span) for name, span in named if name not in self.scope.used]
        unused += [(r.name, r.name_span) for r in plan.routines if r.name not in self.performed]
        return tuple(unused)

    def _steps(self, block: tree.Block) -> tuple[terms.Step, ...]:
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
                steps.append(self._step(step))
            except Problem as problem:
                self.hints.append(problem.hint)
                self._look_inside(step)
        return tuple(steps)

    def _look_inside(self, step: tree.Step) -> None:
        """Binds the blocks of a step that has an error, so that errors inside them are said as well."""
        if isinstance(step, tree.Repeat):
            self.loops += 1
            self._steps(step.body)
            self.loops -= 1
            return
        if isinstance(step, tree.Side):
            for lane in step.lanes:
                self._steps(lane.body)
        if isinstance(step, tree.Do):
            self._steps(step.body)
            self._steps(step.handler)
        ending = step.ending if isinstance(step, tree.Wait | tree.Action) else None
        if isinstance(ending, tree.Until) and ending.otherwise:
            self._steps(ending.otherwise)

    def _step(self, step: tree.Step) -> terms.Step:
        line = step.span.line
        match step:
            case tree.Action():
                return self._action(line, step)
            case tree.Ramp():
                return self._ramp(line, step)
            case tree.By():
                return self._by(line, step)
            case tree.Stop():
                return terms.Halt(line, self._stopped(step))
            case tree.Wait():
                return terms.Wait(line, self._ending(step.ending))
            case tree.Repeat():
                return self._repeat(line, step)
            case tree.Side():
                return self._side(line, step)
            case tree.Do():
                condition = self.scope.condition(step.condition)
                return terms.Guarded(line, condition, self._steps(step.body), self._steps(step.handler))
            case tree.Leave():
                if not self.loops:
                    message = "Leave stands outside every repeat."
                    raise Problem(error("lonely-leave", step.span, message, "Delete it, or use finish."))
                return terms.Leave(line)
            case tree.If():
                return self._if(line, step)
            case tree.Set():
                return self._set(line, step)
            case tree.Note():
                return terms.Note(line, step.text)
            case tree.Finish():
                return terms.Finish(line, step.why)
        raise TypeError(f"not a step: {step!r}")

    def _routine(self, routine: tree.Routine) -> None:
        taken = [*self.rig.parts, *self.scope.lets, *self.scope.formulas, *self.routines]
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
        before: list[terms.Step] = []
        names = {}
        for name, expression in zip(routine.parameters, step.values, strict=True):
            term = self.scope.term(expression)
            if not isinstance(term, terms.Const):
                index = self._hidden(term.dimension)
                before.append(terms.Assign(step.span.line, index, term))
                term = terms.Variable(index, dimension=term.dimension)
            names[name] = self.scope.given(expression, term)
        loops, self.loops = self.loops, 0
        self.performing.append(step.name)
        body = self.scope.named(names, lambda: self._steps(routine.body))
        self.performing.pop()
        self.loops = loops
        return (*before, *body)

    def _hidden(self, dimension: Dimension) -> int:
        """A variable of our own, which no text can name."""
        index = len(self.scope.variables)
        self.scope.variables[f"#{index}"] = dimension
        return index

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
        parts = self._targets(step.target, Span(line, step.span.column, line, step.span.column + len(step.target)))
        ends = []
        for expression in (step.start, step.stop):
            term = self.scope.value(expression, parts[0].dimension, f"The value of {step.target}")
            self._in_range(expression, term, parts[0])
            ends.append(term)
        over = self._time(step.over, "How long")
        names = tuple(part.name for part in parts)
        stops = tuple(part.name for part in parts if part.kind.word in _STOPPABLE)
        return terms.Ramp(line, names, ends[0], ends[1], over, () if step.keep_going else stops, stops)

    def _side(self, line: int, step: tree.Side) -> terms.Step:
        lanes: list[tuple[str, tuple[terms.Step, ...]]] = []
        owner: dict[str, str] = {}
        loops, self.loops = self.loops, 0
        for lane in step.lanes:
            body = self._steps(lane.body)
            for name in commanded(body):
                if owner.setdefault(name, lane.name) != lane.name:
                    message = f'The lanes "{owner[name]}" and "{lane.name}" both command "{name}".'
                    remedy = "Let one lane command each part; stop all commands every motor and lamp."
                    raise Problem(error("two-lanes-one-part", lane.span, message, remedy))
            lanes.append((lane.name, body))
        self.loops = loops
        return terms.Side(line, tuple(lanes))

    def _by(self, line: int, step: tree.By) -> terms.Step:
        value = self.scope.term(step.value)
        if value.dimension == TRUTH:
            message = "Bands divide a number, and this is a yes or no."
            raise Problem(error("wrong-dimension", step.value.span, message, "Use if."))
        slack = self._fixed(step.slack, value.dimension, "The slack") if step.slack else 0.0
        found: list[tuple[float, float, tree.Band]] = []
        absent: tuple[terms.Step, ...] = ()
        for band in step.bands:
            if band.form == "absent":
                absent = self._steps(band.body)
                continue
            low = self._fixed(band.low, value.dimension, "The value") if band.low else -math.inf
            high = self._fixed(band.high, value.dimension, "The value") if band.high else math.inf
            found.append((low, high, band))
        found.sort(key=lambda item: item[:2])
        edges = self._complete(found, value.dimension, step)
        bodies = tuple(self._steps(band.body) for _, _, band in found)
        return terms.Bands(line, self._hidden(COUNT), value, edges, slack, bodies, absent)

    def _fixed(self, expression: tree.Expression, wanted: Dimension, what: str) -> float:
        term = self.scope.value(expression, wanted, what)
        if isinstance(term, terms.Const):
            return term.value
        message = "A band's edge and its slack are fixed values."
        raise Problem(error("band-edge", expression.span, message, "Write for example: over 40 cm"))

    def _complete(
        self, found: list[tuple[float, float, tree.Band]], dimension: Dimension, step: tree.By
    ) -> tuple[float, ...]:
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
        return tuple(high for _, high, _ in found[:-1])

    def _if(self, line: int, step: tree.If) -> terms.Step:
        arms = []
        for branch in step.branches:
            condition = None
            try:
                condition = self.scope.condition(branch.condition) if branch.condition else None
            except Problem as problem:
                self.hints.append(problem.hint)
            arms.append((condition, self._steps(branch.body)))
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
        body = self._steps(step.body)
        self.loops -= 1
        return terms.Repeat(line, step.form, value, body)

    def _set(self, line: int, step: tree.Set) -> terms.Step:
        taken = "a part of the rig" if step.name in self.rig.parts else "named by let"
        if step.name in self.rig.parts or step.name in self.scope.lets:
            message = f'"{step.name}" is {taken}, so set cannot change it.'
            raise Problem(error("name-taken", step.name_span, message, "Use another name."))
        value = self.scope.term(step.value)
        if value.dimension == TRUTH:
            message = "A value is a number with its unit, and this is a yes or no."
            raise Problem(error("wrong-dimension", step.value.span, message, "Use if, and set a number in it."))
        self.set_at.setdefault(step.name, step.name_span)
        known = self.scope.variables.setdefault(step.name, value.dimension)
        self.scope.must_be(step.value, value, known, f'What "{step.name}" holds')
        return terms.Assign(line, list(self.scope.variables).index(step.name), value)

    def _ending(self, ending: tree.For | tree.Until) -> terms.Term | terms.Until:
        if isinstance(ending, tree.For):
            return self._time(ending.quantity, "How long")
        condition = self.scope.condition(ending.condition)
        held = self._time(ending.held, "How long it is held") if ending.held else None
        patience = self._time(ending.patience, "The patience") if ending.patience else None
        otherwise = self._steps(ending.otherwise) if ending.otherwise else ()
        return terms.Until(condition, held, patience, otherwise, ending.otherwise is not None)

    def _time(self, expression: tree.Expression, what: str) -> terms.Term:
        term = self.scope.value(expression, TIME, what)
        if isinstance(term, terms.Const) and term.value < 0:
            message = "A time cannot be less than nothing."
            raise Problem(error("negative-time", expression.span, message, "Take the minus sign away."))
        return term

    def _stopped(self, step: tree.Stop) -> tuple[str, ...]:
        if step.target == "all":
            return tuple(part.name for part in self.rig.outputs if part.kind.word in _STOPPABLE)
        parts = self._targets(step.target, step.span)
        for part in parts:
            if part.kind.word not in _STOPPABLE:
                message = f'"{part.name}" is a {part.kind.word}, which holds its angle; there is nothing to stop.'
                raise Problem(error("cannot-stop", step.span, message, "Delete this step."))
        return tuple(part.name for part in parts)

    def _targets(self, word: str, span: Span) -> tuple[Part, ...]:
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
        like = nearest(word, [*outputs, "drive"])
        remedy = f"Did you mean {like}?" if like else f"The outputs of this rig are {listed(outputs)}."
        message = f'"{word}" is not a part of the rig "{self.rig.name}".'
        raise Problem(error("unknown-part", span, message, remedy, like))

    def _action(self, line: int, step: tree.Action) -> terms.Step:
        head = Span(line, step.span.column, line, step.span.column + len(step.target))
        parts = self._targets(step.target, head)
        if step.keep_going and step.ending is None:
            message = "Keep going belongs behind for or until; this step has no ending."
            raise Problem(error("keep-going-without-ending", step.span, message, "Delete it."))
        values = self._lamp(step, parts[0]) if step.state else self._values(step, parts)
        settings = tuple((part.name, value) for part, value in zip(parts, values, strict=True))
        ending = self._ending(step.ending) if step.ending else None
        stops = tuple(part.name for part in parts if part.kind.word in _STOPPABLE)
        if step.follows and ending is not None:
            return terms.Follow(line, settings, ending, () if step.keep_going else stops, stops)
        return terms.Command(line, settings, ending, () if step.keep_going or not step.ending else stops, stops)

    def _lamp(self, step: tree.Action, part: Part) -> list[terms.Term]:
        if part.kind.word != "lamp":
            message = f"A {part.kind.word} is not just {step.state}; say how much."
            example = f"{step.target} at 60 %" if part.dimension == RATIO else f"{step.target} at 90 deg"
            raise Problem(error("not-a-lamp", step.span, message, f"Write for example: {example}"))
        return [terms.Const(100.0 if step.state == "on" else 0.0, dimension=RATIO)]

    def _values(self, step: tree.Action, parts: tuple[Part, ...]) -> list[terms.Term]:
        values = []
        for expression, part in zip(step.values, parts, strict=False):
            term = self.scope.term(expression)
            self.scope.must_be(expression, term, part.dimension, f"The value of {step.target}")
            self._in_range(expression, term, part)
            values.append(term)
        if step.turn:
            turned = _negative(values[0])
            return [turned, values[0]] if step.turn == "left" else [values[0], turned]
        return values * len(parts) if len(values) == 1 else values

    def _in_range(self, expression: tree.Expression, term: terms.Term, part: Part) -> None:
        if isinstance(term, terms.Const) and part.clamp(term.value) != term.value:
            unit = part.unit_word
            shown = show(part.unit.from_base(part.clamp(term.value)) if part.unit else term.value, unit)
            message = f'"{part.name}" cannot do this much; it will do {shown}.'
            hint = error("past-range", expression.span, message, f"Write {shown}, so that the text tells the truth.")
            self.hints.append(replace(hint, level="warning", fix=shown))


def commanded(steps: tuple[terms.Step, ...]) -> Iterator[str]:
    """Every output that some steps command, with those inside them."""
    for step, _ in terms.walk_steps(steps):
        if isinstance(step, terms.Command | terms.Follow):
            yield from (part for part, _ in step.settings)
        elif isinstance(step, terms.Ramp | terms.Halt):
            yield from step.parts


def _negative(term: terms.Term) -> terms.Term:
    if isinstance(term, terms.Const):
        return terms.Const(0.0 - term.value, dimension=term.dimension)
    zero = terms.Const(0.0, dimension=term.dimension)
    return terms.Arithmetic("-", zero, term, dimension=term.dimension)
