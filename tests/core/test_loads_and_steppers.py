"""Motors that lift something, steppers that turn on, and steppers as wheels: against closed forms."""

import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import rig_from_json
from geduld.run.world import bare
from tests.glasshouse import SMALL, changes, program, small_rig, yard

FULL, TORQUE, DEAD, LAG = 300.0, 20.0, 0.04, 0.08


def with_hoist(load, **more):
    hoist = {"kind": "motor", "port": "M5", "full_speed": f"{FULL} deg/s", "encoder": {"counts_per_turn": 7200},
             "physics": {"torque": f"{TORQUE} Ncm", "load": f"{load} Ncm", **more}}  # fmt: skip
    return rig_from_json({**SMALL, "parts": {**SMALL["parts"], "hoist": hoist}})


def run(steps, rig, limit_us=6_000_000):
    return yard(rig, limit_us).run(runner_for(program(steps), rig))[0]


class Loads(unittest.TestCase):
    @settings(max_examples=20, deadline=None)
    @given(st.floats(0.5, 9.0), st.integers(55, 100))
    def test_a_load_takes_its_share_of_the_speed(self, load, power):
        """The speed is a straight line of what is left of the power; the lag takes its own off the way."""
        ran = run(f"hoist at {power} % for 2 s", with_hoist(load), 2_000_000)
        speed = FULL * (power / 100 - DEAD - load / TORQUE) / (1 - DEAD)
        self.assertAlmostEqual(ran.readings["hoist.angle"].values[-1], speed * (2 - LAG), delta=0.02 * FULL)

    def test_a_load_that_is_too_heavy_stalls_and_is_noticed(self):
        heavy = 'do:\n    hoist at 60 % for 4 s\nunless hoist.speed < 10 deg/s, held 0.4 s:\n    finish "too heavy"'
        ran = run(heavy, with_hoist(11.4))
        self.assertEqual(ran.said, "too heavy")
        self.assertIn("its load is more than it can move", next(e.text for e in ran.events if e.kind == "stall"))
        self.assertEqual(run(heavy, with_hoist(5)).said, "")

    def test_an_arm_rises_as_far_as_its_motor_can_hold_it(self):
        """Gravity turns with the angle: it stands where load times the cosine is what the motor has, give or take friction."""
        for load in (14.0, 15.0, 25.0):
            ran = run("hoist at 60 % for 6 s", with_hoist(load, level_at="90 deg"))
            least, most = (90 - math.degrees(math.acos((0.6 + f) * TORQUE / load)) for f in (-DEAD, DEAD))
            angle = ran.readings["hoist.angle"].values[-1]
            self.assertTrue(least - 0.5 < angle < most + 0.5, (load, least, angle, most))


class Steppers(unittest.TestCase):
    def test_a_stepper_turns_on_from_where_it_stands(self):
        steps = "shade at 90 deg\nshade at 360 deg/s for 0.5 s\nwait 0.5 s\nshade at -100 deg/s for 90 deg\nlamp on"
        rig = small_rig()
        for ran in (runner_for(program(steps), rig).run(bare(rig, 5_000_000)), run(steps, rig)):
            moves = dict(changes(ran, "shade"))
            self.assertEqual((moves[0], moves[500_000], moves[1_900_000]), (90, 270, 180))
            self.assertAlmostEqual(moves[250_000], 180, 9)
            self.assertAlmostEqual(moves[1_450_000], 225, 9)
            self.assertEqual(changes(ran, "lamp")[-1], (1_900_000, 100.0))
        for wrong in ("shade at 9 deg/s", "shade at 9 deg/s until nose is pressed", "shade at 0 deg/s for 9 deg"):
            self.assertEqual([h.code for h in NotationProgram(program(wrong), rig).errors], ["missing-time"], wrong)

    def test_steppers_drive(self):
        wheel = {"kind": "stepper", "physics": {"slew": "600 deg/s", "step": "1.8 deg"}}
        parts = {"left": {**wheel, "port": "M1"}, "right": {**wheel, "port": "M2"}}
        rig = rig_from_json({**SMALL, "parts": {**SMALL["parts"], **parts}})
        ran = run("drive at 12 cm/s for 30 cm\nwait 0.5 s\nleft at 360 deg/s for 2 s", rig)
        self.assertAlmostEqual(ran.readings["right.angle"].values[-1], 30 / (6.5 * math.pi) * 360, delta=2 * 1.8)
        made = ran.readings["left.angle"].values[-1] - ran.readings["right.angle"].values[-1]
        self.assertAlmostEqual(made, 720, delta=4 * 1.8)
        self.assertAlmostEqual(ran.pose.values[260, 0] - 0.5, 0.30, 2)
