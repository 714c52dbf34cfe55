"""A run as a check looks at it: the course of each of its conditions.

The margin is the robustness of quantitative temporal logic (Fainekos and Pappas 2009; Donzé and Maler
2010): how far the compared value is from where the truth would change; positive while true.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from geduld.binding import terms
from geduld.checks.conditions import Condition
from geduld.checks.courses import Course, Truths, from_zero, on_one_axis, sure, taken
from geduld.checks.places import not_there, where
from geduld.checks.told import not_told, told
from geduld.checks.turning import Turning
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.rig.model import Part
from geduld.run.record.record import Record
from geduld.run.search.columns import Lookup, as_array, compare
from geduld.run.search.corners import corners_within
from geduld.worlds.signal import Signal, instants
from geduld.worlds.trace import Floats, Ticks, derived

# Courses that go on being kept with the readings of a trace: so many, and so many instants of theirs together.
MOST_COURSES, MOST_INSTANTS = 64, 1_000_000


class Timeline:
    """A run as one check looks at it.

    `reference` is the reference behaviour's run in the same world. `unknown` says why the conditions cannot be judged
    at all: a place is asked for where there is none, or the reference where it was not run. It is empty when they can.

    Each condition has its course on the instants at which it can change itself. Where one of them depends on the clock,
    all have theirs on all the instants of the check: between two of them the clock goes on, and nobody looks. `times`
    are how far behind such an instant the check looks as well.
    """

    def __init__(
        self, record: Record, used: Sequence[Condition], reference: Record | None = None, times: Sequence[int] = ()
    ) -> None:
        self.record = record
        self.reference = reference
        self.used = used
        self._times = times
        self.unknown = _unknown(used, record, reference)
        self._on_clock = any(item.on_clock for item in used)
        self._courses: dict[Condition, Course] = {}
        # the tick past which a reading that is used here is not to be trusted; past the end if none
        self.horizon = 0 if self.unknown else self.horizon_of(used)

    def horizon_of(self, used: Sequence[Condition]) -> int:
        """The tick past which a reading of some conditions is not to be trusted; past the end if none."""
        never = self.record.lasted + 1
        others = (self.record, self.reference, self.record.partner)
        if not any(record.trust for record in others if record is not None):
            return never
        leaves = [self._whose(leaf) for item in used for leaf in item.leaves]
        return min((_trusted_until(record, leaf, never) for record, leaf in leaves if record.trust), default=never)

    def _whose(self, leaf: terms.Term) -> tuple[Record, terms.Term]:
        """The run that a reading, an output or the pose belongs to, and itself without `reference`."""
        if not isinstance(leaf, terms.Reference):
            return self.record, leaf
        other = self.reference if leaf.whose == "reference" else self.record.partner
        assert other is not None
        return other, leaf.inner

    def course(self, condition: Condition) -> Course:
        """A truth over the run, worked out once: for all checks, and where it can be for all runs that see the same."""
        courses: dict[Any, Course]
        key: Any
        if self._on_clock or condition.asks_others:
            courses, key = self._courses, condition
        elif self._of_readings(condition):
            courses, key = self.record.readings.kept, (condition, self.record.lasted)
        else:
            courses, key = self.record.kept, condition
        found: Course | None = courses.get(key)
        if found is None:
            found = self._course(condition)
            if courses is self.record.readings.kept and len(courses) >= min(
                MOST_COURSES, MOST_INSTANTS // len(found.ticks)
            ):
                courses.clear()
            courses[key] = found
        return found

    def _of_readings(self, condition: Condition) -> bool:
        """Whether a truth depends on nothing but what was recorded: what the motion model says, depends on commands."""
        modelled = any(
            isinstance(leaf, terms.Encoder) and leaf.part not in self.record.readings for leaf in condition.leaves
        )
        return condition.of_readings and not modelled

    def _course(self, condition: Condition) -> Course:
        """A junction and an opposite come from their parts' courses; what stands alone is evaluated."""
        if condition.parts:
            return _combined(condition.term, *map(self.course, condition.parts))
        return self._alone(condition, *self._looked_up(condition))

    def _alone(self, condition: Condition, ticks: Ticks, lookup: Lookup) -> Course:
        term, count, lasted = condition.term, len(ticks), self.record.lasted
        if not isinstance(term, terms.Compare):
            alone = as_array(condition.sides[0](lookup), count).astype(np.bool_)
            return Course(ticks, alone, "", lasted, None)
        left, right = condition.sides[0](lookup), condition.sides[1](lookup)
        true: Any = as_array(compare(term.sign, left, right), count)
        if condition.unit is None:
            return Course(ticks, true, "", lasted, None)
        return Course(ticks, true, condition.unit, lasted, lambda: as_array(_distance(term.sign, left, right), count))

    def at(self, condition: Condition, tick: int) -> tuple[bool, float, str]:
        """Whether a truth holds at an instant, with its margin and the margin's unit."""
        if self._on_clock:
            course = self.course(condition)
            place = course.place(tick)
            return bool(course.true[place]), float(course.margin[place]), course.unit
        true, margin, unit = self._instant(condition, tick)
        return bool(true), float(margin), unit

    def _instant(self, condition: Condition, tick: int) -> tuple[Any, Any, str]:
        """The same of a condition that does not change by itself: nothing is looked at but that instant."""
        parts = [self._instant(part, tick) for part in condition.parts]
        if len(parts) == 1:
            ((true, margin, unit),) = parts
            return not true, -margin, unit
        term = condition.term
        if parts:
            (left, one, unit), (right, other, another) = parts
            both = isinstance(term, terms.Junction) and term.word == "and"
            true = left and right if both else left or right
            if unit and another and unit != another:
                return true, sure(true), ""
            return true, (min if both else max)(one, other), unit or another
        values = {leaf: _value(self.signal(leaf), tick) for leaf in condition.leaves}
        sides = [side(values.__getitem__) for side in condition.sides]
        if not isinstance(term, terms.Compare):
            return sides[0], sure(sides[0]), ""
        true = compare(term.sign, *sides)
        if condition.unit is None:
            return true, sure(true), ""
        return true, _distance(term.sign, *sides), condition.unit

    def _looked_up(self, condition: Condition) -> tuple[Ticks, Lookup]:
        """The instants at which what a condition reads may change, and what is read then."""
        leaves = condition.leaves
        if self._on_clock:
            ticks = self._all_ticks
            columns = {leaf: self.signal(leaf).at(ticks) for leaf in leaves}
            return ticks, lambda term: columns[term] if term in columns else ticks / 1_000_000
        steps = [from_zero(self.signal(leaf), self.record.lasted) for leaf in leaves]
        if len(steps) == 1:
            ticks, values = steps[0]
            return ticks, lambda term: values
        ticks, places = on_one_axis([times for times, _ in steps] or [_ABSENT.times])
        columns = {leaf: taken(step[1], place) for leaf, step, place in zip(leaves, steps, places, strict=False)}
        return ticks, columns.__getitem__

    @cached_property
    def _all_ticks(self) -> Ticks:
        """Every instant at which anything that the check reads can change, or a comparison with the clock, which meets
        what is held in between."""
        lasted = self.record.lasted
        ticks: list[ArrayLike] = [[0, lasted]]
        for item in self.used:
            ticks += [self.signal(leaf).times for leaf in item.leaves]
        merged = instants(*ticks)
        starts = merged[(merged >= 0) & (merged <= lasted)]
        stops = np.append(starts[1:], lasted + 1)

        def held(term: terms.Term) -> Floats:
            return self.signal(term).at(starts)

        meets = [corners_within(term, {}, held, starts, stops) for item in self.used for term in item.comparisons]
        # between two instants distances are straight lines as well: the least is at an end
        found = instants(starts, stops - 1, *map(np.sort, meets))
        later = [found + time + step for time in self._times if time for step in (-1, 0)]
        found = instants(found, *later)
        return found[found <= lasted]

    def values_at(self, condition: Condition, tick: int) -> str:
        """What the parts in a term were at an instant: `left was 45 %, right was 45 %`."""
        return ", ".join(f"{_called(leaf)} was {self._shown(leaf, tick)}" for leaf in condition.leaves)

    def _shown(self, leaf: terms.Term, tick: int) -> str:
        value = _value(self.signal(leaf), tick)
        record, inner = self._whose(leaf)
        if math.isnan(value):
            return "absent"
        if isinstance(inner, terms.Told):
            return _shown_as_told(inner, value)
        if isinstance(inner, terms.Pose):
            return show(value, inner.dimension.unit, 1)
        part = record.rig.channels[inner.part]  # type: ignore[attr-defined]
        if part.dimension == TRUTH:
            return "pressed" if value else "released"
        if part.dimension == TEXT:
            return f'"{record.texts.get(value, "?")}"'
        return _in_its_unit(part, value)

    def far(self, leaf: terms.Term, distance: float) -> str:
        """How far something is from what it is compared with, as its readings are shown: `12 cm`."""
        record, inner = self._whose(leaf)
        if isinstance(inner, terms.Pose | terms.Told):
            return show(distance, inner.dimension.unit, 2)
        return _in_its_unit(record.rig.channels[inner.part], distance)  # type: ignore[attr-defined]

    def signal(self, leaf: terms.Term) -> Signal:
        """A reading, an output, the pose, or one of them in the reference's run."""
        record, leaf = self._whose(leaf)
        if isinstance(leaf, terms.Pose | terms.Told):
            if leaf not in record.kept:
                record.kept[leaf] = where(leaf, record) if isinstance(leaf, terms.Pose) else told(leaf, record)
            found: Signal = record.kept[leaf]
            return found
        name = leaf.part  # type: ignore[attr-defined]
        signal = record.commands.get(name) if isinstance(leaf, terms.Output) else None
        signal = signal or record.readings.get(name) or _derived(record, name)
        if signal is None and isinstance(leaf, terms.Encoder):
            signal = record.kept.setdefault(leaf, None) or Turning.of(record).modelled(name)
            record.kept[leaf] = signal
        return signal or _ABSENT


def _combined(term: terms.Term, left: Course, right: Course | None = None) -> Course:
    """The opposite of a truth; or two as one, on all instants of both, with the margin that decides."""
    if right is None:
        opposite = (lambda: -left.margin) if left.has_distance else None
        return Course(left.ticks, ~left.true, left.unit, left.lasted, opposite)
    both = isinstance(term, terms.Junction) and term.word == "and"
    ticks, (ours, theirs) = on_one_axis((left.ticks, right.ticks))
    one, other = taken(left.true, ours), taken(right.true, theirs)
    true = one & other if both else one | other
    if left.unit and right.unit and left.unit != right.unit:
        return Course(ticks, true, "", left.lasted, None)
    if not (left.has_distance or right.has_distance):
        return Course(ticks, true, left.unit or right.unit, left.lasted, None)

    def margin() -> Floats:
        if not right.has_distance:
            return _decided(both, taken(left.margin, ours), other)
        if not left.has_distance:
            return _decided(both, taken(right.margin, theirs), one)
        return (np.minimum if both else np.maximum)(taken(left.margin, ours), taken(right.margin, theirs))

    return Course(ticks, true, left.unit or right.unit, left.lasted, margin)


def _decided(both: bool, margin: Floats, other: Truths) -> Floats:
    """The margin of a junction with a truth that has no distance: endless where that one decides alone."""
    found = margin.copy()
    np.copyto(found, -np.inf if both else np.inf, where=~other if both else other)
    return found


def _value(signal: Signal, tick: int) -> float:
    place = int(signal.times.searchsorted(tick, "right")) - 1
    return math.nan if place < 0 else float(signal.values[place])


_ABSENT = Signal(np.zeros(1, np.int64), np.full(1, np.nan))


def _trusted_until(record: Record, leaf: terms.Term, never: int) -> int:
    if isinstance(leaf, terms.Pose):
        return never
    if isinstance(leaf, terms.Told):
        return record.trust.get(f"{leaf.name}.angle", never)
    sources = {leaf.part, *_sources(leaf.part)}  # type: ignore[attr-defined]
    return min((tick for name, tick in record.trust.items() if name in sources), default=never)


def _derived(record: Record, name: str) -> Signal | None:
    """A count of presses, or a speed, from the readings that the record holds."""
    if "." not in name:
        return None
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


def _in_its_unit(part: Part, value: float) -> str:
    if not part.unit:
        return show(value)
    return show(value if part.unit.is_base else part.unit.from_base(value), part.unit.word, 2)


def _shown_as_told(term: terms.Told, value: float) -> str:
    if term.what == "control":
        return ("driven", "keeping a speed", "braking", "coasting")[int(value)]
    return show(value, term.dimension.unit, 1) if term.what in ("turning", "rolling") else "so" if value else "not so"


def _called(leaf: terms.Term) -> str:
    if isinstance(leaf, terms.Told):
        words = {"control": leaf.name, "line": f"line {leaf.name} is waiting"}
        words |= {"turning": f"the turning of {leaf.name}", "rolling": f"the speed of {leaf.name}"}
        return words.get(leaf.what, f'{leaf.what} "{leaf.name}"' if leaf.name else leaf.what)
    if isinstance(leaf, terms.Reference):
        return f"the {leaf.whose}'s {_called(leaf.inner)}"
    if isinstance(leaf, terms.Pose):
        return {
            "x": "cart.x",
            "y": "cart.y",
            "away": f'the distance from mark "{leaf.name}"',
            "inside": f'the room inside "{leaf.name}"',
            "off": "the heading's error",
        }.get(leaf.what, leaf.what)
    return leaf.part  # type: ignore[attr-defined,no-any-return]


def _unknown(used: Sequence[Condition], record: Record, reference: Record | None) -> str:
    for item in (item for condition in used for item in condition.elsewhere):
        if isinstance(item, terms.Reference) and item.whose == "reference" and reference is None:
            return "The reference behaviour was not run beside this."
        if isinstance(item, terms.Reference) and item.whose == "partner" and record.partner is None:
            return "There was no other device in this run."
        pose = item.inner if isinstance(item, terms.Reference) else item
        said = ""
        if isinstance(pose, terms.Pose):
            said = not_there(pose, record)
        elif isinstance(pose, terms.Told):
            said = not_told(pose, record)
        if said:
            return said
    return ""


def _distance(sign: str, left: Any, right: Any) -> Any:
    """How far two values are from where their comparison changes; endless where one is absent."""
    if sign in ("<", "<="):
        gap = right - left
    elif sign in (">", ">="):
        gap = left - right
    else:
        gap = -np.abs(left - right) if sign == "=" else np.abs(left - right)
    unknown = np.isnan(gap)
    if not unknown.any():
        return gap
    if not (np.ndim(right) == 0 and np.isfinite(right)):  # two endless values have no gap, and are none the less known
        unknown = np.isnan(left) | np.isnan(right)
    if np.ndim(gap) == 0:
        return -np.inf if unknown else gap
    np.copyto(gap, -np.inf, where=unknown)
    return gap
