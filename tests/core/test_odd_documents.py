"""Documents with one odd value: refused with its place, or taken and usable."""

import json
import random
import unittest

from geduld.checks.judge import judge_all
from geduld.errors import GeduldError, InputError
from geduld.grading.exercise import read_exercise
from geduld.readers.notation import runner_for
from geduld.rig.reader import rig_from_json, rig_from_text
from geduld.run.record.as_json import record_from_text, record_to_json
from geduld.run.world import FloorWorld, TraceWorld
from geduld.worlds.floor.reader import floor_from_json, floor_from_text
from geduld.worlds.recording import read_trace
from tests.glasshouse import DEMO, EXERCISE, cart, program
from tests.odd import ODD, places, with_odd

DRIVE = program("drive at 40 % until nose is pressed, patience 1 s\nstop drive")


class OddDocuments(unittest.TestCase):
    def each(self, document, count):
        """The document with odd values, `count` of them at each of its places."""
        chance = random.Random(5)
        for place in places(document):
            for odd in chance.sample(ODD, count):
                yield place, odd, with_odd(document, place, odd)

    def refused(self, read, changed, place):
        """Whether it is refused, by an error that says what to do and where: at the place, around it, or at what it broke."""
        try:
            read(changed)
        except InputError as problem:
            self.assertTrue(problem.message and (problem.place.path or problem.place.row), (place, problem))
            return True
        return False

    def test_rigs(self):
        for name, place in (("glasshouse-cart", "north-aisle"), ("seed-hoist", "potting-bench")):
            self.odd_rigs(name, place)

    def odd_rigs(self, name, place):
        document = json.loads((DEMO / "rigs" / f"{name}.json").read_text())
        steps = program("hoist at 40 % for 0.2 s") if name == "seed-hoist" else DRIVE
        floor, drove = floor_from_json(json.loads((DEMO / "floors" / f"{place}.json").read_text())), 0
        for place, odd, changed in self.each(document, 4):
            with self.subTest(place=place, odd=repr(odd)[:60]):
                if self.refused(rig_from_json, changed, place):
                    continue
                rig = rig_from_json(changed)
                try:
                    runner = runner_for(steps, rig)
                    FloorWorld(floor, rig, limit_us=300_000).run(runner, steps)
                    drove += 1
                except GeduldError as problem:
                    self.assertTrue(problem.message)
        self.assertGreater(drove, 20, "some odd values are as good as others")

    def test_floors(self):
        drove = 0
        hoist = rig_from_json(json.loads((DEMO / "rigs" / "seed-hoist.json").read_text()))
        rigs = {"north-aisle": (cart(), DRIVE), "shade-house": (cart(), DRIVE)}
        rigs["potting-bench"] = hoist, program("hoist at 40 % for 0.2 s")
        for name, (rig, steps) in rigs.items():
            runner = runner_for(steps, rig)
            document = json.loads((DEMO / "floors" / f"{name}.json").read_text())
            for place, odd, changed in self.each(document, 3):
                with self.subTest(name, place=place, odd=repr(odd)[:60]):
                    if self.refused(floor_from_json, changed, place):
                        continue
                    try:
                        FloorWorld(floor_from_json(changed), rig, limit_us=300_000).run(runner, steps)
                        drove += 1
                    except GeduldError as problem:
                        self.assertTrue(problem.message)
        self.assertGreater(drove, 20)

    def test_records(self):
        rig = cart()
        world = TraceWorld(read_trace(DEMO / "traces" / "dry-day.csv", rig), rig, limit_us=1_000_000)
        checks = read_exercise(EXERCISE).checks.checks
        document = record_to_json(world.run(runner_for(DRIVE, rig), DRIVE)[0])
        for place, odd, changed in self.each(document | {"rig": document["rig"]}, 1):
            if place[0] == "rig":
                continue
            with self.subTest(place=place, odd=repr(odd)[:60]):
                try:
                    again = record_from_text(json.dumps(changed))
                    record_to_json(again)
                    judge_all(checks, again, again)
                except InputError as problem:
                    self.assertTrue(problem.message)

    def test_half_a_character_is_none(self):
        for read in (rig_from_text, floor_from_text):
            with self.assertRaises(InputError) as caught:
                read('{"geduld": "rig/1", "name": "\\ud800"}')
            self.assertEqual(caught.exception.code, "not-json")


if __name__ == "__main__":
    unittest.main()
