"""The rig: immutable, with every number in base units."""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property
from typing import Any

from geduld.language.quantities import TEXT, Dimension, Unit, unit_from_text
from geduld.rig.kinds import ANGLE_OF_A_MOTOR, PRESSES, SPEED_OF_A_MOTOR, Kind
from geduld.rig.physics import Physics

DEFAULT_LOOP_US = 10_000


@dataclass(frozen=True)
class Part:
    """One motor, servo, lamp or sensor of a rig. `low` and `high` are in base units, or None.

    `counter_bits` is how many bits an encoder's counter has, where that is known; `raw` are the converter's values at
    the two ends; `full_speed` is what a motor turns at full power without load, in deg/s; `stop` is `brake` or
    `coast`: what it does when it is stopped. `keys` are those of a remote control, channel for channel; `active_low`
    when the line of a contact is low while it is pressed.
    """

    name: str
    kind: Kind
    port: str
    unit: Unit | None
    reversed: bool = False
    low: float | None = None
    high: float | None = None
    follows: str = "hand"
    counts_per_turn: int | None = None
    counter_bits: int | None = None
    raw: tuple[float, float] | None = None
    full_speed: float | None = None
    stop: str = "brake"
    keys: tuple[str, ...] = ()
    active_low: bool = False

    @property
    def dimension(self) -> Dimension:
        """What its value is: a ratio, a length, a yes or no."""
        return self.unit.dimension if self.unit else self.kind.dimensions[0]

    @property
    def unit_word(self) -> str:
        """Its unit as text, empty for a contact or a count."""
        return self.unit.word if self.unit else ""

    @cached_property
    def raw_unit(self) -> Unit | None:
        """The converter's own numbers as a unit, where the rig says which stand for the two ends of the values."""
        if self.raw is None:
            return None
        low, high = (0.0 if self.low is None else self.low), (100.0 if self.high is None else self.high)
        slope = Fraction(high - low) / Fraction(self.raw[1] - self.raw[0])
        return Unit("", self.dimension, slope.limit_denominator(10**9), self.raw[0] - low / float(slope))

    @property
    def scaled(self) -> bool:
        """Whether it is an output whose values are numbers of a scale of its own, such as -127 to 127."""
        return self.is_output and self.unit is not None and not self.unit.word

    @property
    def is_output(self) -> bool:
        """Whether a program commands it; the other parts are sensors."""
        return self.kind.role == "output"

    @cached_property
    def greatest_angle(self) -> float:
        """The angle at which a motor's encoder runs over, in deg; infinite where its counter's size is not known."""
        if self.counter_bits is None or self.counts_per_turn is None:
            return math.inf
        return ((1 << (self.counter_bits - 1)) - 1) / self.counts_per_turn * 360

    @property
    def counts(self) -> bool:
        """Whether it counts up from the start, so that it can be reset."""
        return self.kind in (ANGLE_OF_A_MOTOR, PRESSES)

    @cached_property
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
class Calibration:
    """What was measured with a tape: `travel` in cm/s and `turn` in deg/s, each for one percent of power.

    `prefers` is `encoder`, `time` or empty; `surface` the ground it was measured on. `ways` are the shortest and the
    longest way that was measured, in cm, `angles` the least and the greatest turn, in deg; None where nobody says.
    """

    prefers: str = ""
    surface: str = ""
    travel: float | None = None
    turn: float | None = None
    ways: tuple[float, float] | None = None
    angles: tuple[float, float] | None = None


@dataclass(frozen=True)
class Driver:
    """What stands between lines of the controller and a motor.

    `lines` are the controller's lines by what each does here; `duty` names the one whose share of time at high is the
    power. `table` says what the motor does at which levels of the others: `forward`, `backward`, `brake` or `coast`, in
    the motor's own logical direction. The first row that fits counts; where none does, the motor coasts.
    """

    name: str
    motor: str
    lines: Mapping[str, str]
    duty: str
    table: tuple[tuple[Mapping[str, bool], str], ...]

    def does(self, levels: Mapping[str, float]) -> tuple[str, float]:
        """What the motor does, and its share of power in %, at these levels of the lines (0 to 100 %)."""
        at = {role: levels.get(line, 0.0) for role, line in self.lines.items()}
        duty = at[self.duty] if self.duty else 100.0
        for row, does in self.table:
            if all((at[role] > 0) == high for role, high in row.items()):
                return does, duty
        return "coast", duty


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
    calibration: Calibration = Calibration()
    physics: Physics = field(default_factory=Physics)
    drivers: tuple[Driver, ...] = ()

    @cached_property
    def outputs(self) -> tuple[Part, ...]:
        """The parts a program commands, in the order of the description."""
        return tuple(part for part in self.parts.values() if part.is_output)

    @cached_property
    def output_parts(self) -> dict[str, Part]:
        """The parts a program commands, by their name."""
        return {part.name: part for part in self.outputs}

    @cached_property
    def at_rest(self) -> tuple[tuple[str, float], ...]:
        """What each output is set to before any command; nobody knows where a servo stands, so that is NaN."""
        return tuple((part.name, math.nan if part.kind.rest is None else part.kind.rest) for part in self.outputs)

    @cached_property
    def sensors(self) -> tuple[Part, ...]:
        """The parts a program reads, in the order of the description."""
        return tuple(part for part in self.parts.values() if not part.is_output)

    @cached_property
    def channels(self) -> dict[str, Part]:
        """Every part that is one value, and every property of a part that can be read or recorded, by its name."""
        found = {name: part for name, part in self.parts.items() if part.kind.whole}
        for part in self.parts.values():
            if part.kind.spins and part.counts_per_turn:
                found[f"{part.name}.angle"] = _property(part, "angle", ANGLE_OF_A_MOTOR)
                found[f"{part.name}.speed"] = _property(part, "speed", SPEED_OF_A_MOTOR)
            elif part.kind.is_contact and part.kind.whole:
                found |= _counts_of(part.name, part)
            elif part.dimension == TEXT:
                found[f"{part.name}.messages"] = replace(_property(part, "messages", PRESSES), follows=part.follows)
            for axis in part.kind.axes:
                found[f"{part.name}.{axis}"] = replace(part, name=f"{part.name}.{axis}")
            for key in part.keys:
                found[f"{part.name}.{key}"] = replace(part, name=f"{part.name}.{key}")
                found |= _counts_of(f"{part.name}.{key}", part)
        return found

    @cached_property
    def reads(self) -> dict[str, Part]:
        """What sensors themselves read, by its name: each that is one value, each axis, each key."""
        own = (sensor.kind for sensor in self.sensors)
        kinds = frozenset(kind.word for kind in own)
        return {name: part for name, part in self.channels.items() if part.kind.word in kinds}

    @cached_property
    def dials(self) -> tuple[str, ...]:
        """The motors that turn something to be looked at: no wheels, and with an encoder, end stops or a load."""
        wheels = (self.drive.left, self.drive.right) if self.drive else ()
        spinning = [part for part in self.outputs if part.kind.spins and part.name not in wheels]
        physics = self.physics.motor
        return tuple(
            part.name
            for part in spinning
            if part.counts_per_turn or physics(part.name).stops or physics(part.name).load
        )

    @cached_property
    def radio(self) -> Part | None:
        """The part that receives messages."""
        return next((part for part in self.parts.values() if part.dimension == TEXT), None)

    def turn_rate(self, motor: str) -> float | None:
        """How fast a motor turns at one percent of power by the motion model, in deg/s; None when nothing says it.

        A wheel's rate comes from the travel that was measured, where it was; else from the motor's full speed.
        """
        if self.drive and motor in (self.drive.left, self.drive.right) and self.calibration.travel is not None:
            return self.calibration.travel / self.sizes()["wheel.circumference"] * 360
        full = self.parts[motor].full_speed
        return None if full is None else full / 100

    @property
    def drive_is_measured(self) -> bool:
        """Whether both wheels of the drive have encoders."""
        return self.drive is not None and all(
            self.parts[name].counts_per_turn for name in (self.drive.left, self.drive.right)
        )

    @property
    def drive_is_timed(self) -> bool:
        """Whether the rig says how fast both wheels of the drive turn."""
        return self.drive is not None and all(
            self.turn_rate(name) is not None for name in (self.drive.left, self.drive.right)
        )

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


def _counts_of(contact: str, part: Part) -> dict[str, Part]:
    """How often a contact was pressed and released."""
    return {
        f"{contact}.{word}": replace(_property(part, word, PRESSES), name=f"{contact}.{word}", follows=part.follows)
        for word in ("presses", "releases")
    }


def _property(part: Part, word: str, kind: Kind) -> Part:
    return Part(
        f"{part.name}.{word}", kind, part.port, unit_from_text(kind.unit) if kind.unit else None, follows=kind.follows
    )
