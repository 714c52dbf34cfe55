"""Hints about the program and the rig alone."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from geduld.binding import terms
from geduld.hints import counters
from geduld.hints.lines import Lines
from geduld.language.messages import Hint, error
from geduld.language.quantities import show
from geduld.rig.model import Rig

NO_HEADROOM = 95.0
_LARGE = re.compile(r"\b(?:9[5-9]|100)(?:\.\d+)? %")


def hints_of_program(bound: terms.Bound, rig: Rig, lines: Lines) -> list[Hint]:
    """Every hint that needs no trace."""
    found: list[Hint] = [*_unused(bound), *_one_side(bound, rig, lines)]
    for block in _blocks(bound.steps):
        found += _in_a_row(block, rig, lines)
        found += _unreachable(block, lines)
    for step, loops in terms.walk_steps(bound.steps):
        found += _headroom(step, rig, lines)
        found += _edges(step, lines)
        found += _conditions(step, rig, lines)
        found += _dead_band(step, loops, rig, lines)
        found += _timed_turn(step, rig, lines)
        if isinstance(step, terms.Repeat):
            found += counters.not_reset(step, rig, lines)
    return found


def _blocks(steps: tuple[terms.Step, ...]) -> Iterator[tuple[terms.Step, ...]]:
    yield steps
    for step, _ in terms.walk_steps(steps):
        yield from terms.bodies(step)


def _unused(bound: terms.Bound) -> Iterator[Hint]:
    for name, span in bound.unused:
        message = f'Nothing uses "{name}".'
        remedy = "Use it, or delete it: a number that is changed here would change nothing."
        yield replace(error("never-used", span, message, remedy), level="advice")


def _commands(step: terms.Step) -> tuple[str, ...]:
    """The outputs a step sets to a value."""
    if isinstance(step, terms.Command | terms.Follow):
        return tuple(part for part, _ in step.settings)
    return step.parts if isinstance(step, terms.Ramp) else ()


def _one_side(bound: terms.Bound, rig: Rig, lines: Lines) -> Iterator[Hint]:
    if rig.drive is None:
        return
    sides = (rig.drive.left, rig.drive.right)
    set_by: dict[str, int] = {}
    for step, _ in terms.walk_steps(bound.steps):
        for part in _commands(step):
            set_by.setdefault(part, step.line)
    commanded = [side for side in sides if side in set_by]
    if len(commanded) == 1:
        other = sides[1 - sides.index(commanded[0])]
        message = f'Only "{commanded[0]}" of the drive is ever commanded, so the robot goes in a circle.'
        yield lines.warning("one-side", set_by[commanded[0]], message, f'Command "{other}" as well, or use drive.')


def _takes_time(step: terms.Step) -> bool:
    """Whether time may pass in a step."""
    waits = isinstance(step, terms.Wait | terms.Follow | terms.Ramp | terms.Repeat)
    if waits or (isinstance(step, terms.Command) and step.ending is not None):
        return True
    return any(_takes_time(inner) for body in terms.bodies(step) for inner in body)


def _in_a_row(block: tuple[terms.Step, ...], rig: Rig, lines: Lines) -> Iterator[Hint]:
    """Outputs that are set and, before any time passes, set or stopped again."""
    fresh: dict[str, int] = {}
    for step in block:
        if isinstance(step, terms.Command) and (step.ending is None or fresh):
            for part in _commands(step):
                if part in fresh:
                    yield _set_twice(part, fresh[part], step.line, rig, lines)
        if isinstance(step, terms.Halt):
            for line in sorted({fresh[part] for part in step.parts if part in fresh}):
                message = f"This is stopped again in line {step.line} at the same instant, so it never moves."
                yield lines.warning("no-time", line, message, "Give it a time or an ending: for 2 s, or until …")
        if isinstance(step, terms.Command) and step.ending is None:
            fresh |= dict.fromkeys(_commands(step), step.line)
        elif not isinstance(step, terms.Assign | terms.Note):
            fresh = {}


def _set_twice(part: str, first: int, second: int, rig: Rig, lines: Lines) -> Hint:
    sides = (rig.drive.left, rig.drive.right) if rig.drive else ()
    other = next((side for side in sides if part in sides and side != part), None)
    message = f'"{part}" is set in line {first} and again here at the same instant; only the last counts.'
    remedy = f'Did you mean "{other}" in one of them?' if other else "Delete one, or wait between them."
    written = lines.text(second)
    fix = f"{other}{written.removeprefix(part)}" if other and written.startswith(f"{part} ") else None
    return lines.warning("set-twice", second, message, remedy, fix)


def _unreachable(block: tuple[terms.Step, ...], lines: Lines) -> Iterator[Hint]:
    for step, following in pairwise(block):
        forever = isinstance(step, terms.Repeat) and step.form == "" and not _leaves(step.body)
        if forever or isinstance(step, terms.Finish | terms.Leave):
            why = "the repeat above never ends" if forever else f"line {step.line} goes elsewhere"
            message = f"Nothing reaches this step: {why}."
            yield lines.warning("never-reached-step", following.line, message, "Move it, or delete it.")
            return


def _leaves(body: tuple[terms.Step, ...]) -> bool:
    """Whether a loop's body may leave that loop, or end the program."""
    for step in body:
        if isinstance(step, terms.Leave | terms.Finish):
            return True
        inner = [b for b in terms.bodies(step) if _leaves(b)]
        if inner and not isinstance(step, terms.Repeat):
            return True
        if inner and any(isinstance(deep, terms.Finish) for deep, _ in terms.walk_steps((step,))):
            return True
    return False


def _headroom(step: terms.Step, rig: Rig, lines: Lines) -> Iterator[Hint]:
    if rig.drive is None or not isinstance(step, terms.Command):
        return
    values = dict(step.settings)
    pair = [values.get(rig.drive.left), values.get(rig.drive.right)]
    if all(isinstance(value, terms.Const) and abs(value.value) >= NO_HEADROOM for value in pair):
        message = "At full power neither wheel can be given more, so a weaker one bends the way."
        written = lines.text(step.line)
        fix = _LARGE.sub("80 %", written) if _LARGE.search(written) else None
        remedy = "Stay at 80 % or less where the robot must go straight."
        yield lines.advice("no-headroom", step.line, message, remedy, fix)


def _interval(term: terms.Term | None) -> tuple[str, float, float, bool, bool] | None:
    """A comparison of one reading with a number: part, low, high, and whether low and high belong to it."""
    if isinstance(term, terms.Junction) and term.word == "and":
        left, right = _interval(term.left), _interval(term.right)
        if left is None or right is None or left[0] != right[0]:
            return None
        low = max((left[1], not left[3]), (right[1], not right[3]))
        high = min((left[2], left[4]), (right[2], right[4]))
        return left[0], low[0], high[0], not low[1], high[1]
    if not isinstance(term, terms.Compare) or term.sign in ("=", "!="):
        return None
    left_term, right_term, sign = term.left, term.right, term.sign
    if isinstance(right_term, terms.Reading):
        left_term, right_term = right_term, left_term
        sign = {"<": ">", "<=": ">=", ">": "<", ">=": "<="}[sign]
    if not isinstance(left_term, terms.Reading) or not isinstance(right_term, terms.Const):
        return None
    edge, closed = right_term.value, sign in ("<=", ">=")
    if sign in ("<", "<="):
        return left_term.part, -math.inf, edge, False, closed
    return left_term.part, edge, math.inf, closed, False


def _edges(step: terms.Step, lines: Lines) -> Iterator[Hint]:
    """Comparisons that look like bands of one reading and leave values between them out."""
    if not isinstance(step, terms.Branches) or step.arms[-1][0] is None or len(step.arms) < 2:
        return
    found = [_interval(condition) for condition, _ in step.arms]
    spans = sorted(item[1:] for item in found if item is not None)
    parts = {item[0] for item in found if item is not None}
    if None in found or len(parts) != 1 or spans[0][0] > -math.inf or max(span[1] for span in spans) < math.inf:
        return
    part = parts.pop()
    reached, closed = spans[0][1], spans[0][3]
    for low, high, low_closed, high_closed in spans[1:]:
        if low > reached or (low == reached and not closed and not low_closed):
            which = f"exactly {show(low)}" if low == reached else f"{show(reached)} to {show(low)}"
            message = f"When {part} is {which}, no arm of this if runs."
            remedy = "Use else for the last arm, or by with bands, which leave nothing out."
            yield lines.warning("edge-left-out", step.line, message, remedy)
            return
        reached, closed = max((reached, closed), (high, high_closed))


def _truths(step: terms.Step) -> Iterator[terms.Term]:
    """The conditions of a step."""
    ending = getattr(step, "ending", None)
    if isinstance(ending, terms.Until):
        yield ending.condition
    if isinstance(step, terms.Repeat) and step.form in ("while", "until") and step.value:
        yield step.value
    if isinstance(step, terms.Guarded):
        yield step.condition
    if isinstance(step, terms.Branches):
        yield from (condition for condition, _ in step.arms if condition is not None)


def _conditions(step: terms.Step, rig: Rig, lines: Lines) -> Iterator[Hint]:
    for condition in _truths(step):
        yield from _never_true(step, condition, rig, lines)
        yield from counters.overflow(step, condition, rig, lines)
        pressed = {
            term.left.part
            for term in _required(condition)
            if isinstance(term, terms.Compare)
            and isinstance(term.left, terms.Reading)
            and term.right == terms.Const(1.0, dimension=term.left.dimension)
        }
        for group in rig.exclusive:
            both = [name for name in group if name in pressed]
            if len(both) > 1:
                message = f'"{both[0]}" and "{both[1]}" cannot be read at the same time on this rig.'
                yield lines.warning("exclusive-keys", step.line, message, "Use two keys of different groups.")


def _required(condition: terms.Term) -> Iterator[terms.Term]:
    """The parts of a condition that must all hold."""
    if isinstance(condition, terms.Junction) and condition.word == "and":
        yield from _required(condition.left)
        yield from _required(condition.right)
    else:
        yield condition


def _never_true(step: terms.Step, condition: terms.Term, rig: Rig, lines: Lines) -> Iterator[Hint]:
    found = _interval(condition)
    for term in _required(condition):
        found = found or _interval(term)
    if found is None:
        return
    part, low, high, low_closed, high_closed = found
    whole = _interval(condition)
    if whole is not None and (low > high or (low == high and not (low_closed and high_closed))):
        message = f"No value of {part} can fulfil this."
        written = lines.text(step.line)
        fix = written.replace(" and ", " or ") if written.count(" and ") == 1 and "between" not in written else None
        remedy = "Check the two comparisons, and whether and should be or."
        yield lines.warning("never-true", step.line, message, remedy, fix)
        return
    sensor = rig.channels[part]
    least, greatest = sensor.low, sensor.high
    if (least is not None and high < least) or (greatest is not None and low > greatest):
        ends = f"{show(least or 0)} to {show(greatest or 0)}" if greatest is not None else f"from {show(least or 0)}"
        message = f"{part} can only read {ends} {sensor.dimension.unit}, so this never comes true."
        yield lines.warning("never-true", step.line, message, "Compare with a value inside the sensor's range.")


def _dead_band(step: terms.Step, loops: int, rig: Rig, lines: Lines) -> Iterator[Hint]:
    """A drive that follows the hand around a rest, with nothing that keeps it still at rest."""
    if rig.drive is None or not (isinstance(step, terms.Follow) or (isinstance(step, terms.Command) and loops)):
        return
    for part, value in step.settings:
        if part not in (rig.drive.left, rig.drive.right):
            continue
        for term in value.walk():
            around = isinstance(term, terms.Arithmetic) and term.sign == "-" and isinstance(term.right, terms.Const)
            if around and isinstance(term.left, terms.Reading) and rig.channels[term.left.part].follows == "hand":  # type: ignore[attr-defined]
                name = term.left.part  # type: ignore[attr-defined]
                message = (
                    f"The drive follows {name} with no dead band, so it creeps when {name} rests nearly in the middle."
                )
                remedy = f"Choose with by {name}: a middle band in which the drive stops."
                yield lines.advice("no-dead-band", step.line, message, remedy)
                return


def _timed_turn(step: terms.Step, rig: Rig, lines: Lines) -> Iterator[Hint]:
    """A turn that lasts a fixed time, on a rig that could measure it."""
    written = lines.text(step.line)
    drive = rig.drive
    if drive is None or not isinstance(step, terms.Command) or not isinstance(step.ending, terms.Const):
        return
    if not written.startswith("turn ") or not all(
        rig.parts[name].counts_per_turn for name in (drive.left, drive.right)
    ):
        return
    rates = [rig.turn_rate(name) for name in (drive.left, drive.right)]
    powers = [value.value for _, value in step.settings if isinstance(value, terms.Const)]
    fix = None
    if None not in rates and len(powers) == 2:
        way = drive.wheel_diameter / 2 / drive.track_width
        angle = abs(powers[0] * rates[0] - powers[1] * rates[1]) * way * step.ending.value  # type: ignore[operator]
        fix = f"{written.rpartition(' for ')[0]} for {show(round(angle))} deg"
    message = "How far a turn of a fixed time goes depends on the surface and on the battery."
    yield lines.advice("timed-turn", step.line, message, "Measure it: turn left at 30 % for 90 deg", fix)
