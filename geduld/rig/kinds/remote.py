"""The receiver of a remote control, by infrared or radio: keys that a hand presses, on one or several channels."""

from __future__ import annotations

from geduld.language.quantities import TRUTH
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "remote",
    "sensor",
    (TRUTH,),
    "",
    has_keys=True,
    whole=False,
    untouched=0.0,
    called=("remote", "receiver", "beacon", "fernbedienung", "rc"),
)
