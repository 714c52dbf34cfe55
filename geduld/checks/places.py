"""Where the robot was, as checks ask for it: from the pose in a record and the floor that it was on."""

from __future__ import annotations

import json
import math
from functools import lru_cache

import numpy as np

from geduld.binding import terms
from geduld.run.record.record import Event, Poses, Record
from geduld.worlds.floor.model import Floor, Shape, edges
from geduld.worlds.floor.reader import floor_from_text
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Floats


def floor_of(pose: Poses) -> Floor:
    """The floor that a record was made on."""
    return _floor(json.dumps(dict(pose.floor)))


@lru_cache(maxsize=8)
def _floor(text: str) -> Floor:
    return floor_from_text(text)


def not_there(term: terms.Pose, record: Record) -> str:
    """Why a place cannot be told in a run; empty when it can."""
    if record.pose is None:
        return "This run was not on a floor, so nobody knows where the robot was."
    floor = floor_of(record.pose)
    if term.what == "away" and term.name not in {mark.name for mark in floor.marks}:
        return f'The floor "{floor.name}" has no mark "{term.name}".'
    if term.what == "inside" and term.name not in {corridor.name for corridor in floor.corridors}:
        return f'The floor "{floor.name}" has no corridor "{term.name}".'
    return ""


def where(term: terms.Pose, record: Record) -> Signal:
    """A coordinate, a heading or a distance over a run, in cm or deg; one value a sample."""
    assert record.pose is not None
    return Signal(record.pose.times, _values(term, record.pose))


def _values(term: terms.Pose, pose: Poses) -> Floats:
    x, y, heading = pose.values[:, 0] * 100, pose.values[:, 1] * 100, pose.values[:, 2]
    if term.what == "heading":
        return heading
    if term.what in ("x", "y"):
        return x if term.what == "x" else y
    if term.what == "off":
        off: Floats = np.abs((heading - term.towards + 180) % 360 - 180)
        return off
    floor = floor_of(pose)
    if term.what == "away":
        at = next(mark.at for mark in floor.marks if mark.name == term.name)
        away: Floats = np.hypot(x - at[0], y - at[1])
        return away
    return room_inside(next(c.shape for c in floor.corridors if c.name == term.name), x, y)


def room_inside(shape: Shape, x: Floats, y: Floats) -> Floats:
    """How far points are inside a shape, in cm: from its border, negative outside."""
    if shape.form == "round":
        return np.asarray(shape.size - np.hypot(x - shape.points[0][0], y - shape.points[0][1]))
    pairs = (
        list(zip(shape.points, shape.points[1:], strict=False)) if shape.form == "line" else list(edges(shape.points))
    )
    nearest = np.min([_distances(x, y, a, b) for a, b in pairs], axis=0)
    if shape.form == "line":
        return np.asarray(shape.size / 2 - nearest)
    inside = np.zeros(len(x), np.bool_)
    for (ax, ay), (bx, by) in pairs:
        if ay != by:
            inside ^= ((ay > y) != (by > y)) & (x < ax + (bx - ax) * (y - ay) / (by - ay))
    return np.asarray(np.where(inside, nearest, -nearest))


def _distances(x: Floats, y: Floats, a: tuple[float, float], b: tuple[float, float]) -> Floats:
    dx, dy = b[0] - a[0], b[1] - a[1]
    t = np.clip(((x - a[0]) * dx + (y - a[1]) * dy) / (dx * dx + dy * dy), 0.0, 1.0)
    return np.asarray(np.hypot(x - a[0] - t * dx, y - a[1] - t * dy))


def touched(event: Event, pose: Poses) -> str:
    """The name of what was touched in a contact: what is nearest to the place of it."""
    floor, at = floor_of(pose), event.at or (math.nan, math.nan)
    x, y = at[0] * 100, at[1] * 100
    row = int(np.searchsorted(pose.times, event.tick, "right")) - 1
    found: list[tuple[float, str]] = []
    for thing in floor.obstacles:
        dx = dy = 0.0
        if thing.movable and thing.name in pose.things:
            middle = np.mean(thing.shape.points, axis=0)
            dx, dy = (pose.things[thing.name][row] * 100 - middle).tolist()
        found.append((abs(float(room_inside(thing.shape, np.array([x - dx]), np.array([y - dy]))[0])), thing.name))
    found += [
        (float(_distances(np.array([x]), np.array([y]), wall.start, wall.stop)[0]), wall.name) for wall in floor.walls
    ]
    if floor.edged:
        found.append((min(x, y, floor.size[0] - x, floor.size[1] - y), "edge"))
    return min(found, default=(0.0, ""))[1]
