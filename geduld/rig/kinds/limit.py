"""A limit switch: it is pressed while what a motor moves stands at one end of its way."""

from __future__ import annotations

from geduld.language.quantities import TRUTH
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "limit",
    "sensor",
    (TRUTH,),
    "",
    follows="motors",
    measures="limit",
    physics=("on", "closes", "note"),
    called=("endstop", "end_stop", "endschalter", "home", "top", "bottom"),
)
