"""A servo: it goes to an angle within half a turn and holds it. Nobody knows where it stands before."""

from __future__ import annotations

from geduld.language.quantities import ANGLE
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "servo",
    "output",
    (ANGLE,),
    "deg",
    0.0,
    180.0,
    rest=None,
    positions=True,
    physics=("slew", "note"),
)
