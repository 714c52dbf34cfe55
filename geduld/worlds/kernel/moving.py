"""Moves the robot over a stretch of time under unchanged commands."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.contact import admitted, clearance, gather, hold, overlapped, place_body, slide
from geduld.worlds.kernel.geometry import in_area
from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import (
    ACTIVE,
    ANGLE,
    APPLIED,
    AREA_KIND,
    BASE_ROLLING,
    BASE_TRAVEL,
    BASE_TURN,
    BASE_X,
    BASE_Y,
    CLEAR,
    CONTACTS,
    DEAD,
    END_HIGH,
    END_LOW,
    FORCE,
    FULL,
    GAIN,
    GEAR,
    GRAVITY,
    GRIP,
    GROUND,
    GROUND_W,
    HANGS,
    HEADING,
    LAG,
    LEVEL_AT,
    LOAD,
    MASS,
    MEAN,
    MOVABLE,
    NEXT_HEADING,
    NEXT_W,
    NEXT_X,
    NEXT_Y,
    PASSIVE,
    PUSH,
    PUSHED,
    RADIUS,
    RAMP,
    REACH,
    ROLLING,
    SAG,
    SIDE,
    SLOPE_X,
    SLOPE_Y,
    STILL,
    SUPPLY,
    SURFACE,
    THING_X,
    THING_Y,
    TICK,
    TORQUE,
    TOUCH,
    TRACK,
    TRAVEL,
    TURN,
    VALUE_1,
    VALUE_2,
    VALUE_3,
    VOLTAGE,
    WHEEL,
    W,
    X,
    Y,
)
from geduld.worlds.kernel.motors import coasting, turn

_HALVINGS = 32
_PIECES = 12
_FURTHEST = 0.02  # m: further nothing is pushed in a step
_NOWHERE = 1e-3  # who gets on for no more than this share of a step is jammed


@compiled
def look_at_ground(f: Any, areas: Any, corners: Any) -> None:
    """What the ground is like under the middle of the axle: slip, rolling drag and slope. Later areas cover earlier."""
    f[TRAVEL], f[TURN], f[ROLLING] = f[BASE_TRAVEL], f[BASE_TURN], f[BASE_ROLLING]
    f[SLOPE_X] = f[SLOPE_Y] = 0.0
    for index in range(len(areas)):
        area = areas[index]
        if area[AREA_KIND] == SURFACE and in_area(area, corners, f[X], f[Y]):
            f[TRAVEL], f[TURN], f[ROLLING] = area[VALUE_1], area[VALUE_2], area[VALUE_3]
        elif area[AREA_KIND] == RAMP and in_area(area, corners, f[X], f[Y]):
            f[SLOPE_X], f[SLOPE_Y] = area[VALUE_1], area[VALUE_2]


@compiled
def load(f: Any, motors: Any) -> None:
    """What each motor has to work against, as shares of the torque at which it stalls.

    On a motor that is no wheel hangs its load and what it lifts: all of it, or what gravity turns of an arm that stands
    at its angle; a gear makes it lighter.
    """
    pitch = math.atan(f[SLOPE_X] * math.cos(f[HEADING]) + f[SLOPE_Y] * math.sin(f[HEADING]))
    weight = f[MASS] * GRAVITY
    holds = f[ROLLING] * weight * math.cos(pitch) + f[PUSH]
    used, wheels = 0.0, 0
    for index in range(len(motors)):
        if motors[index, SIDE] != 0.0:
            used += abs(motors[index, APPLIED])
            wheels += 1
    f[VOLTAGE] = f[SUPPLY] * (1.0 - f[SAG] * used / max(1, wheels))
    for index in range(len(motors)):
        motor = motors[index]
        motor[ACTIVE] = 0.0
        motor[PASSIVE] = motor[DEAD]
        if motor[SIDE] != 0.0:
            lever = f[WHEEL] / 2.0 / motor[TORQUE]
            motor[ACTIVE] = -weight * math.sin(pitch) * lever
            motor[PASSIVE] += holds * lever
        elif motor[LOAD] != 0.0 or motor[HANGS] != 0.0:
            level = 1.0
            if motor[LEVEL_AT] == motor[LEVEL_AT]:
                level = math.cos(motor[ANGLE] / motor[GEAR] - motor[LEVEL_AT])
            motor[ACTIVE] = -(motor[LOAD] + motor[HANGS]) / motor[GEAR] / motor[TORQUE] * level


@compiled
def _turn(f: Any, motor: Any, more: float, time: float) -> None:
    """Works out one motor's speed after some time, and its mean speed."""
    motor[NEXT_W], motor[MEAN] = turn(
        motor[W],
        motor[APPLIED] * motor[GAIN] * f[VOLTAGE],
        motor[ACTIVE],
        motor[PASSIVE] + more,
        motor[FULL] / (1.0 - motor[DEAD]),
        motor[LAG],
        coasting(motor),
        time,
    )
    reached = motor[ANGLE] + motor[MEAN] * time
    if reached < motor[END_LOW] or reached > motor[END_HIGH]:
        # it comes against an end stop, and stands there
        end = motor[END_LOW] if reached < motor[END_LOW] else motor[END_HIGH]
        motor[MEAN], motor[NEXT_W] = (end - motor[ANGLE]) / time if time > 0.0 else 0.0, 0.0


@compiled
def attempt(k: Any, f: Any, motors: Any, touches: Any, time: float) -> None:
    """Works out where the robot would be after some time: `NEXT_X` and its neighbours, and each motor's next speed."""
    left = right = -1
    for index in range(len(motors)):
        _turn(f, motors[index], 0.0, time)
        motors[index, GROUND], motors[index, GROUND_W] = motors[index, MEAN], motors[index, NEXT_W]
        if motors[index, SIDE] == 1.0:
            left = index
        elif motors[index, SIDE] == 2.0:
            right = index
    f[NEXT_X], f[NEXT_Y], f[NEXT_HEADING] = f[X], f[Y], f[HEADING]
    if left < 0 or right < 0:
        return
    travel, spin = f[WHEEL] / 2.0 * f[TRAVEL], f[WHEEL] / f[TRACK] * f[TURN]
    free, sideways = True, 0.0
    if k[CONTACTS] > 0 and not admitted(touches, k[CONTACTS], motors[left, MEAN], motors[right, MEAN], travel, spin):
        free = False
        sideways = _scrape(k, f, motors[left], motors[right], touches, travel, spin, time)
        if sideways != sideways:
            sideways = 0.0
            _hold(k, f, motors[left], motors[right], touches, travel, spin, time)
    a, b = motors[left], motors[right]
    v, w = travel * (a[GROUND] + b[GROUND]), spin * (b[GROUND] - a[GROUND])
    angle = w * time
    middle = f[HEADING] + angle / 2.0
    way = v * time * (math.sin(angle / 2.0) / (angle / 2.0) if angle != 0.0 else 1.0)
    cos, sin = math.cos(middle), math.sin(middle)
    aside = -sideways * time
    if free:
        # What the arc of mean speeds leaves out while speed and turning change unlike: third order in time.
        v0, w0 = travel * (a[W] + b[W]), spin * (b[W] - a[W])
        v1, w1 = travel * (a[NEXT_W] + b[NEXT_W]), spin * (b[NEXT_W] - a[NEXT_W])
        aside = -time * time / 12.0 * (v1 * w0 - v0 * w1)
    f[NEXT_X] = f[X] + way * cos + aside * sin
    f[NEXT_Y] = f[Y] + way * sin - aside * cos
    f[NEXT_HEADING] = f[HEADING] + angle


@compiled
def _scrape(k: Any, f: Any, left: Any, right: Any, touches: Any, travel: float, spin: float, time: float) -> float:
    """Slides along what is touched at a slant: the sideways speed, or NaN when the tyres hold.

    The tyres' sideways drag is a load on both motors: what it takes from the motion, they must give.
    """
    aside = slide(touches, k[CONTACTS], left[MEAN], right[MEAN], travel, spin)
    ahead = abs(travel * (left[MEAN] + right[MEAN]))
    if aside != aside or ahead == 0.0:
        return math.nan
    drag = f[GRIP] * f[MASS] * GRAVITY * abs(aside) / ahead * f[WHEEL] / 2.0
    for motor in (left, right):
        _turn(f, motor, drag / motor[TORQUE], time)
        motor[GROUND], motor[GROUND_W] = motor[MEAN], motor[NEXT_W]
    return float(slide(touches, k[CONTACTS], left[MEAN], right[MEAN], travel, spin))


@compiled
def _hold(k: Any, f: Any, left: Any, right: Any, touches: Any, travel: float, spin: float, time: float) -> None:
    """Holds back the wheels that would push further in."""
    mean = hold(touches, k[CONTACTS], left[MEAN], right[MEAN], travel, spin)
    last = left[NEXT_W], right[NEXT_W]
    if not admitted(touches, k[CONTACTS], last[0], last[1], travel, spin):
        last = hold(touches, k[CONTACTS], last[0], last[1], travel, spin)
    _resist(f, left, mean[0], last[0], time)
    _resist(f, right, mean[1], last[1], time)


@compiled
def _resist(f: Any, motor: Any, mean: float, last: float, time: float) -> None:
    """A wheel that a contact holds back: its tyre skids when the motor is stronger than its grip, else it is held."""
    motor[GROUND], motor[GROUND_W] = mean, last
    if abs(mean) >= abs(motor[MEAN]) and mean * motor[MEAN] >= 0.0:
        return
    grip = f[GRIP] * f[MASS] * GRAVITY / 2.0 * f[WHEEL] / motor[TORQUE]
    if abs(motor[APPLIED] * motor[GAIN] * f[VOLTAGE] + motor[ACTIVE]) - motor[PASSIVE] > grip:
        _turn(f, motor, grip, time)
    else:
        motor[MEAN], motor[NEXT_W] = mean, last


@compiled
def _accept(f: Any, motors: Any, time: float) -> None:
    f[X], f[Y], f[HEADING] = f[NEXT_X], f[NEXT_Y], f[NEXT_HEADING]
    for index in range(len(motors)):
        motors[index, W] = motors[index, NEXT_W]
        motors[index, ANGLE] += motors[index, MEAN] * time


@compiled
def _is_free(k: Any, f: Any, segments: Any, circles: Any, things: Any, body: Any, outline: Any) -> bool:
    """Whether the place that was worked out is free. Far from everything that is known without looking."""
    dx, dy = f[NEXT_X] - f[X], f[NEXT_Y] - f[Y]
    away = math.sqrt(dx * dx + dy * dy)
    if away < f[CLEAR]:
        return True
    if clearance(segments, circles, things, f[NEXT_X], f[NEXT_Y]) > f[REACH]:
        return True
    place_body(body, outline, f[NEXT_X], f[NEXT_Y], f[NEXT_HEADING])
    found = overlapped(segments, circles, things, outline, f[RADIUS], f[NEXT_X], f[NEXT_Y], -1, False)
    return bool(found < 0)


@compiled
def _settle(f: Any, segments: Any, circles: Any, things: Any, x: float, y: float) -> None:
    """Keeps how far the robot may go from here without meeting anything."""
    dx, dy = f[X] - x, f[Y] - y
    f[CLEAR] -= math.sqrt(dx * dx + dy * dy)
    if f[CLEAR] <= 0.0:
        f[CLEAR] = max(0.0, clearance(segments, circles, things, f[X], f[Y]) - f[REACH])


@compiled
def feel(k: Any, f: Any, segments: Any, circles: Any, things: Any, body: Any, outline: Any, touches: Any) -> None:
    """Notes where the body touches things now."""
    place_body(body, outline, f[X], f[Y], f[HEADING])
    k[CONTACTS] = gather(segments, circles, things, outline, f[RADIUS], f[X], f[Y], f[HEADING], touches)
    k[TOUCH] = 1 if k[CONTACTS] > 0 else 0


@compiled
def _push(f: Any, segments: Any, circles: Any, things: Any, body: Any, outline: Any, box: Any) -> bool:
    """Pushes the movable things that are in the way; false, and all is where it was, when one cannot give way."""
    before, pushed = things.copy(), f[PUSHED]
    for _ in range(4):
        place_body(body, outline, f[NEXT_X], f[NEXT_Y], f[NEXT_HEADING])
        number = overlapped(segments, circles, things, outline, f[RADIUS], f[NEXT_X], f[NEXT_Y], -1, False)
        if number < 0:
            return True
        thing = things[number]
        if thing[MOVABLE] != 1.0:
            break
        # ahead of the robot; before a corner that turns, away from it
        gives = _slides(f, segments, circles, things, outline, box, number, f[NEXT_X] - f[X], f[NEXT_Y] - f[Y])
        if not gives:
            x, y = thing[BASE_X] + thing[THING_X] - f[X], thing[BASE_Y] + thing[THING_Y] - f[Y]
            gives = _slides(f, segments, circles, things, outline, box, number, x, y)
        if not gives:
            break
        f[PUSHED] += thing[FORCE]
    things[:], f[PUSHED] = before, pushed
    return False


@compiled
def _slides(
    f: Any, segments: Any, circles: Any, things: Any, outline: Any, box: Any, number: int, dx: float, dy: float
) -> bool:
    """Moves a thing along a way as far as the robot needs; false, and it is where it was, where that is no way out."""
    thing = things[number]
    way = math.sqrt(dx * dx + dy * dy)
    if way < 1e-7:
        return False
    dx, dy = dx / way, dy / way
    from_x, from_y = thing[THING_X], thing[THING_Y]
    low, high, out = 0.0, 1e-5, False
    while high < _FURTHEST:
        thing[THING_X], thing[THING_Y] = from_x + dx * high, from_y + dy * high
        if not _reaches(segments, circles, things, outline, f, number):
            out = True
            break
        low, high = high, high * 2.0
    if out:
        for _ in range(30):
            middle = (low + high) / 2.0
            thing[THING_X], thing[THING_Y] = from_x + dx * middle, from_y + dy * middle
            if _reaches(segments, circles, things, outline, f, number):
                low = middle
            else:
                high = middle
        thing[THING_X], thing[THING_Y] = from_x + dx * high, from_y + dy * high
        if not _stuck(segments, circles, things, box, number):
            return True
    thing[THING_X], thing[THING_Y] = from_x, from_y
    return False


@compiled
def _reaches(segments: Any, circles: Any, things: Any, outline: Any, f: Any, number: int) -> bool:
    """Whether the robot, as it would stand, reaches into one thing."""
    for index in range(len(segments)):
        if int(segments[index, 4]) == number:
            found = overlapped(
                segments[index : index + 1], circles[:0], things, outline, f[RADIUS], f[NEXT_X], f[NEXT_Y], -1, False
            )
            if found >= 0:
                return True
    for index in range(len(circles)):
        if int(circles[index, 3]) == number:
            found = overlapped(
                segments[:0], circles[index : index + 1], things, outline, f[RADIUS], f[NEXT_X], f[NEXT_Y], -1, False
            )
            if found >= 0:
                return True
    return False


@compiled
def _stuck(segments: Any, circles: Any, things: Any, box: Any, number: int) -> bool:
    """Whether a thing that was moved reaches into another one."""
    thing = things[number]
    count = 0
    for index in range(len(segments)):
        if int(segments[index, 4]) == number:
            box[count, 0] = segments[index, 0] + thing[THING_X]
            box[count, 1] = segments[index, 1] + thing[THING_Y]
            count += 1
    if count:
        return bool(overlapped(segments, circles, things, box[:count], 0.0, 0.0, 0.0, number, False) >= 0)
    for index in range(len(circles)):
        if int(circles[index, 3]) == number:
            x, y = circles[index, 0] + thing[THING_X], circles[index, 1] + thing[THING_Y]
            return bool(overlapped(segments, circles, things, box[:0], circles[index, 2], x, y, number, False) >= 0)
    return False


@compiled
def _approach(
    k: Any,
    f: Any,
    motors: Any,
    segments: Any,
    circles: Any,
    things: Any,
    body: Any,
    outline: Any,
    touches: Any,
    time: float,
) -> float:
    """Moves up to the last instant inside `time` at which the robot is free, found by halving; returns it.

    A robot that touched before and cannot move at all is jammed: 0.
    """
    low, high = 0.0, time
    attempt(k, f, motors, touches, time * 1e-6)
    jammed = k[TOUCH] == 1 and not _is_free(k, f, segments, circles, things, body, outline)
    for _ in range(0 if jammed else _HALVINGS):
        middle = (low + high) / 2.0
        attempt(k, f, motors, touches, middle)
        if _is_free(k, f, segments, circles, things, body, outline):
            low = middle
        else:
            high = middle
    attempt(k, f, motors, touches, low)
    _accept(f, motors, low)
    f[CLEAR] = 0.0
    return low


@compiled
def move(
    k: Any,
    f: Any,
    motors: Any,
    segments: Any,
    circles: Any,
    things: Any,
    areas: Any,
    corners: Any,
    body: Any,
    outline: Any,
    box: Any,
    touches: Any,
    time: float,
    to_first_touch: bool,
) -> float:
    """Moves the robot for `time`, or up to the instant at which it first touches something.

    Returns that instant as a time from the start, or -1.
    """
    look_at_ground(f, areas, corners)
    load(f, motors)
    left, f[PUSHED] = time, 0.0
    for _ in range(_PIECES):
        was_touching, x, y = k[TOUCH], f[X], f[Y]
        attempt(k, f, motors, touches, left)
        stays = f[NEXT_X] == x and f[NEXT_Y] == y and f[NEXT_HEADING] == f[HEADING]
        if stays and k[STILL] > 0:
            # It stood here a moment ago, and nothing has moved since: it is free, and touches what it touched.
            _accept(f, motors, left)
            break
        free = _is_free(k, f, segments, circles, things, body, outline)
        k[STILL] = k[TICK] + 1 if stays and free else 0
        if not free and was_touching == 1:
            free = _push(f, segments, circles, things, body, outline, box)
        if free:
            _accept(f, motors, left)
            _settle(f, segments, circles, things, x, y)
            left = 0.0
        else:
            gone = _approach(k, f, motors, segments, circles, things, body, outline, touches, left)
            left -= gone
            if gone <= _NOWHERE * time and was_touching == 1:
                for index in range(len(motors)):
                    if motors[index, SIDE] != 0.0:
                        motors[index, W] = 0.0
                left = 0.0
        if k[TOUCH] == 1 or not free:
            feel(k, f, segments, circles, things, body, outline, touches)
        if not free and was_touching == 0 and to_first_touch:
            f[PUSH] = f[PUSHED]
            return time - left
        if left <= 0.0:
            break
    f[PUSH] = f[PUSHED]
    return -1.0
