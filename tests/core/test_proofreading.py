"""Proofreading: the planted mistakes, the harmless rewrites, and what both say of an exercise."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from geduld.grading.exercise import good_checks, read_exercise
from geduld.grading.mistakes import EMPTY, KINDS, plant
from geduld.grading.proofreading import prove
from geduld.grading.rewrites import rewrite
from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import rig_from_json
from geduld.run.program.program import BoundProgram
from geduld.run.runner import Runner
from tests.core.plans import plans
from tests.core.test_run import traces
from tests.glasshouse import DEMO, EXERCISE, SMALL, program, small_rig

RICH = """
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
"""
RICH = format_plan(parse(program(RICH)).tree)

CAREFUL = (DEMO / "dock-at-the-barrel-mended" / "checks.geduld").read_text()
# kind: line, what was done
PLANTED = {
    "threshold moved": [
        (4, "62 % became 43.4 %"),
        (4, "62 % became 86.8 %"),
        (8, "20 cm became 14 cm"),
        (8, "20 cm became 28 cm"),
        (8, "40 cm became 28 cm"),
        (8, "40 cm became 56 cm"),
    ],
    "comparison flipped": [
        (4, "knob > 62 % became knob < 62 %"),
        (16, "nose is pressed became nose is released"),
    ],
    "sides swapped": [
        (8, "left and right changed places"),
        (9, "it turns right in place of left"),
        (10, "right in place of left"),
    ],
    "one side missing": [
        (8, "only left is driven"),
        (8, "only right is driven"),
    ],
    "stop missing": [
        (8, "it keeps going behind the condition"),
        (11, "the stop was left out"),
    ],
    "time scaled": [
        (9, "0.5 s became 0.25 s"),
        (9, "0.5 s became 1 s"),
        (10, "1 s became 0.5 s"),
        (10, "1 s became 2 s"),
        (18, "1 s became 0.5 s"),
        (18, "1 s became 2 s"),
        (19, "1 s became 0.5 s"),
        (19, "1 s became 2 s"),
    ],
    "unit slipped": [
        (4, "50 ms became 50 s"),
        (4, "9 s became 9 ms"),
        (8, "20 cm became 20 mm"),
        (8, "40 cm became 40 mm"),
        (9, "0.5 s became 0.5 ms"),
        (10, "1 s became 1 ms"),
        (12, "2 cm became 2 mm"),
        (18, "1 s became 1 ms"),
        (19, "20 deg became 20 rev"),
        (19, "90 deg became 90 rev"),
        (19, "1 s became 1 ms"),
        (12, "40 cm became 40 mm"),
    ],
    "debounce removed": [
        (4, "held 50 ms was left out"),
    ],
    "band edge moved": [
        (12, "40 cm became 56 cm"),
        (12, "the slack was left out"),
    ],
    "order changed": [
        (4, "two steps changed places"),
        (7, "two steps changed places"),
        (11, "two steps changed places"),
        (12, "two steps changed places"),
        (16, "two steps changed places"),
        (8, "two steps changed places"),
        (9, "two steps changed places"),
        (17, "two steps changed places"),
    ],
    "loop missing": [
        (7, "its steps run once"),
        (7, "it repeats without end"),
    ],
    "patience missing": [
        (4, "patience 9 s was left out"),
    ],
    "step missing": [
        (4, "the step was left out"),
        (8, "the step was left out"),
        (9, "the step was left out"),
        (10, "the step was left out"),
        (17, "the step was left out"),
        (18, "the step was left out"),
        (19, "the step was left out"),
    ],
    "power changed": [
        (8, "60 % became 36 %"),
        (8, "50 % became 30 %"),
        (9, "30 % became 18 %"),
        (10, "40 % became 24 %"),
        (17, "50 % became 30 %"),
    ],
}


class Mistakes(unittest.TestCase):
    def test_every_kind_is_planted_and_every_text_can_be_read(self):
        planted, left_out = plant(parse(RICH).tree, small_rig())
        self.assertEqual(
            [(item.kind, item.line, item.why) for item in left_out],
            [("step missing", line, EMPTY) for line in (6, 13, 14, 15)],
        )
        for kind in KINDS:
            found = [(mistake.line, mistake.what) for mistake in planted if mistake.kind == kind]
            self.assertEqual(found, PLANTED[kind], kind)
        for mistake in planted:
            with self.subTest(mistake.kind, line=mistake.line, what=mistake.what):
                self.assertEqual(parse(mistake.text).hints, ())
                self.assertNotEqual(mistake.text, format_plan(parse(RICH).tree))
                self.assertTrue(1 <= mistake.line <= len(RICH.splitlines()) and mistake.what)
            before, after = RICH.splitlines(), mistake.text.splitlines()
            was, became, now = mistake.what.partition(" became ")
            if became and mistake.kind != "band edge moved" and "mm" not in now:
                # nothing but that number or comparison is another
                self.assertEqual(
                    [k + 1 for k, pair in enumerate(zip(before, after, strict=True)) if len(set(pair)) > 1],
                    [mistake.line],
                )
                pieces = before[mistake.line - 1].split(was)
                spots = [was.join(pieces[:k]) + now + was.join(pieces[k:]) for k in range(1, len(pieces))]
                self.assertIn(after[mistake.line - 1], spots)
            elif mistake.kind == "step missing":
                dropped = before[mistake.line - 1]
                self.assertEqual([line for line in before if line not in after][:1], [dropped])
        edge = next(mistake for mistake in planted if mistake.kind == "band edge moved")
        self.assertEqual(edge.text.count("56 cm"), 2, "an edge moves in both bands that share it")
        runner_for(edge.text, small_rig())

    @settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans(), traces(), st.data())
    def test_a_harmless_rewrite_does_the_same(self, plan, world, data):
        bound = NotationProgram(format_plan(plan), small_rig()).bound
        assume(bound.good)
        rewrites = rewrite(plan)
        assume(rewrites)
        other = data.draw(st.sampled_from(rewrites))
        again = NotationProgram(other.text, small_rig()).bound
        self.assertTrue(again.good, (other.what, other.text))
        record, same = (
            Runner(BoundProgram(bound, small_rig())).run(world),
            Runner(BoundProgram(again, small_rig())).run(world),
        )
        assume(not record.hit_limit)
        self.assertEqual((record.why, record.ended_at), (same.why, same.ended_at), other.text)
        for name, signal in record.commands.items():
            np.testing.assert_array_equal(signal.times, same.commands[name].times, name)
            np.testing.assert_array_equal(signal.values, same.commands[name].values, name)

    def test_the_drive_pair_is_what_the_rig_says_it_is(self):
        names = {"left": "port_wheel", "right": "starboard_wheel"}
        source = {**SMALL, "drive": {**SMALL["drive"], **names}}
        source["parts"] = {names.get(name, name): part for name, part in SMALL["parts"].items()}
        rig = rig_from_json(source)
        text = program("drive at 30 % for 1 s\ndrive at 10 %, 20 % for 1 s\nport_wheel at 5 % for 1 s")
        told = {}
        for mistake in plant(parse(text).tree, rig)[0]:
            told.setdefault(mistake.kind, []).append(mistake.what)
            runner_for(mistake.text, rig)
        alone = ["only port_wheel is driven", "only starboard_wheel is driven"]
        self.assertEqual(told["one side missing"], alone * 2)
        swapped = ["port_wheel and starboard_wheel changed places", "starboard_wheel in place of port_wheel"]
        self.assertEqual(told["sides swapped"], swapped)


class Proofs(unittest.TestCase):
    def test_the_demonstration_has_a_hole_and_its_mended_copy_has_none(self):
        told = []
        proof = prove(read_exercise(EXERCISE), lambda done, of: told.append((done, of)))
        self.assertEqual(
            told, [(done + 1, len(told)) for done in range(len(told))], "progress counts every program once"
        )
        self.assertEqual((len(proof.planted), proof.score), (27, 21 / 27))
        flipped = [item.also for item in proof.missed if item.mistake.kind == "comparison flipped"]
        self.assertEqual(flipped, [1], "two mistakes that do the very same count once")
        self.assertTrue(proof.reference_is_good and not proof.proves)
        missed = {item.mistake.kind for item in proof.missed}
        self.assertEqual(missed, {"threshold moved", "comparison flipped", "debounce removed", "power changed"})
        self.assertIn("go unnoticed, most of the kind power changed, such as in line 10", proof.sentence)
        self.assertIn("patience missing", {item.kind for item in proof.hidden}, "the barrel is always there")
        self.assertEqual([item.lost for item in proof.rewritten], [()] * 5)
        caught = next(item for item in proof.planted if item.mistake.kind == "stop missing")
        self.assertIn("Stops at the barrel", caught.caught_by)

        self.assertEqual(proof.no_place, ("sides swapped", "band edge moved", "loop missing"))
        (left,) = proof.left_out
        self.assertEqual((left.kind, left.line), ("step missing", 13))
        counted = len(proof.planted) + sum(item.also for item in proof.planted) + len(proof.hidden)
        self.assertEqual(told[-1][1], counted + len(proof.rewritten) + 1, "what is tried is counted")

        mended = prove(read_exercise(DEMO / "dock-at-the-barrel-mended"))
        self.assertTrue(mended.proves, mended.sentence)
        self.assertEqual(mended.score, 1)
        knock = next(item for item in mended.planted if item.mistake.kind == "debounce removed")
        self.assertIn("Waits for the knob", knock.caught_by)

    def test_a_check_that_nothing_exercises_and_one_that_is_unfair_are_named(self):
        def proof_of(checks):
            source = read_exercise(EXERCISE)
            return prove(replace(source, checks=good_checks(checks, source.rig), checks_text=checks))

        proof = proof_of('check "Shines", 1 point:\n    while lamp > 0 %, drive = 0 %\n')
        self.assertFalse(proof.proves)
        self.assertTrue(proof.sentence.startswith('The check "Shines" is exercised by no case'))
        proof = proof_of('check "Never stops", 1 point:\n    always drive > 0 %\n')
        self.assertTrue(proof.sentence.startswith('The check "Never stops" is fail for the reference itself'))
        proof = proof_of(CAREFUL + 'check "Named", 1 point:\n    program uses near\n')
        lost = {item.what: [mark.check for mark in item.lost] for item in proof.rewritten if item.lost}
        self.assertEqual(lost, {"other names": ["Named"]})
        wanted = 'The check "Named" takes points from a program that does the same (other names): '
        self.assertEqual(proof.sentence, wanted + 'The program does not use "near".')
        self.assertFalse(proof.proves)


if __name__ == "__main__":
    unittest.main()
