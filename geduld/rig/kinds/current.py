"""A current sensor in the line of a motor, or of all: how much it draws, as a share of what it draws when it stalls."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "current",
    "sensor",
    (RATIO,),
    "%",
    follows="motors",
    measures="current",
    physics=("on", *MEASURED),
    called=("amps", "ampere", "milliamps", "strom", "load", "draw"),
)
