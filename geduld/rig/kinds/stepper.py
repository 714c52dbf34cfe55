"""A stepper: it makes whole steps to an angle, and loses some when it is asked too fast."""

from __future__ import annotations

from geduld.language.quantities import ANGLE
from geduld.rig.kinds.kind import Kind

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
    physics=("slew", "step", "note"),
)
