"""A reflective switch with a trimmer: it closes over a light surface, or at what stands near enough before it."""

from __future__ import annotations

from geduld.language.quantities import TRUTH
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "reflex",
    "sensor",
    (TRUTH,),
    "",
    follows="place",
    measures="reflex",
    physics=("ahead", "left", "facing", "trim", "spot", "reach", "period", "note"),
    called=("reflective", "ir", "infrared", "reflex", "tcrt", "obstacle", "proximity", "näherung", "lichttaster"),
)
