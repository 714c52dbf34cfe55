"""Every step with every other, in every block, and every value in every wait: against the plain runner."""

import os
import random
import unittest
from itertools import product

import numpy as np

from geduld.binding import terms
from geduld.language.quantities import text_code
from geduld.readers.notation import NotationProgram
from geduld.run.program.program import BoundProgram
from geduld.run.runner import Runner
from geduld.worlds.trace import Trace
from tests.core.plain_runner import PlainRunner
from tests.glasshouse import changes, small_rig

SEARCHED = bool(os.environ.get("GEDULD_SEARCH"))
HEAD = """behaviour "Pairs"
for rig "small"

let near = 40 cm
let gap = max(range, near) - 12 cm
let share(x) = clamp(x * 2 %/cm, 5 %, 90 %)

to dock with pace, m:
    m at pace until range < near, patience 0.3 s
    wait 40 ms

begin:
    set n to 3
    set level to 20 %
    start timer t
"""
STEPS = """
left at 60 %
left at share(range)
left at level for 70 ms
drive at 40 %, -10 % until range < near, held 30 ms, patience 0.5 s, keep going
drive at share(gap) until t > 0.25 s and min(range, 50 cm) < 45 cm, patience 0.6 s
right follows share(range - 5 cm) until nose is pressed, patience 0.4 s
lamp follows abs(level - knob) for 120 ms
nozzle from 20 deg to 160 deg over 60 ms
drive from 10 % to 90 % over 45 ms, keep going
drive at 40 % for 3 cm by time
left at 40 % for 20 deg by encoder
turn left at 30 % for 15 deg by time
turn right at 30 % about left wheel until left.angle > 30 deg, patience 0.3 s
drive at 12 cm/s for 80 ms
left at 60 rpm
stop drive by braking
stop all
lamp on
wait 35 ms
wait until t > n * 0.1 s
wait until clock > 0.4 s and max(range, knob * 1 cm/%) > 30 cm, patience 1 s
wait until abs(range - 30 cm) < t * 50 cm/s, held 20 ms
wait until nose is just pressed, patience 0.5 s
wait until message is "go", patience 0.4 s
set n to n + 1
set level to clamp(level + knob / 4, 0 %, 80 %)
start timer t
reset t
reset left.angle
reset nose.presses
reset n
note "here"
send "there"
dock with 35 %, left
finish "early"
if range < t * 80 cm/s:|    lamp at 10 %|else if knob > 50 %:|    wait 15 ms|else:|    lamp off
by gap, slack 2 cm:|    under 5 cm: wait 10 ms|    5 cm to 30 cm: left at share(gap)|    over 30 cm: stop left|    absent: lamp on
repeat 2 times:|    set n to n + 1
repeat until range < near or t > 0.3 s:|    left at share(range)
repeat while nose is released and clock < 0.8 s:|    set level to level + 1 %|    wait 12 ms
repeat:|    if t > 0.2 s or nose is pressed:|        leave
do:|    start timer t|unless nose is pressed, held 0.1 s:|    lamp at 30 %
do:|    drive at 30 % for 0.5 s|unless abs(range - range) < range, held 60 ms:|    note "held"
do:|    wait until round(range / 10 cm) = 4, patience 0.4 s|unless t > 0.15 s and max(range, 10 cm) > 20 cm:|    note "out"
side by side:|    lane one:|        left at 30 % for 50 ms|        set n to n + 1|    lane two:|        wait until n > 4, patience 0.2 s
""".strip().splitlines()
STEPS = [step.replace("|", "\n") for step in STEPS]
BLOCKS = [
    "{}",
    "repeat 3 times:\n    {}",
    "repeat until t > 0.7 s or n > 12:\n    {}\n    set n to n + 1",
    "if clock >= 0 s:\n    {}",
    "do:\n    {}\nunless nose is pressed:\n    note \"out\"",
    "do:\n    {}\nunless range < near, held 25 ms:\n    lamp at 44 %\nrepeat until clock > 1 s:\n    lamp at knob",
    "side by side:\n    lane first:\n        {}\n    lane second:\n        nozzle at 30 deg\n        wait until n > 5, patience 0.4 s",
    "by knob:\n    under 30 %:\n        {}\n    30 % and over:\n        {}\n".replace("30 % and over", "over 30 %"),
]  # fmt: skip

VALUES = ["range", "min(range, 50 cm)", "max(range, near, 5 cm)", "abs(range - 45 cm)", "clamp(range, 20 cm, 60 cm)",
          "round(range / 10 cm) * 10 cm", "scale(knob, from 0 % to 100 %, to 0 cm to 90 cm)", "gap", "range + t * 20 cm/s",
          "min(range, t * 30 cm/s)", "clamp(t * 40 cm/s, 5 cm, range)", "range * max(t / 1 s, 0.5)", "left.angle * 1 cm/deg",
          "near", "clock * 35 cm/s", "abs(t - 0.5 s) * 90 cm/s", "range / max(n, 1)"]  # fmt: skip
CLOCKS = ["", "t > 0.2 s and ", "clock < 0.9 s and ", "not t < 0.15 s and ", "nose is released or "]
SIGNS = ["<", ">=", "=", "!="]
WAITS = [
    "wait until {}, patience 1.5 s",
    "wait until {}, held 40 ms",
    "left at 30 % until {}, held 15 ms, patience 0.6 s",
    "do:\n    wait 1.2 s\nunless {}:\n    note \"out\"",
    "do:\n    right at 20 % for 1 s\nunless {}, held 30 ms:\n    note \"held\"\nrepeat until clock > 2 s:\n    lamp at knob",
    "repeat until {} or clock > 1.5 s:\n    wait 17 ms",
    "repeat while {}:\n    lamp at knob\n    if clock > 1 s:\n        leave",
    "do:\n    left follows share(range) until {}, patience 0.5 s\nunless t > 0.8 s:\n    lamp on",
]  # fmt: skip


def inside(text, level):
    return text.replace("\n", "\n" + "    " * level)


def written(block, body):
    """A block with a body in its place, indented as the place is."""
    lines = []
    for line in block.split("\n"):
        level = (len(line) - len(line.lstrip())) // 4
        lines.append(line.replace("{}", inside(body, level)))
    return HEAD + "".join(f"    {line}\n" for line in "\n".join(lines).rstrip("\n").split("\n"))


def recording(chance, encoders):
    """A short recording: samples far apart and near, readings that are absent now and then."""
    count = chance.randint(3, 14)
    gaps = [chance.choice([1, 10_000, 35_000, 130_000, 333_333]) for _ in range(count)]
    column = lambda *choices: np.array([chance.choice(choices) for _ in range(count)], float)  # noqa: E731
    channels = {
        "range": column(3, 12, 39.5, 40, 45, 80, np.nan),
        "knob": column(0, 25, 60, 100),
        "nose": column(0, 0, 0, 1),
        "radio": column(np.nan, text_code("go"), text_code("stop")),
    }
    if encoders:
        channels["left.angle"] = channels["right.angle"] = np.cumsum(column(0, 5, 20, -3))
    return Trace(np.cumsum(gaps).astype(np.int64) - (gaps[0] if chance.random() < 0.5 else 0), channels)


class Pairs(unittest.TestCase):
    def assert_plain(self, text, world):
        rig = small_rig()
        bound = NotationProgram(text, rig).bound
        errors = [hint for hint in bound.hints if hint.level == "error"]
        if any(hint.code in ("two-lanes-one-part", "held-leave") for hint in errors):
            return False
        self.assertTrue(bound.good, f"{text}\n{errors}")
        record = Runner(BoundProgram(bound, rig)).run(world)
        self.assertFalse(record.hit_limit, text)
        plain = PlainRunner(bound, rig, world.from_the_start, record.lasted)
        self.assertEqual((record.why, record.ended_at), (plain.why, plain.ended_at), text)
        several = any(isinstance(step, terms.Side) for step, _ in terms.walk_steps(bound.steps))
        order = sorted if several else list
        self.assertEqual(order((e.tick, e.kind, e.line) for e in record.events), order(plain.events), text)
        bars = order((b.line, b.start, b.stop, b.state, b.lane) for b in record.program)
        self.assertEqual(bars, order(plain.bars), text)
        for name, entries in plain.commands.items():
            self.assertEqual(str(changes(record, name)), str([(t, float(v)) for t, v in entries]), f"{name}\n{text}")
        return True

    def each(self, texts, one_in):
        """Tries all of them when it is searched, else one in so many, the same each time."""
        chance = random.Random(29)
        tried = 0
        for text in texts:
            if SEARCHED or chance.randrange(one_in) == 0:
                world = recording(chance, chance.random() < 0.3)
                with self.subTest(text=text.removeprefix(HEAD)):
                    tried += self.assert_plain(text, world)
        self.assertGreater(tried, 300)

    def test_every_step_with_every_other_in_every_block(self):
        pairs = product(BLOCKS, STEPS, STEPS)
        self.each((written(block, f"{one}\n{other}") for block, one, other in pairs), 30)

    def test_every_value_against_every_other_in_every_wait(self):
        waits = product(("", "wait 0.15 s\n"), WAITS, CLOCKS, SIGNS, VALUES, VALUES)
        texts = (
            written("{}", before + wait.format(f"{clock}{value} {sign} {other}"))
            for before, wait, clock, sign, value, other in waits
        )
        self.each(texts, 180)


if __name__ == "__main__":
    unittest.main()
