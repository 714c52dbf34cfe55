"""A motor: it turns for as long as it is commanded, by power or at a kept speed."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "motor",
    "output",
    (RATIO,),
    "%",
    -100.0,
    100.0,
    stops=True,
    reversible=True,
    counted=True,
    spins=True,
    physics=("dead_zone", "lag", "torque", "gain", "gear", "load", "level_at", "stops", "note"),
    called=("motor", "power", "duty", "pwm", "drive"),
)
