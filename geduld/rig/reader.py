"""Reads a rig from JSON. Every error names its place as a path into the document."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from geduld.errors import RigError
from geduld.language.messages import listed, nearest
from geduld.language.quantities import (
    ANGLE,
    LENGTH,
    RATIO,
    TIME,
    TURN_RATE,
    Dimension,
    Unit,
    microseconds,
    unit_from_text,
)
from geduld.language.words import WAYS, why_not_a_name
from geduld.rig.drivers import read_drivers
from geduld.rig.kinds import FOLLOWS, KINDS, Kind
from geduld.rig.model import DEFAULT_LOOP_US, Calibration, Drive, Part, Rig
from geduld.rig.physics import STEPPING, MotorPhysics, Mount, Physics, Positioner
from geduld.rig.physics_reader import read_body, read_physics
from geduld.rig.values import Values

MOST_RIG_BYTES = 200_000
MOST_PARTS = 64
MOST_KEYS = 24
_READ = Values(RigError, "rig")
_wrong = _READ.wrong
RIG_KEYS = (
    "geduld",
    "name",
    "loop",
    "at_end",
    "parts",
    "drive",
    "exclusive",
    "calibration",
    "body",
    "drivers",
    "ports",
    "note",
)
PART_KEYS = (
    "kind", "port", "reversed", "encoder", "unit", "least", "greatest", "raw", "follows", "full_speed", "stop",
    "scale", "keys", "channels", "active", "physics", "note",
)  # fmt: skip
CALIBRATION_KEYS = ("prefers", "surface", "travel", "turn", "ways", "angles", "note")


def read_rig(path: Path) -> Rig:
    """The rig in a JSON file. Raises RigError with the file and the place in it."""
    return _READ.file(path, rig_from_text)


def rig_from_text(data: bytes | str) -> Rig:
    """The rig in a JSON text. Raises RigError."""
    return rig_from_json(_READ.document(data, MOST_RIG_BYTES))


def rig_from_json(source: Any) -> Rig:
    """The rig in a JSON value. Raises RigError with the path to what is wrong."""
    source, name = _READ.named(source, RIG_KEYS, '"parts": {…}', "glasshouse-cart")
    table = source.get("parts")
    if not isinstance(table, dict) or not 1 <= len(table) <= MOST_PARTS:
        raise _wrong("parts", f"The rig needs 1 to {MOST_PARTS} parts.", "Give each part a name, a kind and a port.")
    parts = {part_name: _part(part_name, value) for part_name, value in table.items()}
    _one_part_a_port(parts)
    _ports(source.get("ports"), parts)
    at_end = source.get("at_end", "keep")
    if at_end not in ("keep", "stop"):
        raise _wrong("at_end", "What outputs do at the end is keep or stop.", 'Write "stop", or leave it out.')
    loop = DEFAULT_LOOP_US
    if "loop" in source:
        loop = microseconds(_READ.quantity(source["loop"], TIME, "loop", "10 ms"))
        if loop < 100:
            raise _wrong("loop", "One pass of the loop takes at least 0.1 ms.", 'For example: "10 ms"')
    groups = _exclusive(source.get("exclusive", []), parts)
    parts = _with_wheels(source, parts)
    drive = _drive(source.get("drive"), parts)
    calibration = _calibration(source.get("calibration", {}), drive)
    physics = _physics(source, parts)
    drivers = read_drivers(source.get("drivers", {}), parts)
    return Rig(name, parts, drive, loop, at_end == "stop", groups, source, calibration, physics, drivers)


def _part(name: str, table: Any) -> Part:
    path = f"parts.{name}"
    why = why_not_a_name(name)
    if why or name == "all":
        raise _wrong(path, f"{why or name}, so no part can be called so.", "Choose another name.", "reserved-name")
    if not isinstance(table, dict):
        raise _wrong(path, "A part needs a kind and a port.", '{"kind": "motor", "port": "M1"}')
    _READ.known_keys(table, PART_KEYS, f"{path}.")
    kind = _kind(table.get("kind"), f"{path}.kind")
    port = table.get("port")
    if not isinstance(port, str) or not port.strip():
        raise _wrong(f"{path}.port", "The part needs the port it is plugged into.", 'For example: "M1"')
    turned = table.get("reversed", False)
    if not isinstance(turned, bool):
        raise _wrong(f"{path}.reversed", "Reversed is true or false.", "Write true without quotation marks.")
    if "reversed" in table and not kind.reversible:
        raise _wrong(f"{path}.reversed", f"A {kind.word} has no direction to reverse.", "Leave reversed out.")
    follows = table.get("follows", kind.follows)
    if follows not in FOLLOWS:
        raise _wrong(f"{path}.follows", f"A reading follows {listed(FOLLOWS)}.", f'For example: "{kind.follows}"')
    raw = _raw(table.get("raw"), f"{path}.raw")
    full_speed, stop = _motor(table, kind, path)
    unit = _unit(table, kind, path)
    low, high = _bounds(table, unit.dimension if unit else kind.dimensions[0], path)
    if "scale" in table:
        unit, low = _scale(table, kind, path)
    counts, bits = _encoder(table, kind, path)
    keys, low_is_pressed = _keys(table, kind, path), _active_low(table, kind, path)
    return Part(
        name, kind, port, unit, turned, low, high, follows, counts, bits, raw, full_speed, stop, keys, low_is_pressed
    )


def _keys(table: Mapping[str, Any], kind: Kind, path: str) -> tuple[str, ...]:
    """The keys of a remote control: `up`, or with several channels `up_1` and `up_2`."""
    for key in ("keys", "channels"):
        if key in table and not kind.has_keys:
            raise _wrong(f"{path}.{key}", f"A {kind.word} has no {key}.", f"Leave {key} out.")
    if not kind.has_keys:
        return ()
    keys: Any = table.get("keys")
    channels = table.get("channels", 1)
    good = isinstance(keys, list) and 1 <= len(keys) <= MOST_KEYS and all(isinstance(key, str) for key in keys)
    if not good or len(set(keys)) < len(keys):
        message = f"A {kind.word} has 1 to {MOST_KEYS} keys, each with a name of its own."
        raise _wrong(f"{path}.keys", message, 'For example: ["up", "down", "red"]')
    if not isinstance(channels, int) or isinstance(channels, bool) or not 1 <= channels <= 8:
        raise _wrong(f"{path}.channels", "A remote control has 1 to 8 channels.", "For example: 4")
    found = tuple(key if channels == 1 else f"{key}_{channel}" for channel in range(1, channels + 1) for key in keys)
    for key in found:
        why = why_not_a_name(key)
        if why:
            raise _wrong(f"{path}.keys", f"{why}, so no key can be called so.", "Choose another name.", "reserved-name")
    return found


def _active_low(table: Mapping[str, Any], kind: Kind, path: str) -> bool:
    """Whether a contact's line is low while it is pressed."""
    active = table.get("active", "high")
    if "active" in table and (not kind.is_contact or kind.has_keys):
        raise _wrong(f"{path}.active", f"A {kind.word} is no contact on a line.", "Leave active out.")
    if active not in ("high", "low"):
        message = "The line of a pressed contact is high or low."
        raise _wrong(f"{path}.active", message, 'Write "low" for a switch to ground with a pull-up.')
    return bool(active == "low")


def _physics(source: Mapping[str, Any], parts: Mapping[str, Part]) -> Physics:
    """What a simulated floor needs to know; the defaults where nothing is said."""
    motors: dict[str, MotorPhysics] = {}
    mounts: dict[str, Mount] = {}
    positioners: dict[str, Positioner] = {}
    for name, part in parts.items():
        table = source["parts"][name].get("physics")
        if part.kind.spins and not part.kind.has_lag:
            motors[name] = STEPPING
        elif table is not None:
            found = read_physics(table, part.kind, part.dimension, f"parts.{name}.physics")
            if isinstance(found, MotorPhysics):
                motors[name] = found
            elif isinstance(found, Positioner):
                positioners[name] = found
            else:
                _sits_at_a_motor(name, found, parts)
                mounts[name] = found
    return Physics(read_body(source.get("body", {})), motors, mounts, positioners)


def _sits_at_a_motor(name: str, mount: Mount, parts: Mapping[str, Part]) -> None:
    """A limit switch or a current sensor is at a motor of the rig."""
    if mount.on and not (mount.on in parts and parts[mount.on].kind.spins):
        motors = listed(part.name for part in parts.values() if part.kind.spins)
        message = f'There is no motor "{mount.on}" at which "{name}" could sit.'
        raise _wrong(f"parts.{name}.physics.on", message, f"The motors are {motors or 'none yet'}.")


def _motor(table: Mapping[str, Any], kind: Kind, path: str) -> tuple[float | None, str]:
    """What only a motor has: how fast it turns, and how it stops."""
    for key in ("full_speed", "stop"):
        if key in table and not kind.spins:
            raise _wrong(f"{path}.{key}", f"A {kind.word} has no {key}.", f"Leave {key} out.")
    stop = table.get("stop", "brake")
    if stop not in ("brake", "coast"):
        raise _wrong(f"{path}.stop", "A motor stops by brake or by coast.", 'Write "brake" or "coast".')
    full_speed = None
    if "full_speed" in table:
        full_speed = _READ.above_nothing(table["full_speed"], TURN_RATE, f"{path}.full_speed", "600 deg/s")
    return full_speed, stop


def _calibration(table: Any, drive: Drive | None) -> Calibration:
    example = '{"travel": {"power": "40 %", "distance": "100 cm", "time": "5.2 s"}}'
    if not isinstance(table, dict):
        raise _wrong("calibration", "A calibration says what was measured.", example)
    _READ.known_keys(table, CALIBRATION_KEYS, "calibration.")
    if table and drive is None:
        raise _wrong("calibration", "A calibration belongs to a drive, and this rig has none.", "Describe the drive.")
    prefers = table.get("prefers", "")
    if prefers not in ("", *WAYS):
        raise _wrong("calibration.prefers", f"A rig prefers {listed(WAYS)}.", 'For example: "encoder"')
    surface = table.get("surface", "")
    if not isinstance(surface, str):
        raise _wrong("calibration.surface", "The surface is a name.", 'For example: "tiles"')
    travel = _measured(table, "travel", "distance", LENGTH, "100 cm")
    turn = _measured(table, "turn", "angle", ANGLE, "360 deg")
    ways, angles = _ends(table, "ways", LENGTH, "20 cm"), _ends(table, "angles", ANGLE, "90 deg")
    return Calibration(prefers, surface, travel, turn, ways, angles)


def _ends(table: Mapping[str, Any], key: str, dimension: Dimension, example: str) -> tuple[float, float] | None:
    """The least and the greatest of what was measured."""
    ends, path = table.get(key), f"calibration.{key}"
    if ends is None:
        return None
    if not isinstance(ends, list) or len(ends) != 2:
        raise _wrong(
            path, "The least and the greatest that was measured belong here.", f'For example: ["{example}", …]'
        )
    low, high = (_READ.above_nothing(end, dimension, path, example) for end in ends)
    if low > high:
        raise _wrong(path, "The least is above the greatest.", "Swap them.")
    return low, high


def _measured(table: Mapping[str, Any], key: str, what: str, dimension: Dimension, example: str) -> float | None:
    """A measured move as its rate for one percent of power."""
    move, path = table.get(key), f"calibration.{key}"
    if move is None:
        return None
    if not isinstance(move, dict):
        raise _wrong(path, f"A measured move says its power, its {what} and its time.", "Write all three.")
    _READ.known_keys(move, ("power", what, "time"), f"{path}.")
    found = {}
    for name, kind, shown in (("power", RATIO, "40 %"), (what, dimension, example), ("time", TIME, "5.2 s")):
        if name not in move:
            raise _wrong(f"{path}.{name}", f"The {name} of the measured move is missing.", f'For example: "{shown}"')
        found[name] = _READ.above_nothing(move[name], kind, f"{path}.{name}", shown)
    return found[what] / found["time"] / found["power"]


def _raw(ends: Any, path: str) -> tuple[float, float] | None:
    known = (int, float)
    if ends is None:
        return None
    if not isinstance(ends, list) or [type(end) in known for end in ends] != [True, True] or ends[0] == ends[1]:
        raise _wrong(path, "Raw names the converter's two ends.", "For example: [0, 1023]")
    return float(ends[0]), float(ends[1])


def _scale(table: Mapping[str, Any], kind: Kind, path: str) -> tuple[Unit, float]:
    """A motor's own numbers instead of %, and its least power."""
    ends = table["scale"]
    if not kind.spins or kind.dimensions != (RATIO,):
        raise _wrong(f"{path}.scale", f"A {kind.word} has no scale.", "Leave scale out.")
    whole = isinstance(ends, list) and [type(end) for end in ends] == [int, int] and 0 < ends[1] <= 100_000
    if not whole or ends[0] not in (0, -ends[1]) or "unit" in table or "least" in table or "greatest" in table:
        message = (
            "A scale goes from nothing, or from as much backwards, to the most, and stands for the unit and the ends."
        )
        raise _wrong(f"{path}.scale", message, "For example: [-127, 127] or [0, 255]")
    return Unit("", RATIO, Fraction(100, ends[1])), -100.0 if ends[0] else 0.0


def _kind(word: Any, path: str) -> Kind:
    if isinstance(word, str) and word in KINDS:
        return KINDS[word]
    like = nearest(word, KINDS) if isinstance(word, str) else None
    remedy = f'Did you mean "{like}"?' if like else f"The kinds are {listed(KINDS)}."
    raise _wrong(path, f"{json.dumps(word)} is not a kind of part.", remedy, "unknown-kind")


def _unit(table: Mapping[str, Any], kind: Kind, path: str) -> Any:
    word = table.get("unit", kind.unit)
    if word == "" and kind.unit == "":
        return None
    unit = unit_from_text(word) if isinstance(word, str) else None
    if unit is None or unit.dimension not in kind.dimensions:
        wanted = " or ".join(str(dimension) for dimension in kind.dimensions)
        message = f"{json.dumps(word)} is not a unit that a {kind.word} can have."
        raise _wrong(f"{path}.unit", message, f"Its value is {wanted}.", "unknown-unit")
    return unit


def _bounds(table: Mapping[str, Any], dimension: Dimension, path: str) -> tuple[float | None, float | None]:
    example = f"20 {dimension.unit}".strip()
    ends = [
        _READ.quantity(table[key], dimension, f"{path}.{key}", example) if key in table else None
        for key in ("least", "greatest")
    ]
    if ends[0] is not None and ends[1] is not None and ends[0] >= ends[1]:
        raise _wrong(f"{path}.least", "The least value is not below the greatest.", "Swap or mend them.")
    return ends[0], ends[1]


def _encoder(table: Mapping[str, Any], kind: Kind, path: str) -> tuple[int | None, int | None]:
    """An encoder's counts in a turn, and the bits of its counter."""
    encoder = table.get("encoder")
    if encoder is None:
        return None, None
    if not kind.counted:
        raise _wrong(f"{path}.encoder", f"A {kind.word} has no encoder.", "Leave encoder out.")
    counts = encoder.get("counts_per_turn") if isinstance(encoder, dict) else None
    if not isinstance(counts, int) or isinstance(counts, bool) or counts < 1:
        remedy = '{"counts_per_turn": 360}'
        raise _wrong(f"{path}.encoder.counts_per_turn", "An encoder counts 1 or more in a turn.", remedy)
    _READ.known_keys(encoder, ("counts_per_turn", "counter_bits", "note"), f"{path}.encoder.")
    bits = encoder.get("counter_bits")
    if bits is not None and (not isinstance(bits, int) or isinstance(bits, bool) or not 8 <= bits <= 64):
        raise _wrong(f"{path}.encoder.counter_bits", "A counter has 8 to 64 bits.", "For example: 16")
    return counts, bits


def _one_part_a_port(parts: Mapping[str, Part]) -> None:
    taken: dict[str, str] = {}
    for part in parts.values():
        if part.port in taken:
            message = f'Port {part.port} already holds "{taken[part.port]}".'
            remedy = "Plug one of the two into another port."
            raise _wrong(f"parts.{part.name}.port", message, remedy, "port-taken")
        taken[part.port] = part.name


def _ports(ports: Any, parts: Mapping[str, Part]) -> None:
    """The controller's ports, with the kinds of part that each can carry (an empty list: any)."""
    if ports is None:
        return
    good = isinstance(ports, dict) and all(
        isinstance(kinds, list) and set(kinds) <= set(KINDS) for kinds in ports.values()
    )
    if not good or not ports:
        message = "Ports are the controller's, each with the list of the kinds that it can carry; an empty list is any."
        raise _wrong("ports", message, 'For example: {"M1": ["motor"], "A1": ["range", "knob"]}')
    for part in parts.values():
        if part.port not in ports:
            like = nearest(part.port, ports)
            remedy = f'Did you mean "{like}"?' if like else f"It has {listed(ports)}."
            message = f'The controller of this rig has no port "{part.port}".'
            raise _wrong(f"parts.{part.name}.port", message, remedy, "no-such-port")
        if ports[part.port] and part.kind.word not in ports[part.port]:
            message = f"Port {part.port} cannot carry a {part.kind.word}; it carries {listed(ports[part.port])}."
            able = [port for port, kinds in ports.items() if not kinds or part.kind.word in kinds]
            remedy = f"A {part.kind.word} fits into {listed(able)}." if able else "No port of it can."
            raise _wrong(f"parts.{part.name}.port", message, remedy, "wrong-port")


def _exclusive(groups: Any, parts: Mapping[str, Part]) -> tuple[tuple[str, ...], ...]:
    contacts = [part.name for part in parts.values() if part.kind.is_contact]
    good = isinstance(groups, list) and all(isinstance(group, list) and len(group) > 1 for group in groups)
    if not good or any(name not in contacts for group in groups for name in group):
        message = "Exclusive is a list of groups of two or more contacts."
        raise _wrong("exclusive", message, f"The contacts of this rig are {listed(contacts) or 'none'}.")
    return tuple(tuple(group) for group in groups)


def _with_wheels(source: Mapping[str, Any], parts: dict[str, Part]) -> dict[str, Part]:
    """The parts, with steppers of the drive as wheels: they turn on, count their steps, and go no faster than slew."""
    drive = source.get("drive")
    sides = [drive.get(side) for side in ("left", "right")] if isinstance(drive, dict) else []
    found = dict(parts)
    for name in (side for side in sides if isinstance(side, str)):
        part = parts.get(name)
        if part is None or part.kind.rolling is None:
            continue
        table = source["parts"][name].get("physics", {})
        physics = read_physics(table, part.kind, part.dimension, f"parts.{name}.physics")
        assert isinstance(physics, Positioner)
        found[name] = replace(
            part, kind=part.kind.rolling, unit=unit_from_text("%"), low=None, high=None, full_speed=physics.slew,
            counts_per_turn=round(360 / physics.step),
        )  # fmt: skip
    return found


def _drive(table: Any, parts: Mapping[str, Part]) -> Drive | None:
    if table is None:
        return None
    if not isinstance(table, dict):
        raise _wrong("drive", "The drive names its left and right motor.", '{"left": …, "right": …, …}')
    _READ.known_keys(table, ("left", "right", "wheel_diameter", "track_width"), "drive.")
    names = [_drive_motor(table, side, parts) for side in ("left", "right")]
    if names[0] == names[1]:
        message = f'Both sides of the drive name the motor "{names[0]}".'
        raise _wrong("drive.right", message, "Name the other motor.", "drive-one-motor")
    if names == ["right", "left"]:
        message = 'The drive\'s left side names the motor "right", and its right side the motor "left".'
        raise _wrong("drive.left", message, "Swap the two, or the robot turns the wrong way.", "drive-swapped")
    sizes = []
    for key, example in (("wheel_diameter", "6.5 cm"), ("track_width", "14 cm")):
        if key not in table:
            raise _wrong(f"drive.{key}", f"The drive's {key} is missing.", f'For example: "{example}"')
        sizes.append(_READ.above_nothing(table[key], LENGTH, f"drive.{key}", example))
    return Drive(names[0], names[1], sizes[0], sizes[1])


def _drive_motor(table: Mapping[str, Any], side: str, parts: Mapping[str, Part]) -> str:
    name = table.get(side)
    motors = [part.name for part in parts.values() if part.kind.spins]
    if isinstance(name, str) and name in motors:
        return name
    like = nearest(name, motors) if isinstance(name, str) else None
    message = f"The drive's {side} side names {json.dumps(name)}, which is not a motor of this rig."
    remedy = f'Did you mean "{like}"?' if like else f"The motors are {listed(motors) or 'none yet'}."
    raise _wrong(f"drive.{side}", message, remedy, "drive-missing-motor")
