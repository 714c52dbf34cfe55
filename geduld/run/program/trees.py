"""Loops that only look and command, as trees: what each output is set to in a pass.

A tree is known before any run: a fixed value, a value worked out from the readings, or a choice between such trees by
conditions. Outputs that are always set alike, as the two wheels of a drive, share one tree.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.run.search.columns import Evaluator, evaluator
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
