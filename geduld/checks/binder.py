"""Binds a check text to a rig."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, partial

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.conditions import Condition, condition
from geduld.language import tree
from geduld.language.formatter import expression_text
from geduld.language.messages import Hint, Problem, error
from geduld.language.quantities import LENGTH, TIME, TRUTH, microseconds
from geduld.rig.model import Rig


@dataclass(frozen=True)
class BoundCheck:
    """A check that can be judged.

    `conditions` are the truths of the sentence in its order (for `matches` two values), with their `words` as written.
    `times` are in ticks; `tolerance` is in base units. `bound`, `count` and `name` are as in `tree.Pattern`, `over` and
    `private` as in `tree.Check`; `fading` is the miss at which no points are left, and its unit.
    """

    title: str
    points: float
    kind: str
    conditions: tuple[terms.Term, ...]
    words: tuple[str, ...]
    times: tuple[int, ...]
    tolerance: float
    bound: str
    count: int
    name: str
    over: str
    private: bool
    fading: tuple[float, str] | None
    line: int

    @cached_property
    def looks(self) -> tuple[Condition, ...]:
        """The conditions, ready to be evaluated."""
        return tuple(map(condition, self.conditions))

    @property
    def asks_the_reference(self) -> bool:
        """Whether it needs the reference behaviour's run."""
        return any(look.asks_the_reference for look in self.looks)


@dataclass(frozen=True)
class BoundChecks:
    """All checks of a text, and every hint about it."""

    checks: tuple[BoundCheck, ...]
    hints: tuple[Hint, ...]
    thresholds: tuple[terms.Threshold, ...] = ()

    @property
    def good(self) -> bool:
        """Whether all checks can be judged."""
        return not any(hint.level == "error" for hint in self.hints)


def bind_checks(sheet: tree.CheckSheet, rig: Rig) -> BoundChecks:
    """The checks with their names and dimensions settled. Errors cost only their own check."""
    hints: list[Hint] = []
    scope = Scope(rig, hints, reads_outputs=True)
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
    return BoundChecks(tuple(bound), ordered, tuple(scope.thresholds))


def _bind(check: tree.Check, scope: Scope) -> BoundCheck:
    pattern = check.pattern
    matches = pattern.kind == "matches"
    looks = (partial(scope.condition, condition) for condition in pattern.conditions)
    conditions = _matched(pattern, scope) if matches else tuple(scope.each(*looks))
    return BoundCheck(
        check.title,
        float(check.points),
        pattern.kind,
        conditions,
        tuple(expression_text(condition) for condition in pattern.conditions),
        tuple(_ticks(time, scope) for time in pattern.times),
        _tolerance(pattern, conditions, scope),
        pattern.bound,
        int(pattern.count or 0),
        pattern.name,
        check.over,
        check.private,
        _fading(check, scope),
        pattern.span.line,
    )


def _matched(pattern: tree.Pattern, scope: Scope) -> tuple[terms.Term, ...]:
    """The two values of `matches`; the second one is the reference's."""
    first, second = (scope.term(expression) for expression in pattern.conditions)
    if not isinstance(second, terms.Reference):
        message = "What is matched is the reference behaviour's run."
        remedy = "Write for example: left matches reference.left within 5 %"
        raise Problem(error("not-a-reference", pattern.conditions[1].span, message, remedy))
    if first.dimension == TRUTH or not isinstance(first, terms.Reading | terms.Output | terms.Pose):
        message = "Only an output, a reading with a unit, or the pose can match the reference's."
        raise Problem(error("not-a-reference", pattern.conditions[0].span, message, "Write for example: left"))
    scope.must_be(pattern.conditions[1], second, first.dimension, "What is matched")
    return first, second


def _tolerance(pattern: tree.Pattern, conditions: tuple[terms.Term, ...], scope: Scope) -> float:
    if pattern.tolerance is None:
        return 0.0
    wanted = conditions[0].dimension if conditions else LENGTH
    term = scope.value(pattern.tolerance, wanted, "The tolerance")
    if not isinstance(term, terms.Const) or not term.value >= 0:
        message = "A check's tolerance is a fixed value, not less than nothing."
        raise Problem(error("check-time", pattern.tolerance.span, message, "Write for example: 5 %"))
    return term.value


def _fading(check: tree.Check, scope: Scope) -> tuple[float, str] | None:
    if check.fading is None:
        return None
    term = scope.term(check.fading)
    if not isinstance(term, terms.Const) or not term.value > 0:
        message = "Points fade over a fixed value, more than nothing."
        raise Problem(error("check-time", check.fading.span, message, "Write for example: fading over 10 cm"))
    return term.value, term.dimension.unit


def _ticks(expression: tree.Expression, scope: Scope) -> int:
    term = scope.value(expression, TIME, "A check's time")
    if not isinstance(term, terms.Const) or not 0 <= term.value < 1e6:
        message = "A check's time is a fixed time, not less than nothing."
        raise Problem(error("check-time", expression.span, message, "Write for example: 100 ms"))
    return microseconds(term.value)
