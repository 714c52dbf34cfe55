"""Trials of a new robot, practised on a made-up one: which way a motor turns, and whether a pair drives straight."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace

from geduld.errors import RigError
from geduld.readers.notation import runner_for
from geduld.rig.model import Rig
from geduld.run.world import FloorWorld
from geduld.worlds.floor.faults import Fault
from geduld.worlds.floor.model import Floor

WAY = 200.0  # cm
_WORKTOP = Floor("Trial", (0.0, 0.0), (0.0, 0.0), edged=False)
_HALL = Floor("Trial", (2000.0, 2000.0), (1000.0, 1000.0), edged=False)
POWERS = (30, 60, 100)


@dataclass(frozen=True)
class Spun:
    """How far a motor turned in a second, in deg, forwards; at which power in %; and whether it was wired round."""

    turned: float
    power: int
    wired_round: bool


@dataclass(frozen=True)
class Driven:
    """How far a pair drove ahead, and how far to the left of its line it ended, in cm; which wheel makes less of a
    command, empty where none does, and what share."""

    way: float
    aside: float
    weaker: str
    share: float


def spin(rig: Rig, motor: str, seed: int) -> Spun:
    """One motor alone, its wheels in the air, on a robot of which the seed says how it is wired.

    Raises RigError where there is no such motor.
    """
    if motor not in rig.parts or not rig.parts[motor].kind.spins:
        raise RigError("no-such-motor", f'"{motor}" is no motor of this rig.', "Choose one that turns.")
    wired_round = random.Random(seed).random() < 0.5
    faults = (Fault("wired round", (motor,), 0.0, f"{motor} wired round"),) if wired_round else ()
    dead_zone = rig.physics.motor(motor).dead_zone
    power = next((power for power in POWERS if power > dead_zone + 10), POWERS[-1])
    text = f'behaviour "Spin"\nbegin:\n    {motor} at {power} % for 1 s\n'
    if rig.parts[motor].bounds[1] < power:
        text = text.replace(f"{power} %", f"{rig.parts[motor].bounds[1]:g} %")
    record, _ = FloorWorld(_WORKTOP, rig, faults=faults, limit_us=1_500_000).run(runner_for(text, rig), text)
    assert record.pose is not None  # every run on a floor has poses
    return Spun(float(record.pose.turned[motor][-1]), power, wired_round)


def pair(rig: Rig, seed: int) -> Driven:
    """Both wheels at one power for two metres, on a robot of which the seed says which wheel is weaker.

    Raises RigError for a rig without wheels.
    """
    if rig.drive is None:
        raise RigError("no-drive", "This rig has no pair of wheels.", "Say which motors are its wheels.")
    chance = random.Random(seed)
    weaker, share = chance.choice((rig.drive.left, rig.drive.right)), chance.uniform(0.94, 0.99)
    gains = {name: share if name == weaker else 1.0 for name in (rig.drive.left, rig.drive.right)}
    made_up = {name: replace(rig.physics.motor(name), gain=gain) for name, gain in gains.items()}
    motors = {**rig.physics.motors, **made_up}
    made = replace(rig, physics=replace(rig.physics, motors=motors))
    text = 'behaviour "Pair"\nbegin:\n    drive at 40 % for 30 s\n'
    record, _ = FloorWorld(_HALL, made, limit_us=30_000_000).run(runner_for(text, made), text)
    assert record.pose is not None  # every run on a floor has poses
    x, y = (record.pose.values[:, :2] * 100).T - 1000.0
    there = next((at for at in range(len(x)) if math.hypot(x[at], y[at]) >= WAY), len(x) - 1)
    return Driven(round(float(x[there]), 1), round(float(y[there]), 1), weaker, share)
