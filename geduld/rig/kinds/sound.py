"""A sound sensor: how loud it is around the robot."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "sound",
    "sensor",
    (RATIO,),
    "%",
    follows="place",
    untouched=0.0,
    physics=MEASURED,
    called=("mic", "microphone", "loudness", "volume", "clap", "schall", "lautstärke"),
)
