"""Hints about ifs that ask for one reading, arm by arm or one behind the other."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from geduld.binding import terms
from geduld.hints.intervals import Interval, interval
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import show
from geduld.rig.model import Rig


@dataclass(frozen=True)
class _Arm:
    """What is done for some values of a reading."""

    line: int
    values: Interval
    body: tuple[terms.Step, ...]


def if_hints(block: tuple[terms.Step, ...], rig: Rig, lines: Lines) -> Iterator[Hint]:
    """Edges that are left out, values that two ifs share, and thresholds of a hysteresis that are swapped."""
    for step in block:
        if isinstance(step, terms.Branches) and len(step.arms) > 1:
            arms = _arms(step)
            if len(arms) == len(step.arms):
                yield from _left_out(arms, "no arm of this if runs", lines)
                yield from _swapped(arms, rig, lines)
    for arms in _one_behind_the_other(block):
        yield from _left_out(arms, "none of these ifs runs", lines)
        yield from (list(_swapped(arms, rig, lines)) or list(_shared(arms, rig, lines)))


def _arms(step: terms.Branches) -> list[_Arm]:
    found = [(condition, body, interval(condition)) for condition, body in step.arms]
    return [_Arm(step.line, values, body) for _, body, values in found if values is not None]


def _one_behind_the_other(block: tuple[terms.Step, ...]) -> Iterator[list[_Arm]]:
    """Ifs with one arm each, one behind the other, that ask for the same reading."""
    row: list[_Arm] = []
    for step in (*block, None):
        single = isinstance(step, terms.Branches) and len(step.arms) == 1
        arms = _arms(step) if single and isinstance(step, terms.Branches) else []
        if arms and (not row or row[0].values.part == arms[0].values.part):
            row += arms
            continue
        if len(row) > 1:
            yield row
        row = arms


def _covers_both_sides(arms: Sequence[_Arm]) -> bool:
    """Whether these look like bands of one reading: there is one below all, and one above."""
    values = [arm.values for arm in arms]
    same = len({item.part for item in values}) == 1
    return same and min(v.low for v in values) == -math.inf and max(v.high for v in values) == math.inf


def _left_out(arms: list[_Arm], nothing: str, lines: Lines) -> Iterator[Hint]:
    """Comparisons that look like bands of one reading and leave values between them out."""
    if not _covers_both_sides(arms):
        return
    values = sorted((arm.values for arm in arms), key=lambda item: (item.low, item.high))
    reached, closed = values[0].high, values[0].high_closed
    for item in values[1:]:
        if item.low > reached or (item.low == reached and not closed and not item.low_closed):
            low = show(item.low)
            which = f"exactly {low}" if item.low == reached else f"{show(reached)} to {low}"
            if item.low > reached and _keeps_two_states(arms):
                return  # the gap of a hysteresis is meant
            message = f"When {item.part} is {which}, {nothing}."
            remedy = "Use else for the last arm, or by with bands, which leave nothing out."
            yield lines.warning("edge-left-out", arms[0].line, message, remedy)
            return
        reached, closed = max((reached, closed), (item.high, item.high_closed))


def _keeps_two_states(arms: Sequence[_Arm]) -> bool:
    """Whether two ifs switch something one way and the other and wait for nothing: what lies between keeps it."""
    settings = [_set(arm.body) for arm in arms]
    return len(arms) == 2 and bool(set(settings[0]) & set(settings[1])) and arms[0].line != arms[1].line


def _set(body: tuple[terms.Step, ...]) -> dict[str, object]:
    """The outputs and values that a body sets, each with what it is set to last."""
    found: dict[str, object] = {}
    for step, _ in terms.walk_steps(body):
        if isinstance(step, terms.Command):
            found |= dict(step.settings)
        elif isinstance(step, terms.Halt):
            found |= dict.fromkeys(step.parts, terms.Const(0.0))
        elif isinstance(step, terms.Assign):
            found[f"#{step.index}"] = step.value
    return found


def _swapped(arms: list[_Arm], rig: Rig, lines: Lines) -> Iterator[Hint]:
    """Two thresholds that switch something on and off, and the one for on lies on the wrong side of the one for off."""
    if len(arms) != 2 or not _covers_both_sides(arms):
        return
    below, above = sorted(arms, key=lambda arm: arm.values.low)
    first, second = _set(below.body), _set(above.body)
    switched = [name for name in first if name in second and first[name] != second[name]]
    if above.values.low >= below.values.high or not switched or not all(_fixed(body) for body in (first, second)):
        return
    unit = rig.channels[below.values.part].dimension.unit
    edges = f"{show(above.values.low, unit)} and {show(below.values.high, unit)}"
    message = f"Between {edges} both hold, so what one does the other undoes: the two thresholds are swapped."
    remedy = "Exchange the two numbers; then what lies between them keeps what was done last."
    yield lines.warning("thresholds-swapped", max(arm.line for arm in arms), message, remedy)


def _fixed(settings: dict[str, object]) -> bool:
    return all(isinstance(value, terms.Const) for value in settings.values())


def _shared(arms: list[_Arm], rig: Rig, lines: Lines) -> Iterator[Hint]:
    """Ifs one behind the other that both run for some values, and set the same."""
    for number, arm in enumerate(arms):
        for other in arms[:number]:
            low, high = max(arm.values.low, other.values.low), min(arm.values.high, other.values.high)
            both = set(_set(arm.body)) & set(_set(other.body))
            if low >= high or not both or not _covers_both_sides(arms):
                continue
            unit = rig.channels[arm.values.part].dimension.unit
            span = f"{show(low, unit)} to {show(high, unit)}" if math.isfinite(low + high) else "some values"
            message = f"When {arm.values.part} is {span}, the if of line {other.line} runs and this one too."
            remedy = "Write else if, so that one of them runs; or by with bands."
            yield lines.warning("bands-overlap", arm.line, message, remedy)
            return
