"""Faults of a robot on a floor: each does what it says, and nothing else."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.errors import FloorError
from geduld.readers.notation import runner_for
from geduld.rig.reader import rig_from_json
from geduld.worlds.floor.faults import EXAMPLES, read_faults
from geduld.worlds.inputs import inputs_from_csv
from tests.glasshouse import SMALL, program, yard

RIG = rig_from_json({**SMALL, "parts": {**SMALL["parts"], "red": {"kind": "key", "port": "K1"}}})


def run(steps, *faults, seed=None, inputs="", limit_us=2_000_000):
    world = replace(yard(RIG, limit_us), seed=seed, faults=read_faults(faults, RIG))
    if inputs:
        world = replace(world, inputs=inputs_from_csv(inputs.encode(), RIG))
    return world.run(runner_for(program(steps), RIG))[0]


def turned(record):
    return float(record.pose.values[-1, 2])


def way(record):
    return float(record.pose.values[-1, 0] - record.pose.values[0, 0])


class Faults(unittest.TestCase):
    def test_motors(self):
        ahead = "drive at 40 % for 1 s"
        right = run(ahead)
        self.assertAlmostEqual(turned(right), 0, 6)
        round_ = run(ahead, "left wired round")
        self.assertGreater(turned(round_), 90)
        self.assertLess(round_.readings["left.angle"].values[-1], -150)
        self.assertGreater(round_.readings["right.angle"].values[-1], 150)
        jammed = run(ahead, "left jammed")
        self.assertEqual(abs(jammed.readings["left.angle"].values).max(), 0)
        self.assertGreater(turned(jammed), 30)
        weak = run(ahead, "battery at 60 %")
        self.assertLess(way(weak), 0.7 * way(right))
        one = run("left at 40 % for 1 s", "left and right swapped")
        self.assertGreater(turned(one), 30, "the right wheel turns, so the robot goes to the left")
        self.assertGreater(one.readings["left.angle"].values[-1], 150, "the plug brings its encoder")
        self.assertEqual(one.readings["right.angle"].values[-1], 0)

    def test_sensors(self):
        # the cone is 20 deg wide, so its inner edge looks 50 deg aside at the wall 80 cm ahead
        sideways = run("wait 1 s", "range knocked by 60 deg")
        self.assertAlmostEqual(sideways.readings["range"].values[-1] * np.cos(np.radians(50)), 80, 0)
        bumped = "drive at 60 % until nose is released, patience 1.8 s"
        self.assertLess(way(run(bumped)), 0.01, "it is released already")
        self.assertGreater(way(run(bumped, "nose inverted")), 0.3, "it says released when it is pressed")

    @settings(max_examples=25, deadline=None)
    @given(
        st.lists(st.tuples(st.integers(-60, 60), st.integers(10, 300)), min_size=1, max_size=8),
        st.sampled_from(["nose", "red", "range", "knob"]),
        st.integers(1, 90),
        st.integers(0, 9),
    )
    def test_a_wire_changes_its_own_channel_alone(self, moves, name, share, seed):
        """However often commands take the world back, a row is falsified once, and the others are as they were."""
        steps = "\n".join(f"drive at {power} % for {time} ms" for power, time in moves) + "\ndrive at 60 %"
        hands = "time [s],red,knob\n0.3,1,40\n0.9,0,\n1.2,-,90\n"
        clean = run(steps, seed=seed, inputs=hands)
        contact = name in ("nose", "red")
        faulty = run(steps, f"{name} inverted" if contact else f"{name} loose {share} %", seed=seed, inputs=hands)
        for other, signal in clean.readings.items():
            found = faulty.readings[other]
            np.testing.assert_array_equal(found.times, signal.times)
            if other.partition(".")[0] != name:
                np.testing.assert_array_equal(found.values, signal.values, other)
        values, was = faulty.readings[name].values, clean.readings[name].values
        if contact:
            np.testing.assert_array_equal(values, 1 - was)
        else:
            there = ~np.isnan(values)
            np.testing.assert_array_equal(values[there], was[there])
            self.assertLess(abs((~there).mean() - share / 100), 0.6)

    def test_phrases(self):
        for phrase in EXAMPLES:
            self.assertEqual(read_faults([f"  {phrase} ".replace(" ", "  ")], RIG)[0].phrase, phrase)
        for phrase, said in (
            ("lefd jammed", "Did you mean"), ("lamp jammed", "no motor"), ("range inverted", "no contact"),
            ("left loose 3 %", "no sensor"), ("left and nose swapped", "one kind"), ("left and left swapped", "one kind"),
            ("battery at 0 %", "more than 0 %"), ("range knocked by 400 deg", "-180 deg"), ("left on fire", "is no fault"),
            (7, "is no fault"),
        ):  # fmt: skip
            with self.subTest(phrase), self.assertRaises(FloorError) as caught:
                read_faults([phrase], RIG)
            self.assertIn(said, str(caught.exception))
        with self.assertRaises(FloorError):
            read_faults(["left jammed"] * 9, RIG)
        worlds = [
            replace(yard(RIG), faults=read_faults(faults, RIG)) for faults in ([], ["left jammed"], ["right jammed"])
        ]
        self.assertEqual(len({world.fingerprint for world in worlds}), 3)
