"""A tilt sensor: how steep it stands, in all, along the robot and across it; as an angle or as what pulls it there."""

from __future__ import annotations

import math

from geduld.language.quantities import ACCELERATION, ANGLE, RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "tilt",
    "sensor",
    (ANGLE, RATIO, ACCELERATION),
    "deg",
    low=-math.inf,
    follows="place",
    axes=("x", "y"),
    measures="tilt",
    physics=MEASURED,
    called=("incline", "inclination", "neigung", "pitch", "roll", "accel", "acc", "slope"),
)
