"""What hostile and broken programs cost: CPU time until each has ended, with the message that it ended with.

    .venv/bin/python benchmarks/hostile.py [trace|floor]

Each text is read, bound, compiled and run as a hand-in would be: on a trace of one hour, and on a floor of ten minutes.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from geduld.errors import ProgramError  # noqa: E402
from geduld.readers.notation import runner_for  # noqa: E402
from geduld.rig.model import Rig  # noqa: E402
from geduld.rig.reader import read_rig  # noqa: E402
from geduld.run.world import LONGEST_US, FloorWorld, TraceWorld, World  # noqa: E402
from geduld.worlds.floor.reader import read_floor  # noqa: E402
from geduld.worlds.trace import Trace  # noqa: E402

HEAD = 'behaviour "Hostile"\n'


def steps(text: str, before: str = "") -> bytes:
    """A program of these steps."""
    return (HEAD + before + "begin:\n" + "".join(f"    {line}\n" for line in text.splitlines())).encode()


def nested(opening: str, depth: int, inside: str) -> str:
    """A block in a block in a block."""
    return "".join("    " * level + opening + "\n" for level in range(depth)) + "    " * depth + inside


def guarded(depth: int, level: int = 0) -> str:
    """A guard in a guard in a guard."""
    before = "    " * level
    inside = guarded(depth, level + 1) if level < depth else before + "    wait 1 s\n"
    return f"{before}do:\n{inside}{before}unless nose is pressed:\n{before}    wait 1 ms\n"


DOUBLING = "to a0:\n    wait 1 ms\n" + "".join(f"to a{k}:\n    a{k - 1}\n    a{k - 1}\n" for k in range(1, 40))
LETS = "let b0 = range\n" + "".join(f"let b{k} = b{k - 1} + b{k - 1}\n" for k in range(1, 40))
MANY = "side by side:\n" + "".join(f"    lane l{k}:\n        wait 1 s\n" for k in range(10_000))
FEWER = "side by side:\n" + "".join(f"    lane l{k}:\n        repeat:\n            wait 1 us\n" for k in range(1_000))
RESTLESS = "side by side:\n" + "".join(
    f"    lane l{k}:\n        repeat:\n            set n{k} to 1\n" for k in range(64)
)
READING = "set n to 0\nside by side:\n    lane z:\n        repeat:\n            set n to n + 1\n" + "".join(
    f"    lane l{k}:\n        repeat:\n            wait until n < 0\n" for k in range(63)
)

PROGRAMS: dict[str, bytes] = {
    "a loop that never waits": steps("repeat:\n    set n to 1"),
    "a loop of endless inner loops": steps("repeat:\n    repeat 1000000000 times:\n        set n to 1"),
    "waits of a microsecond": steps("repeat:\n    wait 1 us\n    lamp on\n    lamp off"),
    "awaiting what is so already": steps("repeat:\n    wait until range is absent or range < 1 m\n    wait 1 us"),
    "awaiting with a patience": steps("repeat:\n    wait until range < 1 mm, patience 1 us"),
    "awaiting a timer": steps("start timer t\nrepeat:\n    wait until t > 1 us\n    reset t"),
    "awaiting values that change": steps(
        "set n to 0\nrepeat:\n    set n to n + 1\n    wait until range < n * 1 mm or clock > n * 1 us"
    ),
    "following itself": steps("drive follows left.angle * 1 %/deg + 1 % until left.angle > 1e9 deg"),
    "a ramp in a microsecond, for ever": steps("repeat:\n    drive from 0 % to 100 % over 1 us"),
    "events without end": steps('repeat:\n    note "a"\n    note "b"'),
    "messages without end": steps('repeat:\n    send "a"\n    wait 1 us'),
    "a thousand lanes that never rest": steps(FEWER),
    "sixty-four lanes that never rest": steps(RESTLESS),
    "sixty-three lanes that read one": steps(READING),
    "guards that call out at once": steps(
        "repeat:\n    do:\n        wait 1 s\n    unless clock >= 0 s:\n        set n to 1"
    ),
    "squares of squares": steps("set n to 2\nrepeat:\n    set n to n * n\n    lamp at n * 1 %"),
    "a wait without end": steps("wait 1e30 s * 1e30 * 1e30"),
    "14 loops deep": steps(nested("repeat:", 14, "set n to 1")),
    "14 guards deep": steps(guarded(13)),
    "20 loops deep": steps(nested("repeat:", 20, "set n to 1")),
    "ten thousand lanes": steps(MANY),
    "a million brackets": steps("wait " + "(" * 1_000_000),
    "180,000 brackets": steps("\n".join("wait " + "(" * 900 for _ in range(200))),
    "a long sum": steps("wait " + "1 s + " * 150 + "1 s"),
    "routines in routines": steps("a39", DOUBLING),
    "a routine in itself": steps("a", "to a:\n    a\n"),
    "names in names": steps("lamp at b39 * 1 %/cm", LETS),
    "5,000 lines": steps("\n".join("drive at 40 % for 1 s" for _ in range(4_990))),
    "a number of 900 digits": steps("wait " + "9" * 900 + " s"),
    "NUL bytes": steps("wait 1 s\x00"),
    "characters that turn text round": steps("wait \u202e1 s"),
    "UTF-16": steps("wait 1 s").decode().encode("utf-16"),
    "any bytes": bytes(range(256)) * 400,
    "nothing": b"",
}


def hour(rig: Rig) -> World:
    """A trace of an hour at 100 Hz."""
    count = 360_001
    gap = np.round(np.random.default_rng(3).normal(60, 20, count), 1)
    channels = {"range": gap, "nose": (gap < 20).astype(float)}
    return TraceWorld(Trace(np.arange(count, dtype=np.int64) * 10_000, channels), rig)


def ten_minutes(rig: Rig) -> World:
    """The longest run on a floor, with noise."""
    return FloorWorld(read_floor(ROOT / "demo" / "floors" / "north-aisle.json"), rig, seed=1, limit_us=LONGEST_US)


def outcome(text: bytes, rig: Rig, world: World) -> str:
    """Runs a text, and says how that ended."""
    try:
        record, _ = world.run(runner_for(text, rig))
    except ProgramError as problem:
        return f"{problem.code}: {problem.message}"
    return record.events[-1].text if record.hit_limit else f"ended by {record.why}"


def main() -> None:
    """Prints a table for each world."""
    rig = read_rig(ROOT / "demo" / "rigs" / "glasshouse-cart.json")
    for kind, make in (("trace", hour), ("floor", ten_minutes)):
        if sys.argv[1:] not in ([], [kind]):
            continue
        print(f"on a {kind}")
        outcome(steps("wait 1 ms"), rig, make(rig))
        for name, text in PROGRAMS.items():
            world = make(rig)
            start = time.process_time()
            said = outcome(text, rig, world)
            print(f"{name:<36}{time.process_time() - start:>7.2f} s  {said[:80]}", flush=True)


if __name__ == "__main__":
    main()
