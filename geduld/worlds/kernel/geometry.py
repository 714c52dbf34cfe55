"""Distances and rays in the plane."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import CORNERS, FIRST, LINE, POLYGON, ROUND, SHAPE, SIZE, SKIN


@compiled
def nearest_on_segment(px: float, py: float, ax: float, ay: float, bx: float, by: float) -> tuple[float, float]:
    """The point of a segment that is nearest to a point."""
    dx, dy = bx - ax, by - ay
    length = dx * dx + dy * dy
    t = ((px - ax) * dx + (py - ay) * dy) / length if length > 0.0 else 0.0
    t = min(1.0, max(0.0, t))
    return ax + t * dx, ay + t * dy


@compiled
def distance_to_segment(px: float, py: float, ax: float, ay: float, bx: float, by: float) -> float:
    """How far a point is from a segment."""
    qx, qy = nearest_on_segment(px, py, ax, ay, bx, by)
    return math.sqrt((px - qx) * (px - qx) + (py - qy) * (py - qy))


@compiled
def cuts(corners: Any, ax: float, ay: float, bx: float, by: float) -> bool:
    """Whether a segment reaches into a convex polygon, whose corners go round counter-clockwise."""
    low, high = 0.0, 1.0
    count = len(corners)
    for index in range(count):
        other = index + 1 if index + 1 < count else 0
        ex, ey = corners[other, 0] - corners[index, 0], corners[other, 1] - corners[index, 1]
        length = math.sqrt(ex * ex + ey * ey)
        start = (ex * (ay - corners[index, 1]) - ey * (ax - corners[index, 0])) / length - SKIN
        stop = (ex * (by - corners[index, 1]) - ey * (bx - corners[index, 0])) / length - SKIN
        if start <= 0.0 and stop <= 0.0:
            return False
        if start < 0.0:
            low = max(low, start / (start - stop))
        elif stop < 0.0:
            high = min(high, start / (start - stop))
        if low >= high:
            return False
    return True


@compiled
def depth(corners: Any, px: float, py: float) -> float:
    """How deep a point lies in a convex polygon: its distance to the nearest edge, negative outside."""
    least = 1e9
    count = len(corners)
    for index in range(count):
        other = index + 1 if index + 1 < count else 0
        ex, ey = corners[other, 0] - corners[index, 0], corners[other, 1] - corners[index, 1]
        length = math.sqrt(ex * ex + ey * ey)
        least = min(least, (ex * (py - corners[index, 1]) - ey * (px - corners[index, 0])) / length)
    return least


@compiled
def nearest_on_outline(corners: Any, px: float, py: float) -> tuple[float, float, float]:
    """The point of a polygon's outline that is nearest to a point, and how far it is."""
    best, bx, by = 1e9, 0.0, 0.0
    count = len(corners)
    for index in range(count):
        other = index + 1 if index + 1 < count else 0
        qx, qy = nearest_on_segment(px, py, corners[index, 0], corners[index, 1], corners[other, 0], corners[other, 1])
        away = math.sqrt((px - qx) * (px - qx) + (py - qy) * (py - qy))
        if away < best:
            best, bx, by = away, qx, qy
    return bx, by, best


@compiled
def ray_to_segment(
    px: float, py: float, dx: float, dy: float, ax: float, ay: float, bx: float, by: float
) -> tuple[float, float]:
    """How far along a ray a segment is hit, and the cosine of the angle from square on; -1 when it is not."""
    ex, ey = bx - ax, by - ay
    across = dx * ey - dy * ex
    if across == 0.0:
        return -1.0, 0.0
    ox, oy = ax - px, ay - py
    way = (ox * ey - oy * ex) / across
    along = (ox * dy - oy * dx) / across
    if way < 0.0 or along < 0.0 or along > 1.0:
        return -1.0, 0.0
    return way, abs(across) / math.sqrt(ex * ex + ey * ey)


@compiled
def ray_to_circle(
    px: float, py: float, dx: float, dy: float, cx: float, cy: float, radius: float
) -> tuple[float, float]:
    """How far along a ray a circle is hit, and the cosine of the angle from square on; -1 when it is not."""
    ox, oy = cx - px, cy - py
    along = ox * dx + oy * dy
    away = ox * ox + oy * oy - along * along
    if away >= radius * radius:
        return -1.0, 0.0
    half = math.sqrt(radius * radius - away)
    way = along - half
    if way < 0.0:
        return -1.0, 0.0
    return way, half / radius


@compiled
def in_area(area: Any, corners: Any, px: float, py: float) -> bool:
    """Whether a point lies in an area: a disc, a polygon, or a line of some width."""
    first, count, size = int(area[FIRST]), int(area[CORNERS]), area[SIZE]
    if area[SHAPE] == ROUND:
        dx, dy = px - corners[first, 0], py - corners[first, 1]
        return bool(dx * dx + dy * dy <= size * size)
    if area[SHAPE] == LINE:
        for index in range(first, first + count - 1):
            away = distance_to_segment(
                px, py, corners[index, 0], corners[index, 1], corners[index + 1, 0], corners[index + 1, 1]
            )
            if away <= size:
                return True
        return False
    inside = False
    last = first + count - 1
    for index in range(first, first + count):
        ay, by = corners[index, 1], corners[last, 1]
        if (ay > py) != (by > py):
            crossing = corners[index, 0] + (corners[last, 0] - corners[index, 0]) * (py - ay) / (by - ay)
            if px < crossing:
                inside = not inside
        last = index
    return bool(inside and area[SHAPE] == POLYGON)
