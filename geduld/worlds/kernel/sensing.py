"""What the sensors say where the robot stands."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.carrying import stands
from geduld.worlds.kernel.echo import echo
from geduld.worlds.kernel.geometry import in_area
from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import (
    AHEAD,
    AMBIENT,
    APPLIED,
    AREA_KIND,
    AT_MOTOR,
    AT_REST,
    BASE_TONE,
    BATTERY,
    BOUNCE,
    CLOSED_AT,
    CONE,
    CONTACTS,
    CURRENT,
    DEAD,
    EVERY,
    FACING,
    FULL,
    GAIN,
    GAP,
    GRAZING,
    GREATEST,
    GROUND_TONE,
    HEADING,
    HUE,
    KIND,
    LEAST,
    LEFT,
    LIGHT,
    LIMIT,
    LOOKS,
    NOISE_ROW,
    NOISY,
    PAINT,
    PERCENT,
    POINT_X,
    POINT_Y,
    PULL,
    RAIL_FROM,
    RAIL_TO,
    RANGE,
    REFLEX,
    RELEASE,
    RESOLUTION,
    SECOND,
    SLOPE_X,
    SLOPE_Y,
    SPOT,
    STILL,
    THIRD,
    TILT,
    TONE,
    TOUCHING,
    VALUE,
    VALUE_1,
    VOLTAGE,
    W,
    X,
    Y,
)
from geduld.worlds.kernel.motors import coasting

_FULL_LIGHT = 1000.0
_BOUNCES = (0.15, 0.4, 0.55, 0.9)
TONE_POINTS = 61
GOLDEN = math.pi * (3.0 - math.sqrt(5.0))


@compiled
def brightness(lamps: Any, ambient: float, x: float, y: float, facing: float) -> float:
    """The light in lx: each lamp's falls with the square of the distance; a sensor that faces somewhere sees less
    of what stands aside (by the cosine), and nothing behind it. `facing` is NaN for one that looks all round."""
    light = ambient
    for index in range(len(lamps)):
        dx, dy, height = lamps[index, 0] - x, lamps[index, 1] - y, lamps[index, 2]
        away = dx * dx + dy * dy + height * height
        share = 1.0
        if facing == facing:
            flat = math.sqrt(dx * dx + dy * dy)
            share = max(0.0, (dx * math.cos(facing) + dy * math.sin(facing)) / flat) if flat > 0.0 else 1.0
        light += lamps[index, 3] / away * share
    return light


@compiled
def tone_at(areas: Any, corners: Any, base: float, x: float, y: float, spot: float) -> float:
    """The tone of the ground in %, as the mean of points spread evenly over the spot.

    They lie on a spiral by the golden angle (Vogel 1979), so that no edge meets many of them at once.
    """
    total = 0.0
    for point in range(TONE_POINTS):
        ring = spot * math.sqrt((point + 0.5) / TONE_POINTS)
        px, py = x + ring * math.cos(point * GOLDEN), y + ring * math.sin(point * GOLDEN)
        tone = base
        for index in range(len(areas)):
            if areas[index, AREA_KIND] == GROUND_TONE and in_area(areas[index], corners, px, py):
                tone = areas[index, VALUE_1]
        total += tone
    return total / TONE_POINTS


@compiled
def hue_at(areas: Any, corners: Any, x: float, y: float, spot: float) -> float:
    """The hue of the ground in deg, as the mean direction of the painted points of the spot.

    NaN where fewer than half of the points are painted, or where their hues cancel each other out. The points are those
    of `tone_at`.
    """
    along, across, painted = 0.0, 0.0, 0
    for point in range(TONE_POINTS):
        ring = spot * math.sqrt((point + 0.5) / TONE_POINTS)
        px, py = x + ring * math.cos(point * GOLDEN), y + ring * math.sin(point * GOLDEN)
        hue = math.nan
        for index in range(len(areas)):
            if areas[index, AREA_KIND] == PAINT and in_area(areas[index], corners, px, py):
                hue = areas[index, VALUE_1]
        if hue == hue:
            painted += 1
            along += math.cos(math.radians(hue))
            across += math.sin(math.radians(hue))
    if 2 * painted < TONE_POINTS or along * along + across * across < 0.01 * painted * painted:
        return math.nan
    return math.degrees(math.atan2(across, along)) % 360.0


@compiled
def _round_the_circle(sensor: Any, hue: float, noise: float) -> float:
    """A hue as the part gives it: with noise, in its steps, from 0 deg to less than 360 deg."""
    hue += sensor[NOISY] * noise
    if sensor[RESOLUTION] > 0.0:
        hue = math.floor(hue / sensor[RESOLUTION] + 0.5) * sensor[RESOLUTION]
    return float(hue % 360.0)


@compiled
def _finish(sensor: Any, value: float, noise: float) -> float:
    """A reading as the part gives it: with noise, in its steps, inside its range."""
    value += sensor[NOISY] * noise
    if sensor[RESOLUTION] > 0.0:
        value = math.floor(value / sensor[RESOLUTION] + 0.5) * sensor[RESOLUTION]
    return float(min(max(value, sensor[LEAST]), sensor[GREATEST]))


@compiled
def measure(
    k: Any,
    f: Any,
    motors: Any,
    sensors: Any,
    segments: Any,
    circles: Any,
    things: Any,
    areas: Any,
    corners: Any,
    lamps: Any,
    noise: Any,
    tick: int,
) -> None:
    """Every sensor whose time it is measures anew."""
    ahead, left = math.cos(f[HEADING]), math.sin(f[HEADING])
    for index in range(len(sensors)):
        sensor = sensors[index]
        every = int(sensor[EVERY])
        if every == 0 or tick % every != 0:
            continue
        x = f[X] + sensor[AHEAD] * ahead - sensor[LEFT] * left
        y = f[Y] + sensor[AHEAD] * left + sensor[LEFT] * ahead
        row, turn = int(sensor[NOISE_ROW]), tick // every
        chance = noise[row, turn % len(noise[row])] if row >= 0 else 0.0
        kind = sensor[KIND]
        if row < 0 and k[STILL] > 0 and kind != LIMIT and kind != CURRENT and kind != BATTERY:
            # without noise, what is measured of a place stays while nothing moves
            if sensor[AT_REST] == k[STILL]:
                continue
            sensor[AT_REST] = k[STILL]
        if kind == RANGE:
            facing = f[HEADING] + sensor[FACING]
            way = 100.0 * echo(segments, circles, things, x, y, f[X], f[Y], facing, sensor[CONE], sensor[GRAZING])
            seen = sensor[LEAST] <= way <= sensor[GREATEST]
            sensor[VALUE] = _finish(sensor, way, chance) if seen else math.nan
        elif kind == LIGHT:
            light = brightness(lamps, f[AMBIENT], x, y, f[HEADING] + sensor[FACING])
            sensor[VALUE] = _finish(sensor, light * 100.0 / _FULL_LIGHT if sensor[PERCENT] == 1.0 else light, chance)
        elif kind == TONE:
            sensor[VALUE] = _finish(sensor, tone_at(areas, corners, f[BASE_TONE], x, y, sensor[SPOT]), chance)
        elif kind == HUE:
            sensor[VALUE] = _round_the_circle(sensor, hue_at(areas, corners, x, y, sensor[SPOT]), chance)
        elif kind == LIMIT:
            at = stands(motors, sensor[AT_MOTOR])
            sensor[VALUE] = 1.0 if sensor[AT_MOTOR] >= 0.0 and sensor[LEAST] <= at <= sensor[GREATEST] else 0.0
        elif kind == REFLEX:
            if sensor[LOOKS] == 1.0:
                facing = f[HEADING] + sensor[FACING]
                way = echo(segments, circles, things, x, y, f[X], f[Y], facing, sensor[CONE], 0.0)
                near = way <= sensor[GREATEST]
            else:
                near = tone_at(areas, corners, f[BASE_TONE], x, y, sensor[SPOT]) >= sensor[LEAST]
            sensor[VALUE] = 1.0 if near else 0.0
        elif kind == CURRENT:
            sensor[VALUE] = _finish(sensor, drawn(f, motors, sensor[AT_MOTOR]), chance)
        elif kind == BATTERY:
            sensor[VALUE] = _finish(sensor, 100.0 * f[VOLTAGE], chance)
        elif kind == TILT:
            along = f[SLOPE_X] * ahead + f[SLOPE_Y] * left
            across = f[SLOPE_Y] * ahead - f[SLOPE_X] * left
            sensor[SECOND] = _finish(sensor, _tilted(sensor, along), chance)
            sensor[THIRD] = _finish(sensor, _tilted(sensor, across), chance)
            steep = math.sqrt(along * along + across * across)
            sensor[VALUE] = _finish(sensor, _tilted(sensor, steep), chance)


@compiled
def drawn(f: Any, motors: Any, which: float) -> float:
    """The current of a motor, or the mean of all, in % of what it draws when it stalls at full voltage.

    A motor's current is as its torque: what is left of the voltage behind what its turning induces.
    """
    total, count = 0.0, 0
    for index in range(len(motors)):
        motor = motors[index]
        if which < 0.0 or index == int(which):
            count += 1
            if not coasting(motor):
                induced = motor[W] / (motor[FULL] / (1.0 - motor[DEAD]))
                total += abs(motor[APPLIED] * motor[GAIN] * f[VOLTAGE] - induced)
    return 100.0 * total / count if count > 0 else 0.0


@compiled
def _tilted(sensor: Any, slope: float) -> float:
    """A slope as an angle in deg, or as the share of gravity along it, in cm/s2, where the sensor measures a pull."""
    angle = math.atan(slope)
    return sensor[PULL] * math.sin(angle) if sensor[PULL] > 0.0 else math.degrees(angle)


@compiled
def rails(k: Any, sensors: Any, touches: Any, bump: int, tick: int) -> bool:
    """Whether a bump rail opens or closes now; a closed one opens only when the thing is away by half a millimetre."""
    changed = False
    for index in range(len(sensors)):
        sensor = sensors[index]
        if sensor[KIND] != bump:
            continue
        near = RELEASE if sensor[SECOND] == 1.0 else TOUCHING
        closed = 0.0
        for place in range(k[CONTACTS]):
            bearing = math.atan2(touches[place, POINT_Y], touches[place, POINT_X])
            from_start = (bearing - sensor[RAIL_FROM]) % (2.0 * math.pi)
            if touches[place, GAP] <= near and from_start <= sensor[RAIL_TO] - sensor[RAIL_FROM]:
                closed = 1.0
        if closed != sensor[SECOND]:
            changed = True
            sensor[SECOND] = closed
            if closed == 1.0:
                sensor[CLOSED_AT] = tick
    return changed


@compiled
def next_bounce(sensors: Any, bump: int, tick: int) -> int:
    """The next instant at which the contacts of a rail that has just closed part or meet; far away when none does."""
    found = 1 << 60
    for index in range(len(sensors)):
        sensor = sensors[index]
        if sensor[KIND] == bump and sensor[SECOND] == 1.0 and sensor[BOUNCE] > 0.0:
            for share in _BOUNCES:
                at = int(sensor[CLOSED_AT]) + int(sensor[BOUNCE] * share)
                if tick < at < found:
                    found = at
    return found


@compiled
def contact_reading(sensor: Any, tick: int) -> float:
    """What a bump switch says: closed or open, and both in turn while it bounces."""
    if sensor[SECOND] == 0.0:
        return 0.0
    passed = 0
    if sensor[BOUNCE] > 0.0:
        for share in _BOUNCES:
            if tick >= int(sensor[CLOSED_AT]) + int(sensor[BOUNCE] * share):
                passed += 1
    return 1.0 if passed % 2 == 0 else 0.0
