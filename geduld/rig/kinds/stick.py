"""A stick with two axes: how far a hand leans it ahead (x) and to the right (y). Let go, it stands in the middle."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "stick",
    "sensor",
    (RATIO,),
    "%",
    low=-100.0,
    axes=("x", "y"),
    whole=False,
    untouched=0.0,
    physics=MEASURED,
    called=("joystick", "stick", "joy", "hebel", "lever"),
)
