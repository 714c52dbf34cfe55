"""Hints that a run on a simulated floor gives cause for: what the robot's own body, motors and ground did."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import show
from geduld.rig.model import Rig
from geduld.run.record.record import Poses, Record
from geduld.worlds.floor.model import Floor
from geduld.worlds.floor.reader import floor_from_json

BENDS = 5.0  # deg in 100 cm
LEAST_WAY = 0.2  # m
SETTLED_US = 300_000


def floor_hints(rig: Rig, lines: Lines, record: Record, pose: Poses) -> Iterator[Hint]:
    """Motors that stalled, a straight line that bent, a timed move on another surface than it was measured on."""
    yield from _stalls(lines, record)
    yield from _bends(rig, lines, record, pose)
    if rig.calibration is not None and rig.calibration.surface:
        yield from _surfaces(rig.calibration.surface, lines, record, pose)


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


def _surfaces(measured_on: str, lines: Lines, record: Record, pose: Poses) -> Iterator[Hint]:
    floor = floor_from_json(dict(pose.floor))
    for event in record.events:
        if event.kind == "move" and "timed" in event.text:
            place = int(np.searchsorted(pose.times, event.tick, "right")) - 1
            ground = surface_at(floor, *(pose.values[place, :2] * 100).tolist())
            if ground != measured_on:
                message = f"The times of moves were measured on {measured_on}, and here the robot is on {ground}."
                remedy = "Measure the way by encoder, or calibrate the rig on this surface."
                yield lines.advice("other-surface", event.line, message, remedy)


def surface_at(floor: Floor, x: float, y: float) -> str:
    """The name of the surface at a place in cm: that of the last area that holds it."""
    found = floor.surface.name
    for surface in floor.surfaces:
        if surface.shape is not None and surface.shape.holds(x, y):
            found = surface.name
    return found
