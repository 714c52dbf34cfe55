"""Three rigs to start from: two wheels; two wheels with sensors; parts without wheels."""

from __future__ import annotations

from typing import Any

_WHEELS: dict[str, Any] = {
    "left": {"kind": "motor", "port": "M1", "full_speed": "600 deg/s"},
    "right": {"kind": "motor", "port": "M2", "full_speed": "600 deg/s"},
}
_DRIVE = {"left": "left", "right": "right", "wheel_diameter": "6.5 cm", "track_width": "14 cm"}
_BODY = {"outline": [["10 cm", "-7 cm"], ["10 cm", "7 cm"], ["-7 cm", "7 cm"], ["-7 cm", "-7 cm"]], "mass": "1 kg"}
TEMPLATES: dict[str, dict[str, Any]] = {
    "two wheels": {"geduld": "rig/1", "name": "New cart", "parts": _WHEELS, "drive": _DRIVE, "body": _BODY},
    "two wheels with sensors": {
        "geduld": "rig/1",
        "name": "New cart",
        "parts": {
            **{name: {**part, "encoder": {"counts_per_turn": 360}} for name, part in _WHEELS.items()},
            "nose": {"kind": "bump", "port": "D1", "physics": {"rail": ["-60 deg", "60 deg"]}},
            "range": {
                "kind": "range", "port": "A1", "least": "3 cm", "greatest": "200 cm",
                "physics": {"ahead": "10 cm", "cone": "20 deg", "period": "50 ms", "noise": "0.5 cm"},
            },
            "ground": {"kind": "tone", "port": "A2", "physics": {"ahead": "8 cm"}},
            "light": {"kind": "light", "port": "A3"},
            "lamp": {"kind": "lamp", "port": "L1"},
        },
        "drive": _DRIVE,
        "body": _BODY,
    },
    "parts without wheels": {
        "geduld": "rig/1",
        "name": "New bench device",
        "parts": {
            "arm": {"kind": "servo", "port": "S1", "least": "0 deg", "greatest": "180 deg"},
            "pump": {"kind": "motor", "port": "M1", "least": "0 %"},
            "lamp": {"kind": "lamp", "port": "L1"},
            "knob": {"kind": "knob", "port": "A1"},
            "key": {"kind": "key", "port": "D1"},
        },
    },
}  # fmt: skip
