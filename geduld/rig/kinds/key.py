"""A key that a hand presses."""

from __future__ import annotations

from geduld.language.quantities import TRUTH
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "key",
    "sensor",
    (TRUTH,),
    "",
    untouched=0.0,
    called=("button", "btn", "taste", "knopf", "push"),
)
