"""A range sensor: how far away the first echo comes from; absent when none comes."""

from __future__ import annotations

from geduld.language.quantities import LENGTH
from geduld.rig.kinds.kind import PLACED, Kind

KIND = Kind(
    "range",
    "sensor",
    (LENGTH,),
    "cm",
    follows="place",
    measures="range",
    misses=True,
    physics=(*PLACED, "cone", "grazing"),
    called=(
        "distance",
        "dist",
        "abstand",
        "entfernung",
        "ultrasonic",
        "ultraschall",
        "sonar",
        "echo",
        "tof",
        "proximity",
        "rng",
    ),
)
