"""A buzzer: it sounds at a frequency."""

from __future__ import annotations

from geduld.language.quantities import FREQUENCY
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "buzzer",
    "output",
    (FREQUENCY,),
    "Hz",
    0.0,
    20_000.0,
    stops=True,
    called=("beep", "summer", "sound"),
)
