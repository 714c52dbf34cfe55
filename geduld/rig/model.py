"""The rig: immutable, with every number in base units."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from geduld.language.quantities import Dimension, Unit
from geduld.rig.kinds import Kind

DEFAULT_LOOP_US = 10_000


@dataclass(frozen=True)
class Part:
    """One motor, servo, lamp or sensor of a rig. `low` and `high` are in base units, or None."""

    name: str
    kind: Kind
    port: str
    unit: Unit | None
    reversed: bool = False
    low: float | None = None
    high: float | None = None
    follows: str = "hand"
    counts_per_turn: int | None = None

    @property
    def dimension(self) -> Dimension:
        """What its value is: a ratio, a length, a yes or no."""
        return self.unit.dimension if self.unit else self.kind.dimensions[0]

    @property
    def unit_word(self) -> str:
        """Its unit as text, empty for a contact or a count."""
        return self.unit.word if self.unit else ""

    @property
    def is_output(self) -> bool:
        """Whether a program commands it; the other parts are sensors."""
        return self.kind.role == "output"

    @property
    def bounds(self) -> tuple[float, float]:
        """The least and the greatest command of an output, in base units."""
        return (
            self.kind.low if self.low is None else self.low,
            self.kind.high if self.high is None else self.high,
        )

    def clamp(self, value: float) -> float:
        """A command inside the output's range."""
        low, high = self.bounds
        return low if value < low else high if value > high else value


@dataclass(frozen=True)
class Drive:
    """The wheel pair. Sizes in cm."""

    left: str
    right: str
    wheel_diameter: float
    track_width: float


@dataclass(frozen=True)
class Rig:
    """A robot as described. `loop_us` is what one pass of its loop costs; `exclusive` groups contacts
    of which the hardware can read only one at a time; `source` the JSON it came from."""

    name: str
    parts: Mapping[str, Part]
    drive: Drive | None
    loop_us: int = DEFAULT_LOOP_US
    stops_at_end: bool = False
    exclusive: tuple[tuple[str, ...], ...] = ()
    source: Mapping[str, Any] = field(default_factory=dict)

    @cached_property
    def outputs(self) -> tuple[Part, ...]:
        """The parts a program commands, in the order of the description."""
        return tuple(part for part in self.parts.values() if part.is_output)

    @cached_property
    def sensors(self) -> tuple[Part, ...]:
        """The parts a program reads, in the order of the description."""
        return tuple(part for part in self.parts.values() if not part.is_output)

    @cached_property
    def fingerprint(self) -> str:
        """A hash of its description."""
        return hashlib.sha256(json.dumps(dict(self.source), sort_keys=True).encode()).hexdigest()

    def sizes(self) -> dict[str, float]:
        """The rig's sizes a program may name, in cm."""
        if self.drive is None:
            return {}
        return {
            "wheel.diameter": self.drive.wheel_diameter,
            "wheel.circumference": self.drive.wheel_diameter * 3.141592653589793,
            "track.width": self.drive.track_width,
        }
