"""A battery gauge: how much is left, as a share of a full one."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "battery",
    "sensor",
    (RATIO,),
    "%",
    follows="motors",
    untouched=100.0,
    measures="battery",
    physics=MEASURED,
    called=("batt", "bat", "vbat", "voltage", "volt", "akku", "spannung", "charge"),
)
