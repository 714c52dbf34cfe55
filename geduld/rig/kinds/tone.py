"""A tone sensor: how light the ground is in the spot that it sees."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import PLACED, Kind

KIND = Kind(
    "tone",
    "sensor",
    (RATIO,),
    "%",
    follows="place",
    measures="tone",
    physics=(*PLACED, "spot"),
    called=("reflect", "reflection", "reflectance", "line", "linie", "grey", "gray", "ground", "floor"),
)
