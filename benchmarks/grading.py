"""How long a class takes: 30 programs by 12 traces of 60 s at 100 Hz by 8 checks, from text to verdicts.

.venv/bin/python benchmarks/grading.py
"""

from __future__ import annotations

import re
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from multiprocessing import get_context
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from geduld.grading.cases import Case  # noqa: E402
from geduld.grading.exercise import Exercise, good_checks, read_exercise  # noqa: E402
from geduld.grading.folders import read_hand_ins  # noqa: E402
from geduld.grading.grade import HandIn, grade_all, grade_each, prepare  # noqa: E402
from geduld.run.world import TraceWorld  # noqa: E402
from geduld.worlds.trace import Trace  # noqa: E402

CHECKS = """
check "one", 1 point:
    never drive > 0 % while knob < 50 %
check "two", 1 point:
    drive > 0 % lasts 30 s +- 20 s
check "three", 1 point:
    never drive > 30 % while range < 34 cm
check "four", 1 point:
    after nose is pressed, within 150 ms, drive = 0 %
check "five", 1 point:
    valve > 0 % lasts 1.5 s +- 0.2 s
check "six", 1 point:
    while range between 8 cm and 34 cm, drive = 20 % +- 5 %
check "seven", 1 point:
    first range < 40 cm, then nose is pressed, then valve > 0 %
check "eight", 1 point:
    nose is pressed happens at most 1 time
"""


def ride(seed: int, seconds: int) -> Trace:
    """A made-up morning: the knob is turned, the barrel comes nearer, the nose touches it."""
    chance = np.random.default_rng(seed)
    count = seconds * 100 + 1
    t = np.arange(count) / 100
    start, touch = chance.uniform(2, 6), seconds * chance.uniform(0.5, 0.7)
    gap = np.interp(t, [0, start, touch], [180, 180, 4]) + chance.normal(0, 0.4, count)
    gap[chance.random(count) < 0.01] = np.nan
    knob = np.where(t < start, 20, 75) + chance.normal(0, 0.6, count)
    channels = {"nose": (t >= touch).astype(float), "range": np.round(gap, 1), "knob": np.round(knob, 1)}
    return Trace(np.arange(count, dtype=np.int64) * 10_000, channels)


def exercise(cases: int, seconds: int) -> Exercise:
    """The demonstration's exercise with other cases and eight checks."""
    base = read_exercise(ROOT / "demo" / "dock-at-the-barrel")
    worlds = [Case(f"case {k}", TraceWorld(ride(k, seconds), base.rig)) for k in range(cases)]
    return replace(base, checks=good_checks(CHECKS, base.rig), checks_text=CHECKS, cases=tuple(worlds))


def hand_ins(count: int) -> list[HandIn]:
    """The demonstration's programs that run, again and again, each a little different."""
    found = [item for item in read_hand_ins(ROOT / "demo" / "hand-ins") if not item.name.startswith("greta")]
    return [HandIn(f"{k}", found[k % len(found)].data + f"# {k}\n".encode()) for k in range(count)]


def seconds_for(students: int, cases: int, length: int, workers: int | None) -> float:
    """The time from texts to verdicts, the best of three; traces are loaded and new each time."""
    best = float("inf")
    for _ in range(3):
        task, class_ = exercise(cases, length), hand_ins(students)
        start = time.perf_counter()
        grade_all(task, class_, workers)
        best = min(best, time.perf_counter() - start)
    return best


def peak(students: int) -> float:
    """The most memory, in MB, that this process held while it graded so many hand-ins and let their marks go."""
    done = sum(1 for _ in grade_each(prepare(exercise(3, 60)), [(item, None) for item in hand_ins(students)], 0))
    assert done == students
    # getrusage would answer for the parent too: that number is handed on to a new process.
    found = re.search(r"VmHWM:\s+(\d+) kB", Path("/proc/self/status").read_text())
    return int(found.group(1)) / 1024 if found else float("nan")


def peak_of_a_new_process(students: int) -> float:
    """The same in a process that has done nothing else."""
    with ProcessPoolExecutor(1, get_context("spawn")) as pool:
        return pool.submit(peak, students).result()


def main() -> None:
    """Prints the table."""
    whole = seconds_for(30, 12, 60, 0)
    print(f"30 programs, 12 traces of 60 s, 8 checks, one process     {whole:5.2f} s")
    for workers, word in ((2, "two processes"), (None, "as the work is worth")):
        took = seconds_for(30, 12, 60, workers)
        print(f"the same, {word:<48}{took:5.2f} s   {took / whole:4.2f} times the first")
    for students, cases, length in ((60, 12, 60), (30, 24, 60), (30, 12, 120)):
        took = seconds_for(students, cases, length, 0)
        what = f"{students} programs, {cases} traces of {length:>3} s"
        print(f"{what:<58}{took:5.2f} s   {took / whole:4.2f} times the first")
    few = peak_of_a_new_process(30)
    for students in (300, 1200):
        many = peak_of_a_new_process(students)
        what = f"peak memory, {students} hand-ins instead of 30"
        print(f"{what:<58}{many:5.0f} MB  {many / few:4.2f} times that of 30")


if __name__ == "__main__":
    main()
