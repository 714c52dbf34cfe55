"""A stepper: it makes whole steps to an angle, and loses some when it is asked too fast."""

from __future__ import annotations

from dataclasses import replace

from geduld.language.quantities import ANGLE
from geduld.rig.kinds import motor
from geduld.rig.kinds.kind import Kind

# A stepper of the drive turns for as long as it is commanded, as a motor does, and counts its own steps.
WHEEL = replace(motor.KIND, word="stepper", physics=("slew", "step", "note"))

KIND = Kind(
    "stepper",
    "output",
    (ANGLE,),
    "deg",
    -36_000.0,
    36_000.0,
    reversible=True,
    counted=True,
    positions=True,
    steps=True,
    rolling=WHEEL,
    physics=("slew", "step", "note"),
)
