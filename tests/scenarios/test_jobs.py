"""The page of jobs: each behaviour passes its own checks, in the world that the page says, without a warning."""

import re
import unittest

from geduld.checks.judge import judge_all
from geduld.checks.printing import format_checks
from geduld.checks.reading import parse_checks
from geduld.grading.exercise import good_checks
from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import read_rig
from geduld.run.world import FloorWorld, TraceWorld, bare
from geduld.worlds.floor.reader import read_floor
from geduld.worlds.inputs import Inputs, inputs_from_csv
from tests.glasshouse import DEMO, ROOT

PLACE = re.compile(
    r"^(?:On the floor `(?P<floor>[a-z-]+)`(?: from mark (?P<mark>\w+))?|Nothing but time)(?: with the rig `(?P<rig>[a-z-]+)`)?"
    r", (?P<lasts>\d+) s",
    re.MULTILINE,
)


def jobs():
    """Each section of the page with a behaviour: its name, its world, its program and its checks."""
    for section in (ROOT / "docs" / "jobs.md").read_text().split("\n## ")[1:]:
        blocks = re.findall(r"```(\w+)\n(.*?)```", section, re.DOTALL)
        place = PLACE.search(section)
        if not blocks or place is None:
            continue
        rig = read_rig(DEMO / "rigs" / f"{place['rig'] or 'glasshouse-cart'}.json")
        program, checks = (text for kind, text in blocks if kind == "geduld")
        hands = next((inputs_from_csv(text.encode(), rig) for kind, text in blocks if kind == "csv"), Inputs())
        lasts = int(place["lasts"]) * 1_000_000
        world = TraceWorld(bare(rig, lasts), rig, hands)
        if place["floor"]:
            floor = read_floor(DEMO / "floors" / f"{place['floor']}.json")
            floor = floor.started_from(place["mark"]) if place["mark"] else floor
            world = FloorWorld(floor, rig, hands, None, lasts)
        yield section.partition("\n")[0], world, program, checks


class Jobs(unittest.TestCase):
    def test_each_behaviour_passes_its_checks(self):
        found = list(jobs())
        self.assertGreaterEqual(len(found), 14)
        for name, world, program, text in found:
            with self.subTest(name):
                self.assertEqual(format_plan(parse(program).tree), program)
                self.assertEqual(format_checks(parse_checks(text).tree), text)
                self.assertEqual(
                    [h.message for h in NotationProgram(program, world.rig).hints if h.level != "advice"], []
                )
                ran, _ = world.run(runner_for(program, world.rig), program)
                for verdict in judge_all(good_checks(text, world.rig).checks, ran, ran):
                    self.assertEqual(verdict.verdict, "pass", f"{verdict.title}: {verdict.because}")
