"""A lamp: on, off, or so bright."""

from __future__ import annotations

from geduld.language.quantities import RATIO
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "lamp",
    "output",
    (RATIO,),
    "%",
    stops=True,
    switches=True,
    called=("led", "lampe"),
)
