"""A radio: the text of the last message."""

from __future__ import annotations

from geduld.language.quantities import TEXT
from geduld.rig.kinds.kind import Kind

KIND = Kind(
    "radio",
    "sensor",
    (TEXT,),
    "",
    called=("message", "msg", "text", "nachricht", "command", "cmd", "receive", "rx"),
)
