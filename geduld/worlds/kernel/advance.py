"""The kernel: takes the world from one instant to the next and writes the samples down."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.carrying import bearer, carry, ends, holds_something
from geduld.worlds.kernel.contact import clearance, overlapped, place_body
from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import (
    ANGLE,
    ANGLE_COLUMN,
    APPLIED,
    AREA,
    AREAS,
    BODY,
    BUMP,
    CHANGING,
    CIRCLE,
    CIRCLES,
    CLEAR,
    COLUMN,
    CONTACT,
    CONTACT_STEP,
    CONTACTS,
    CONTROL_PERIOD,
    CORNER,
    COUNT,
    COUNTS,
    DEAD,
    DERIVED,
    DERIVED_WIDTH,
    END,
    EVENTS,
    FULL,
    GAIN,
    GRID_ROWS,
    GRIPPED,
    HANGS,
    HEADING,
    HELD,
    HOW,
    INPUT,
    INPUT_MAP,
    INPUT_MAP_WIDTH,
    INPUTS,
    KIND,
    KNOWN,
    LAMP,
    LAMPS,
    LAST_ANGLE,
    LIES_1,
    LIES_2,
    LIES_UP,
    LOAD,
    LOAD_COLUMN,
    LOADED,
    LOADS,
    MESSAGES,
    MOST_EVENTS,
    MOST_ROWS,
    MOST_TOUCHES,
    MOTOR,
    MOTORS,
    NOISE,
    PERIOD,
    POINT_X,
    POINT_Y,
    PRESSES,
    RADIUS,
    REACH,
    REST,
    RESTS,
    ROW_HEADING,
    ROW_X,
    ROW_Y,
    ROWS,
    SECOND,
    SEGMENT,
    SEGMENTS,
    SENSOR,
    SENSORS,
    SIDE,
    SO_FAR,
    SOURCE,
    SPEED_COLUMN,
    STALL,
    STALL_TIME,
    STALLED,
    STEP,
    STILL,
    STOP_HIGH,
    STOP_LOW,
    TARGET,
    THING,
    THING_X,
    THING_Y,
    THINGS,
    THIRD,
    TICK,
    TILT,
    TO_CHANNEL,
    TO_THING_X,
    TOUCH,
    TOUCH_WIDTH,
    TOUCHES,
    TURNED_COLUMN,
    VALUE,
    VERTICES,
    WRAP,
    X_COLUMN,
    Y_COLUMN,
    W,
    X,
    Y,
)
from geduld.worlds.kernel.motors import regulate
from geduld.worlds.kernel.moving import feel, look_at_ground, move
from geduld.worlds.kernel.sensing import contact_reading, measure, next_bounce, rails


@compiled
def _block(k: Any, values: Any, block: int, width: int) -> Any:
    """A block of an array as a table."""
    start, rows = k[block], k[block + COUNT]
    return values[start : start + rows * width].reshape((rows, width))


@compiled
def _happened(k: Any, f: Any, events: Any, kind: int, x: float, y: float, which: int) -> None:
    if k[EVENTS] < k[MOST_EVENTS]:
        event = events[k[EVENTS]]
        event[0], event[1], event[2], event[3], event[4] = k[TICK], kind, x, y, which
        k[EVENTS] += 1


@compiled
def _touched(k: Any, f: Any, events: Any, touches: Any) -> None:
    """Notes a contact where it is on the floor."""
    ahead, left = math.cos(f[HEADING]), math.sin(f[HEADING])
    x = f[X] + touches[0, POINT_X] * ahead - touches[0, POINT_Y] * left
    y = f[Y] + touches[0, POINT_X] * left + touches[0, POINT_Y] * ahead
    _happened(k, f, events, CONTACT, x, y, 0)


@compiled
def _next_stop(k: Any, sensors: Any, inputs: Any, until: int) -> int:
    """The end of the step from here: at a point of the grid, at a bounce, or where a hand does something."""
    tick = k[TICK]
    step = CONTACT_STEP if k[TOUCH] == 1 else k[STEP]
    stop = min(until, tick - tick % step + step, tick - tick % k[PERIOD] + k[PERIOD])
    stop = min(stop, tick - tick % k[CONTROL_PERIOD] + k[CONTROL_PERIOD])
    stop = min(stop, next_bounce(sensors, BUMP, tick))
    if k[INPUT] + 1 < len(inputs):
        stop = min(stop, int(inputs[k[INPUT] + 1, 0]))
    return int(stop)


@compiled
def _stalls(k: Any, f: Any, motors: Any, events: Any, time: float) -> None:
    """Notes motors of the drive, and those with a load or end stops, that have stood still under power for a while.

    A gripper that presses against what it holds does what it should, and a motor that its load drags back does turn.
    """
    for index in range(len(motors)):
        motor = motors[index]
        powered = abs(motor[APPLIED]) * motor[GAIN] > motor[DEAD] + 0.02
        laden = motor[SIDE] != 0.0 or motor[LOAD] != 0.0 or motor[HANGS] != 0.0
        ended = motor[ANGLE] <= motor[STOP_LOW] or motor[ANGLE] >= motor[STOP_HIGH]
        standing = abs(motor[W]) <= 0.01 * motor[FULL] and not holds_something(motor)
        dragged = motor[W] * motor[APPLIED] < 0.0 and abs(motor[W]) > 1e-4 * motor[FULL]
        if not (laden or ended) or not powered or not standing or dragged:
            motor[STALLED] = 0.0
            continue
        before = motor[STALLED]
        motor[STALLED] = before + time
        if before < STALL_TIME <= motor[STALLED]:
            _happened(k, f, events, END if ended else STALL, f[X], f[Y], index)


@compiled
def _carry_all(k: Any, f: Any, motors: Any, loads: Any, rests: Any, events: Any) -> None:
    """What becomes of all that is lifted, and how far each motor can go after that."""
    ends(motors)
    for number in range(len(loads)):
        kind = carry(motors, loads, rests, number)
        if kind >= 0:
            _happened(k, f, events, kind, bearer(rests, loads[number], number), 0.0, number)
        if kind == GRIPPED:
            carry(motors, loads, rests, number)


@compiled
def _take_inputs(
    k: Any,
    f: Any,
    things: Any,
    inputs: Any,
    input_map: Any,
    segments: Any,
    circles: Any,
    body: Any,
    outline: Any,
) -> bool:
    """Takes what hands do at this instant; says whether they did anything. Nothing is put where the robot stands."""
    taken = False
    while k[INPUT] + 1 < len(inputs) and inputs[k[INPUT] + 1, 0] <= k[TICK]:
        k[INPUT] += 1
        taken = True
    if not taken:
        return False
    k[STILL] = 0
    before = things.copy()
    for column in range(len(input_map)):
        value = inputs[k[INPUT], column + 1]
        if input_map[column, 0] != TO_CHANNEL and value == value:
            where = THING_X if input_map[column, 0] == TO_THING_X else THING_Y
            things[int(input_map[column, 1]), where] = value
            f[CLEAR] = 0.0
    place_body(body, outline, f[X], f[Y], f[HEADING])
    if overlapped(segments, circles, things, outline, f[RADIUS], f[X], f[Y], -1, False) >= 0:
        things[:] = before
    return True


@compiled
def _write_row(
    k: Any,
    f: Any,
    motors: Any,
    sensors: Any,
    things: Any,
    loads: Any,
    derived: Any,
    inputs: Any,
    input_map: Any,
    table: Any,
    ticks: Any,
) -> None:
    """Writes down what can be seen now."""
    tick = k[TICK]
    row = k[ROWS]
    on_grid = tick % k[PERIOD] == 0
    if not on_grid:
        if row >= k[MOST_ROWS] - k[GRID_ROWS]:
            return
    else:
        k[GRID_ROWS] -= 1
    k[ROWS] += 1
    ticks[row] = tick
    table[row, ROW_X], table[row, ROW_Y], table[row, ROW_HEADING] = f[X], f[Y], f[HEADING]
    for index in range(len(sensors)):
        sensor = sensors[index]
        column = int(sensor[COLUMN])
        table[row, column] = contact_reading(sensor, tick) if sensor[KIND] == BUMP else sensor[VALUE]
        if sensor[KIND] == TILT:
            table[row, column + 1], table[row, column + 2] = sensor[SECOND], sensor[THIRD]
    for index in range(len(motors)):
        motor = motors[index]
        table[row, int(motor[TURNED_COLUMN])] = motor[ANGLE]
        if motor[COUNTS] == 0.0:
            continue
        column, speed = int(motor[ANGLE_COLUMN]), int(motor[SPEED_COLUMN])
        if row > 0 and not on_grid:
            table[row, column], table[row, speed] = table[row - 1, column], table[row - 1, speed]
            continue
        counted = math.floor(motor[ANGLE] * motor[COUNTS])
        if motor[WRAP] > 0.0:
            counted = (counted + motor[WRAP]) % (2.0 * motor[WRAP]) - motor[WRAP]
        angle = math.degrees(counted / motor[COUNTS])
        table[row, column] = angle
        table[row, speed] = 0.0 if row == 0 else (angle - motor[LAST_ANGLE]) / (k[PERIOD] / 1000000.0)
        motor[LAST_ANGLE] = angle
    for index in range(len(things)):
        if things[index, X_COLUMN] > 0.0:
            table[row, int(things[index, X_COLUMN])] = things[index, THING_X]
            table[row, int(things[index, Y_COLUMN])] = things[index, THING_Y]
    for index in range(len(loads)):
        load = loads[index]
        first = int(load[LOAD_COLUMN])
        table[row, first], table[row, first + 1] = load[HELD], load[LIES_UP]
        table[row, first + 2], table[row, first + 3] = load[LIES_1], load[LIES_2]
    for column in range(len(input_map)):
        value = inputs[k[INPUT], column + 1]
        if input_map[column, 0] == TO_CHANNEL and value == value:
            table[row, int(input_map[column, 1])] = math.nan if value == math.inf else value
    for index in range(len(derived)):
        _derive(derived[index], table[row])


@compiled
def _derive(line: Any, row: Any) -> None:
    """A count of presses, releases or messages goes on."""
    value = row[int(line[SOURCE])]
    if line[HOW] == MESSAGES:
        if value == value and value != line[KNOWN]:
            line[SO_FAR] += 1.0
        line[KNOWN] = value
    elif value == value:
        to = 1.0 if line[HOW] == PRESSES else 0.0
        if line[KNOWN] == line[KNOWN] and value == to and line[KNOWN] != to:
            line[SO_FAR] += 1.0
        line[KNOWN] = value
    row[int(line[TARGET])] = line[SO_FAR]


@compiled
def _remember(k: Any, f: Any, history: Any) -> None:
    """Keeps how the world stands at the last row."""
    past = history[(k[ROWS] - 1) % len(history)]
    for index in range(CHANGING):
        past[index] = k[index]
    for index in range(len(past) - CHANGING):
        past[CHANGING + index] = f[index]


@compiled
def advance(
    k: Any, f: Any, w: Any, table: Any, ticks: Any, events: Any, history: Any, until: int, most_rows: int
) -> int:
    """Takes the world to the instant `until` under unchanged commands, or to the sample number `most_rows` from here.

    `k`, `f` and `w` are laid out as `layout` says. Samples go to the rows of `table`, their instants to `ticks`, and
    how the world stood then to the rows of `history`, round and round, so that it can be taken back.
    Returns the instant reached, in ticks. The first call, with `until` 0, writes the sample of the start.
    """
    motors, sensors = _block(k, f, MOTORS, MOTOR), _block(k, f, SENSORS, SENSOR)
    things, derived = _block(k, f, THINGS, THING), _block(k, f, DERIVED, DERIVED_WIDTH)
    touches, loads = _block(k, f, TOUCHES, TOUCH_WIDTH), _block(k, f, LOADS, LOADED)
    scratch = f[k[TOUCHES] + MOST_TOUCHES * TOUCH_WIDTH :].reshape((-1, 2))
    body, segments, circles = _block(k, w, BODY, CORNER), _block(k, w, SEGMENTS, SEGMENT), _block(k, w, CIRCLES, CIRCLE)
    outline, box = scratch[: len(body)], scratch[len(body) :]
    areas, corners, lamps = _block(k, w, AREAS, AREA), _block(k, w, VERTICES, CORNER), _block(k, w, LAMPS, LAMP)
    noise = w[k[NOISE] : k[INPUTS]].reshape((k[NOISE + COUNT], -1)) if k[NOISE + COUNT] else w[:0].reshape((0, 1))
    input_map = _block(k, w, INPUT_MAP, INPUT_MAP_WIDTH)
    inputs, rests = _block(k, w, INPUTS, len(input_map) + 1), _block(k, w, RESTS, REST)
    if k[ROWS] == 0:
        f[CLEAR] = max(0.0, clearance(segments, circles, things, f[X], f[Y]) - f[REACH])
        _take_inputs(k, f, things, inputs, input_map, segments, circles, body, outline)
        look_at_ground(f, areas, corners)
        feel(k, f, segments, circles, things, body, outline, touches)
        rails(k, sensors, touches, BUMP, 0)
        _carry_all(k, f, motors, loads, rests, events)
        measure(k, f, motors, sensors, segments, circles, things, areas, corners, lamps, noise, 0)
        _write_row(k, f, motors, sensors, things, loads, derived, inputs, input_map, table, ticks)
        _remember(k, f, history)
    while k[TICK] < until:
        tick = k[TICK]
        for index in range(len(motors)):
            regulate(motors[index], k[CONTROL_PERIOD] / 1000000.0, tick % k[CONTROL_PERIOD] == 0)
        stop = _next_stop(k, sensors, inputs, until)
        time = (stop - tick) / 1000000.0
        hit = move(k, f, motors, segments, circles, things, areas, corners, body, outline, box, touches, time, True)
        if hit >= 0.0:
            stop = min(stop, tick + max(1, math.ceil(hit * 1000000.0)))
            rest = (stop - tick) / 1000000.0 - hit
            if rest > 0.0:
                move(k, f, motors, segments, circles, things, areas, corners, body, outline, box, touches, rest, False)
        k[TICK] = stop
        if hit >= 0.0 and k[CONTACTS] > 0:
            _touched(k, f, events, touches)
        _carry_all(k, f, motors, loads, rests, events)
        _stalls(k, f, motors, events, (stop - tick) / 1000000.0)
        shows = _take_inputs(k, f, things, inputs, input_map, segments, circles, body, outline)
        if shows and k[TOUCH] == 1:
            feel(k, f, segments, circles, things, body, outline, touches)
        bounced = next_bounce(sensors, BUMP, tick) <= stop
        if rails(k, sensors, touches, BUMP, stop) or bounced or stop % k[PERIOD] == 0:
            shows = True
        if shows:
            look_at_ground(f, areas, corners)
            measure(k, f, motors, sensors, segments, circles, things, areas, corners, lamps, noise, stop)
            _write_row(k, f, motors, sensors, things, loads, derived, inputs, input_map, table, ticks)
            _remember(k, f, history)
            most_rows -= 1
            if most_rows <= 0:
                break
    return int(k[TICK])
