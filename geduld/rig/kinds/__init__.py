"""Every kind of part. A new one is a file, and a name here."""

from __future__ import annotations

from geduld.rig.kinds import (
    battery,
    bump,
    buzzer,
    colour,
    current,
    key,
    knob,
    lamp,
    light,
    limit,
    motor,
    radio,
    range_,
    reflex,
    remote,
    servo,
    soil,
    sound,
    stepper,
    stick,
    tilt,
    tone,
)
from geduld.rig.kinds.derived import ANGLE_OF_A_MOTOR, PRESSES, SPEED_OF_A_MOTOR
from geduld.rig.kinds.kind import Kind

KINDS: dict[str, Kind] = {
    module.KIND.word: module.KIND
    for module in (
        motor, servo, stepper, lamp, buzzer, bump, limit, reflex, key, range_, knob, stick, light, tone, colour, soil,
        sound, battery, current, tilt, remote, radio,
    )
}  # fmt: skip
FOLLOWS = ("hand", "place", "motors")

__all__ = ["ANGLE_OF_A_MOTOR", "FOLLOWS", "KINDS", "PRESSES", "SPEED_OF_A_MOTOR", "Kind"]
