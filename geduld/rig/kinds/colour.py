"""A colour sensor: the hue of the ground in the spot that it sees; absent where the ground has no colour."""

from __future__ import annotations

from geduld.language.quantities import ANGLE
from geduld.rig.kinds.kind import PLACED, Kind

KIND = Kind(
    "colour",
    "sensor",
    (ANGLE,),
    "deg",
    follows="place",
    full_turn=360.0,
    measures="hue",
    physics=(*PLACED, "spot"),
    called=("color", "hue", "farbe", "farbton"),
)
