"""Loops that only look and command, turned into columns: for each output, a value for each pass.

What an output is set to in a pass is a tree that is known before any run: a fixed value, a value worked out from the
readings, or a choice between such trees by conditions. In a run each condition and each value is worked out once, for
all passes at once. Outputs that are always set alike, as the two wheels of a drive, share one tree.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.run.vector import Evaluator, as_array, evaluator
from geduld.run.view import View
from geduld.worlds.trace import Floats

Path = tuple[tuple[int, int], ...]  # the branches around a command, and which of their arms it stands in


@dataclass(eq=False)
class Fixed:
    """One value in all passes."""

    value: float


@dataclass(eq=False)
class Worked:
    """A value worked out in each pass, for the outputs of one command; absent ones leave the outputs as they are."""

    value: Evaluator
    line: int
    path: Path
    parts: list[str] = field(default_factory=list)


@dataclass(frozen=True, eq=False)
class Table:
    """A few values of which each pass takes one; `differ` when no two of them are the same."""

    values: Floats
    least: float
    greatest: float
    differ: bool

    @classmethod
    def of(cls, values: list[float]) -> Table:
        """The table of some values."""
        return cls(np.array(values), min(values), max(values), len(set(values)) == len(values))


@dataclass(eq=False)
class Choice:
    """In each pass the tree of the branch's first arm whose condition holds; None leaves the output as it is."""

    branch: int
    arms: tuple[Tree | None, ...]
    table: Table | None = None


@dataclass(eq=False)
class Over:
    """What the later command sets, and where it sets nothing, what the earlier one does."""

    later: Tree
    earlier: Tree


Tree = Fixed | Worked | Choice | Over


@dataclass
class Loop:
    """The body of a stateless loop: its branches' conditions, its outputs' trees, and its commands in their order."""

    branches: list[tuple[Evaluator, ...]] = field(default_factory=list)
    trees: dict[str, Tree] = field(default_factory=dict)
    worked: list[Worked] = field(default_factory=list)
    commands: list[tuple[int, Path, tuple[str, ...]]] = field(default_factory=list)
    made: dict[Any, Tree] = field(default_factory=dict)

    @classmethod
    def of(cls, body: Sequence[terms.Step]) -> Loop:
        """The loop with this body."""
        loop = cls()
        loop.trees = loop._block(body, ())
        return loop

    def _block(self, steps: Sequence[terms.Step], path: Path) -> dict[str, Tree]:
        trees: dict[str, Tree] = {}
        for step in steps:
            for part, tree in self._step(step, path).items():
                before = trees.get(part)
                hidden = before is None or isinstance(tree, Fixed)
                trees[part] = tree if hidden else self._once(("over", id(tree), id(before)), Over(tree, before))  # type: ignore[arg-type]
        return trees

    def _step(self, step: terms.Step, path: Path) -> dict[str, Tree]:
        if isinstance(step, terms.Command):
            self.commands.append((step.line, path, tuple(part for part, _ in step.settings)))
            return {part: self._set(step, part, value, path) for part, value in step.settings}
        if isinstance(step, terms.Halt):
            self.commands.append((step.line, path, step.parts))
            return dict.fromkeys(step.parts, _REST)
        if isinstance(step, terms.Branches):
            conditions = tuple(_always if condition is None else evaluator(condition) for condition, _ in step.arms)
            bodies = [body for _, body in step.arms]
            if step.arms[-1][0] is not None:
                conditions, bodies = (*conditions, _always), [*bodies, ()]
            return self._choose(conditions, bodies, path)
        assert isinstance(step, terms.Bands)
        asked: list[terms.Term] = [terms.Absent(step.value)]
        edges = [terms.Const(edge, dimension=step.value.dimension) for edge in step.edges]
        asked += [terms.Compare("<", step.value, edge) for edge in edges]
        conditions = (*(evaluator(term) for term in asked), _always)
        return self._choose(conditions, [step.absent, *step.bodies], path)

    def _set(self, step: terms.Command, part: str, value: terms.Term, path: Path) -> Tree:
        if isinstance(value, terms.Const):
            return self._once((id(step), id(value)), Fixed(value.value))
        tree = self._once((id(step), id(value)), Worked(evaluator(value), step.line, path))
        assert isinstance(tree, Worked)
        if not tree.parts:
            self.worked.append(tree)
        tree.parts.append(part)
        return tree

    def _choose(self, conditions: tuple[Evaluator, ...], bodies: Sequence[Any], path: Path) -> dict[str, Tree]:
        number = len(self.branches)
        self.branches.append(conditions)
        found = [self._block(body, (*path, (number, arm))) for arm, body in enumerate(bodies)]
        trees: dict[str, Tree] = {}
        for part in dict.fromkeys(part for arm in found for part in arm):
            arms = tuple(arm.get(part) for arm in found)
            values = [arm.value for arm in arms if isinstance(arm, Fixed)]
            table = Table.of(values) if len(values) == len(arms) else None
            trees[part] = self._once((number, *(id(arm) for arm in arms)), Choice(number, arms, table))
        return trees

    def _once(self, key: Any, tree: Tree) -> Tree:
        return self.made.setdefault(key, tree)


_REST = Fixed(0.0)


def _always(look: Any) -> bool:
    return True


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

    def __init__(self, loop: Loop, look: View) -> None:
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
