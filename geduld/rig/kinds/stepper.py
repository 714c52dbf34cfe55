"""A stepper: it makes whole steps to an angle, and loses some when it is asked too fast."""

from __future__ import annotations

from geduld.language.quantities import ANGLE, RATIO
from geduld.rig.kinds.kind import Kind

# A stepper of the drive turns for as long as it is commanded, as a motor does, and counts its own steps.
WHEEL = Kind(
    "stepper",
    "output",
    (RATIO,),
    "%",
    -100.0,
    100.0,
    stops=True,
    reversible=True,
    counted=True,
    spins=True,
    physics=("slew", "step", "note"),
)

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
