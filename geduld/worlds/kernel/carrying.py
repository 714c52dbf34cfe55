"""Loads that motors lift: gripped, carried along, put down where something bears them, or dropped."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import (
    ANGLE,
    ASIDE_1,
    ASIDE_2,
    DROP,
    END_HIGH,
    END_LOW,
    GEAR,
    GRIPPED,
    GRIPPED_BY,
    GRIPS_AT,
    HANGS,
    HELD,
    LIES_1,
    LIES_2,
    LIES_UP,
    LIFTED_BY,
    OFF_1,
    OFF_2,
    OFF_UP,
    PULLS,
    PUT_DOWN,
    REACHED,
    REST_1,
    REST_2,
    REST_OF,
    REST_UP,
    STOP_HIGH,
    STOP_LOW,
    WITHIN,
)

LOOSE = math.radians(2.0)  # a gripper that opens by so much lets go
FIRM = math.radians(0.01)


@compiled
def stands(motors: Any, index: float) -> float:
    """The angle of what a motor moves, in rad; 0 where there is none."""
    return motors[int(index), ANGLE] / motors[int(index), GEAR] if index >= 0.0 else 0.0


@compiled
def _near(motors: Any, load: Any) -> bool:
    """Whether the motors stand where the load lies, so that it can be gripped."""
    return bool(
        abs(stands(motors, load[LIFTED_BY]) - load[LIES_UP]) <= load[WITHIN]
        and abs(stands(motors, load[ASIDE_1]) - load[LIES_1]) <= load[WITHIN]
        and abs(stands(motors, load[ASIDE_2]) - load[LIES_2]) <= load[WITHIN]
    )


@compiled
def _bears(rest: Any, load: Any, number: int) -> bool:
    """Whether a rest is under the load, as it lies or hangs now."""
    if int(rest[REST_OF]) != number or rest[REST_UP] > load[LIES_UP] + load[WITHIN]:
        return False
    first = rest[REST_1] != rest[REST_1] or abs(rest[REST_1] - load[LIES_1]) <= load[WITHIN]
    return bool(first and (rest[REST_2] != rest[REST_2] or abs(rest[REST_2] - load[LIES_2]) <= load[WITHIN]))


@compiled
def bearer(rests: Any, load: Any, number: int) -> int:
    """The rest that bears the load from below: the lowest one, as that is the worktop, or a higher one under it."""
    found = -1
    for index in range(len(rests)):
        mine = int(rests[index, REST_OF]) == number
        if mine and (found < 0 or rests[index, REST_UP] < rests[found, REST_UP]):
            found = index
    for index in range(len(rests)):
        # of two places as low, the one that it really is at counts
        if _bears(rests[index], load, number) and rests[index, REST_UP] >= rests[found, REST_UP]:
            found = index
    return found


@compiled
def carry(motors: Any, loads: Any, rests: Any, number: int) -> int:
    """What becomes of one load at this instant: the kind of what happened, or -1.

    A load that is held goes along with its motors, pulls at the one that lifts it, and keeps it from going below what
    bears the load; the gripper cannot close beyond it.
    """
    load = loads[number]
    gripper, lifter = motors[int(load[GRIPPED_BY])], motors[int(load[LIFTED_BY])]
    closed = gripper[ANGLE] / gripper[GEAR]
    if load[HELD] == 1.0:
        load[LIES_UP] = stands(motors, load[LIFTED_BY]) + load[OFF_UP]
        load[LIES_1] = stands(motors, load[ASIDE_1]) + load[OFF_1]
        load[LIES_2] = stands(motors, load[ASIDE_2]) + load[OFF_2]
        below = rests[bearer(rests, load, number), REST_UP]
        if closed < load[GRIPS_AT] - LOOSE:
            load[HELD] = load[REACHED] = 0.0
            dropped = load[LIES_UP] - below > load[WITHIN]
            load[LIES_UP] = below
            return DROP if dropped else PUT_DOWN
        lies = load[LIES_UP] - below <= FIRM
        lifter[HANGS] += 0.0 if lies else load[PULLS]
        lifter[END_LOW] = max(lifter[END_LOW], (below - load[OFF_UP]) * lifter[GEAR])
        gripper[END_HIGH] = min(gripper[END_HIGH], load[GRIPS_AT] * gripper[GEAR])
        return -1
    if not _near(motors, load):
        load[REACHED] = 0.0
        return -1
    if load[REACHED] == 0.0:
        # a gripper that is closed already comes to nothing with the load beside it
        if closed > load[GRIPS_AT] - LOOSE:
            return -1
        load[REACHED] = 1.0
    gripper[END_HIGH] = min(gripper[END_HIGH], load[GRIPS_AT] * gripper[GEAR])
    if closed < load[GRIPS_AT] - FIRM:
        return -1
    load[HELD] = 1.0
    load[OFF_UP] = load[LIES_UP] - stands(motors, load[LIFTED_BY])
    load[OFF_1] = load[LIES_1] - stands(motors, load[ASIDE_1])
    load[OFF_2] = load[LIES_2] - stands(motors, load[ASIDE_2])
    return GRIPPED


@compiled
def holds_something(motor: Any) -> bool:
    """Whether a motor presses against a load that it grips."""
    return bool(motor[END_HIGH] < motor[STOP_HIGH] and motor[ANGLE] >= motor[END_HIGH] - FIRM * motor[GEAR])


@compiled
def ends(motors: Any) -> None:
    """Each motor's own end stops, and nothing that hangs on it but its own load."""
    for index in range(len(motors)):
        motors[index, END_LOW], motors[index, END_HIGH] = motors[index, STOP_LOW], motors[index, STOP_HIGH]
        motors[index, HANGS] = 0.0
