"""A truth and its margin over a run.

The margin is the robustness of quantitative temporal logic (Fainekos and Pappas 2009; Donzé and Maler
2010): how far the compared value is from where the truth would change; positive while true.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.run.corners import corners
from geduld.run.record import Record, Signal
from geduld.run.vector import as_array, compare, values
from geduld.worlds.trace import Floats, Ticks, derived


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
    """All instants of a run at which anything that the given terms read can change."""

    def __init__(self, record: Record, used: Iterable[terms.Term | None]) -> None:
        self.record = record
        items = [item for term in used if term is not None for item in term.walk()]
        self.parts = sorted({t.part for t in items if isinstance(t, terms.Reading | terms.Output)})
        ticks: list[Any] = [np.array([0, record.lasted], np.int64)]
        ticks += [self._signal(name).times for name in self.parts]
        ticks += [np.array(list(corners(term, {})), np.int64) for term in items if isinstance(term, terms.Compare)]
        merged = np.unique(np.concatenate(ticks))
        self.ticks: Ticks = merged[(merged >= 0) & (merged <= record.lasted)]
        self._columns: dict[str, Floats] = {}
        self._courses: dict[terms.Term, Course] = {}

    @property
    def horizon(self) -> int:
        """The tick past which a reading that is used here is not to be trusted; past the end if none."""
        trust = self.record.trust
        return min((trust[name] for name in self.parts if name in trust), default=self.record.lasted + 1)

    def course(self, term: terms.Term) -> Course:
        """A truth over the run, worked out once."""
        if term not in self._courses:
            self._courses[term] = self._course(term)
        return self._courses[term]

    def _course(self, term: terms.Term) -> Course:
        count = len(self.ticks)
        true = as_array(values(term, self._lookup), count).astype(np.bool_)
        margin, unit = self._margin(term, true)
        return Course(self.ticks, true, margin, unit)

    def values_at(self, term: terms.Term, tick: int) -> str:
        """What the parts in a term were at an instant: `left was 45 %, right was 45 %`."""
        names = dict.fromkeys(t.part for t in term.walk() if isinstance(t, terms.Reading | terms.Output))
        return ", ".join(f"{name} was {self._shown(name, tick)}" for name in names)

    def _shown(self, name: str, tick: int) -> str:
        part = self.record.rig.channels[name]
        value = float(self._signal(name).at(np.array([tick]))[0])
        if math.isnan(value):
            return "absent"
        if part.dimension == TRUTH:
            return "pressed" if value else "released"
        if part.dimension == TEXT:
            return f'"{self.record.texts.get(value, "?")}"'
        return show(part.unit.from_base(value), part.unit.word, 2) if part.unit else show(value)

    def _signal(self, name: str) -> Signal:
        signal = self.record.commands.get(name) or self.record.readings.get(name) or self._derived(name)
        return signal or Signal(np.zeros(1, np.int64), np.full(1, np.nan))

    def _derived(self, name: str) -> Signal | None:
        """A count of presses, or a speed, from the readings that the record holds."""
        part = name.partition(".")[0]
        sources = {key: signal for key, signal in self.record.readings.items() if key in (part, f"{part}.angle")}
        for signal in sources.values():
            values = derived(name, signal.times, {key: item.values for key, item in sources.items()})
            if values is not None:
                return Signal(signal.times, values)
        return None

    def _lookup(self, term: terms.Term) -> Any:
        if isinstance(term, terms.Reading | terms.Output):
            if term.part not in self._columns:
                self._columns[term.part] = self._signal(term.part).at(self.ticks)
            return self._columns[term.part]
        return self.ticks / 1_000_000

    def _margin(self, term: terms.Term, true: NDArray[np.bool_]) -> tuple[Floats, str]:
        sure = np.where(true, np.inf, -np.inf)
        if isinstance(term, terms.Compare):
            if term.left.dimension in (TRUTH, TEXT):
                return sure, ""
            left = as_array(values(term.left, self._lookup), len(self.ticks))
            right = as_array(values(term.right, self._lookup), len(self.ticks))
            return _distance(term.sign, left, right), term.left.dimension.unit
        if isinstance(term, terms.Opposite):
            inner, unit = self._part_margin(term.value)
            return -inner, unit
        if isinstance(term, terms.Junction):
            left, left_unit = self._part_margin(term.left)
            right, right_unit = self._part_margin(term.right)
            if left_unit and right_unit and left_unit != right_unit:
                return sure, ""
            joined = np.minimum(left, right) if term.word == "and" else np.maximum(left, right)
            return joined, left_unit or right_unit
        return sure, ""

    def _part_margin(self, term: terms.Term) -> tuple[Floats, str]:
        true = as_array(values(term, self._lookup), len(self.ticks)).astype(np.bool_)
        return self._margin(term, true)


def _distance(sign: str, left: Floats, right: Floats) -> Floats:
    if sign in ("<", "<="):
        gap = right - left
    elif sign in (">", ">="):
        gap = left - right
    else:
        gap = -np.abs(left - right) if sign == "=" else np.abs(left - right)
    known = compare("=", left, left) & compare("=", right, right)
    return np.where(known, gap, -np.inf)
