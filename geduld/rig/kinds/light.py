"""A light sensor: how bright it is, all round or where it faces."""

from __future__ import annotations

from geduld.language.quantities import LIGHT, RATIO
from geduld.rig.kinds.kind import PLACED, Kind

KIND = Kind(
    "light",
    "sensor",
    (RATIO, LIGHT),
    "%",
    follows="place",
    measures="light",
    all_round=True,
    physics=PLACED,
    called=("lux", "brightness", "licht", "helligkeit", "ldr", "photo", "lumi", "ambient"),
)
