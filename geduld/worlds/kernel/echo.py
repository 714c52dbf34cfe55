"""The first echo that comes back to a sensor: rays over its cone, and to what lies nearest in it."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.geometry import distance_to_segment, ray_to_circle, ray_to_segment
from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import GHOST, THING_X, THING_Y, TOUCHING

RAYS = 5
NOTHING = 1e18  # farther than anything, in m
_BESIDE = 1e-9  # how far beside an end or an edge a ray goes, in rad
_MET = 5.0 * TOUCHING  # how near a surface is met, though rounding may put the sensor behind it


@compiled
def echo(
    segments: Any,
    circles: Any,
    things: Any,
    x: float,
    y: float,
    middle_x: float,
    middle_y: float,
    facing: float,
    cone: float,
    grazing: float,
) -> float:
    """The distance in m from which the first echo comes back; `NOTHING` when there is none.

    Five rays lie over the cone, and more go to the nearest point of each surface in it and past its ends, so that no
    echoing point in the cone is nearer than what is found. A ray that meets a surface too far from square on
    (its cosine less than `grazing`) is thrown aside and is lost. `middle_x`, `middle_y` is a point of the robot's body.
    """
    best = NOTHING
    for ray in range(RAYS):
        angle = facing + cone * (ray / (RAYS - 1) - 0.5)
        best = min(best, _along(segments, circles, things, x, y, middle_x, middle_y, angle, grazing))
    if cone <= 0.0:
        return best
    for index in range(len(segments)):
        thing = things[int(segments[index, 4])]
        ax, ay = segments[index, 0] + thing[THING_X], segments[index, 1] + thing[THING_Y]
        bx, by = segments[index, 2] + thing[THING_X], segments[index, 3] + thing[THING_Y]
        if distance_to_segment(x, y, ax, ay, bx, by) >= best:
            continue
        across_x, across_y = by - ay, ax - bx
        if across_x * (ax - x) + across_y * (ay - y) < 0.0:
            across_x, across_y = -across_x, -across_y
        square_on = math.atan2(across_y, across_x)
        end_a, end_b = math.atan2(ay - y, ax - x), math.atan2(by - y, bx - x)
        for angle in (square_on, end_a - _BESIDE, end_a + _BESIDE, end_b - _BESIDE, end_b + _BESIDE):
            if _inside(angle, facing, cone):
                best = min(best, _along(segments, circles, things, x, y, middle_x, middle_y, angle, grazing))
    for index in range(len(circles)):
        thing = things[int(circles[index, 3])]
        ox, oy = circles[index, 0] + thing[THING_X] - x, circles[index, 1] + thing[THING_Y] - y
        away, radius = math.sqrt(ox * ox + oy * oy), circles[index, 2]
        if away <= radius or away - radius >= best:
            continue
        to_middle, half = math.atan2(oy, ox), math.asin(radius / away)
        for angle in (to_middle, to_middle - half - _BESIDE, to_middle + half + _BESIDE):
            if _inside(angle, facing, cone):
                best = min(best, _along(segments, circles, things, x, y, middle_x, middle_y, angle, grazing))
    return best


@compiled
def _inside(angle: float, facing: float, cone: float) -> bool:
    """Whether a direction lies in the cone."""
    apart = (angle - facing + math.pi) % (2.0 * math.pi) - math.pi
    return bool(abs(apart) <= 0.5 * cone)


@compiled
def _along(
    segments: Any,
    circles: Any,
    things: Any,
    x: float,
    y: float,
    middle_x: float,
    middle_y: float,
    angle: float,
    grazing: float,
) -> float:
    """The distance in m at which one ray meets the first surface; `NOTHING` when its echo does not come back.

    A surface that the sensor touches, or that stands between it and the middle of the body (bodies in contact overlap
    by rounding), is met at once by a ray that leaves the body there, and not at all by one that goes the other way.
    """
    dx, dy = math.cos(angle), math.sin(angle)
    nearest, square = NOTHING, 0.0
    back_x, back_y = middle_x - x, middle_y - y
    back = math.sqrt(back_x * back_x + back_y * back_y)
    if back > 0.0:
        back_x, back_y = back_x / back, back_y / back
    for index in range(len(segments)):
        thing = things[int(segments[index, 4])]
        ax, ay = segments[index, 0] + thing[THING_X], segments[index, 1] + thing[THING_Y]
        bx, by = segments[index, 2] + thing[THING_X], segments[index, 3] + thing[THING_Y]
        way, cosine = ray_to_segment(x, y, dx, dy, ax, ay, bx, by)
        met = distance_to_segment(x, y, ax, ay, bx, by) <= _MET
        if not met and back > 0.0:
            behind, _ = ray_to_segment(x, y, back_x, back_y, ax, ay, bx, by)
            met = 0.0 <= behind < back
        if met:
            ex, ey = bx - ax, by - ay
            into, side = ex * dy - ey * dx, ex * (middle_y - ay) - ey * (middle_x - ax)
            way, cosine = (0.0, abs(into) / math.sqrt(ex * ex + ey * ey)) if into * side < 0.0 else (-1.0, 0.0)
        if 0.0 <= way < nearest:
            nearest, square = way, cosine
    for index in range(len(circles)):
        thing = things[int(circles[index, 3])]
        cx, cy, radius = circles[index, 0] + thing[THING_X], circles[index, 1] + thing[THING_Y], circles[index, 2]
        way, cosine = ray_to_circle(x, y, dx, dy, cx, cy, radius)
        away = math.sqrt((cx - x) * (cx - x) + (cy - y) * (cy - y))
        met = away <= radius + _MET
        if not met and back > 0.0 and thing[GHOST] == 0.0:
            behind, _ = ray_to_circle(x, y, back_x, back_y, cx, cy, radius)
            met = 0.0 <= behind < back
        if met:
            into = ((cx - x) * dx + (cy - y) * dy) / away if away > 0.0 else 1.0
            way, cosine = (0.0, into) if into > 0.0 else (-1.0, 0.0)
        if 0.0 <= way < nearest:
            nearest, square = way, cosine
    return nearest if square >= grazing else NOTHING
