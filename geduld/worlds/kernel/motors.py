"""How a motor turns between two instants, by closed forms."""

from __future__ import annotations

import math
from typing import Any

from geduld.worlds.kernel.jit import compiled
from geduld.worlds.kernel.layout import (
    ANGLE,
    APPLIED,
    BY_COAST,
    BY_POWER,
    BY_SPEED,
    COASTS,
    COMMAND,
    CONTROL,
    COUNTS,
    FULL,
    LAG,
    LAST_CONTROL,
    RATE,
    WANTED,
    W,
)

PROPORTIONAL = 1.0
INTEGRAL = 10.0


@compiled
def turn(
    speed: float,
    drive: float,
    active: float,
    passive: float,
    full: float,
    lag: float,
    coasts: bool,
    time: float,
) -> tuple[float, float]:
    """A motor's speed after some time under an unchanged drive, and its mean speed meanwhile (both rad/s).

    `drive` is the share of full voltage; `active` a load that pushes (a slope), `passive` one that only holds
    (friction), both as shares of the torque at which it stalls. On the straight line from speed without load to stall
    torque the speed nears `(drive + active - passive) * full` with the time constant `lag`; a motor that coasts has no
    torque of its own, and its speed falls steadily. The speed stays nothing where friction holds all there is.
    """
    left, way, w = time, 0.0, speed
    for _ in range(3):
        net = active if coasts else drive + active
        if w == 0.0:
            if abs(net) <= passive:
                break
            sign = 1.0 if net > 0.0 else -1.0
        else:
            sign = 1.0 if w > 0.0 else -1.0
        push = (net - sign * passive) * full
        if coasts:
            if push * sign < 0.0 and -w * lag / push <= left:
                until = -w * lag / push
                way += w * until / 2.0
                w, left = 0.0, left - until
                continue
            way += (w + push / lag * left / 2.0) * left
            w += push / lag * left
            break
        if push * sign < 0.0:
            until = lag * math.log1p(w / -push)
            if until <= left:
                way += push * until + (w - push) * lag * -math.expm1(-until / lag)
                w, left = 0.0, left - until
                continue
        share = -math.expm1(-left / lag)
        way += push * left + (w - push) * lag * share
        w += (push - w) * share
        break
    return w, (way / time if time > 0.0 else w)


@compiled
def regulate(motor: Any, time: float, tick_control: bool) -> None:
    """Works out the voltage of a motor: its command, or what keeps its speed.

    The regulator is a proportional and integral one, every 10 ms, on the encoder: the integral is the angle that is
    missing, counted in whole counts, and it waits while the motor has nothing left to give. A motor with little lag
    gets less of the proportional part: from sample to sample it answers a difference by half of it at most.
    """
    control = motor[CONTROL]
    if control != BY_SPEED:
        motor[APPLIED] = motor[COMMAND] if control == BY_POWER else 0.0
        motor[LAST_CONTROL] = control
        return
    if motor[LAST_CONTROL] != BY_SPEED:
        motor[LAST_CONTROL] = control
        motor[WANTED] = motor[ANGLE]
        time = 0.0
    elif not tick_control:
        return
    full, wanted = motor[FULL], motor[COMMAND] * motor[RATE]
    counted = math.floor(motor[ANGLE] * motor[COUNTS]) / motor[COUNTS]
    ahead = motor[WANTED] + wanted * time
    kept = math.exp(-time / motor[LAG])
    proportional = min(PROPORTIONAL, 0.5 * kept / -math.expm1(-time / motor[LAG])) if time > 0.0 else 0.0
    applied = (wanted + proportional * (wanted - motor[W]) + INTEGRAL * (ahead - counted)) / full
    if abs(applied) <= 1.0 or applied * wanted <= 0.0:
        motor[WANTED] = ahead
    motor[APPLIED] = min(1.0, max(-1.0, applied))


@compiled
def coasting(motor: Any) -> bool:
    """Whether a motor turns freely: it was told to, or it has no power and its way to stop is to coast."""
    control = motor[CONTROL]
    return bool(control == BY_COAST or (control == BY_POWER and motor[COMMAND] == 0.0 and motor[COASTS] == 1.0))
