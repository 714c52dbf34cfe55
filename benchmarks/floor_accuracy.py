"""How exact the floor is: against a high-order integration, and against itself with smaller steps.

.venv/bin/python benchmarks/floor_accuracy.py
"""

from __future__ import annotations

import math
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from geduld.worlds.floor.simulation import Simulation  # noqa: E402
from tests.core.reference_ride import ride  # noqa: E402
from tests.core.test_floor import LAGGING, place, pose, ran, robot  # noqa: E402

COMMANDS = [(0.0, 40, 55), (3.3333, 80, 30), (7.0, 25, 25), (11.11, 60, 95), (15.0, 90, 20)]
STEPS = (10_000, 5_000, 2_000, 1_000)
WALL = [{"from": ["560 cm", "300 cm"], "to": ["580 cm", "700 cm"]}]
STOPS = {
    "bump stop": "drive at 60 %, 55 % until nose is pressed",
    "range threshold": "drive at 60 %, 55 % until range < 25 cm",
    "bump, back off, turn": "drive at 70 % until nose is pressed\ndrive at -40 % for 7 cm\nturn left at 30 % for 9 deg",
}


def drive(step_us: int) -> tuple[float, float, float]:
    """The pose after the timed drive."""
    world = Simulation(robot(**LAGGING), place(), end=20_000_000, step_us=step_us)
    for seconds, left, right in COMMANDS:
        world.go(round(seconds * 1e6))
        world.command("left", left, 0)
        world.command("right", right, 0)
    world.go(world.end)
    return pose(world)


def main() -> None:
    """Prints both tables."""
    expected = ride(robot(**LAGGING), COMMANDS, 20.0)
    print("20 s, unequal lagging motors, piecewise constant commands, against DOP853 at rtol 1e-11")
    for step in STEPS:
        x, y, heading = drive(step)
        away = math.dist((x, y), expected[:2]) * 1000
        print(f"  step {step / 1000:>4g} ms   {away:10.7f} mm   {abs(heading - expected[2]):10.8f} deg")
    print("where it stops, against a step of 1 ms")
    for name, steps in STOPS.items():
        rig, floor = robot(**LAGGING), place(walls=WALL)
        places = [pose(ran(steps, rig, floor, 6.0, step_us=step)[0]) for step in STEPS]
        for step, found in zip(STEPS, places[:-1], strict=False):
            away = math.dist(found[:2], places[-1][:2]) * 1000
            print(
                f"  {name:<22} step {step / 1000:>4g} ms   {away:10.7f} mm   {abs(found[2] - places[-1][2]):10.8f} deg"
            )


if __name__ == "__main__":
    main()
