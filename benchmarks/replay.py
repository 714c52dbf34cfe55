"""Replay speed: programs run by Geduld beside a hand-written NumPy version of the same behaviour.

    .venv/bin/python benchmarks/replay.py

One core, medians, everything in one run. The trace is already loaded; turning the text into something
runnable is timed on its own. Both sides must give the same commands, or the script stops. A record tells what it is
asked for, so on Geduld's side asking for the compared output's commands belongs to what is timed. A trace keeps
what was worked out about it; `first run` is the run of a program on a trace that keeps nothing yet.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from geduld.readers.notation import runner_for  # noqa: E402
from geduld.rig.model import Rig  # noqa: E402
from geduld.rig.reader import read_rig  # noqa: E402
from geduld.run.runner import Runner  # noqa: E402
from geduld.worlds.trace import Trace  # noqa: E402

HEAD = 'behaviour "Benchmark"\nbegin:\n'
TIMED = HEAD + "    drive at 40 % for 2 s\n    wait 0.5 s\n    lamp on for 1 s\n    drive at -30 % for 1.5 s\n"
WAITS = HEAD + (
    "    wait until knob > 62 %, held 50 ms\n    drive at 45 % until range < 40 cm, keep going\n"
    "    drive at 20 % until nose is pressed\n    valve at 80 % for 1.5 s\n"
)
FIVE_WAITS = HEAD + (
    "    wait until knob > 62 %\n    wait until range < 140 cm\n    wait until range < 80 cm\n"
    "    wait until range < 40 cm\n    wait until nose is pressed\n"
)
BANDS = HEAD + (
    "    repeat:\n        if range > 120 cm:\n            drive at 60 %\n        else if range > 40 cm:\n"
    "            drive at 40 %\n        else:\n            stop drive\n"
)
PROPORTIONAL = HEAD + "    repeat:\n        drive at clamp((range - 30 cm) * 2 %/cm, -40 %, 40 %)\n"
STATE = HEAD + (
    "    set n to 0\n    repeat:\n        if range < 100 cm:\n            set n to n + 1\n"
    "        if n > 50:\n            lamp on\n            set n to 0\n        else:\n            lamp off\n"
)


def world(seconds: int) -> Trace:
    """A made-up docking at 100 Hz with 8 channels, stretched to the length asked for."""
    noise = np.random.default_rng(5)
    count = seconds * 100 + 1
    share = np.linspace(0, 1, count)
    channels = {
        "knob": np.where(share > 0.1, 76.0, 24.0) + noise.normal(0, 0.5, count),
        "range": np.round(180 - 190 * share + noise.normal(0, 0.6, count), 1),
        "nose": (share > 0.9).astype(float),
        "soil": 30 + noise.normal(0, 0.3, count),
        "light": 420 + noise.normal(0, 4, count),
        "left": np.zeros(count),
        "right": np.zeros(count),
        "valve": np.zeros(count),
    }
    return Trace(np.arange(count, dtype=np.int64) * 10_000, channels)


def changes(values: np.ndarray, times: np.ndarray) -> list[tuple[int, float]]:
    """A column of commands as its changes."""
    keep = np.concatenate(([True], values[1:] != values[:-1]))
    return list(zip(times[keep].tolist(), values[keep].tolist(), strict=True))


def numpy_timed(trace: Trace) -> list[tuple[int, float]]:
    """Fixed instants, added up."""
    edges = np.cumsum(np.array([0, 2_000_000, 500_000, 1_000_000, 1_500_000]))
    return list(zip(edges[[0, 1, 3, 4]].tolist(), [40.0, 0.0, -30.0, 0.0], strict=True))


def numpy_waits(trace: Trace) -> list[tuple[int, float]]:
    """First places at which masks are true, one after another."""
    times, knob = trace.times, trace.channels["knob"] > 62
    closed = np.flatnonzero(~knob)
    start = int(knob.argmax())
    while True:
        following = closed[np.searchsorted(closed, start) :]
        if not len(following) or times[following[0]] - times[start] > 50_000:
            break
        start = int(following[0]) + int(knob[following[0] :].argmax())
    go = int(np.searchsorted(times, times[start] + 50_000, "right")) - 1
    slow = go + int((trace.channels["range"][go:] < 40).argmax())
    dock = slow + int((trace.channels["nose"][slow:] == 1).argmax())
    return [(0, 0.0), (int(times[start]) + 50_000, 45.0), (int(times[slow]), 20.0), (int(times[dock]), 0.0)]


def numpy_bands(trace: Trace) -> list[tuple[int, float]]:
    """Bands as nested where."""
    gap = trace.channels["range"]
    return changes(np.where(gap > 120, 60.0, np.where(gap > 40, 40.0, 0.0)), trace.times)


def numpy_proportional(trace: Trace) -> list[tuple[int, float]]:
    """One clipped line."""
    return changes(np.clip((trace.channels["range"] - 30) * 2, -40, 40), trace.times)


def numpy_state(trace: Trace) -> list[tuple[int, float]]:
    """The counter as a cumulative sum of near samples, wrapped where it passes 50."""
    near = np.cumsum(trace.channels["range"] < 100)
    on = (near % 51 == 0) & np.diff(near, prepend=0).astype(bool)
    return changes(np.where(on, 100.0, 0.0), trace.times)


PROGRAMS = {
    "timed moves": (TIMED, "left", numpy_timed),
    "waits": (WAITS, "left", numpy_waits),
    "band polling": (BANDS, "left", numpy_bands),
    "proportional": (PROPORTIONAL, "left", numpy_proportional),
    "polling with state": (STATE, "lamp", numpy_state),
}


def turns(calls: list[Callable[[], object]], least: float = 0.6) -> list[float]:
    """The median times of some calls in seconds, taken in turns, so that a slow moment of the machine meets all."""
    times: list[list[float]] = [[] for _ in calls]
    while len(times[0]) < 5 or sum(map(sum, times)) < least:
        for taken, call in zip(times, calls, strict=True):
            start = time.perf_counter()
            call()
            taken.append(time.perf_counter() - start)
    return [statistics.median(taken) for taken in times]


def replay(rig: Rig) -> None:
    """Programs beside NumPy."""
    heads = f"{'geduld':>12}{'first run':>12}{'numpy':>12}{'ratio':>8}{'first':>8}"
    print(f"{'program':<20}{'trace':>7}{heads}{'times real time':>17}")
    for seconds in (60, 600):
        trace = world(seconds)
        for name, (text, part, by_hand) in PROGRAMS.items():
            runner = runner_for(text, rig)
            signal = runner.run(trace).commands[part]
            found = list(zip(signal.times.tolist(), signal.values.tolist(), strict=True))
            if found != by_hand(trace):
                sys.exit(f"{name}: Geduld and NumPy do not give the same commands")
            known = partial(commands, runner, trace, part)
            ours, new, theirs = turns([known, partial(first_run, runner, trace, part), partial(by_hand, trace)])
            shown = f"{ours * 1e3:>9.3f} ms{new * 1e3:>9.3f} ms{theirs * 1e3:>9.3f} ms"
            print(f"{name:<20}{seconds:>5} s{shown}{ours / theirs:>8.1f}{new / theirs:>8.1f}{seconds / ours:>17,.0f}")


def commands(runner: Runner, trace: Trace, part: str) -> object:
    """A run, and what it commanded one output."""
    return runner.run(trace).commands[part]


def first_run(runner: Runner, trace: Trace, part: str) -> object:
    """The same on a trace that nobody has looked at before: it keeps nothing yet."""
    return commands(runner, Trace(trace.times, trace.channels), part)


def long_traces(rig: Rig) -> None:
    """What a run costs on longer traces of the same docking: five waits spread over the whole trace."""
    runner = runner_for(FIVE_WAITS, rig)
    worlds = [world(seconds) for seconds in (60, 600, 36_000)]
    times = turns([partial(runner.run, trace) for trace in worlds])
    for trace, taken in zip(worlds, times, strict=True):
        size = f"{trace.duration_us // 1_000_000:>6} s, {trace.samples:>9,} samples"
        print(f"five waits on {size}: {taken * 1e3:.3f} ms, {taken / times[0]:.1f} times the first")


def main() -> None:
    """Prints the tables."""
    rig = read_rig(ROOT / "demo" / "rigs" / "glasshouse-cart.json")
    replay(rig)
    long_traces(rig)
    lines = "".join(f"    drive at {k} % until range < {k} cm, patience 2 s\n" for k in range(10, 68))
    (taken,) = turns([lambda: runner_for(HEAD + lines, rig)])
    print(f"60 lines of text to something runnable: {taken * 1e3:.1f} ms")


if __name__ == "__main__":
    main()
