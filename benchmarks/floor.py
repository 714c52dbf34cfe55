"""How fast a floor runs: a program that polls every 10 ms, in the closed loop and beside the kernel alone.

    .venv/bin/python benchmarks/floor.py

Two wheels, 20 wall segments and more, a range cone of 5 rays, a bump rail. Ratios are within one run of this script.
"""

import statistics
import sys
import time
from functools import partial
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from geduld.readers.notation import runner_for
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.floor.simulation import Simulation
from tests.glasshouse import program, small_rig

SECONDS = 60
WALLS = [
    {"from": [f"{20 + 17 * i} cm", "250 cm"], "to": [f"{30 + 17 * i} cm", f"{270 + 5 * (i % 3)} cm"]} for i in range(16)
]
FLOOR = {
    "geduld": "floor/1",
    "name": "Benchmark",
    "size": ["400 cm", "300 cm"],
    "start": {"at": ["60 cm", "120 cm"], "heading": "10 deg"},
    "walls": WALLS,
}
AVOID = """repeat:
    {count}if range < 70 cm or nose is pressed:
        drive at -30 %, 20 %
    else:
        drive at 50 %
"""
PROGRAMS = {
    "polling without state": AVOID.format(count=""),
    "polling with state": "set n to 0\n" + AVOID.format(count="set n to n + 1\n    "),
    "polling, half the time along a wall": AVOID.replace("70", "40").replace("-30", "-20").format(count=""),
    "proportional": """repeat:
    drive at 20 % + clamp(range - 30 cm, 0 cm, 60 cm) * 0.5 %/cm, 20 %
""",
    "waits": """repeat:
    drive at 40 % until range < 50 cm
    turn left at 30 % for 0.7 s
""",
}


def by_turns(*works, rounds=11):
    """The least and the middle time of each work, in s; in turns, as the machine's own speed goes up and down."""
    times = [[] for _ in works]
    for _ in range(rounds):
        for work, took in zip(works, times, strict=True):
            start = time.perf_counter()
            work()
            took.append(time.perf_counter() - start)
    return [(min(took), statistics.median(took)) for took in times]


def whole_run(runner, rig, floor, end):
    """A run of a program on the floor."""
    runner.run_on(Simulation(rig, floor, end=end))


def main():
    """Prints a line for each program."""
    rig, floor = small_rig(), floor_from_json(FLOOR)
    end = SECONDS * 1_000_000

    for name, steps in PROGRAMS.items():
        runner = runner_for(program(steps), rig)
        record = runner.run_on(Simulation(rig, floor, end=end))
        changes = commands(record)

        def kernel(changes=changes):
            """The kernel alone, with the program's commands known beforehand: less than a loop compiled whole."""
            world = Simulation(rig, floor, end=end)
            for tick, motor, level in changes:
                world.skip(tick)
                world.command(motor, level, 0)
            world.skip(end)

        whole = partial(whole_run, runner, rig, floor, end)
        (alone, _), (least, middle) = by_turns(kernel, whole)
        print(
            f"{name} ({len(changes)} commands): {SECONDS / least:,.0f} times real time "
            f"(median {SECONDS / middle:,.0f}), {least / alone:.2f} times the kernel alone"
        )


def commands(record):
    """All changes of the wheels' commands, in the order of time."""
    found = []
    for motor in ("left", "right"):
        signal = record.commands[motor]
        found += [
            (tick, motor, level) for tick, level in zip(signal.times.tolist(), signal.values.tolist(), strict=True)
        ]
    return sorted(found)


if __name__ == "__main__":
    main()
