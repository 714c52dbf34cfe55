"""What judging a figure costs, for figures of a few phases and of many, done right and with a mistake in it.

.venv/bin/python benchmarks/figures.py

Each is a run of the phases themselves on nothing but time, wheels driven and turned about. Beside it stands the time of
the run, and that of `left > 0 % lasts …` on the same record: the plainest sentence about stretches.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from geduld.checks.judge import judge  # noqa: E402
from geduld.grading.exercise import good_checks  # noqa: E402
from geduld.readers.notation import runner_for  # noqa: E402
from geduld.rig.reader import read_rig  # noqa: E402
from geduld.run.world import TraceWorld, bare  # noqa: E402

TIMES = 7


def fastest(work: Callable[[], Any]) -> float:
    """The shortest of some times, in s."""
    times = []
    for _ in range(TIMES):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return min(times)


def program(rounds: int, wrong: bool) -> str:
    """Straight, turn, straight, turn; with a mistake in the middle where that is wanted."""
    turn = "    turn left at 30 % for 0.5 s\n"
    lines = ["    drive at 40 % for 1 s\n" + turn] * (2 * rounds)
    if wrong:
        lines[rounds] = "    turn right at 30 % for 0.5 s\n" + lines[rounds]
    return 'behaviour "Figure"\n\nbegin:\n' + "".join(lines) + "    wait 2 s\n"


def main() -> None:
    """Prints a row for each figure."""
    rig = read_rig(ROOT / "demo" / "rigs" / "glasshouse-cart.json")
    print(f"{'phases':>8} {'':8} {'run':>9} {'lasts':>9} {'figure':>9} {'of run':>8}")
    for rounds in (2, 8, 24):
        figure = (
            f'check "Figure", 6 points:\n    in turn, {rounds} times, gaps up to 0.2 s:\n'
            "        drive > 0 % for 1 s +- 50 ms\n        left < 0 % for 0.5 s +- 50 ms\n"
            "        drive > 0 % for 1 s +- 50 ms\n        left < 0 % for 0.5 s +- 50 ms\n"
            "    then still for at least 1 s\n"
        )
        world = TraceWorld(bare(rig, 3_000_000 * rounds + 4_000_000), rig)
        check = good_checks(figure, rig).checks[0]
        plain = good_checks('check "A", 1 point:\n    left > 0 % lasts 1 s +- 0.1 s\n', rig).checks[0]
        for wrong in (False, True):
            runner = runner_for(program(rounds, wrong), rig)
            ran = fastest(lambda runner=runner, world=world: world.run(runner)[0])
            records = iter([world.run(runner)[0].written() for _ in range(2 * TIMES)])
            lasts = fastest(lambda check=plain, records=records: judge(check, next(records)))
            took = fastest(lambda check=check, records=records: judge(check, next(records)))
            verdict = judge(check, world.run(runner)[0]).verdict
            times = " ".join(f"{value * 1e6:6.0f} us" for value in (ran, lasts, took))
            print(f"{4 * rounds + 1:>8} {verdict:8} {times} {took / ran:7.2f}x")


if __name__ == "__main__":
    main()
