"""Hints about the program and the rig alone."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from geduld.binding import terms
from geduld.hints import counters
from geduld.hints.ifs import if_hints
from geduld.hints.intervals import interval
from geduld.hints.lines import Lines
from geduld.hints.truths import truths
from geduld.language.messages import Hint, error
from geduld.language.quantities import LENGTH, TRUTH, show
from geduld.rig.model import Rig

NO_HEADROOM = 95.0
FAR = 1.5  # so many times past what was measured, nobody knows what a move makes
_LARGE = re.compile(r"\b(?:9[5-9]|100)(?:\.\d+)? %")


def hints_of_program(bound: terms.Bound, rig: Rig, lines: Lines) -> list[Hint]:
    """Every hint that needs no trace."""
    found: list[Hint] = [*_unused(bound), *_one_side(bound, rig, lines), *counters.done_again(bound.steps, lines)]
    for block in _blocks(bound.steps):
        found += _in_a_row(block, rig, lines)
        found += _unreachable(block, lines)
        found += if_hints(block, rig, lines)
    for step, loops in terms.walk_steps(bound.steps):
        found += _headroom(step, rig, lines)
        found += _conditions(step, rig, lines)
        found += _dead_band(step, loops, rig, lines)
        found += _timed_turn(step, rig, lines)
        found += _beyond_measured(step, rig, lines)
        if isinstance(step, terms.Repeat):
            found += counters.not_reset(step, rig, lines)
            found += counters.every_pass(step, rig, lines)
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
    """Outputs that are set and, before any time passes, set to something else or stopped again."""
    fresh: dict[str, tuple[int, terms.Term]] = {}
    for step in block:
        if isinstance(step, terms.Command) and fresh:
            alone = len(step.settings) == 1
            again = [part for part, value in step.settings if part in fresh and (alone or fresh[part][1] != value)]
            before = {part: fresh[part][0] for part in again}
            if before:
                yield _set_twice(before, step, rig, lines)
        if isinstance(step, terms.Halt):
            for line in sorted({fresh[part][0] for part in step.parts if part in fresh}):
                message = f"This is stopped again in line {step.line} at the same instant, so it never moves."
                yield lines.warning("no-time", line, message, "Give it a time or an ending: for 2 s, or until …")
        if isinstance(step, terms.Command) and step.ending is None:
            fresh |= {part: (step.line, value) for part, value in step.settings}
        elif not isinstance(step, terms.Assign | terms.Note | terms.Send):
            fresh = {}


def _set_twice(before: dict[str, int], step: terms.Command, rig: Rig, lines: Lines) -> Hint:
    """`before` are the lines in which some of the step's outputs were set at the same instant."""
    sides = (rig.drive.left, rig.drive.right) if rig.drive else ()
    first, part = min(before.values()), next(iter(before))
    if len(before) > 1:
        what = "The drive" if set(before) <= set(sides) else " and ".join(f'"{part}"' for part in before)
        message = (
            f"{what} is set in line {first} and again here at the same instant, so the first never moves anything."
        )
        remedy = f"Give line {first} a time or an ending: for 2 s, or until …"
        return lines.warning("set-twice", step.line, message, remedy)
    other = next((side for side in sides if part in sides and side != part), None)
    message = f'"{part}" is set in line {first} and again here at the same instant; only the last counts.'
    remedy = f'Did you mean "{other}" in one of them?' if other else "Delete one, or wait between them."
    written = lines.text(step.line)
    fix = f"{other}{written.removeprefix(part)}" if other and written.startswith(f"{part} ") else None
    return lines.warning("set-twice", step.line, message, remedy, fix)


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


def _conditions(step: terms.Step, rig: Rig, lines: Lines) -> Iterator[Hint]:
    for condition in truths(step):
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
    whole = interval(condition)
    found = whole or next((item for item in map(interval, _required(condition)) if item is not None), None)
    if found is None or rig.channels[found.part].dimension == TRUTH:
        return
    part, low, high = found.part, found.low, found.high
    if whole is not None and whole.empty:
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


def _beyond_measured(step: terms.Step, rig: Rig, lines: Lines) -> Iterator[Hint]:
    """A way or a turn that is far shorter or longer than any that the rig was calibrated with."""
    ending = getattr(step, "ending", None)
    if not isinstance(ending, terms.Travel) or not isinstance(ending.amount, terms.Const):
        return
    amount, length = ending.amount.value, ending.amount.dimension == LENGTH
    turns = any(way < 0 for _, way, _ in ending.wheels)
    ends = rig.calibration.ways if length else rig.calibration.angles if turns else None
    if ends is None or ends[0] / FAR <= amount <= ends[1] * FAR:
        return
    unit = "cm" if length else "deg"
    measured = f"{show(ends[0], '', 1)} to {show(ends[1], unit, 1)}"
    message = f"This asks for {show(amount, unit)}; the rig was calibrated with {measured}."
    yield lines.advice("beyond-measured", step.line, message, "Measure a move like this one, too.")


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
