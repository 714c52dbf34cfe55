"""Loops that only look and command, turned into columns: for each output, a value for each pass.

Each condition and each value is worked out once, for all passes at once.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from geduld.run.program.trees import Choice, Fixed, Loop, Path, Table, Tree, Worked
from geduld.run.search.columns import as_array
from geduld.run.search.samples import Samples


@dataclass
class Column:
    """Values of an output over some passes, or one for all; `touched` says in which passes it is set.

    Where `table` is given, `values` are places in it.
    """

    values: Any
    touched: Any = True
    table: Table | None = None

    @property
    def expanded(self) -> Any:
        """The values themselves."""
        return self.values if self.table is None else self.table.values.take(self.values)


_UNTOUCHED = Column(0.0, False)


class Passes:
    """A loop over the passes that `look` sees."""

    def __init__(self, loop: Loop, look: Samples) -> None:
        self.loop = loop
        self.look = look
        self.conditions: dict[int, list[Any]] = {}
        self.choices: dict[int, Any] = {}
        self.made: dict[int, Column] = {}

    def column(self, tree: Tree | None) -> Column:
        """The column that a tree makes, worked out once."""
        if tree is None:
            return _UNTOUCHED
        found = self.made.get(id(tree))
        if found is None:
            found = self.made[id(tree)] = self._column(tree)
        return found

    def _column(self, tree: Tree) -> Column:
        if isinstance(tree, Fixed):
            return Column(tree.value)
        if isinstance(tree, Worked):
            found = tree.value(self.look)
            missing = np.isnan(found)
            return Column(found, ~missing) if missing.any() else Column(found)
        if isinstance(tree, Choice):
            if tree.table is not None:
                return Column(self._choice(tree.branch), True, tree.table)
            return self._nested(self._asked(tree.branch), [self.column(arm) for arm in tree.arms])
        later, earlier = self.column(tree.later), self.column(tree.earlier)
        if later.touched is True:
            return later
        values = np.where(later.touched, later.expanded, earlier.expanded)
        return Column(values, _simple(np.logical_or(later.touched, earlier.touched)))

    def _asked(self, branch: int) -> list[Any]:
        """The conditions of a branch's arms over the passes; the last one always holds."""
        found = self.conditions.get(branch)
        if found is None:
            asked = self.loop.branches[branch]
            found = self.conditions[branch] = [condition(self.look) for condition in asked]
        return found

    def _choice(self, branch: int) -> Any:
        """Which arm of a branch each pass takes: how many conditions did not hold before the first that does."""
        found = self.choices.get(branch)
        if found is None:
            rest = None
            for condition in self._asked(branch)[:-1]:
                fails = np.logical_not(condition)
                rest = fails if rest is None else rest & fails
                places = rest.view(np.int8)
                found = places if found is None else found + places
            self.choices[branch] = found
        return found

    def _nested(self, conditions: list[Any], columns: list[Column]) -> Column:
        value, touched = columns[-1].expanded, columns[-1].touched
        for condition, column in zip(reversed(conditions[:-1]), reversed(columns[:-1]), strict=True):
            value = np.where(condition, column.expanded, value)
            if touched is not column.touched:
                touched = np.where(condition, column.touched, touched)
        return Column(value, _simple(touched))

    def active(self, path: Path) -> Any:
        """The passes that come to a command."""
        active = np.ones(len(self.look.ticks), np.bool_)
        for branch, arm in path:
            conditions = self._asked(branch)
            for condition in conditions[:arm]:
                active = active & np.logical_not(condition)
            active = active & conditions[arm]
        return active

    def absent(self) -> Iterator[tuple[int, int, str]]:
        """Tick, line and part of each command's first absent value, in the order of the ticks."""
        found = []
        for tree in self.loop.worked:
            touched = self.column(tree).touched
            if touched is True:
                continue
            missing = as_array(self.active(tree.path) & ~touched, len(self.look.ticks))
            if missing.any():
                found += [(int(self.look.ticks[missing.argmax()]), tree.line, part) for part in tree.parts]
        return iter(sorted(found, key=lambda item: item[0]))

    def set_by(self, part: str) -> int | None:
        """The last line that sets an output in any pass; None when none does."""
        worked = {(tree.line, part): tree for tree in self.loop.worked for part in tree.parts}
        for line, path, parts in reversed(self.loop.commands):
            if part in parts:
                tree = worked.get((line, part))
                if np.any(self.active(path) & (True if tree is None else self.column(tree).touched)):
                    return line
        return None


def _simple(touched: Any) -> Any:
    """True itself where all passes are touched, which is the common and the cheap case."""
    return True if touched is True or np.all(touched) else touched
