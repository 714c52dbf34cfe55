"""Proofreading: the planted mistakes, the harmless rewrites, and what both say of an exercise."""

import unittest

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from geduld.grading.exercise import good_checks, read_exercise, runner_for
from geduld.grading.mistakes import KINDS, plant
from geduld.grading.proofreading import prove
from geduld.grading.rewrites import rewrite
from geduld.hints.about import program_hints
from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.run.executor import Runner
from tests.core.plans import plans
from tests.core.test_run import traces
from tests.glasshouse import DEMO, EXERCISE, program, small_rig

RICH = program("""
wait until knob > 62 %, held 50 ms, patience 9 s
    otherwise:
        finish
repeat 3 times:
    drive at 60 %, 50 % until range between 20 cm and 40 cm
    turn left at 30 % for 0.5 s
    left at 40 % for 1 s
stop drive
by range, slack 2 cm:
    over 40 cm: lamp on
    under 40 cm: lamp off
    absent: lamp off
if nose is pressed:
    lamp at 50 %
    wait 1 s
nozzle from 20 deg to 90 deg over 1 s
""")


class Mistakes(unittest.TestCase):
    def test_every_kind_is_planted_and_every_text_can_be_read(self):
        planted = plant(parse(RICH).tree)
        self.assertEqual({mistake.kind for mistake in planted}, set(KINDS))
        self.assertGreaterEqual(len(KINDS), 12)
        for mistake in planted:
            with self.subTest(mistake.kind, line=mistake.line, what=mistake.what):
                self.assertEqual(parse(mistake.text).hints, ())
                self.assertNotEqual(mistake.text, format_plan(parse(RICH).tree))
                self.assertTrue(1 <= mistake.line <= len(RICH.splitlines()) and mistake.what)
        edge = next(mistake for mistake in planted if mistake.kind == "band edge moved")
        self.assertEqual(edge.text.count("56 cm"), 2, "an edge moves in both bands that share it")
        runner_for(edge.text, small_rig())

    @settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans(), traces(), st.data())
    def test_a_harmless_rewrite_does_the_same(self, plan, world, data):
        bound = program_hints(format_plan(plan), small_rig())[0]
        assume(bound.good)
        rewrites = rewrite(plan)
        assume(rewrites)
        other = data.draw(st.sampled_from(rewrites))
        again = program_hints(other.text, small_rig())[0]
        self.assertTrue(again.good, (other.what, other.text))
        record, same = Runner.of(bound, small_rig()).run(world), Runner.of(again, small_rig()).run(world)
        assume(not record.hit_limit)
        self.assertEqual((record.why, record.ended_at), (same.why, same.ended_at), other.text)
        for name, signal in record.commands.items():
            np.testing.assert_array_equal(signal.times, same.commands[name].times, name)
            np.testing.assert_array_equal(signal.values, same.commands[name].values, name)


class Proofs(unittest.TestCase):
    def test_the_demonstration_has_a_hole_and_its_mended_copy_has_none(self):
        proof = prove(read_exercise(EXERCISE))
        self.assertTrue(proof.reference_is_good and not proof.proves)
        missed = {item.mistake.kind for item in proof.missed}
        self.assertEqual(missed, {"threshold moved", "comparison flipped", "debounce removed", "power changed"})
        self.assertIn("go unnoticed, most of the kind power changed, such as in line 10", proof.sentence)
        self.assertIn("patience missing", {item.kind for item in proof.hidden}, "the barrel is always there")
        self.assertEqual([item.lost for item in proof.rewritten], [()] * 5)
        caught = next(item for item in proof.planted if item.mistake.kind == "stop missing")
        self.assertIn("Stops at the barrel", caught.caught_by)

        mended = prove(read_exercise(DEMO / "dock-at-the-barrel-mended"))
        self.assertTrue(mended.proves, mended.sentence)
        self.assertEqual(mended.score, 1)
        knock = next(item for item in mended.planted if item.mistake.kind == "debounce removed")
        self.assertIn("Waits for the knob", knock.caught_by)

    def test_a_check_that_nothing_exercises_and_one_that_is_unfair_are_named(self):
        def proof_of(checks):
            source = read_exercise(EXERCISE)
            return prove(
                type(source)(**{**vars(source), "checks": good_checks(checks, source.rig), "checks_text": checks})
            )

        proof = proof_of('check "Shines", 1 point:\n    while lamp > 0 %, drive = 0 %\n')
        self.assertFalse(proof.proves)
        self.assertTrue(proof.sentence.startswith('The check "Shines" is exercised by no case'))
        proof = proof_of('check "Never stops", 1 point:\n    always drive > 0 %\n')
        self.assertTrue(proof.sentence.startswith('The check "Never stops" is fail for the reference itself'))


if __name__ == "__main__":
    unittest.main()
