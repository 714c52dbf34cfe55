"""The kinds of parts a rig can have, and what each can say or do."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.language.quantities import (
    ANGLE,
    COUNT,
    FREQUENCY,
    LENGTH,
    LIGHT,
    RATIO,
    TEXT,
    TRUTH,
    TURN_RATE,
    Dimension,
)


@dataclass(frozen=True)
class Kind:
    """A kind of part.

    `role` is `output` or `sensor`. `dimensions` are those its value may have, the first by default;
    `unit` is the default unit. `low` and `high` bound an output in base units. `follows` is what a
    sensor's reading follows: `hand`, `place` or `motors`.
    """

    word: str
    role: str
    dimensions: tuple[Dimension, ...]
    unit: str
    low: float = 0.0
    high: float = 100.0
    follows: str = "hand"

    @property
    def is_contact(self) -> bool:
        """Whether its reading is a yes or no."""
        return self.dimensions == (TRUTH,)


_TABLE = (
    Kind("motor", "output", (RATIO,), "%", -100.0, 100.0),
    Kind("servo", "output", (ANGLE,), "deg", 0.0, 180.0),
    Kind("stepper", "output", (ANGLE,), "deg", -36_000.0, 36_000.0),
    Kind("lamp", "output", (RATIO,), "%"),
    Kind("buzzer", "output", (FREQUENCY,), "Hz", 0.0, 20_000.0),
    Kind("bump", "sensor", (TRUTH,), "", follows="place"),
    Kind("key", "sensor", (TRUTH,), ""),
    Kind("range", "sensor", (LENGTH,), "cm", follows="place"),
    Kind("knob", "sensor", (RATIO,), "%"),
    Kind("light", "sensor", (RATIO, LIGHT), "%", follows="place"),
    Kind("tone", "sensor", (RATIO,), "%", follows="place"),
    Kind("soil", "sensor", (RATIO,), "%", follows="place"),
    Kind("tilt", "sensor", (ANGLE, RATIO), "deg", follows="place"),
    Kind("radio", "sensor", (TEXT,), ""),
)

# What a part can be asked for beside its own reading: `left.angle`, `nose.presses`, `tilt.x`.
ANGLE_OF_A_MOTOR = Kind("encoder", "sensor", (ANGLE,), "deg", follows="motors")
SPEED_OF_A_MOTOR = Kind("encoder", "sensor", (TURN_RATE,), "deg/s", follows="motors")
PRESSES = Kind("counter", "sensor", (COUNT,), "")

KINDS = {kind.word: kind for kind in _TABLE}
FOLLOWS = ("hand", "place", "motors")
