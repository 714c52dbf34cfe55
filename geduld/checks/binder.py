"""Binds a check text to a rig."""

from __future__ import annotations

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.bound import BoundCheck, BoundChecks
from geduld.checks.lengths import bind_length
from geduld.checks.pattern import tolerance_of
from geduld.checks.patterns import PATTERNS
from geduld.checks.phases import bind_phases
from geduld.checks.sheet import Check, CheckSheet
from geduld.language.messages import Hint, Problem, error
from geduld.language.quantities import TIME, microseconds
from geduld.language.tree import Expression
from geduld.rig.model import Rig


def bind_checks(sheet: CheckSheet, rig: Rig, partner: Rig | None = None) -> BoundChecks:
    """The checks with their names and dimensions settled. Errors cost only their own check.

    `partner` is the rig of the other device, where some case has one.
    """
    hints: list[Hint] = []
    scope = Scope(rig, hints, reads_outputs=True, partner=partner)
    for let in sheet.lets:
        try:
            scope.bind_let(let)
        except Problem as problem:
            hints.append(problem.hint)
    bound: list[BoundCheck] = []
    for check in sheet.checks:
        try:
            if any(check.title == other.title for other in bound):
                message = f'There is already a check called "{check.title}".'
                raise Problem(error("check-twice", check.span, message, "Give it another title."))
            bound.append(_bind(check, scope))
        except Problem as problem:
            hints.append(problem.hint)
    ordered = tuple(sorted(hints, key=lambda hint: hint.order))
    return BoundChecks(tuple(bound), ordered, tuple(scope.handles.thresholds))


def _bind(check: Check, scope: Scope) -> BoundCheck:
    sentence = check.sentence
    conditions, words = PATTERNS[sentence.kind].bind(sentence, scope)
    return BoundCheck(
        check.title,
        float(check.points),
        sentence.kind,
        conditions,
        words,
        tuple(_ticks(time, scope) for time in sentence.times),
        tolerance_of(sentence, conditions, scope),
        sentence.bound,
        int(sentence.count or 0),
        sentence.name,
        check.over,
        check.private,
        _fading(check, scope),
        sentence.span.line,
        sentence.options,
        None if sentence.length is None else bind_length(sentence.length, scope),
        bind_phases(sentence.phases, conditions, scope) if sentence.phases else (),
        check.whole,
    )


def _fading(check: Check, scope: Scope) -> tuple[float, str] | None:
    if check.fading is None:
        return None
    term = scope.term(check.fading)
    if not isinstance(term, terms.Const) or not term.value > 0:
        message = "Points fade over a fixed value, more than nothing."
        raise Problem(error("check-time", check.fading.span, message, "Write for example: fading over 10 cm"))
    return term.value, term.dimension.unit


def _ticks(expression: Expression, scope: Scope) -> int:
    term = scope.value(expression, TIME, "A check's time")
    if not isinstance(term, terms.Const) or not 0 <= term.value < 1e6:
        message = "A check's time is a fixed time, not less than nothing."
        raise Problem(error("check-time", expression.span, message, "Write for example: 100 ms"))
    return microseconds(term.value)
