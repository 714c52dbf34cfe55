"""A soil sensor: how wet the soil is. Nothing on a floor changes it."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import MEASURED, Kind

KIND = Kind(
    "soil",
    "sensor",
    (RATIO,),
    "%",
    follows="place",
    physics=MEASURED,
    called=("moisture", "feuchte", "humidity", "boden", "wet"),
)
