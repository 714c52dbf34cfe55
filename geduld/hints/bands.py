"""Comparisons of one reading that look like bands: edges left out, values in two of them, thresholds swapped.

The same for every language: each makes arms of its own ifs, and says where they stand.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from geduld.hints.intervals import Interval
from geduld.language.quantities import show

MOST_ARMS = 40  # a longer row of ifs is no set of bands, and each is held against each
Place = TypeVar("Place")


@dataclass(frozen=True)
class Arm(Generic[Place]):
    """What is done for some values of a reading.

    `sets` are the outputs and values that it sets, each with what it is set to at last; None for what is worked out.
    """

    place: Place
    line: int
    values: Interval
    sets: Mapping[str, object]


@dataclass(frozen=True)
class Told(Generic[Place]):
    """What is wrong with some arms, and where it is said."""

    code: str
    place: Place
    message: str
    remedy: str


@dataclass(frozen=True)
class Tongue:
    """How a language says that the last arm takes all the rest, and that only one of several runs; and the unit of a
    reading.
    """

    rest: str
    only_one: str
    unit: Callable[[str], str] = lambda part: ""


def told_of_block(arms: Iterable[Sequence[Arm[Place]]], tongue: Tongue, between: bool) -> Iterator[Told[Place]]:
    """What is wrong with the ifs of a block.

    `arms` are those of each statement: of an if without an else, all of whose arms ask for one reading; none of any
    other. `between`: the two arms of one if may mean to leave what lies between them as it was.
    """
    row: list[Arm[Place]] = []
    for each in (*arms, ()):
        if len(each) > 1:
            yield from _left_out(each, "no arm of this if runs", tongue, between)
            yield from _swapped(each, tongue)
        if len(each) == 1 and (not row or row[0].values.part == each[0].values.part):
            row += each
            continue
        if len(row) > 1:
            yield from _left_out(row, "none of these ifs runs", tongue, True)
            yield from (list(_swapped(row, tongue)) or list(_shared(row, tongue)))
        row = list(each) if len(each) == 1 else []


def _covers_both_sides(arms: Sequence[Arm[Place]]) -> bool:
    """Whether these look like bands of one reading: there is one below all, and one above."""
    values = [arm.values for arm in arms]
    same = len({item.part for item in values}) == 1 and len(arms) <= MOST_ARMS
    return same and min(v.low for v in values) == -math.inf and max(v.high for v in values) == math.inf


def _left_out(arms: Sequence[Arm[Place]], nothing: str, tongue: Tongue, between: bool) -> Iterator[Told[Place]]:
    """Comparisons that look like bands of one reading and leave values between them out."""
    if not _covers_both_sides(arms):
        return
    values = sorted((arm.values for arm in arms), key=lambda item: (item.low, item.high))
    reached = values[0]
    for item in values[1:]:
        which, one = _between(reached, item)
        if which:
            if between and not one and _keeps_two_states(arms):
                return  # the gap of a hysteresis is meant
            message = f"When {item.part} is {which}, {nothing}."
            yield Told("edge-left-out", arms[0].place, message, f"{tongue.rest}, which leaves nothing out.")
            return
        reached = max(reached, item, key=lambda found: (found.high, found.high_closed))


def _between(lower: Interval, upper: Interval) -> tuple[str, bool]:
    """What lies between two bands, and whether that is a single value; empty for nothing."""
    if lower.whole and upper.whole and math.isfinite(lower.high) and math.isfinite(upper.low):
        first = math.floor(lower.high) + 1 if lower.high_closed else math.ceil(lower.high)
        last = math.ceil(upper.low) - 1 if upper.low_closed else math.floor(upper.low)
        if first > last:
            return "", False
        return (f"exactly {first}", True) if first == last else (f"{first} to {last}", False)
    if upper.low == lower.high and not lower.high_closed and not upper.low_closed:
        return f"exactly {show(upper.low)}", True
    return (f"{show(lower.high)} to {show(upper.low)}", False) if upper.low > lower.high else ("", False)


def _keeps_two_states(arms: Sequence[Arm[Place]]) -> bool:
    """Whether two ifs switch something one way and the other: what lies between keeps it."""
    return len(arms) == 2 and bool(set(arms[0].sets) & set(arms[1].sets))


def _swapped(arms: Sequence[Arm[Place]], tongue: Tongue) -> Iterator[Told[Place]]:
    """Two thresholds that switch something on and off, and the one for on lies on the wrong side of the one for off."""
    if len(arms) != 2 or not _covers_both_sides(arms):
        return
    below, above = sorted(arms, key=lambda arm: arm.values.low)
    first, second = below.sets, above.sets
    switched = [name for name in first if name in second and first[name] != second[name]]
    fixed = all(value is not None for value in (*first.values(), *second.values()))
    if above.values.low >= below.values.high or not switched or not fixed:
        return
    unit = tongue.unit(below.values.part)
    edges = f"{show(above.values.low, unit)} and {show(below.values.high, unit)}"
    message = f"Between {edges} both hold, so what one does the other undoes: the two thresholds are swapped."
    remedy = "Exchange the two numbers; then what lies between them keeps what was done last."
    yield Told("thresholds-swapped", max(arms, key=lambda arm: arm.line).place, message, remedy)


def _shared(arms: Sequence[Arm[Place]], tongue: Tongue) -> Iterator[Told[Place]]:
    """Ifs one behind the other that both run for some values, and set the same."""
    if not _covers_both_sides(arms):
        return
    for number, arm in enumerate(arms):
        for other in arms[:number]:
            low, high = max(arm.values.low, other.values.low), min(arm.values.high, other.values.high)
            both = set(arm.sets) & set(other.sets)
            if low >= high or not both:
                continue
            unit = tongue.unit(arm.values.part)
            span = f"{show(low, unit)} to {show(high, unit)}" if math.isfinite(low + high) else "some values"
            message = f"When {arm.values.part} is {span}, the if of line {other.line} runs and this one too."
            yield Told("bands-overlap", arm.place, message, tongue.only_one)
            return
