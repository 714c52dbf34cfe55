"""Packs a rig, a floor and inputs into the kernel's arrays: cm to m, deg to rad, % to shares."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np

from geduld.errors import FloorError, Place
from geduld.language.messages import listed
from geduld.language.quantities import ACCELERATION
from geduld.rig.model import Part, Rig
from geduld.rig.physics import DEFAULT_FULL_SPEED, Mount
from geduld.worlds.floor.model import Floor, Shape, edges
from geduld.worlds.inputs import GONE, Inputs
from geduld.worlds.kernel import contact, layout
from geduld.worlds.trace import Floats

FAR = 1e6
HAND_RADIUS = 0.04
CONTROL_PERIOD_US = 10_000
_FORMS = {"round": layout.ROUND, "corners": layout.POLYGON, "line": layout.LINE}
# What the kernel measures, by the word that a kind of part has for it.
_MEASURES = {
    "range": layout.RANGE,
    "light": layout.LIGHT,
    "tone": layout.TONE,
    "hue": layout.HUE,
    "tilt": layout.TILT,
    "contact": layout.BUMP,
    "limit": layout.LIMIT,
    "reflex": layout.REFLEX,
    "current": layout.CURRENT,
    "battery": layout.BATTERY,
}


@dataclass
class Packed:
    """The kernel's arrays; `columns` are the channels' columns in the table of samples, which is `width` wide."""

    k: Any
    f: Floats
    w: Floats
    columns: dict[str, int]
    motors: dict[str, int]
    defaults: dict[str, float]
    width: int


def pack(rig: Rig, floor: Floor, inputs: Inputs, seed: int | None, end: int, period: int) -> Packed:
    """Everything the kernel needs for a run from the start on."""
    columns, width = _columns(rig, floor)
    motors, turned = _turning(rig), turned_columns(rig, floor, columns)
    _all_there(rig, floor, motors)
    sensors = [part for part in rig.sensors if part.kind.measures]
    noise = _noise(rig, sensors, seed, end, period)
    things, segments, circles = _things(rig, floor, columns)
    loads, rests = _loads(rig, floor, [part.name for part in motors], columns)
    areas, corners = _areas(floor)
    body = np.array(rig.physics.body.outline).reshape(-1, 2) / 100
    rows, input_map = _inputs(inputs, columns, floor, rig)

    k = np.zeros(layout.K_SIZE, np.int64)
    k[layout.PERIOD], k[layout.CONTROL_PERIOD] = period, CONTROL_PERIOD_US
    f_blocks = (
        (layout.MOTORS, _motors(rig, floor, motors, columns, turned)),
        (layout.SENSORS, _sensors(rig, sensors, motors, columns, noise, seed, period)),
        (layout.THINGS, things),
        (layout.DERIVED, _derived(rig, columns)),
        (layout.LOADS, loads),
        (layout.TOUCHES, np.zeros((layout.MOST_TOUCHES, layout.TOUCH_WIDTH))),
    )
    scratch = np.zeros(2 * (len(body) + 64))
    head = _head(rig, floor)
    f = _joined(k, head, f_blocks, scratch)
    w_blocks = (
        (layout.BODY, body),
        (layout.SEGMENTS, segments),
        (layout.CIRCLES, circles),
        (layout.AREAS, areas),
        (layout.VERTICES, corners),
        (layout.LAMPS, _lamps(floor)),
        (layout.NOISE, noise),
        (layout.INPUTS, rows),
        (layout.INPUT_MAP, input_map),
        (layout.RESTS, rests),
    )
    w = _joined(k, np.zeros(0), w_blocks, np.zeros(0))
    places = {part.name: int(k[layout.MOTORS]) + index * layout.MOTOR for index, part in enumerate(motors)}
    return Packed(k, f, w, columns, places, _defaults(rig), width)


def _joined(k: Any, head: Floats, blocks: Iterable[tuple[int, Floats]], tail: Floats) -> Floats:
    """One array of a head, blocks and a tail; writes into `k` where each block begins and how many rows it has."""
    pieces, place = [head], len(head)
    for block, table in blocks:
        k[block], k[block + layout.COUNT] = place, len(table)
        pieces.append(np.ascontiguousarray(table, dtype=np.float64).ravel())
        place += pieces[-1].size
    return np.concatenate([*pieces, tail])


def _columns(rig: Rig, floor: Floor) -> tuple[dict[str, int], int]:
    """A column for every channel of the rig's sensors and encoders, two for each thing that can be moved, one for each
    motor's true angle, and some for each load."""
    names = [name for name, part in rig.channels.items() if not part.is_output]
    # A tilt sensor's three columns stand side by side.
    names.sort(key=lambda name: name.split(".")[0])
    columns = {name: layout.ROW_HEAD + index for index, name in enumerate(names)}
    placed = 2 * (len(floor.movable) + 1) + layout.LOAD_COLUMNS * len(floor.loads)
    return columns, layout.ROW_HEAD + len(names) + placed + len(_turning(rig))


def _turning(rig: Rig) -> list[Part]:
    """The motors that a floor turns: all of them."""
    return [part for part in rig.outputs if part.kind.spins]


def turned_columns(rig: Rig, floor: Floor, columns: dict[str, int]) -> dict[str, int]:
    """For each motor that a floor turns the column of its true angle, in rad."""
    first = layout.ROW_HEAD + len(columns) + 2 * (len(floor.movable) + 1)
    return {part.name: first + index for index, part in enumerate(_turning(rig))}


def load_columns(rig: Rig, floor: Floor, columns: dict[str, int]) -> dict[str, int]:
    """For each load the first of its columns: whether it is held, and the angles (rad) at which it lies."""
    first = layout.ROW_HEAD + len(columns) + 2 * (len(floor.movable) + 1) + len(_turning(rig))
    return {load.name: first + layout.LOAD_COLUMNS * index for index, load in enumerate(floor.loads)}


def thing_columns(rig: Rig, floor: Floor, columns: dict[str, int]) -> dict[str, tuple[int, int, float, float]]:
    """For the hand and each thing that can be moved: its two columns, and its middle before it was moved, in m."""
    first = layout.ROW_HEAD + len(columns)
    found = {"hand": (first, first + 1, 0.0, 0.0)}
    for index, thing in enumerate(floor.movable, 1):
        x, y = middle(thing.shape)
        found[thing.name] = (first + 2 * index, first + 2 * index + 1, x / 100, y / 100)
    return found


def middle(shape: Shape) -> tuple[float, float]:
    """The middle of a shape's points, in cm: what a hand takes hold of."""
    return sum(x for x, _ in shape.points) / len(shape.points), sum(y for _, y in shape.points) / len(shape.points)


def _side(rig: Rig, floor: Floor, part: Part) -> int:
    if rig.drive is None or floor.is_worktop:
        return 0
    return 1 if part.name == rig.drive.left else 2 if part.name == rig.drive.right else 0


def _head(rig: Rig, floor: Floor) -> Floats:
    body, drive, ground = rig.physics.body, rig.drive, floor.surface
    f = np.zeros(layout.F_HEAD)
    f[layout.X], f[layout.Y] = floor.start[0] / 100, floor.start[1] / 100
    f[layout.HEADING] = math.radians(floor.heading)
    f[layout.MASS], f[layout.GRIP], f[layout.SUPPLY], f[layout.SAG] = body.mass, body.grip, body.supply, body.sag
    f[layout.VOLTAGE] = body.supply
    f[layout.RADIUS] = 0.0 if body.outline else body.radius / 100
    f[layout.REACH] = body.reach / 100
    f[layout.WHEEL] = drive.wheel_diameter / 200 if drive else 1.0
    f[layout.TRACK] = drive.track_width / 100 if drive else 1.0
    f[layout.AMBIENT], f[layout.BASE_TONE] = floor.ambient, floor.tone
    f[layout.BASE_TRAVEL], f[layout.BASE_TURN] = 1 - ground.travel_slip / 100, 1 - ground.turn_slip / 100
    f[layout.BASE_ROLLING] = ground.rolling / 100
    return f


def _all_there(rig: Rig, floor: Floor, motors: list[Part]) -> None:
    """The motors that a load's places speak of are the rig's. Raises FloorError."""
    known = [part.name for part in motors]
    for index, load in enumerate(floor.loads):
        for motor in (load.lifted_by, load.gripped_by, *load.aside):
            if motor not in known:
                message = f'"{load.name}" is moved by "{motor}", and the rig "{rig.name}" has no such motor.'
                remedy = f"Its motors are {listed(known) or 'none'}."
                raise FloorError("no-such-motor", message, remedy, Place(path=f"loads.{index}"))


def _loads(rig: Rig, floor: Floor, motors: list[str], columns: dict[str, int]) -> tuple[Floats, Floats]:
    """What is lifted, where it lies at first; and all places where it can be put down."""
    first = load_columns(rig, floor, columns)
    table = np.zeros((len(floor.loads), layout.LOADED))
    rests = []
    for number, (row, load) in enumerate(zip(table, floor.loads, strict=True)):
        aside = (*load.aside, "", "")[:2]
        where = [motors.index(name) if name else -1 for name in (load.lifted_by, load.gripped_by, *aside)]
        row[layout.LIFTED_BY : layout.ASIDE_2 + 1] = where
        row[layout.GRIPS_AT], row[layout.WITHIN] = math.radians(load.grips_at), math.radians(load.within)
        row[layout.PULLS], row[layout.LOAD_COLUMN] = load.pulls, first[load.name]
        for place in load.lies:
            angles = [math.radians(place.get(name, math.nan)) for name in (load.lifted_by, *aside)]
            rests.append((number, *angles))
        row[layout.LIES_UP : layout.LIES_2 + 1] = np.nan_to_num(rests[-len(load.lies)][1:])
    return table, np.array(rests).reshape(-1, layout.REST)


def _motors(rig: Rig, floor: Floor, motors: list[Part], columns: dict[str, int], turned: dict[str, int]) -> Floats:
    table = np.zeros((len(motors), layout.MOTOR))
    for row, part in zip(table, motors, strict=True):
        physics = rig.physics.motor(part.name)
        full = part.full_speed or DEFAULT_FULL_SPEED
        rate = rig.turn_rate(part.name)
        row[layout.FULL], row[layout.DEAD] = math.radians(full), physics.dead_zone / 100
        row[layout.LAG], row[layout.TORQUE], row[layout.GAIN] = physics.lag, physics.torque, physics.gain
        row[layout.RATE] = math.radians(full if rate is None else rate * 100)
        row[layout.SIDE], row[layout.TURNED_COLUMN] = _side(rig, floor, part), turned[part.name]
        row[layout.COASTS] = part.stop == "coast"
        row[layout.LOAD], row[layout.GEAR] = physics.load, physics.gear
        low, high = physics.stops or (-math.inf, math.inf)
        row[layout.STOP_LOW], row[layout.STOP_HIGH] = (
            math.radians(low) * physics.gear,
            math.radians(high) * physics.gear,
        )
        row[layout.LEVEL_AT] = math.nan if physics.level_at is None else math.radians(physics.level_at)
        if part.counts_per_turn:
            row[layout.COUNTS] = part.counts_per_turn / (2 * math.pi)
            row[layout.WRAP] = float(1 << (part.counter_bits - 1)) if part.counter_bits else 0.0
            row[layout.ANGLE_COLUMN], row[layout.SPEED_COLUMN] = (
                columns[f"{part.name}.angle"],
                columns[f"{part.name}.speed"],
            )
    return table


def _sensors(
    rig: Rig,
    sensors: list[Part],
    motors: list[Part],
    columns: dict[str, int],
    noise: Floats,
    seed: Any,
    period: int,
) -> Floats:
    at_motor = {part.name: index for index, part in enumerate(motors)}
    table = np.zeros((len(sensors), layout.SENSOR))
    noisy = 0
    for row, part in zip(table, sensors, strict=True):
        mount = rig.physics.mounts.get(part.name, Mount())
        kind = part.kind
        row[layout.KIND], row[layout.COLUMN] = _MEASURES[kind.measures], columns[part.name]
        row[layout.AHEAD], row[layout.LEFT] = mount.ahead / 100, mount.left / 100
        row[layout.FACING] = math.radians(mount.facing or 0.0)
        if kind.all_round and mount.facing is None:
            row[layout.FACING] = math.nan
        row[layout.CONE] = math.radians(mount.cone)
        row[layout.GRAZING] = math.cos(math.radians(mount.grazing))
        row[layout.LEAST] = kind.low if part.low is None or kind.axes else part.low
        row[layout.GREATEST] = math.inf if part.high is None else part.high
        if part.high is None and part.unit_word == "%":
            row[layout.GREATEST] = 100.0
        row[layout.RESOLUTION], row[layout.SPOT] = mount.resolution, mount.spot / 100
        row[layout.EVERY] = round(mount.period * 1_000_000) or period
        row[layout.RAIL_FROM], row[layout.RAIL_TO] = map(math.radians, mount.rail)
        row[layout.BOUNCE] = 0.0 if seed is None else mount.bounce * 1_000_000
        row[layout.PERCENT] = part.unit_word == "%"
        row[layout.PULL] = 100 * layout.GRAVITY if part.dimension == ACCELERATION else 0.0
        row[layout.VALUE], row[layout.NOISE_ROW] = math.nan, -1
        row[layout.AT_MOTOR] = at_motor.get(mount.on, -1)
        if kind.measures == "limit":
            row[layout.LEAST], row[layout.GREATEST] = map(math.radians, mount.closes)
        elif kind.measures == "reflex":
            row[layout.LOOKS] = mount.facing is not None
            row[layout.LEAST], row[layout.GREATEST] = mount.trim, mount.reach / 100
        if kind.measures == "contact":
            row[layout.EVERY] = 0
        elif seed is not None and mount.noise:
            row[layout.NOISY], row[layout.NOISE_ROW] = mount.noise, noisy
            noisy += 1
    return table


def _noise(rig: Rig, sensors: list[Part], seed: int | None, end: int, period: int) -> Floats:
    """Standard normal numbers for every sample of each noisy sensor, from its own stream of the seed."""
    noisy = [part for part in sensors if not part.kind.is_contact and _noise_of(rig, part)]
    count = end // period + 1
    if seed is None or not noisy:
        return np.zeros((0, 1))
    streams = np.random.SeedSequence(seed).spawn(len(noisy))
    return np.stack([np.random.default_rng(stream).standard_normal(count) for stream in streams])


def _noise_of(rig: Rig, part: Part) -> float:
    mount = rig.physics.mounts.get(part.name)
    return mount.noise if mount else 0.0


def _derived(rig: Rig, columns: dict[str, int]) -> Floats:
    words = {"presses": layout.PRESSES, "releases": layout.RELEASES, "messages": layout.MESSAGES}
    found = []
    for name, column in columns.items():
        part, _, word = name.rpartition(".")
        if word in words:
            found.append((words[word], columns[part], column, math.nan, 0.0))
    return np.array(found).reshape(-1, layout.DERIVED_WIDTH)


def _defaults(rig: Rig) -> dict[str, float]:
    """What sensors say that nothing on a floor moves, until a hand does."""
    return {name: part.kind.untouched for name, part in rig.reads.items() if part.kind.untouched is not None}


def _things(rig: Rig, floor: Floor, columns: dict[str, int]) -> tuple[Floats, Floats, Floats]:
    """The things (number 0 is all that stands fast, number 1 the hand), with their segments and circles."""
    placed = thing_columns(rig, floor, columns)
    things = [[0.0] * layout.THING, [FAR, FAR, 0.0, 0.0, *placed["hand"], 1.0]]
    segments = [(*_m(wall.start), *_m(wall.stop), 0.0) for wall in floor.walls]
    circles = [(0.0, 0.0, HAND_RADIUS, 1.0)]
    if floor.edged:
        border = ((0.0, 0.0), (floor.size[0], 0.0), floor.size, (0.0, floor.size[1]))
        segments += [(*_m(a), *_m(b), 0.0) for a, b in edges(border)]
    for obstacle in floor.obstacles:
        number = 0.0
        if obstacle.movable:
            number = float(len(things))
            force = obstacle.mass * obstacle.friction * layout.GRAVITY
            things.append([0.0, 0.0, 1.0, force, *placed[obstacle.name], 0.0])
        if obstacle.shape.form == "round":
            circles.append((*_m(obstacle.shape.points[0]), obstacle.shape.size / 100, number))
        else:
            segments += [(*_m(a), *_m(b), number) for a, b in edges(obstacle.shape.points)]
    return np.array(things), np.array(segments).reshape(-1, layout.SEGMENT), np.array(circles)


def _m(point: tuple[float, float]) -> tuple[float, float]:
    return point[0] / 100, point[1] / 100


def _areas(floor: Floor) -> tuple[Floats, Floats]:
    areas: list[tuple[float, ...]] = []
    corners: list[tuple[float, float]] = []

    def add(kind: int, shape: Shape, *values: float) -> None:
        size = shape.size / 200 if shape.form == "line" else shape.size / 100
        padded = (*values, 0.0, 0.0)[:3]
        areas.append((kind, _FORMS[shape.form], len(corners), len(shape.points), size, *padded))
        corners.extend(_m(point) for point in shape.points)

    for surface in floor.surfaces:
        assert surface.shape is not None
        factors = 1 - surface.travel_slip / 100, 1 - surface.turn_slip / 100, surface.rolling / 100
        add(layout.SURFACE, surface.shape, *factors)
    for tone in floor.tones:
        add(layout.GROUND_TONE, tone.shape, tone.tone)
    for paint in floor.paints:
        add(layout.PAINT, paint.shape, paint.hue)
    for ramp in floor.ramps:
        rise = math.tan(math.radians(ramp.slope))
        uphill = math.radians(ramp.uphill)
        add(layout.RAMP, ramp.shape, rise * math.cos(uphill), rise * math.sin(uphill))
    return np.array(areas).reshape(-1, layout.AREA), np.array(corners).reshape(-1, layout.CORNER)


def _lamps(floor: Floor) -> Floats:
    rows = [(*_m(lamp.at), lamp.height / 100, lamp.light) for lamp in floor.lamps]
    return np.array(rows).reshape(-1, layout.LAMP)


def _inputs(inputs: Inputs, columns: dict[str, int], floor: Floor, rig: Rig) -> tuple[Floats, Floats]:
    """A row for every instant at which a hand does something, with an empty one before, and what each column sets.

    Channels go on being held from row to row; a thing is moved only where its place is written.
    """
    placed, numbers = thing_columns(rig, floor, columns), {"hand": 1}
    numbers.update({thing.name: index for index, thing in enumerate(floor.movable, 2)})
    table, mapping = [inputs.times.astype(np.float64)], []
    for name, values in inputs.held.items():
        by_hand = rig.channels[name].follows == "hand"
        table.append(values if by_hand else np.where(values == GONE, np.nan, values))
        mapping.append((layout.TO_CHANNEL, columns[name]))
    for name, values in inputs.places.items():
        thing, _, axis = name.rpartition(".")
        base = placed[thing][2 if axis == "x" else 3]
        table.append(np.where(values == GONE, FAR, values / 100 - base))
        mapping.append((layout.TO_THING_X if axis == "x" else layout.TO_THING_Y, numbers[thing]))
    rows = np.stack(table, axis=1)
    before = np.full((1, rows.shape[1]), np.nan)
    before[0, 0] = -1.0
    return np.concatenate((before, rows)), np.array(mapping).reshape(-1, layout.INPUT_MAP_WIDTH)


def starts_inside(rig: Rig, floor: Floor) -> bool:
    """Whether the robot, at the start of the floor, stands in a wall or an obstacle."""
    if floor.is_worktop:
        return False
    x, y = floor.start
    body = np.array(rig.physics.body.outline).reshape(-1, 2) / 100
    outline = body.copy()
    contact.place_body(body, outline, x / 100, y / 100, math.radians(floor.heading))
    columns, _ = _columns(rig, floor)
    things, segments, circles = _things(rig, floor, columns)
    radius = 0.0 if len(body) else rig.physics.body.radius / 100
    if contact.overlapped(segments, circles, things, outline, radius, x / 100, y / 100, -1, False) >= 0:
        return True
    return any(obstacle.shape.holds(x, y) for obstacle in floor.obstacles)
