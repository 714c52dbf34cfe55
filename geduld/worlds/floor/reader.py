"""Reads a floor from JSON. Every error names its place as a path into the document."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

from geduld.errors import FloorError
from geduld.language.messages import listed
from geduld.language.quantities import ANGLE, LENGTH, LIGHT, RATIO
from geduld.language.words import why_not_a_name
from geduld.rig.physics_reader import FARTHEST
from geduld.rig.values import MASS, TORQUE, Values
from geduld.worlds.floor.model import (
    Corridor,
    Floor,
    Lamp,
    Load,
    Mark,
    Obstacle,
    Paint,
    Point,
    Ramp,
    Shape,
    Surface,
    Tone,
    Wall,
    edges,
)

MOST_FLOOR_BYTES, MOST_THINGS, MOST_CORNERS, LARGEST = 500_000, 200, 64, 10_000.0
FLOOR_KEYS = (
    "geduld", "name", "size", "edge", "ambient", "tone", "surface", "walls", "obstacles", "surfaces", "tones",
    "paints", "ramps", "lamps", "marks", "corridors", "start", "loads", "note",
)  # fmt: skip
WORKTOP_KEYS = ("geduld", "name", "ambient", "tone", "loads", "note")
SHAPE_KEYS = ("at", "radius", "corners", "line", "width")
SURFACE_KEYS = ("name", "travel_slip", "turn_slip", "rolling", "note")
THING_KEYS = {
    "walls": ("name", "from", "to", "note"),
    "obstacles": ("name", "at", "radius", "corners", "movable", "mass", "friction", "note"),
    "surfaces": (*SURFACE_KEYS, *SHAPE_KEYS),
    "tones": ("name", "tone", "note", *SHAPE_KEYS),
    "paints": ("name", "hue", "note", *SHAPE_KEYS),
    "ramps": ("name", "slope", "uphill", "note", "at", "radius", "corners"),
    "lamps": ("name", "at", "height", "light", "note"),
    "marks": ("name", "at", "heading", "note"),
    "corridors": ("name", "note", *SHAPE_KEYS),
    "loads": ("name", "lifted_by", "gripped_by", "grips_at", "pulls", "lies", "within", "note"),
}
HAND = "hand"
_READ = Values(FloorError, "floor")
_wrong = _READ.wrong


def read_floor(path: Path) -> Floor:
    """The floor in a JSON file. Raises FloorError with the file and the place in it."""
    return _READ.file(path, floor_from_text)


def floor_from_text(data: bytes | str) -> Floor:
    """The floor in a JSON text. Raises FloorError."""
    return floor_from_json(_READ.document(data, MOST_FLOOR_BYTES))


def floor_from_json(source: Any) -> Floor:
    """The floor, or the worktop, in a JSON value. Raises FloorError with the path to what is wrong."""
    source, name = _READ.named(source, FLOOR_KEYS, '"size": […], "start": {…}', "North aisle")
    if "size" not in source and "start" not in source:
        return _worktop(source, name)
    if "loads" in source:
        message = "What motors lift is told of a worktop, which has neither size nor start."
        raise _wrong("loads", message, "Leave loads out, or make it a worktop.")
    size = _pair(source.get("size"), "size", '["320 cm", "220 cm"]', 10.0)
    edge = source.get("edge", "wall")
    if edge not in ("wall", "open"):
        raise _wrong("edge", "The edge of a floor is a wall or open.", 'Write "wall" or "open".')
    start = _READ.table(source.get("start"), "start", ("at", "heading", "note"), '{"at": ["40 cm", "60 cm"]}')
    at = _point(start.get("at"), "start.at")
    heading = _heading(start, "heading", "start.heading")
    floor = Floor(
        name,
        size,
        at,
        heading or 0.0,
        edge == "wall",
        _optional(source, "ambient", LIGHT, "", "200 lx", 0.0, 200_000.0, 200.0),
        _optional(source, "tone", RATIO, "", "90 %", 0.0, 100.0, 90.0),
        _surface(_READ.table(source.get("surface", {}), "surface", SURFACE_KEYS, '{"name": "tiles"}'), "surface"),
        walls=_list(source, "walls", _wall),
        obstacles=_list(source, "obstacles", _obstacle),
        surfaces=_list(source, "surfaces", _surface_area),
        tones=_list(source, "tones", _tone),
        paints=_list(source, "paints", _paint),
        ramps=_list(source, "ramps", _ramp),
        lamps=_list(source, "lamps", _lamp),
        marks=_list(source, "marks", _mark),
        corridors=_list(source, "corridors", _corridor),
        source=source,
    )
    _names_differ(floor)
    if not (0 < at[0] < size[0] and 0 < at[1] < size[1]):
        raise _wrong("start.at", "The robot starts outside the floor.", "Put it inside the size of the floor.")
    return floor


def floor_again(source: Any) -> Floor:
    """The floor in a JSON value that may have been read before: the last ones are kept. Raises as `floor_from_json`."""
    return _kept(json.dumps(source))


@lru_cache(maxsize=32)
def _kept(text: str) -> Floor:
    return floor_from_json(json.loads(text))


def _worktop(source: Mapping[str, Any], name: str) -> Floor:
    """A place without a floor: nothing stands on it that a robot could drive to."""
    for key in source:
        if key not in WORKTOP_KEYS:
            message = f"A place without a size is a worktop, and has no {key}."
            raise _wrong(key, message, f'Leave {key} out, or give the floor its "size" and its "start".')
    ambient = _optional(source, "ambient", LIGHT, "", "200 lx", 0.0, 200_000.0, 200.0)
    tone = _optional(source, "tone", RATIO, "", "90 %", 0.0, 100.0, 90.0)
    loads = _list(source, "loads", _load)
    floor = Floor(name, (0.0, 0.0), (0.0, 0.0), 0.0, False, ambient, tone, loads=loads, source=source)
    _names_differ(floor)
    return floor


def _load(table: Mapping[str, Any], path: str) -> Load:
    motors = {key: table.get(key) for key in ("lifted_by", "gripped_by")}
    for key, motor in motors.items():
        if not isinstance(motor, str) or not motor.strip():
            raise _wrong(f"{path}.{key}", "Here the name of a motor belongs.", 'For example: "hoist"')
    lifts, grips = str(motors["lifted_by"]), str(motors["gripped_by"])
    if lifts == grips:
        raise _wrong(f"{path}.gripped_by", "One motor lifts it, and another one grips it.", "Name the other motor.")
    places = table.get("lies")
    example = '[{"hoist": "0 deg", "slew": "0 deg"}, {"name": "shelf", "hoist": "300 deg", "slew": "90 deg"}]'
    if not isinstance(places, list) or not 1 <= len(places) <= MOST_CORNERS:
        raise _wrong(f"{path}.lies", "Here the places where it can lie belong, the first one in front.", example)
    lies = tuple(_lies(place, f"{path}.lies.{index}", lifts, grips, example) for index, place in enumerate(places))
    names = tuple(_name(place, f"{path}.lies.{index}") for index, place in enumerate(places))
    pulls = _READ.scaled(table.get("pulls"), TORQUE, f"{path}.pulls", "9 Ncm")
    grips_at = _READ.within(table.get("grips_at"), ANGLE, f"{path}.grips_at", "60 deg", -FARTHEST, FARTHEST)
    within = _optional(table, "within", ANGLE, f"{path}.", "8 deg", 0.5, 90.0, 8.0)
    load = Load(_name(table, path, True), lifts, grips, grips_at, pulls, lies, names, within)
    if len(load.aside) > 2:
        raise _wrong(f"{path}.lies", "Beside the motor that lifts, at most two others say where it lies.", example)
    if set(lies[0]) != {lifts, *load.aside}:
        message = f"The place where it lies at first says the angle of {listed((lifts, *load.aside))}, of each one."
        raise _wrong(f"{path}.lies.0", message.replace(" or ", " and "), example)
    return load


def _lies(place: Any, path: str, lifts: str, grips: str, example: str) -> Mapping[str, float]:
    if not isinstance(place, dict) or lifts not in place or grips in place:
        message = f'A place is a table of angles: that of "{lifts}", and not that of "{grips}".'
        raise _wrong(path, message, f"For example: {example}")
    return {
        motor: _READ.within(angle, ANGLE, f"{path}.{motor}", "90 deg", -FARTHEST, FARTHEST)
        for motor, angle in place.items()
        if motor != "name"
    }


def _list(source: Mapping[str, Any], key: str, read: Callable[[Any, str], Any]) -> tuple[Any, ...]:
    items = source.get(key, [])
    if not isinstance(items, list) or len(items) > MOST_THINGS:
        raise _wrong(key, f"Here a list of at most {MOST_THINGS} things belongs.", "Write them in [ ].")
    found = []
    for index, item in enumerate(items):
        path = f"{key}.{index}"
        found.append(read(_READ.table(item, path, THING_KEYS[key], "{…}"), path))
    return tuple(found)


def _pair(value: Any, path: str, example: str, least: float = -LARGEST) -> Point:
    if not isinstance(value, list) or len(value) != 2:
        raise _wrong(path, "Two lengths belong here, across and up.", f"For example: {example}")
    x, y = (_READ.within(item, LENGTH, f"{path}.{i}", "60 cm", least, LARGEST) for i, item in enumerate(value))
    return x, y


def _point(value: Any, path: str) -> Point:
    return _pair(value, path, '["120 cm", "80 cm"]')


def _points(value: Any, path: str, least: int) -> tuple[Point, ...]:
    if not isinstance(value, list) or not least <= len(value) <= MOST_CORNERS:
        raise _wrong(path, f"Here {least} to {MOST_CORNERS} points belong.", 'For example: [["0 cm", "0 cm"], …]')
    found = tuple(_point(item, f"{path}.{index}") for index, item in enumerate(value))
    for index in range(1, len(found)):
        if found[index] == found[index - 1]:
            raise _wrong(f"{path}.{index}", "Two points in a row are the same.", "Leave one of them out.")
    return found


def _optional(
    table: Mapping[str, Any], key: str, dimension: Any, path: str, example: str, low: float, high: float, known: float
) -> float:
    return _READ.within(table[key], dimension, f"{path}{key}", example, low, high) if key in table else known


def _heading(table: Mapping[str, Any], key: str, path: str) -> float | None:
    return _READ.within(table[key], ANGLE, path, "90 deg", -3600.0, 3600.0) if key in table else None


def _name(table: Mapping[str, Any], path: str, needed: bool = False) -> str:
    name = table.get("name", "")
    if not isinstance(name, str) or (needed and not name.strip()):
        raise _wrong(f"{path}.name", "This needs a name in quotation marks.", 'For example: "A"')
    return name


def _shape(table: Mapping[str, Any], path: str) -> Shape:
    forms = [key for key in ("radius", "corners", "line") if key in table]
    if len(forms) != 1:
        remedy = 'Give it "at" and "radius", or "corners", or "line" and "width".'
        raise _wrong(path, "This needs one shape.", remedy)
    if forms[0] == "radius":
        at = _point(table.get("at"), f"{path}.at")
        return Shape("round", (at,), _READ.within(table["radius"], LENGTH, f"{path}.radius", "28 cm", 0.1, LARGEST))
    if forms[0] == "line":
        width = _READ.within(table.get("width"), LENGTH, f"{path}.width", "2 cm", 0.1, LARGEST)
        return Shape("line", _points(table["line"], f"{path}.line", 2), width)
    corners = _points(table["corners"], f"{path}.corners", 3)
    area = sum(a[0] * b[1] - a[1] * b[0] for a, b in edges(corners)) / 2
    if abs(area) < 0.01:
        raise _wrong(f"{path}.corners", "These corners lie on one line.", "Move one of them.")
    return Shape("corners", corners if area > 0 else corners[::-1])


def _wall(table: Mapping[str, Any], path: str) -> Wall:
    start, stop = _point(table.get("from"), f"{path}.from"), _point(table.get("to"), f"{path}.to")
    if start == stop:
        raise _wrong(f"{path}.to", "This wall has no length.", "Move one of its ends.", "wall-without-length")
    return Wall(start, stop, _name(table, path))


def _obstacle(table: Mapping[str, Any], path: str) -> Obstacle:
    movable = table.get("movable", False)
    if not isinstance(movable, bool):
        raise _wrong(f"{path}.movable", "Movable is true or false.", "Write true without quotation marks.")
    name = _name(table, path, movable)
    if movable and (why_not_a_name(name) or name == HAND):
        message = f'"{name}" cannot be the name of something that a hand moves.'
        raise _wrong(f"{path}.name", message, 'Take one small word, for example: "crate"')
    shape = _shape(table, path)
    if movable and shape.form == "corners" and not _is_convex(shape):
        raise _wrong(f"{path}.corners", "Something that can be pushed has no corner that points inwards.", "Move it.")
    mass = _READ.scaled(table["mass"], MASS, f"{path}.mass", "500 g") if "mass" in table else 0.5
    friction = _optional(table, "friction", RATIO, f"{path}.", "40 %", 0.0, 500.0, 40.0) / 100
    return Obstacle(shape, name, movable, mass, friction)


def _is_convex(shape: Shape) -> bool:
    p = shape.points
    return all(
        (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]) > 0
        for a, b, c in zip(p, p[1:] + p[:1], p[2:] + p[:2], strict=True)
    )


def _surface(table: Mapping[str, Any], path: str) -> Surface:
    name = table.get("name", "tiles")
    if not isinstance(name, str) or not name.strip():
        raise _wrong(f"{path}.name", "A surface needs a name.", 'For example: "gravel"')
    return Surface(
        name,
        _optional(table, "travel_slip", RATIO, f"{path}.", "2 %", 0.0, 90.0, 0.0),
        _optional(table, "turn_slip", RATIO, f"{path}.", "5 %", 0.0, 90.0, 0.0),
        _optional(table, "rolling", RATIO, f"{path}.", "2 %", 0.0, 100.0, 2.0),
    )


def _surface_area(table: Mapping[str, Any], path: str) -> Surface:
    found = _surface(table, path)
    return Surface(found.name, found.travel_slip, found.turn_slip, found.rolling, _shape(table, path))


def _tone(table: Mapping[str, Any], path: str) -> Tone:
    tone = _READ.within(table.get("tone"), RATIO, f"{path}.tone", "10 %", 0.0, 100.0)
    return Tone(_shape(table, path), tone, _name(table, path))


def _paint(table: Mapping[str, Any], path: str) -> Paint:
    hue = _READ.within(table.get("hue"), ANGLE, f"{path}.hue", "120 deg", -360.0, 360.0)
    return Paint(_shape(table, path), hue % 360, _name(table, path))


def _ramp(table: Mapping[str, Any], path: str) -> Ramp:
    slope = _READ.within(table.get("slope"), ANGLE, f"{path}.slope", "6 deg", 0.0, 45.0)
    uphill = _READ.within(table.get("uphill"), ANGLE, f"{path}.uphill", "90 deg", -360.0, 360.0)
    return Ramp(_shape(table, path), slope, uphill, _name(table, path))


def _lamp(table: Mapping[str, Any], path: str) -> Lamp:
    light = _READ.within(table.get("light"), LIGHT, f"{path}.light", "400 lx", 0.0, 200_000.0)
    height = _READ.within(table.get("height", "60 cm"), LENGTH, f"{path}.height", "60 cm", 1.0, LARGEST)
    return Lamp(_point(table.get("at"), f"{path}.at"), height, light, _name(table, path))


def _mark(table: Mapping[str, Any], path: str) -> Mark:
    at = _point(table.get("at"), f"{path}.at")
    return Mark(_name(table, path, True), at, _heading(table, "heading", f"{path}.heading"))


def _corridor(table: Mapping[str, Any], path: str) -> Corridor:
    return Corridor(_name(table, path, True), _shape(table, path))


def _names_differ(floor: Floor) -> None:
    """Marks, corridors and movable things are called by their names, so each has its own."""
    seen: dict[str, str] = {}
    groups: tuple[tuple[str, tuple[Any, ...]], ...] = (
        ("obstacles", floor.obstacles),
        ("marks", floor.marks),
        ("corridors", floor.corridors),
        ("loads", floor.loads),
    )
    for key, things in groups:
        for index, thing in enumerate(things):
            if not thing.name:
                continue
            path = f"{key}.{index}.name"
            if thing.name in seen:
                message = f'"{thing.name}" is the name of {seen[thing.name]} too.'
                raise _wrong(path, message, "Give each its own name.", "name-twice")
            seen[thing.name] = f"{key}.{index}"
