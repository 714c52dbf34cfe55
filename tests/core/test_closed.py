"""The closed loop: what a program does on a floor is what it does on the trace that was kept of that run."""

import hashlib
import json
import os
import subprocess
import sys
import unittest

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from geduld.language.formatter import format_plan
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import read_rig, rig_from_json
from geduld.run.program.program import BoundProgram
from geduld.run.record.as_json import record_from_text, record_to_json
from geduld.run.runner import Runner
from geduld.run.world import FloorWorld, TraceWorld
from geduld.worlds.floor.reader import floor_from_json, read_floor
from geduld.worlds.floor.simulation import Simulation
from geduld.worlds.inputs import inputs_from_csv
from tests.core import test_c_programs, test_python_programs
from tests.core.plans import plans, sides
from tests.glasshouse import DEMO, ROOT, cart, program, small_rig

FLOOR = {
    "geduld": "floor/1",
    "name": "Potting room",
    "size": ["150 cm", "120 cm"],
    "start": {"at": ["40 cm", "60 cm"], "heading": "20 deg"},
    "obstacles": [
        {"name": "tub", "at": ["110 cm", "70 cm"], "radius": "15 cm"},
        {
            "name": "crate",
            "corners": [["70 cm", "20 cm"], ["85 cm", "20 cm"], ["85 cm", "35 cm"], ["70 cm", "35 cm"]],
            "movable": True,
        },
    ],
    "surfaces": [
        {
            "name": "gravel",
            "corners": [["60 cm", "0 cm"], ["80 cm", "0 cm"], ["80 cm", "120 cm"], ["60 cm", "120 cm"]],
            "turn_slip": "20 %",
            "rolling": "9 %",
        }
    ],
}
HANDS = b"time [s],knob [%],radio,hand.x [cm],hand.y [cm]\n0.005,,go,,\n0.123456,30,,70,60\n0.7,,stop,-,\n0.9,55,,,\n1.3,-,go,,"
LANES = """
side by side:
    lane travel:
        drive at 60 % until range < 30 cm, held 25 ms, patience 2 s, keep going
        drive follows (range - 10 cm) * 3 %/cm until nose is pressed, patience 1 s
        drive at -40 % for 5 cm by time
        turn left at 30 % for 40 deg by encoder
    lane spray:
        repeat 3 times:
            nozzle from 20 deg to 160 deg over 0.3 s
            wait until knob > 40 %, patience 0.25 s
            set n to n + 1
    lane shine:
        do:
            repeat:
                lamp at 50 %
                wait 0.033 s
                lamp off
                wait 0.041 s
        unless n >= 3 or nose is just pressed:
            lamp on
"""


def world(seed=None, seconds=2.0):
    return Simulation(small_rig(), floor_from_json(FLOOR), inputs_from_csv(HANDS, small_rig(), ["crate"]), seed,
                      round(seconds * 1e6))  # fmt: skip


class TheKeptTrace(unittest.TestCase):
    def assert_replays(self, runner, simulation):
        record = runner.run_on(simulation)
        if record.hit_limit:
            return record
        again = runner.run(simulation.trace(), simulation.end)
        self.assertEqual((record.why, record.ended_at, record.said), (again.why, again.ended_at, again.said))
        self.assertEqual(record.program, again.program)
        ours = [event for event in record.events if event.kind not in ("contact", "stall")]
        self.assertEqual([(e.tick, e.kind, e.line) for e in ours], [(e.tick, e.kind, e.line) for e in again.events])
        for name, signal in record.commands.items():
            np.testing.assert_array_equal(signal.times, again.commands[name].times, name)
            np.testing.assert_array_equal(signal.values, again.commands[name].values, name)
        return record

    def test_students_programs_do_the_same_on_the_trace_of_their_run(self):
        floor, moved = read_floor(DEMO / "floors" / "north-aisle.json"), 0
        for programs in (test_python_programs, test_c_programs):
            texts = {**programs.PROGRAMS, "bump": programs.BUMPS}
            for name, text in texts.items():
                with self.subTest(name, programs=programs.__name__):
                    runner = Runner(programs.read(text))
                    simulation = Simulation(cart(), floor, seed=3, end=12_000_000)
                    record = runner.run_on(simulation)
                    again = runner.run(simulation.trace(), simulation.end)
                    self.assertEqual((record.why, record.ended_at), (again.why, again.ended_at))
                    sent = [[(e.tick, e.text) for e in one.events if e.kind == "send"] for one in (record, again)]
                    self.assertEqual(sent[0], sent[1])
                    for output, signal in record.commands.items():
                        np.testing.assert_array_equal(signal.times, again.commands[output].times, output)
                        np.testing.assert_array_equal(signal.values, again.commands[output].values, output)
                        moved += len(signal.times) > 1
                    if name == "bump":
                        pressed = next(e.tick for e in record.events if e.kind == "contact")
                        self.assertEqual(record.commands["left"].times.tolist()[1], pressed)
                        self.assertGreater(len(sent[0]), 0)
        self.assertGreater(moved, 60)

    @settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans(), st.sampled_from([None, 1]))
    def test_every_program_does_the_same_on_the_trace_of_its_run(self, plan, seed):
        bound = NotationProgram(format_plan(plan), small_rig()).bound
        assume(bound.good)
        self.assert_replays(Runner(BoundProgram(bound, small_rig())), world(seed))

    @settings(max_examples=100, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans(body=sides()), st.sampled_from([None, 1]))
    def test_every_program_with_lanes_too(self, plan, seed):
        bound = NotationProgram(format_plan(plan), small_rig()).bound
        assume(bound.good)
        self.assert_replays(Runner(BoundProgram(bound, small_rig())), world(seed))

    def test_three_lanes_that_share_a_value(self):
        for seed in (None, 3):
            record = self.assert_replays(runner_for(program("set n to 0" + LANES), small_rig()), world(seed, 6.0))
            self.assertEqual({bar.lane for bar in record.program}, {"travel", "spray", "shine"})
            self.assertEqual(record.why, "finished")
            self.assertGreater(len(record.commands["left"].times), 20)


class StoppedByHand(unittest.TestCase):
    def test_everything_stands_still_from_then_on_and_the_world_goes_on(self):
        text = program("lamp on\nnozzle at 70 deg\ndrive at 60 % for 9 s\nfinish")
        hands = inputs_from_csv(b"time [s],stop\n0.512345,1\n", small_rig())
        base = world(None, 2.0)
        base.go(base.end)
        for kind, place in (
            ("floor", FloorWorld(floor_from_json(FLOOR), small_rig(), hands, None, 2_000_000)),
            ("trace", TraceWorld(base.trace(), small_rig(), hands)),
        ):
            with self.subTest(kind):
                record, _ = place.run(runner_for(text, small_rig()), text)
                self.assertEqual((record.why, record.ended_at, record.lasted), ("stopped", 512_345, 2_000_000))
                for part in ("left", "right", "lamp"):
                    self.assertEqual(record.commands[part].values[-1], 0)
                    self.assertEqual(record.commands[part].times[-1], 512_345)
                self.assertEqual(record.commands["nozzle"].values[-1], 70, "a servo holds its angle")
                self.assertEqual([event.kind for event in record.events][-1], "stop")
                self.assertEqual(max(bar.stop for bar in record.program), 512_345)


class Positions(unittest.TestCase):
    def test_a_servo_takes_its_time_and_a_stepper_that_is_hurried_stays_behind(self):
        source = small_rig().source
        slow = {
            "nozzle": {"physics": {"slew": "100 deg/s"}},
            "shade": {"physics": {"slew": "90 deg/s", "step": "0.5 deg"}},
        }
        parts = {name: {**part, **slow.get(name, {})} for name, part in source["parts"].items()}
        rig = rig_from_json({**source, "parts": parts})
        text = program("""
nozzle at 20 deg
wait 0.5 s
nozzle at 60 deg
shade at 45 deg
wait 1 s
shade from 45 deg to 90 deg over 1 s
shade from 90 deg to 180 deg over 0.5 s
""")
        record, _ = FloorWorld(floor_from_json(FLOOR), rig, limit_us=4_000_000).run(runner_for(text, rig), text)
        nozzle, shade = (record.pose.angles[name] for name in ("nozzle", "shade"))

        def at(signal, seconds):
            return float(np.interp(seconds * 1e6, signal.times, signal.values))

        for seconds, angle in ((0.2, 20), (0.5, 20), (0.7, 40), (0.9, 60), (3, 60)):
            self.assertAlmostEqual(at(nozzle, seconds), angle, places=6, msg=f"the servo at {seconds} s")
        for seconds, angle in ((0.5, 0), (0.75, 22.5), (1.0, 45), (2.5, 90)):
            self.assertAlmostEqual(at(shade, seconds), angle, delta=0.51, msg=f"the stepper at {seconds} s")
        self.assertAlmostEqual(at(shade, 4), 135, delta=1.5, msg="half of a way asked for at twice its rate")
        missed = [event for event in record.events if event.kind == "missed"]
        self.assertEqual((len(missed), 2_500_000 <= missed[0].tick <= 2_530_000), (1, True))
        again = record_from_text(json.dumps(record_to_json(record)))
        np.testing.assert_array_equal(again.pose.angles["shade"].values, shade.values)
        np.testing.assert_allclose(again.pose.values[-1], record.pose.values[-1])


def fingerprint():
    """A hash of all that some runs did: every sample, pose and event."""
    digest = hashlib.sha256()
    pushing = (
        "drive at 70 %, 60 % for 1 s\nturn right at 60 % for 0.7 s\ndrive at 30 cm/s for 3 s\nstop all by coasting"
    )
    for seed, text in ((None, "set n to 0" + LANES), (7, "set n to 0" + LANES), (5, pushing)):
        simulation = world(seed, 6.0)
        runner_for(program(text), small_rig()).run_on(simulation)
        digest.update(simulation.table[: simulation.rows].tobytes())
        digest.update(repr(simulation.events()).encode())
    hoist = read_rig(DEMO / "rigs" / "seed-hoist.json")
    lifting = (DEMO / "tray-class" / "marit-ashby.geduld").read_text()
    hands = inputs_from_csv((DEMO / "trays-to-the-shelf" / "go.csv").read_bytes(), hoist)
    bench = Simulation(hoist, read_floor(DEMO / "floors" / "potting-bench.json"), hands, 3, 12_000_000)
    runner_for(lifting, hoist).run_on(bench)
    digest.update(bench.table[: bench.rows].tobytes())
    digest.update(repr(bench.events()).encode())
    return digest.hexdigest()


class TheKernel(unittest.TestCase):
    def test_it_does_the_same_compiled_and_as_python_to_the_last_bit(self):
        environment = {**os.environ, "GEDULD_KERNEL": "plain", "PYTHONPATH": str(ROOT)}
        code = "from tests.core.test_closed import fingerprint; print(fingerprint())"
        plain = subprocess.run(
            [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True
        )
        self.assertEqual(plain.stdout.strip(), fingerprint())

    def test_a_seed_makes_the_same_noise_again_and_another_seed_another(self):
        source = small_rig().source
        ranged = {**source["parts"]["range"], "physics": {"noise": "0.4 cm", "period": "40 ms"}}
        rig = rig_from_json({**source, "parts": {**source["parts"], "range": ranged}})

        def ranges(seed):
            simulation = Simulation(rig, floor_from_json(FLOOR), seed=seed, end=10_000_000)
            simulation.go(simulation.end)
            return simulation.trace().channels["range"]

        first = ranges(4)
        np.testing.assert_array_equal(first, ranges(4))
        self.assertFalse(np.array_equal(first, ranges(5)))
        self.assertAlmostEqual(np.std(first[::4]), 0.4, delta=0.06)
        self.assertAlmostEqual(np.mean(first), ranges(None)[0], delta=0.08)
        self.assertTrue((first[:1000].reshape(-1, 4) == first[:1000:4, None]).all(), "it measures every 40 ms")
