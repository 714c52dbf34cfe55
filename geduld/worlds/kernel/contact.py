"""Where the body touches things, and what motion that leaves."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.geometry import cuts, depth, distance_to_segment, nearest_on_outline, nearest_on_segment
from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import (
    GAP,
    GHOST,
    GIVES,
    MOST_TOUCHES,
    MOVABLE,
    OUT_X,
    OUT_Y,
    POINT_X,
    POINT_Y,
    RELEASE,
    SKIN,
    THING_X,
    THING_Y,
    TOUCHING,
)


@compiled
def place_body(body: Any, outline: Any, x: float, y: float, heading: float) -> None:
    """Writes the corners of the body as it stands."""
    ahead, left = math.cos(heading), math.sin(heading)
    for index in range(len(body)):
        outline[index, 0] = x + body[index, 0] * ahead - body[index, 1] * left
        outline[index, 1] = y + body[index, 0] * left + body[index, 1] * ahead


@compiled
def clearance(segments: Any, circles: Any, things: Any, x: float, y: float) -> float:
    """How far a point is from everything that can be bumped into."""
    least = 1e9
    for index in range(len(segments)):
        thing = things[int(segments[index, 4])]
        away = distance_to_segment(
            x - thing[THING_X],
            y - thing[THING_Y],
            segments[index, 0],
            segments[index, 1],
            segments[index, 2],
            segments[index, 3],
        )
        least = min(least, away)
    for index in range(len(circles)):
        thing = things[int(circles[index, 3])]
        if thing[GHOST] == 1.0:
            continue
        dx, dy = x - circles[index, 0] - thing[THING_X], y - circles[index, 1] - thing[THING_Y]
        least = min(least, math.sqrt(dx * dx + dy * dy) - circles[index, 2])
    return least


@compiled
def overlapped(
    segments: Any,
    circles: Any,
    things: Any,
    outline: Any,
    radius: float,
    x: float,
    y: float,
    apart_from: int,
    fixed_only: bool,
) -> int:
    """The number of a thing that a body reaches into, or -1.

    The body is a convex polygon, or a disc of `radius` when that is above nothing. One thing may be left out: a box
    is no obstacle to itself.
    """
    is_round = radius > 0.0
    for index in range(len(segments)):
        number = int(segments[index, 4])
        thing = things[number]
        if number == apart_from or (fixed_only and thing[MOVABLE] == 1.0):
            continue
        ax, ay = segments[index, 0] + thing[THING_X], segments[index, 1] + thing[THING_Y]
        bx, by = segments[index, 2] + thing[THING_X], segments[index, 3] + thing[THING_Y]
        if is_round:
            if distance_to_segment(x, y, ax, ay, bx, by) < radius - SKIN:
                return number
        elif cuts(outline, ax, ay, bx, by):
            return number
    for index in range(len(circles)):
        number = int(circles[index, 3])
        thing = things[number]
        if number == apart_from or thing[GHOST] == 1.0 or (fixed_only and thing[MOVABLE] == 1.0):
            continue
        cx, cy = circles[index, 0] + thing[THING_X], circles[index, 1] + thing[THING_Y]
        if is_round:
            away = math.sqrt((x - cx) * (x - cx) + (y - cy) * (y - cy))
            if away < radius + circles[index, 2] - SKIN:
                return number
        elif depth(outline, cx, cy) > 0.0 or nearest_on_outline(outline, cx, cy)[2] < circles[index, 2] - SKIN:
            return number
    return -1


@compiled
def _note(
    touches: Any,
    count: int,
    x: float,
    y: float,
    heading: float,
    px: float,
    py: float,
    nx: float,
    ny: float,
    gap: float,
    gives: float,
) -> int:
    """Notes a place of contact as the robot sees it; the way out must point to the robot's side."""
    length = math.sqrt(nx * nx + ny * ny)
    if length == 0.0 or count >= MOST_TOUCHES:
        return count
    ahead, left = math.cos(heading), math.sin(heading)
    dx, dy = px - x, py - y
    touch = touches[count]
    touch[POINT_X], touch[POINT_Y] = dx * ahead + dy * left, dy * ahead - dx * left
    touch[OUT_X], touch[OUT_Y] = (nx * ahead + ny * left) / length, (ny * ahead - nx * left) / length
    touch[GAP] = gap
    touch[GIVES] = gives
    return count + 1


@compiled
def gather(
    segments: Any,
    circles: Any,
    things: Any,
    outline: Any,
    radius: float,
    x: float,
    y: float,
    heading: float,
    touches: Any,
) -> int:
    """Notes where the body touches things, or nearly so; returns how many places there are."""
    count = 0
    corners = 0 if radius > 0.0 else len(outline)
    for index in range(len(segments)):
        thing = things[int(segments[index, 4])]
        gives = thing[MOVABLE]
        ax, ay = segments[index, 0] + thing[THING_X], segments[index, 1] + thing[THING_Y]
        bx, by = segments[index, 2] + thing[THING_X], segments[index, 3] + thing[THING_Y]
        if radius > 0.0:
            qx, qy = nearest_on_segment(x, y, ax, ay, bx, by)
            gap = math.sqrt((x - qx) * (x - qx) + (y - qy) * (y - qy)) - radius
            if gap < RELEASE:
                count = _note(touches, count, x, y, heading, qx, qy, x - qx, y - qy, gap, gives)
            continue
        # Corners of the body against the segment: the way out is square to the segment, on the robot's side.
        nx, ny = ay - by, bx - ax
        if nx * (x - ax) + ny * (y - ay) < 0.0:
            nx, ny = -nx, -ny
        for corner in range(corners):
            px, py = outline[corner, 0], outline[corner, 1]
            qx, qy = nearest_on_segment(px, py, ax, ay, bx, by)
            gap = math.sqrt((px - qx) * (px - qx) + (py - qy) * (py - qy))
            if gap < RELEASE:
                count = _note(touches, count, x, y, heading, qx, qy, nx, ny, gap, gives)
        # Ends of the segment against the edges of the body: the way out is square to the edge, into the body.
        for end in range(2):
            px, py = (ax, ay) if end == 0 else (bx, by)
            for corner in range(corners):
                other = corner + 1 if corner + 1 < corners else 0
                cx, cy, ex, ey = outline[corner, 0], outline[corner, 1], outline[other, 0], outline[other, 1]
                qx, qy = nearest_on_segment(px, py, cx, cy, ex, ey)
                gap = math.sqrt((px - qx) * (px - qx) + (py - qy) * (py - qy))
                if gap < RELEASE and (qx != cx or qy != cy) and (qx != ex or qy != ey):
                    count = _note(touches, count, x, y, heading, px, py, cy - ey, ex - cx, gap, gives)
    for index in range(len(circles)):
        thing = things[int(circles[index, 3])]
        if thing[GHOST] == 1.0:
            continue
        cx, cy = circles[index, 0] + thing[THING_X], circles[index, 1] + thing[THING_Y]
        if radius > 0.0:
            qx, qy, away = x, y, math.sqrt((x - cx) * (x - cx) + (y - cy) * (y - cy)) - radius
        else:
            qx, qy, away = nearest_on_outline(outline, cx, cy)
        gap = away - circles[index, 2]
        if gap < RELEASE:
            reach = math.sqrt((qx - cx) * (qx - cx) + (qy - cy) * (qy - cy))
            share = circles[index, 2] / reach if reach > 0.0 else 0.0
            px, py = cx + (qx - cx) * share, cy + (qy - cy) * share
            count = _note(touches, count, x, y, heading, px, py, qx - cx, qy - cy, gap, thing[MOVABLE])
    return count


@compiled
def _leaving(touch: Any, left: float, right: float, travel: float, turn: float) -> float:
    """How fast a place of contact is left while the wheels turn so: negative when it would be pushed further in."""
    twist = touch[POINT_X] * touch[OUT_Y] - touch[POINT_Y] * touch[OUT_X]
    return float(travel * touch[OUT_X] * (left + right) + turn * twist * (right - left))


@compiled
def _pushes(touch: Any) -> bool:
    return bool(touch[GAP] <= TOUCHING and touch[GIVES] == 0.0)


@compiled
def admitted(touches: Any, count: int, left: float, right: float, travel: float, turn: float) -> bool:
    """Whether these wheel speeds push no place of contact further in.

    `travel` is what a wheel's speed adds to the robot's, `turn` what it adds to its turning.
    """
    slack = 1e-12 * (abs(left) + abs(right)) * travel
    for index in range(count):
        if _pushes(touches[index]) and _leaving(touches[index], left, right, travel, turn) < -slack:
            return False
    return True


@compiled
def slide(touches: Any, count: int, left: float, right: float, travel: float, turn: float) -> float:
    """The least sideways speed with which no place of contact is pushed further in; NaN when there is none that tyres
    can be made to slide with: they hold sideways as well as along, so it is at most the speed ahead."""
    low, high = -1e9, 1e9
    for index in range(count):
        if not _pushes(touches[index]):
            continue
        rate, aside = _leaving(touches[index], left, right, travel, turn), touches[index, OUT_Y]
        if abs(aside) < 1e-6:
            if rate < 0.0:
                return math.nan
        elif aside > 0.0:
            low = max(low, -rate / aside)
        else:
            high = min(high, -rate / aside)
    needed = low if low > 0.0 else (high if high < 0.0 else 0.0)
    if low > high or abs(needed) > abs(travel * (left + right)):
        return math.nan
    return needed


@compiled
def hold(touches: Any, count: int, left: float, right: float, travel: float, turn: float) -> tuple[float, float]:
    """The wheel speeds nearest to those wanted that push no place of contact further in, without sliding sideways.

    Each contact leaves a half plane of wheel speeds; the nearest point of their common part is the point itself, a
    foot on one of the borders, or standing still. So contact takes energy and never gives it.
    """
    best, best_left, best_right = 1e18, 0.0, 0.0
    for index in range(count):
        touch = touches[index]
        if not _pushes(touch):
            continue
        a, b = _leaving(touch, 1.0, 0.0, travel, turn), _leaving(touch, 0.0, 1.0, travel, turn)
        size = a * a + b * b
        if size == 0.0:
            continue
        over = (a * left + b * right) / size
        if over >= 0.0:
            continue
        foot_left, foot_right = left - over * a, right - over * b
        away = over * over * size
        if away < best and admitted(touches, count, foot_left, foot_right, travel, turn):
            best, best_left, best_right = away, foot_left, foot_right
    return best_left, best_right
