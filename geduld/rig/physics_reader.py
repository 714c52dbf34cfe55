"""Reads what a simulated floor needs to know about a rig: its `body` and the `physics` of its parts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from geduld.errors import RigError
from geduld.language.quantities import ANGLE, LENGTH, RATIO, TIME, TURN_RATE, Dimension
from geduld.rig.kinds import KINDS, Kind
from geduld.rig.physics import Body, MotorPhysics, Mount, Positioner
from geduld.rig.values import MASS, TORQUE, Values

BODY_KEYS = ("radius", "outline", "mass", "grip", "supply", "sag", "note")
PHYSICS_KEYS = tuple(sorted({key for kind in KINDS.values() for key in kind.physics or ()}))
MOST_CORNERS = 12
FARTHEST = 36_000.0  # deg
_READ = Values(RigError, "rig")


def read_body(table: Any) -> Body:
    """The body of a rig. Raises RigError with the place."""
    _READ.table(table, "body", BODY_KEYS, '{"radius": "9 cm", "mass": "1 kg"}')
    if "radius" in table and "outline" in table:
        raise _READ.wrong("body.outline", "A body is round or has an outline, not both.", "Leave one of the two out.")
    known = Body()
    radius = _READ.within(table.get("radius", "9 cm"), LENGTH, "body.radius", "9 cm", 1.0, 100.0)
    outline = _outline(table["outline"]) if "outline" in table else ()
    mass = _READ.scaled(table["mass"], MASS, "body.mass", "1.2 kg") if "mass" in table else known.mass
    shares = [
        _READ.within(table[key], RATIO, f"body.{key}", f"{shown:g} %", low, high) / 100 if key in table else shown / 100
        for key, shown, low, high in (("grip", 70, 5, 200), ("supply", 100, 20, 120), ("sag", 4, 0, 50))
    ]
    return Body(outline, radius, mass, *shares)


def _outline(corners: Any) -> tuple[tuple[float, float], ...]:
    remedy = 'For example: [["10 cm", "8 cm"], ["-8 cm", "8 cm"], ["-8 cm", "-8 cm"], ["10 cm", "-8 cm"]]'
    if not isinstance(corners, list) or not 3 <= len(corners) <= MOST_CORNERS:
        raise _READ.wrong("body.outline", f"An outline has 3 to {MOST_CORNERS} corners.", remedy)
    found = []
    for index, corner in enumerate(corners):
        path = f"body.outline.{index}"
        if not isinstance(corner, list) or len(corner) != 2:
            raise _READ.wrong(path, "A corner says how far ahead and how far to the left it is.", remedy)
        found.append(tuple(_READ.within(value, LENGTH, path, "8 cm", -100.0, 100.0) for value in corner))
    turns = [
        (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])
        for a, b, c in zip(found, found[1:] + found[:1], found[2:] + found[:2], strict=True)
    ]
    if not all(turn > 0 for turn in turns):
        message = "The corners must go round counter-clockwise, with no corner that points inwards."
        raise _READ.wrong("body.outline", message, remedy)
    if any(a[0] * b[1] - a[1] * b[0] <= 0 for a, b in zip(found, found[1:] + found[:1], strict=True)):
        raise _READ.wrong("body.outline", "The middle of the axle must lie inside the outline.", remedy)
    return tuple((x, y) for x, y in found)


def read_physics(table: Any, kind: Kind, dimension: Dimension, path: str) -> MotorPhysics | Positioner | Mount:
    """The physics of one part. Raises RigError with the place."""
    if kind.physics is None:
        raise _READ.wrong(path, f"A {kind.word} has no physics on a floor.", "Leave physics out.")
    _READ.table(table, path, kind.physics, "{}")
    if kind.spins:
        return _motor(table, path)
    return _positioner(table, path) if kind.positions else _mount(table, dimension, path)


def _positioner(table: Mapping[str, Any], path: str) -> Positioner:
    known = Positioner()
    slew = _READ.above_nothing(table["slew"], TURN_RATE, f"{path}.slew", "400 deg/s") if "slew" in table else known.slew
    step = _READ.within(table["step"], ANGLE, f"{path}.step", "1.8 deg", 0.01, 90.0) if "step" in table else known.step
    return Positioner(slew, step)


def _motor(table: Mapping[str, Any], path: str) -> MotorPhysics:
    known, found = MotorPhysics(), {}
    if "dead_zone" in table:
        found["dead_zone"] = _READ.within(table["dead_zone"], RATIO, f"{path}.dead_zone", "4 %", 0.0, 60.0)
    if "lag" in table:
        found["lag"] = _READ.within(table["lag"], TIME, f"{path}.lag", "80 ms", 0.001, 5.0)
    if "torque" in table:
        found["torque"] = _READ.scaled(table["torque"], TORQUE, f"{path}.torque", "15 Ncm")
    if "gain" in table:
        found["gain"] = _READ.within(table["gain"], RATIO, f"{path}.gain", "97 %", 10.0, 200.0) / 100
    if "load" in table:
        found["load"] = _READ.scaled(table["load"], TORQUE, f"{path}.load", "6 Ncm")
    if "level_at" in table:
        found["level_at"] = _READ.within(table["level_at"], ANGLE, f"{path}.level_at", "90 deg", -FARTHEST, FARTHEST)
    if "gear" in table:
        found["gear"] = _gear(table["gear"], f"{path}.gear")
    known = MotorPhysics(**{**vars(known), **found})
    if "stops" not in table:
        return known
    example = '["0 deg", "180 deg"]'
    low, high = _stretch(table["stops"], f"{path}.stops", "End stops are the least and the greatest angle.", example)
    if not low <= 0 <= high:
        message = "A motor starts at 0 deg, and that lies outside its end stops."
        raise _READ.wrong(f"{path}.stops", message, f"Count the angles from where it stands at first: {example}")
    return replace(known, stops=(low, high))


def _gear(value: Any, path: str) -> float:
    if not isinstance(value, int | float) or isinstance(value, bool) or not 0.01 <= value <= 1000:
        message = "A gear is how often the motor turns while what it moves turns once, from 0.01 to 1000."
        raise _READ.wrong(path, message, "For example: 3")
    return float(value)


def _stretch(ends: Any, path: str, message: str, example: str) -> tuple[float, float]:
    """Two angles, the lesser first."""
    if not isinstance(ends, list) or len(ends) != 2:
        raise _READ.wrong(path, message, f"For example: {example}")
    low, high = (_READ.within(end, ANGLE, path, "90 deg", -FARTHEST, FARTHEST) for end in ends)
    if low >= high:
        raise _READ.wrong(path, "The first angle must be the lesser.", f"For example: {example}")
    return low, high


def _mount(table: Mapping[str, Any], dimension: Dimension, path: str) -> Mount:
    rows: tuple[tuple[str, Dimension, str, float, float], ...] = (
        ("ahead", LENGTH, "9 cm", -100, 100),
        ("left", LENGTH, "0 cm", -100, 100),
        ("facing", ANGLE, "0 deg", -360, 360),
        ("cone", ANGLE, "20 deg", 0, 90),
        ("grazing", ANGLE, "65 deg", 5, 90),
        ("spot", LENGTH, "0.8 cm", 0.05, 20),
        ("bounce", TIME, "4 ms", 0, 0.2),
        ("trim", RATIO, "50 %", 1, 99),
        ("reach", LENGTH, "10 cm", 0.5, 200),
        ("period", TIME, "50 ms", 0.001, 10),
        ("noise", dimension, f"1 {dimension.unit}", 0, 1e6),
        ("resolution", dimension, f"1 {dimension.unit}", 0, 1e6),
    )
    found: dict[str, Any] = {
        key: _READ.within(table[key], kind, f"{path}.{key}", example, low, high)
        for key, kind, example, low, high in rows
        if key in table
    }
    if "period" in found and round(found["period"] * 1_000_000) % 1000:
        raise _READ.wrong(f"{path}.period", "A sensor measures every so many whole milliseconds.", '"50 ms"')
    if "rail" in table:
        found["rail"] = _rail(table["rail"], f"{path}.rail")
    if "on" in table:
        if not isinstance(table["on"], str):
            raise _READ.wrong(f"{path}.on", "Here the name of a motor belongs.", 'For example: "hoist"')
        found["on"] = table["on"]
    if "closes" in table:
        message = "A limit switch is pressed from one angle of a motor to another."
        if "on" not in table:
            raise _READ.wrong(path, message, 'Say which motor: {"on": "hoist", "closes": ["-5 deg", "2 deg"]}')
        found["closes"] = _stretch(table["closes"], f"{path}.closes", message, '["-5 deg", "2 deg"]')
    return Mount(**found)


def _rail(ends: Any, path: str) -> tuple[float, float]:
    remedy = 'For example: ["-75 deg", "75 deg"], from the right to the left of straight ahead.'
    if not isinstance(ends, list) or len(ends) != 2:
        raise _READ.wrong(path, "A rail says from which bearing to which it reaches.", remedy)
    low, high = (_READ.within(end, ANGLE, path, "75 deg", -360.0, 360.0) for end in ends)
    if not 0 < high - low <= 360:
        raise _READ.wrong(path, "The second bearing must lie to the left of the first.", remedy)
    return low, high
