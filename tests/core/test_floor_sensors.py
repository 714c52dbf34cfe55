"""What sensors read on a floor, wherever they are mounted: against closed forms and laws."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.checks.judge import judge
from geduld.grading.exercise import good_checks
from geduld.readers.notation import runner_for
from geduld.worlds.floor.simulation import Simulation
from geduld.worlds.trace_csv import trace_from_csv
from tests.core.test_floor import place, robot
from tests.glasshouse import program

AXLE = 500.0
WALL = [{"from": ["600 cm", "0 cm"], "to": ["600 cm", "1000 cm"]}]
AHEAD, DEGREES = st.integers(-30, 30), st.integers(-30, 30)


def start(heading=0):
    return {"at": [f"{AXLE} cm", f"{AXLE} cm"], "heading": f"{heading} deg"}


def mounted(kind, ahead, left, unit=None, greatest=None, **physics):
    """The small robot whose analogue port has such a sensor."""
    part = {"kind": kind, "port": "A2", "physics": {"ahead": f"{ahead} cm", "left": f"{left} cm", **physics}}
    part |= {"unit": unit} if unit else {}
    part |= {"greatest": greatest} if greatest else {}
    return robot(knob=part | {"raw": [0, 1]})


def where(heading, ahead, left):
    """The middle of a sensor, in cm: `ahead` along the heading from the axle's middle, `left` to the left of it."""
    along, across = math.cos(math.radians(heading)), math.sin(math.radians(heading))
    return AXLE + ahead * along - left * across, AXLE + ahead * across + left * along


def reads(rig, floor, seconds=0.001, **options):
    """The mounted sensor's readings at rest."""
    world = Simulation(rig, floor, end=round(seconds * 1e6), **options)
    world.go(world.end)
    return world.trace().channels["knob"]


class Mounts(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
    @given(AHEAD, AHEAD, DEGREES, DEGREES)
    def test_a_range_sensor_looks_from_where_it_is_to_where_it_faces(self, ahead, left, heading, facing):
        rig = mounted("range", ahead, left, "cm", "400 cm", facing=f"{facing} deg", cone="0 deg")
        x, _ = where(heading, ahead, left)
        expected = (600 - x) / math.cos(math.radians(heading + facing))
        self.assertAlmostEqual(reads(rig, place(walls=WALL, start=start(heading)))[0], expected, places=8)

    @settings(max_examples=80, deadline=None)
    @given(AHEAD, AHEAD, st.integers(-180, 180), st.integers(380, 620), st.integers(380, 620))
    def test_a_light_sensor_without_a_facing_takes_light_from_everywhere(self, ahead, left, heading, lamp_x, lamp_y):
        rig = mounted("light", ahead, left, "lx")
        x, y = where(heading, ahead, left)
        lamps = [{"at": [f"{lamp_x} cm", f"{lamp_y} cm"], "height": "40 cm", "light": "500 lx"}]
        expected = 25 + 500 / (((x - lamp_x) ** 2 + (y - lamp_y) ** 2) / 1e4 + 0.16)
        found = reads(rig, place(ambient="25 lx", lamps=lamps, start=start(heading)))[0]
        self.assertAlmostEqual(found, expected, places=8)

    @settings(max_examples=80, deadline=None)
    @given(AHEAD, AHEAD, st.integers(-180, 180), st.integers(0, 359), st.sampled_from([0.0, 3.0, 4.0, 5.0, 6.0, 9.0]))
    def test_a_ground_probe_sees_what_is_under_its_spot(self, ahead, left, heading, towards, away):
        rig = mounted("tone", ahead, left, spot="1 cm")
        x, y = where(heading, ahead, left)
        at = [x + away * math.cos(math.radians(towards)), y + away * math.sin(math.radians(towards))]
        tones = [{"at": [f"{value:.6f} cm" for value in at], "radius": "5 cm", "tone": "10 %"}]
        found = reads(rig, place(tone="80 %", tones=tones, start=start(heading)))[0]
        if away <= 4:
            self.assertAlmostEqual(found, 10, places=6)
        elif away >= 6:
            self.assertAlmostEqual(found, 80, places=6)
        else:
            self.assertTrue(25 < found < 65, "an edge under the middle of the spot is something between")

    def test_no_echo_from_too_far_and_the_nearest_of_a_cone(self):
        for greatest, seen in (("90 cm", False), ("110 cm", True)):
            rig = mounted("range", 0, 0, "cm", greatest, cone="0 deg")
            self.assertEqual(not math.isnan(reads(rig, place(walls=WALL, start=start()))[0]), seen, greatest)
        post = [{"at": ["560 cm", "506 cm"], "radius": "1 cm", "name": "post"}]
        found = {
            cone: reads(
                mounted("range", 0, 0, "cm", "400 cm", cone=f"{cone} deg"),
                place(obstacles=post, walls=WALL, start=start()),
            )[0]
            for cone in (0, 24)
        }
        self.assertAlmostEqual(found[0], 100, places=8)
        self.assertLess(found[24], 62, "the post stands beside the middle of the cone")


class Samples(unittest.TestCase):
    def test_a_slow_sensor_keeps_its_value_between_its_samples(self):
        rig = mounted("range", 0, 0, "cm", "400 cm", cone="0 deg", period="50 ms")
        world = Simulation(rig, place(walls=WALL, start=start()), end=1_000_000)
        for wheel in ("left", "right"):
            world.command(wheel, 40.0, 0)
        world.go(world.end)
        trace = world.trace()
        changes = trace.times[1:][np.diff(trace.channels["knob"]) != 0]
        self.assertEqual((changes % 50_000).tolist(), [0] * len(changes))
        self.assertGreater(len(changes), 15)

    def test_resolution_and_noise(self):
        exact = mounted("range", 3, 0, "cm", "400 cm", cone="0 deg")
        coarse = mounted("range", 3, 0, "cm", "400 cm", cone="0 deg", resolution="2.5 cm")
        floor = place(walls=WALL, start=start(7))
        fine, rough = reads(exact, floor)[0], reads(coarse, floor)[0]
        self.assertAlmostEqual(rough / 2.5, round(rough / 2.5), places=9)
        self.assertLessEqual(abs(fine - rough), 1.25)
        noisy = mounted("range", 3, 0, "cm", "400 cm", cone="0 deg", noise="1.5 cm")
        one, again, other = (reads(noisy, floor, 20, seed=seed) for seed in (4, 4, 5))
        np.testing.assert_array_equal(one, again)
        self.assertFalse(np.array_equal(one, other))
        self.assertAlmostEqual(one.mean(), fine, delta=0.15)
        self.assertAlmostEqual(one.std(), 1.5, delta=0.15)
        self.assertEqual(len(set(reads(noisy, floor, 20).tolist())), 1, "without a seed there is no noise")


if __name__ == "__main__":
    unittest.main()


HUES = st.integers(0, 359)


class Colour(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(HUES, HUES, st.integers(495, 515), st.integers(0, 2**31))
    def test_a_hue_is_the_mean_direction_of_the_painted_spot(self, left_hue, right_hue, edge, seed):
        """Left of an edge one paint, right of it another: the mean of a circle's two segments as unit vectors."""
        paints = [
            {"hue": f"{hue} deg", "corners": [[f"{x} cm", "0 cm"], [f"{y} cm", "0 cm"], [f"{y} cm", "1000 cm"],
                                              [f"{x} cm", "1000 cm"]]}
            for hue, x, y in ((left_hue, 0, edge), (right_hue, edge, 1000))
        ]  # fmt: skip
        found = reads(mounted("colour", 0, 0, spot="5 cm"), place(paints=paints, start=start()))[0]
        depth = min(max(edge - AXLE, -5.0), 5.0)
        share = (math.acos(-depth / 5) - (-depth / 5) * math.sqrt(1 - (depth / 5) ** 2)) / math.pi
        vector = sum(part * np.exp(1j * math.radians(hue)) for part, hue in ((share, left_hue), (1 - share, right_hue)))
        if abs(vector) > 0.3:
            apart = abs((found - math.degrees(np.angle(vector)) + 180) % 360 - 180)
            self.assertLess(apart, 12, "61 points stand for the spot")
        noisy = reads(mounted("colour", 0, 0, noise="40 deg"), place(paints=paints, start=start()), 0.2, seed=seed)
        self.assertTrue(((noisy >= 0) & (noisy < 360)).all())
        bare = place(paints=paints[:1], start={"at": ["540 cm", "500 cm"]})
        self.assertTrue(math.isnan(reads(mounted("colour", 0, 0), bare)[0]), "bare ground has no hue")

    @settings(max_examples=60, deadline=None)
    @given(st.lists(HUES, min_size=3, max_size=9), HUES, st.integers(0, 179), HUES)
    def test_a_tolerance_and_a_band_go_round_the_circle(self, hues, wanted, around, high):
        rig = mounted("colour", 0, 0)
        trace = trace_from_csv(
            "\n".join(
                ["time [s],knob [deg]", *(f"{k / 10},{hue - 360 * (k % 2)}" for k, hue in enumerate(hues))]
            ).encode(),
            rig,
        )
        truths = {
            f"knob = {wanted} deg +- {around} deg": [abs((h - wanted + 180) % 360 - 180) <= around for h in hues],
            f"knob between {wanted} deg and {high} deg": [
                wanted <= h <= high if wanted <= high else h >= wanted or h <= high for h in hues
            ],
        }
        for condition, truth in truths.items():
            record = runner_for(program(f"wait until {condition}"), rig).run(trace)
            came = next((round(k * 1e5) for k, holds in enumerate(truth) if holds), None)
            self.assertEqual(record.ended_at if record.why == "finished" else None, came, condition)
            check = good_checks(f'check "A", 1 point:\n    always {condition}\n', rig).checks[0]
            self.assertEqual(judge(check, record).verdict == "pass", all(truth), condition)
