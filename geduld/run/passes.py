"""What the passes of a loop without state command, as columns: a value for each pass."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.run.vector import as_array, values
from geduld.run.view import View


@dataclass(eq=False)
class Column:
    """Values of an output over some passes, or one for all; `touched` says in which passes it is set."""

    values: Any
    touched: Any = True


_REST = Column(0.0)
_UNTOUCHED = Column(0.0, False)
Columns = dict[str, Column]


@dataclass
class Passes:
    """The columns of a loop's body over the passes that `look` sees.

    `lines` are the lines that set the outputs; `absent` holds tick, line and part of each line's first absent value.
    Columns that are the same, as for the two wheels of a drive, are worked out once.
    """

    look: View
    body: Sequence[terms.Step]
    lines: dict[str, int] = field(default_factory=dict)
    absent: list[tuple[int, int, str]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._made: dict[tuple[Any, ...], Column] = {}
        self._conditions: list[list[Any]] = []
        self.columns = self._block(self.body, True)

    def _once(self, key: tuple[Any, ...], make: Any) -> Column:
        """A column, made once for a key of ids; all that is named by an id lives as long as these passes."""
        found = self._made.get(key)
        if found is None:
            found = self._made[key] = make()
        return found

    def _block(self, steps: Sequence[terms.Step], active: Any) -> Columns:
        columns: Columns = {}
        for step in steps:
            for part, column in self._step(step, active).items():
                before = columns.get(part)
                columns[part] = column if before is None else self._over(column, before)
        return columns

    def _step(self, step: terms.Step, active: Any) -> Columns:
        if isinstance(step, terms.Command):
            return self._command(step, active)
        if isinstance(step, terms.Halt):
            if _some(active):
                self.lines.update(dict.fromkeys(step.parts, step.line))
            return dict.fromkeys(step.parts, _REST)
        if isinstance(step, terms.Branches):
            conditions = [None if arm is None else values(arm, self.look) for arm, _ in step.arms]
            return self._choose(conditions, [body for _, body in step.arms], active)
        assert isinstance(step, terms.Bands)
        found = values(step.value, self.look)
        edges = [np.less(found, edge) for edge in step.edges]
        return self._choose([np.isnan(found), *edges, None], [step.absent, *step.bodies], active)

    def _command(self, step: terms.Command, active: Any) -> Columns:
        columns: Columns = {}
        some = _some(active)
        for part, value in step.settings:
            column = columns[part] = self._once((id(value),), lambda value=value: self._value(value))
            if column.touched is True:
                if some:
                    self.lines[part] = step.line
                continue
            if _some(active & column.touched):
                self.lines[part] = step.line
            missing = as_array(active & ~column.touched, len(self.look.ticks))
            if missing.any():
                self.absent.append((int(self.look.ticks[missing.argmax()]), step.line, part))
        return columns

    def _value(self, value: terms.Term) -> Column:
        found = values(value, self.look)
        if not isinstance(value, terms.Const):
            missing = np.isnan(found)
            if missing.any():
                return Column(found, ~missing)
        return Column(found)

    def _choose(self, conditions: list[Any], bodies: Sequence[Sequence[terms.Step]], active: Any) -> Columns:
        """The columns of the first body whose condition holds; the last condition may be None, which always holds."""
        self._conditions.append(conditions)  # kept, so that its id stays its own
        rest, found = active, []
        for condition, body in zip(conditions, bodies, strict=True):
            found.append(self._block(body, rest if condition is None else rest & condition))
            if body is not bodies[-1]:
                rest = False if condition is None else rest & np.logical_not(condition)
        parts = dict.fromkeys(part for columns in found for part in columns)
        return {part: self._joined(conditions, [columns.get(part, _UNTOUCHED) for columns in found]) for part in parts}

    def _joined(self, conditions: list[Any], columns: list[Column]) -> Column:
        key = (id(conditions), *(id(column) for column in columns))
        return self._once(key, lambda: _nested(conditions, columns))

    def _over(self, later: Column, earlier: Column) -> Column:
        if later.touched is True:
            return later
        return self._once(
            (id(later), "over", id(earlier)),
            lambda: Column(
                np.where(later.touched, later.values, earlier.values), _simple(later.touched | earlier.touched)
            ),
        )


def _nested(conditions: list[Any], columns: list[Column]) -> Column:
    value: Any = 0.0
    touched: Any = False
    for condition, column in zip(reversed(conditions), reversed(columns), strict=True):
        if condition is None:
            value, touched = column.values, column.touched
            continue
        value = np.where(condition, column.values, value)
        if touched is not column.touched:
            touched = _simple(np.where(condition, column.touched, touched))
    return Column(value, touched)


def _some(active: Any) -> bool:
    """Whether any pass is active."""
    return active if isinstance(active, bool) else bool(active.any())


def _simple(touched: Any) -> Any:
    """True itself where all passes are touched, which is the common and the cheap case."""
    return True if touched is True or np.all(touched) else touched
