"""A current sensor in a motor's line: how much it draws, as a share of what it draws when it stalls."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "current",
    "sensor",
    (RATIO,),
    "%",
    follows="motors",
    physics=MEASURED,
    called=("amps", "ampere", "milliamps", "strom", "load", "draw"),
)
