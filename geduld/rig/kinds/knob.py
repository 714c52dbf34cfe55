"""A knob that a hand turns."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "knob",
    "sensor",
    (RATIO,),
    "%",
    untouched=0.0,
    physics=MEASURED,
    called=("pot", "poti", "potentiometer", "dial", "drehknopf", "regler"),
)
