"""A floor: a simulated place, immutable, with lengths in cm and angles in deg, counter-clockwise from the x axis."""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from geduld.errors import FloorError, Place
from geduld.language.messages import listed

Point = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """A disc (one point and a radius), a polygon (its corners), or a line of some width (its points)."""

    form: str
    points: tuple[Point, ...]
    size: float = 0.0

    def holds(self, x: float, y: float) -> bool:
        """Whether a point lies in it."""
        if self.form == "round":
            return math.hypot(x - self.points[0][0], y - self.points[0][1]) <= self.size
        if self.form == "line":
            pairs = zip(self.points, self.points[1:], strict=False)
            return any(distance(x, y, a, b) <= self.size / 2 for a, b in pairs)
        inside = False
        for (ax, ay), (bx, by) in edges(self.points):
            if (ay > y) != (by > y) and x < ax + (bx - ax) * (y - ay) / (by - ay):
                inside = not inside
        return inside


def edges(points: tuple[Point, ...]) -> Iterator[tuple[Point, Point]]:
    """The edges of a polygon."""
    return zip(points, points[1:] + points[:1], strict=True)


def distance(x: float, y: float, a: Point, b: Point) -> float:
    """How far a point is from a segment."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = dx * dx + dy * dy
    t = min(1.0, max(0.0, ((x - a[0]) * dx + (y - a[1]) * dy) / length)) if length else 0.0
    return math.hypot(x - a[0] - t * dx, y - a[1] - t * dy)


@dataclass(frozen=True)
class Wall:
    """A straight wall without thickness."""

    start: Point
    stop: Point
    name: str = ""


@dataclass(frozen=True)
class Obstacle:
    """Something to bump into. `mass` in kg and `friction` count for a movable one."""

    shape: Shape
    name: str = ""
    movable: bool = False
    mass: float = 0.5
    friction: float = 0.4


@dataclass(frozen=True)
class Surface:
    """What the wheels run on.

    `travel_slip` and `turn_slip` are the shares (%) of the wheels' way that are lost when going straight and when
    turning; `rolling` is the drag as a share (%) of the weight.
    """

    name: str = "tiles"
    travel_slip: float = 0.0
    turn_slip: float = 0.0
    rolling: float = 2.0
    shape: Shape | None = None


@dataclass(frozen=True)
class Tone:
    """A shape on the ground: 0 % is black, 100 % white."""

    shape: Shape
    tone: float
    name: str = ""


@dataclass(frozen=True)
class Paint:
    """A painted shape on the ground: `hue` in deg, 0 is red, 120 green, 240 blue."""

    shape: Shape
    hue: float
    name: str = ""


@dataclass(frozen=True)
class Ramp:
    """A stretch that rises by `slope` towards the heading `uphill`."""

    shape: Shape
    slope: float
    uphill: float
    name: str = ""


@dataclass(frozen=True)
class Lamp:
    """A lamp at a height; `light` in lx is what it gives at a distance of 1 m."""

    at: Point
    height: float
    light: float
    name: str = ""


@dataclass(frozen=True)
class Mark:
    """A named point on the ground, with a heading where that matters."""

    name: str
    at: Point
    heading: float | None = None


@dataclass(frozen=True)
class Corridor:
    """A named stretch that a robot should stay in."""

    name: str
    shape: Shape


@dataclass(frozen=True)
class Load:
    """Something that motors move: the one lifts it with the torque `pulls` (N·m), the other grips it.

    Places are angles (deg) of what the motors move. It is gripped where `gripped_by` stands at `grips_at`; `lies` are
    the places where it can be put down, the one where it lies at first in front; every one says the angle of
    `lifted_by`, and may say those of up to two others; `places` are their names, empty where they have none. The
    lowest of these angles is the worktop, which bears it everywhere. `within` is how near (deg) the motors must stand.
    """

    name: str
    lifted_by: str
    gripped_by: str
    grips_at: float
    pulls: float
    lies: tuple[Mapping[str, float], ...]
    places: tuple[str, ...]
    within: float = 8.0

    @cached_property
    def aside(self) -> tuple[str, ...]:
        """The motors beside the one that lifts that its places speak of."""
        return tuple(dict.fromkeys(name for place in self.lies for name in place if name != self.lifted_by))


@dataclass(frozen=True)
class Floor:
    """A simulated place. `edged` when the border of its `size` is a wall.

    A place without a size is a worktop: what stands there drives nowhere, and wheels turn in the air.
    """

    name: str
    size: Point
    start: Point
    heading: float = 0.0
    edged: bool = True
    ambient: float = 200.0
    tone: float = 90.0
    surface: Surface = Surface()
    walls: tuple[Wall, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()
    surfaces: tuple[Surface, ...] = ()
    tones: tuple[Tone, ...] = ()
    paints: tuple[Paint, ...] = ()
    ramps: tuple[Ramp, ...] = ()
    lamps: tuple[Lamp, ...] = ()
    marks: tuple[Mark, ...] = ()
    corridors: tuple[Corridor, ...] = ()
    loads: tuple[Load, ...] = ()
    source: Mapping[str, Any] = field(default_factory=dict)

    @property
    def is_worktop(self) -> bool:
        """Whether there is nothing to drive on."""
        return self.size == (0.0, 0.0)

    @cached_property
    def movable(self) -> tuple[Obstacle, ...]:
        """The things a hand or the robot can move."""
        return tuple(thing for thing in self.obstacles if thing.movable)

    def started_from(self, name: str) -> Floor:
        """The floor with its start at a mark, and with the mark's heading where it has one.

        Raises FloorError when there is no such mark.
        """
        mark = next((mark for mark in self.marks if mark.name == name), None)
        if mark is None:
            names = listed([mark.name for mark in self.marks]) or "none"
            message = f'There is no mark "{name}" on the floor "{self.name}".'
            raise FloorError("no-such-mark", message, f"Its marks are: {names}.", Place(path="marks"))
        heading = self.heading if mark.heading is None else mark.heading
        start = {"at": [f"{value:g} cm" for value in mark.at], "heading": f"{heading:g} deg"}
        return replace(self, start=mark.at, heading=heading, source={**self.source, "start": start})

    @cached_property
    def fingerprint(self) -> str:
        """A hash of its description."""
        return hashlib.sha256(json.dumps(dict(self.source), sort_keys=True).encode()).hexdigest()
