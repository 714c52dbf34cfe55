"""Binds a check text to a rig."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.language import tree
from geduld.language.formatter import expression_text
from geduld.language.messages import Hint, Problem, error
from geduld.language.quantities import TIME, microseconds
from geduld.rig.model import Rig


@dataclass(frozen=True)
class BoundCheck:
    """A check that can be judged.

    `condition` and `wanted` are truths, with their words as written. `times` are in ticks.
    """

    title: str
    points: float
    kind: str
    condition: terms.Term | None
    wanted: terms.Term | None
    times: tuple[int, ...]
    condition_words: str
    wanted_words: str
    line: int


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
    times = tuple(_ticks(time, scope) for time in pattern.times)
    return BoundCheck(
        check.title,
        float(check.points),
        pattern.kind,
        scope.condition(pattern.condition) if pattern.condition else None,
        scope.condition(pattern.wanted) if pattern.wanted else None,
        times,
        expression_text(pattern.condition) if pattern.condition else "",
        expression_text(pattern.wanted) if pattern.wanted else "",
        pattern.span.line,
    )


def _ticks(expression: tree.Expression, scope: Scope) -> int:
    term = scope.value(expression, TIME, "A check's time")
    if not isinstance(term, terms.Const) or not 0 <= term.value < 1e6:
        message = "A check's time is a fixed time, not less than nothing."
        raise Problem(error("check-time", expression.span, message, "Write for example: 100 ms"))
    return microseconds(term.value)
