"""A bump switch behind a rail: it closes where the body touches something."""

from __future__ import annotations

from geduld.language.quantities import TRUTH
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "bump",
    "sensor",
    (TRUTH,),
    "",
    follows="place",
    measures="contact",
    physics=("rail", "bounce", "note"),
    called=("bumper", "touch", "contact", "taster", "stoss", "stoß", "switch", "hit", "collision", "limit"),
)
