"""What a simulated floor needs to know about a robot: its body, its motors' strength, where its sensors sit.

All of it may be left out of a rig: the defaults are those of a common small classroom robot, a kilogram on two geared
motors. Lengths are in cm and angles in deg as everywhere in a rig; masses in kg and torques in N·m.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Body:
    """The outline that bumps into things, and the mass.

    `outline` are the corners of a convex polygon, counter-clockwise, ahead and to the left of the middle of the axle;
    empty for a round body of `radius`. `grip` is the friction of the wheels' tyres; `supply` the battery's level as a
    share of a full one, and `sag` the share it loses while both motors run at full power.
    """

    outline: tuple[tuple[float, float], ...] = ()
    radius: float = 9.0
    mass: float = 1.0
    grip: float = 0.7
    supply: float = 1.0
    sag: float = 0.04

    @property
    def reach(self) -> float:
        """The distance of its farthest point from the middle of the axle."""
        return max((math.hypot(x, y) for x, y in self.outline), default=self.radius)


@dataclass(frozen=True)
class MotorPhysics:
    """A direct-current gear motor: a straight line from the speed without load to the torque at which it stalls.

    `dead_zone` is the power (%) that its own friction takes; `lag` the time constant in s with which it comes up to
    speed; `torque` what it stalls at under full power; `gain` what it does with a command, as a share: 0.97 turns 3 %
    slower than its twin. `gear` is how often it turns while what it moves turns once. `load` is the torque (N·m) with
    which what hangs on it pulls backwards; on an arm, that at the angle `level_at` (deg), at which the arm is level,
    and less elsewhere, by the cosine. `stops` are the least and the greatest angle (deg) to which it can be turned,
    from where it stands at the start; None where it turns on for ever. Load, level and stops are of what it moves.
    """

    dead_zone: float = 4.0
    lag: float = 0.08
    torque: float = 0.15
    gain: float = 1.0
    load: float = 0.0
    level_at: float | None = None
    gear: float = 1.0
    stops: tuple[float, float] | None = None


# What a stepper does as a wheel: what it is told, at once.
STEPPING = MotorPhysics(dead_zone=0.0, lag=0.004, torque=0.4)


@dataclass(frozen=True)
class Positioner:
    """A servo or a stepper: the rate (deg/s) at which it turns, and the angle (deg) of a stepper's step."""

    slew: float = 400.0
    step: float = 1.8


@dataclass(frozen=True)
class Mount:
    """Where a sensor sits and how it measures.

    `ahead` and `left` of the middle of the axle in cm; `facing` in deg, counter-clockwise from straight
    ahead, None for straight ahead, and for all round where that is possible; `cone`
    the whole opening of a range sensor; `grazing` the angle from square on past which a surface gives no echo; `spot`
    the radius a tone sensor sees; `rail` the bearings, seen from the middle of the axle, that close a bump switch;
    `bounce` in s; a limit switch is pressed while what the motor `on` moves stands `closes` from the one angle (deg) to
    the other; a reflective switch closes at the tone `trim` (%) of the ground, or, where it faces somewhere, at what
    stands within `reach` (cm); `period` in s, 0 for every sample; `noise` is a standard deviation and `resolution` a
    step, both in the part's base unit.
    """

    ahead: float = 0.0
    left: float = 0.0
    facing: float | None = None
    cone: float = 20.0
    grazing: float = 65.0
    spot: float = 0.8
    rail: tuple[float, float] = (-75.0, 75.0)
    bounce: float = 0.004
    period: float = 0.0
    noise: float = 0.0
    resolution: float = 0.0
    on: str = ""
    closes: tuple[float, float] = (0.0, 0.0)
    trim: float = 50.0
    reach: float = 10.0


@dataclass(frozen=True)
class Physics:
    """The physics of a whole rig: its body, and what stands in the `physics` of its parts."""

    body: Body = Body()
    motors: dict[str, MotorPhysics] = field(default_factory=dict)
    mounts: dict[str, Mount] = field(default_factory=dict)
    positioners: dict[str, Positioner] = field(default_factory=dict)

    def motor(self, name: str) -> MotorPhysics:
        """A motor's physics; the defaults where the rig says nothing."""
        return self.motors.get(name, MotorPhysics())

    def positioner(self, name: str) -> Positioner:
        """A servo's or stepper's physics; the defaults where the rig says nothing."""
        return self.positioners.get(name, Positioner())


DEFAULT_FULL_SPEED = 600.0
