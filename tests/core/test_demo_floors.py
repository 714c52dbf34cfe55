"""The demonstration's behaviours do on their floors what they are there to show."""

import math
import unittest

import numpy as np

from geduld.readers.notation import runner_for
from tests.glasshouse import DEMO, cart, garden_moves, on_floors


def mark(world, name):
    return next(mark.at for mark in world.floor.marks if mark.name == name)


class OnTheFloor(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.worlds = on_floors()

    def ride(self, name):
        world = self.worlds[name]
        text = (DEMO / "behaviours" / f"{name}.geduld").read_text()
        record, trace = world.run(runner_for(text, cart(), garden_moves()), text)
        self.assertFalse(record.hit_limit)
        return world, record, trace

    def kinds(self, record):
        return [event.kind for event in record.events]

    def away(self, record, point):
        return math.dist(record.pose.values[-1, :2] * 100, point)

    def test_docking_slows_down_touches_once_and_backs_off(self):
        world, record, trace = self.ride("dock-gently")
        self.assertEqual((record.said, self.kinds(record).count("contact")), ("watered", 1))
        touch = next(event for event in record.events if event.kind == "contact")
        barrel = next(thing for thing in world.floor.obstacles if thing.name == "barrel")
        self.assertAlmostEqual(
            math.dist(np.array(touch.at) * 100, barrel.shape.points[0]), barrel.shape.size, delta=0.05
        )
        self.assertEqual(record.commands["left"].at(touch.tick - 1), 14)
        self.assertGreater(np.nanmax(trace.channels["nose"]), 0)

    def test_dead_reckoned_rounds_come_back_near_their_start(self):
        for name, start, within in (("round-of-the-herb-bed", "A", 12), ("round-of-two-beds", "beds", 2)):
            world, record, _ = self.ride(name)
            self.assertNotIn("contact", self.kinds(record), name)
            self.assertLess(self.away(record, mark(world, start)), within, name)
            self.assertGreater(np.hypot(*np.diff(record.pose.values[:, :2], axis=0).T).sum(), 3.5, name)

    def test_a_timed_way_back_misses_on_gravel(self):
        _, record, _ = self.ride("back-to-the-mark")
        turned = record.pose.values[-1, 2]
        self.assertTrue(270 < turned < 335, f"timed on tiles, {turned:.0f} deg in place of 360 on gravel")

    def test_it_finds_the_lamp_and_the_end_of_the_line(self):
        world, record, trace = self.ride("towards-the-light")
        self.assertEqual(record.said, "under the lamp")
        self.assertLess(self.away(record, world.floor.lamps[0].at), 80)
        world, record, trace = self.ride("stay-on-the-line")
        self.assertLess(self.away(record, world.floor.tones[0].shape.points[-1]), 12)
        seen = trace.channels["ground"][200:3000]
        self.assertTrue(seen.min() > 20 and seen.max() < 80, "on the edge: neither black nor white all along")

    def test_after_each_bump_it_turns_away_from_the_touched_side(self):
        _, record, _ = self.ride("after-a-bump")
        events = [event for event in record.events if event.kind == "note"]
        self.assertEqual([event.text for event in events], ["six bumps"])
        turns = {bar.line: 0 for bar in record.program}
        for bar in record.program:
            turns[bar.line] += 1
        self.assertGreaterEqual(turns.get(12, 0) + turns.get(14, 0), 6)
        self.assertTrue(turns.get(12) and turns.get(14), "to the right and to the left, by what was touched")

    def test_hands_drive_and_dose(self):
        _, record, _ = self.ride("dose-by-knob")
        valve = record.commands["valve"]
        self.assertEqual([value for value in valve.values.tolist() if value], [20, 50, 90, 50], "no flicker in between")
        self.assertEqual(valve.values[-1], 0)
        for name in ("drive-by-radio", "drive-by-tilt"):
            _, record, _ = self.ride(name)
            self.assertGreater(self.away(record, (160, 150)), 15, name)
            self.assertEqual((record.commands["left"].values[-1], record.commands["right"].values[-1]), (0, 0), name)


if __name__ == "__main__":
    unittest.main()
