"""A truth and its margin over a run.

The margin is the robustness of quantitative temporal logic (Fainekos and Pappas 2009; Donzé and Maler
2010): how far the compared value is from where the truth would change; positive while true.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.checks.places import not_there, where
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.run.corners import corners
from geduld.run.record import Record, Signal
from geduld.run.vector import as_array, compare, values
from geduld.worlds.trace import Floats, Ticks, derived

LEAVES = (terms.Reading, terms.Output, terms.Pose, terms.Reference)


@dataclass(frozen=True)
class Course:
    """A truth over a run: `true[k]` holds from `ticks[k]` until the next tick; the last one is the end.

    `margin` is in `unit`; infinite where the truth depends on contacts alone or on mixed units.
    """

    ticks: Ticks
    true: NDArray[np.bool_]
    margin: Floats
    unit: str


class Timeline:
    """All instants of a run at which anything that the given terms read can change.

    `reference` is the reference behaviour's run in the same world. `unknown` says why the terms cannot be judged at
    all: a place is asked for where there is none, or the reference where it was not run. It is empty when they can.
    """

    def __init__(self, record: Record, used: Iterable[terms.Term], reference: Record | None = None) -> None:
        self.record = record
        self.reference = reference
        items = [item for term in used for item in term.walk()]
        self.unknown = _unknown(items, record, reference)
        ticks: list[Any] = [np.array([0, record.lasted], np.int64)]
        self.leaves = _leaves(items)
        ticks += [self._signal(leaf).times for leaf in self.leaves] if not self.unknown else []
        ticks += [np.array(list(corners(term, {})), np.int64) for term in items if isinstance(term, terms.Compare)]
        # sorting what is nearly in order is many times quicker than np.unique, which hashes whole numbers
        merged = np.sort(np.concatenate(ticks), kind="stable")
        new = np.ones(len(merged), np.bool_)
        new[1:] = merged[1:] != merged[:-1]
        self.ticks: Ticks = merged[new & (merged >= 0) & (merged <= record.lasted)]
        self._columns: dict[terms.Term, Floats] = {}
        self._courses: dict[terms.Term, Course] = {}

    @cached_property
    def horizon(self) -> int:
        """The tick past which a reading that is used here is not to be trusted; past the end if none."""
        return min(map(self._trusted_until, self.leaves), default=self.record.lasted + 1)

    def _trusted_until(self, leaf: terms.Term) -> int:
        record, inner = self._whose(leaf)
        if isinstance(inner, terms.Pose):
            return self.record.lasted + 1
        sources = {inner.part, *_sources(inner.part)}  # type: ignore[attr-defined]
        return min((tick for name, tick in record.trust.items() if name in sources), default=self.record.lasted + 1)

    def _whose(self, leaf: terms.Term) -> tuple[Record, terms.Term]:
        """The run that a reading, an output or the pose belongs to, and itself without `reference`."""
        if not isinstance(leaf, terms.Reference):
            return self.record, leaf
        assert self.reference is not None
        return self.reference, leaf.inner

    def course(self, term: terms.Term) -> Course:
        """A truth over the run, worked out once."""
        if term not in self._courses:
            self._courses[term] = self._course(term)
        return self._courses[term]

    def _course(self, term: terms.Term) -> Course:
        """A junction and an opposite come from their parts' courses; what stands alone is evaluated."""
        if isinstance(term, terms.Compare):
            return self._comparison(term)
        if isinstance(term, terms.Opposite):
            inner = self.course(term.value)
            return Course(self.ticks, ~inner.true, -inner.margin, inner.unit)
        if isinstance(term, terms.Junction):
            return self._junction(term)
        return self._sure(as_array(values(term, self._lookup), len(self.ticks)).astype(np.bool_))

    def _comparison(self, term: terms.Compare) -> Course:
        count = len(self.ticks)
        left = as_array(values(term.left, self._lookup), count)
        right = as_array(values(term.right, self._lookup), count)
        true = compare(term.sign, left, right)
        if term.left.dimension in (TRUTH, TEXT):
            return self._sure(true)
        return Course(self.ticks, true, _distance(term.sign, left, right), term.left.dimension.unit)

    def _junction(self, term: terms.Junction) -> Course:
        left, right = self.course(term.left), self.course(term.right)
        both = term.word == "and"
        true = left.true & right.true if both else left.true | right.true
        if left.unit and right.unit and left.unit != right.unit:
            return self._sure(true)
        margin = np.minimum(left.margin, right.margin) if both else np.maximum(left.margin, right.margin)
        return Course(self.ticks, true, margin, left.unit or right.unit)

    def _sure(self, true: NDArray[np.bool_]) -> Course:
        """A truth that has no distance from where it would change."""
        return Course(self.ticks, true, np.where(true, np.inf, -np.inf), "")

    def values_at(self, term: terms.Term, tick: int) -> str:
        """What the parts in a term were at an instant: `left was 45 %, right was 45 %`."""
        return ", ".join(f"{_called(leaf)} was {self._shown(leaf, tick)}" for leaf in _leaves(term.walk()))

    def _shown(self, leaf: terms.Term, tick: int) -> str:
        value = float(self._signal(leaf).at(np.array([tick]))[0])
        inner = leaf.inner if isinstance(leaf, terms.Reference) else leaf
        if math.isnan(value):
            return "absent"
        if isinstance(inner, terms.Pose):
            return show(value, inner.dimension.unit, 1)
        part = self.record.rig.channels[inner.part]  # type: ignore[attr-defined]
        if part.dimension == TRUTH:
            return "pressed" if value else "released"
        if part.dimension == TEXT:
            return f'"{self.record.texts.get(value, "?")}"'
        return show(part.unit.from_base(value), part.unit.word, 2) if part.unit else show(value)

    def signal(self, leaf: terms.Term) -> Signal:
        """A reading, an output, the pose, or one of them in the reference's run."""
        return self._signal(leaf)

    def _signal(self, leaf: terms.Term) -> Signal:
        record, leaf = self._whose(leaf)
        if isinstance(leaf, terms.Pose):
            return where(leaf, record)
        name = leaf.part  # type: ignore[attr-defined]
        signal = record.commands.get(name) or record.readings.get(name) or _derived(record, name)
        return signal or Signal(np.zeros(1, np.int64), np.full(1, np.nan))

    def _lookup(self, term: terms.Term) -> Any:
        if isinstance(term, LEAVES):
            if term not in self._columns:
                self._columns[term] = self._signal(term).at(self.ticks)
            return self._columns[term]
        return self.ticks / 1_000_000


def _derived(record: Record, name: str) -> Signal | None:
    """A count of presses, or a speed, from the readings that the record holds."""
    sources = {key: signal for key, signal in record.readings.items() if key in _sources(name)}
    for signal in sources.values():
        values = derived(name, signal.times, {key: item.values for key, item in sources.items()})
        if values is not None:
            return Signal(signal.times, values)
    return None


def _sources(name: str) -> tuple[str, str]:
    """The readings that a count of presses or a speed comes from."""
    part = name.partition(".")[0]
    return part, f"{part}.angle"


def _leaves(items: Iterable[terms.Term]) -> dict[terms.Term, None]:
    """What is read of a run; what stands inside a `reference` is the reference's and none of this run's."""
    items = list(items)
    inside = {id(item.inner) for item in items if isinstance(item, terms.Reference)}
    return dict.fromkeys(item for item in items if isinstance(item, LEAVES) and id(item) not in inside)


def _called(leaf: terms.Term) -> str:
    if isinstance(leaf, terms.Reference):
        return f"the reference's {_called(leaf.inner)}"
    if isinstance(leaf, terms.Pose):
        return {
            "x": "cart.x",
            "y": "cart.y",
            "away": f'the distance from mark "{leaf.name}"',
            "inside": f'the room inside "{leaf.name}"',
            "off": "the heading's error",
        }.get(leaf.what, leaf.what)
    return leaf.part  # type: ignore[attr-defined,no-any-return]


def _unknown(items: list[terms.Term], record: Record, reference: Record | None) -> str:
    for item in items:
        if isinstance(item, terms.Reference) and reference is None:
            return "The reference behaviour was not run beside this."
        pose = item.inner if isinstance(item, terms.Reference) else item
        if isinstance(pose, terms.Pose):
            said = not_there(pose, record)
            if said:
                return said
    return ""


def _distance(sign: str, left: Floats, right: Floats) -> Floats:
    if sign in ("<", "<="):
        gap = right - left
    elif sign in (">", ">="):
        gap = left - right
    else:
        gap = -np.abs(left - right) if sign == "=" else np.abs(left - right)
    known = compare("=", left, left) & compare("=", right, right)
    return np.where(known, gap, -np.inf)
