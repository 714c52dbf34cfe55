"""Hints that a run on a simulated floor gives cause for: what the robot's own body, motors and ground did."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import show
from geduld.rig.model import Rig
from geduld.run.record.record import Bar, Event, Poses, Record
from geduld.worlds.floor.model import Floor
from geduld.worlds.floor.reader import floor_again

BENDS = 5.0  # deg in 100 cm
LEAST_WAY = 0.2  # m
SETTLED_US = 300_000
OTHERWISE = 0.12  # a share of the way


def floor_hints(bound: terms.Bound, rig: Rig, lines: Lines, record: Record, pose: Poses) -> Iterator[Hint]:
    """Motors that stalled, a straight line that bent, a timed move that goes otherwise than it was measured; loads."""
    yield from _stalls(lines, record)
    yield from _at_end_stops(lines, record)
    yield from _dropped(lines, record)
    floor = floor_again(dict(pose.floor))
    if floor.is_worktop:
        return
    yield from _bends(rig, lines, record, pose)
    measured_on = rig.calibration.surface
    for step, _ in terms.walk_steps(bound.steps):
        if not isinstance(step, terms.Command) or not _is_timed(step, lines):
            continue
        bar = next((bar for bar in record.program if bar.line == step.line), None)
        if bar is None:
            continue
        place = int(np.searchsorted(pose.times, bar.start, "right")) - 1
        ground = surface_at(floor, *(pose.values[place, :2] * 100).tolist())
        if measured_on and ground != measured_on:
            message = f"The times of moves were measured on {measured_on}, and here the robot is on {ground}."
            remedy = "Measure the way by encoder, or calibrate the rig on this surface."
            yield lines.advice("other-surface", step.line, message, remedy)
        else:
            yield from _otherwise_than_calibrated(step, bar, rig, lines, record, pose)


def _line_at(record: Record, tick: int) -> int:
    """The line that waits at an instant, or that waited last before it; else the one that commanded something last."""
    before = [bar for bar in record.program if bar.start <= tick]
    return before[-1].line if before else max(record.set_by.values(), default=1)


def _stalls(lines: Lines, record: Record) -> Iterator[Hint]:
    seen = set()
    for event in record.events:
        if event.kind != "stall":
            continue
        line = _line_at(record, event.tick)
        if line in seen:
            continue
        seen.add(line)
        message = f"At {show(event.tick / 1e6, 's', 2)} a motor stalled under this step. {event.text}"
        remedy = "End the step when something is touched, give it a patience, or take more power or less load."
        yield lines.warning("stall", line, message, remedy)


def _at_end_stops(lines: Lines, record: Record) -> Iterator[Hint]:
    seen = set()
    for event in record.events:
        line = _line_at(record, event.tick)
        if event.kind != "end" or (line, event.what) in seen:
            continue
        seen.add((line, event.what))
        at = show(event.tick / 1e6, "s", 2)
        message = f'At {at} motor "{event.what}" had pressed against its end stop for 0.3 s.'
        switch = _switch_there(record, event)
        until = f"until {switch} is pressed" if switch else "until its angle or a limit switch says that it is there"
        yield lines.warning("end-stop", line, message, f"Stop it before: {until}.")


def _switch_there(record: Record, event: Event) -> str:
    """The limit switch that is pressed where a motor came to its end stop; empty where there is none."""
    physics, pose = record.rig.physics, record.pose
    assert pose is not None  # only a floor tells of end stops
    angle = float(np.interp(event.tick, pose.times, pose.turned[event.what])) / physics.motor(event.what).gear
    for name, mount in physics.mounts.items():
        if mount.on == event.what and mount.closes[0] <= angle <= mount.closes[1]:
            return name
    return ""


def _dropped(lines: Lines, record: Record) -> Iterator[Hint]:
    for event in record.events:
        if event.kind == "dropped":
            message = f'At {show(event.tick / 1e6, "s", 2)} "{event.what}" was let go in the air, and fell.'
            remedy = "Let it down to where something bears it, and wait until it is there, before the grip opens."
            yield lines.warning("dropped", _line_at(record, event.tick), message, remedy)
            return


def _bends(rig: Rig, lines: Lines, record: Record, pose: Poses) -> Iterator[Hint]:
    """The first stretch in which both wheels were commanded alike, nothing was touched, and the way bent."""
    if rig.drive is None or not {rig.drive.left, rig.drive.right} <= set(record.commands):
        return
    left, right = record.commands[rig.drive.left], record.commands[rig.drive.right]
    changes = np.union1d(left.times, right.times)
    kept = [signal for signal in record.controls.values() if (signal.values == 1).any()]
    touched = [event.tick for event in record.events if event.kind == "contact"]
    for start, stop in zip(changes.tolist(), [*changes.tolist()[1:], record.lasted], strict=True):
        stop = min([stop, *(tick for tick in touched if tick > start)])
        power = left.at(start)
        if kept or not power or power != right.at(start) or any(abs(tick - start) < SETTLED_US for tick in touched):
            continue
        # the motors come up to speed one after the other at first: that is no bend of the line
        first, last = np.searchsorted(pose.times, [start + SETTLED_US, stop], "left").tolist()
        if last - first < 2:
            continue
        stretch = pose.values[first:last]
        way = float(np.hypot(*np.diff(stretch[:, :2], axis=0).T).sum())
        turned = float(stretch[-1, 2] - stretch[0, 2])
        if way < LEAST_WAY or abs(turned) < BENDS * way:
            continue
        side = "left" if (turned > 0) == (power > 0) else "right"
        shown = f"{show(abs(turned), 'deg', 1)} over {show(way * 100, 'cm', 0)}"
        both = f"Both wheels got {show(float(power), '%')}"
        message = f"{both}, and the way bent to the {side} by {shown}: the motors are not equal."
        remedy = "Ask for a kept speed, such as drive at 12 cm/s, or give the stronger side a little less."
        yield lines.advice("unequal-motors", _line_at(record, start), message, remedy)
        return


def _is_timed(step: terms.Command, lines: Lines) -> bool:
    """Whether a move's way follows from a time: one that is measured by time, or a turn for a time."""
    if isinstance(step.ending, terms.Travel):
        return step.ending.by == "time"
    return isinstance(step.ending, terms.Const) and lines.text(step.line).startswith("turn ")


def _otherwise_than_calibrated(
    step: terms.Command, bar: Bar, rig: Rig, lines: Lines, record: Record, pose: Poses
) -> Iterator[Hint]:
    """A timed move that goes another way on this floor than the rig's calibration says, and nothing was in its way."""
    if not isinstance(step.ending, terms.Travel) or not isinstance(step.ending.amount, terms.Const) or not rig.drive:
        return
    touched = any(event.kind == "contact" and bar.start <= event.tick <= bar.stop for event in record.events)
    wheels = {name for name, _, _ in step.ending.wheels}
    if touched or wheels != {rig.drive.left, rig.drive.right} or bar.stop >= record.lasted:
        return
    wanted, unit = step.ending.amount.value, step.ending.amount.dimension.unit
    first, last = (np.searchsorted(pose.times, [bar.start, bar.stop + SETTLED_US], "right") - 1).tolist()
    x, y, heading = pose.values[first : last + 1].T
    turned = abs(float(heading[-1] - heading[0]))
    made = turned if unit == "deg" else float(np.hypot(np.diff(x), np.diff(y)).sum()) * 100
    measured = rig.calibration.turn if unit == "deg" else rig.calibration.travel
    if measured is None or abs(made - wanted) <= OTHERWISE * wanted:
        return
    message = (
        f"The calibration takes this for {show(wanted, unit)}, and on this floor the robot made {show(made, unit, 0)}."
    )
    remedy = "Measure the move again, or mend the rig's physics: one of the two is not this robot's."
    yield lines.advice("calibration-off", step.line, message, remedy)


def surface_at(floor: Floor, x: float, y: float) -> str:
    """The name of the surface at a place in cm: that of the last area that holds it."""
    found = floor.surface.name
    for surface in floor.surfaces:
        if surface.shape is not None and surface.shape.holds(x, y):
            found = surface.name
    return found
