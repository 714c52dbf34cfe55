"""Why an output is so, and why a line did not run: held against runs whose course is known."""

import unittest
from dataclasses import replace

from hypothesis import HealthCheck, given, settings

from geduld.binding import terms
from geduld.language.formatter import format_plan
from geduld.readers.notation import NotationProgram
from geduld.run.program.program import BoundProgram
from geduld.run.runner import Runner
from geduld.run.world import TraceWorld
from geduld.why.line import why_not
from geduld.why.output import why_output
from tests.core.plans import plans
from tests.glasshouse import cart, program, trace

FALLS = [100 - 2 * k for k in range(50)]  # cm, a sample each 100 ms: under 40 cm at 3.1 s
WORLD = trace(range=FALLS, nose=[float(k > 45) for k in range(50)], knob=[50] * 50)


def told(steps, lets=""):
    text, rig = program(steps, lets), cart()
    read = NotationProgram(text, rig)
    assert read.good, read.hints
    world = TraceWorld(WORLD, rig)

    def run_of(block):
        return world.run(Runner(BoundProgram(replace(read.bound, steps=block), rig)), text)[0]

    def up_to(tick):
        return replace(world, limit_us=tick).run(Runner(read), text)[0]

    return text, read, world, run_of, up_to


OUTPUTS = [  # steps, output, at (s), line, since (s), what the sentence says; steps begin on line 3
    ("wait 1 s\nlamp on", "lamp", 0.5, 0, 0, "no line has set it"),
    ("wait 1 s\nlamp on", "lamp", 2, 4, 1, "Line 3 had gone on since 0 s; it was over after 1 s"),
    ("drive at 40 % until range < 40 cm", "left", 1, 3, 0, "where the program begins"),
    ("drive at 40 % until range < 40 cm", "left", 4, 3, 3.1, "Line 3 had waited since 0 s until range < 40 cm; then range was 38 cm"),
    ("wait until nose is pressed, held 200 ms\nvalve at 30 %", "valve", 4.95, 4, 4.8, "until nose is pressed, held 0.2 s; then nose was pressed"),
    ("left at 50 % until range < 2 cm, patience 2 s\n    otherwise:\n        lamp on", "lamp", 3, 5, 2, "its patience ran out: range < 2 cm had not come"),
    ("do:\n    drive at 40 % for 9 s\nunless range < 60 cm:\n    drive at -20 % for 1 s", "left", 2.5, 6, 2.1, "Line 4 had waited since 0 s when range < 60 cm came true; range was 58 cm"),
    ("side by side:\n    lane a:\n        wait 1 s\n        lamp on\n    lane b:\n        wait 1 s\n        left at 30 % for 2 s", "left", 1.5, 9, 1, "Line 8 had gone on since 0 s"),
    ("left follows range * 1 %/cm until range < 40 cm", "left", 2.05, 3, 2, "It goes on with what it reads: range was 60 cm"),
]  # fmt: skip

LINES = [  # steps, line, whether it ran, the line that kept it from that, what is said
    ("wait 1 s\nlamp on", 4, True, 4, "first at 1 s"),
    ("wait until range < 1 cm\nlamp on", 4, False, 3, "until range < 1 cm, and that did not come. The least range was 2 cm, at 4.9 s."),
    ("finish\nlamp on", 4, False, 3, "Line 3 ended the program at 0 s"),
    ("repeat:\n    lamp on for 1 s\nlamp off", 5, False, 3, "Line 3 still repeats"),
    ("if range > 200 cm:\n    lamp on", 4, False, 3, "Line 3 asks whether range > 200 cm, and no time it asked was that so. The greatest range was 100 cm, at 0 s."),
    ("if range > 2 cm:\n    lamp on\nelse:\n    lamp off", 6, False, 5, "each time something was"),
    ("do:\n    wait 1 s\nunless knob > 60 %:\n    lamp on", 6, False, 5, "Line 5 waits for knob > 60 %"),
    ("wait until range < 50 cm, patience 4 s\n    otherwise:\n        lamp on", 5, False, 3, "patience of line 3"),
    ("by range:\n    over 500 cm: lamp on\n    under 500 cm: lamp off", 4, False, 4, "another band"),
    ("if range > 200 cm:\n    if nose is pressed:\n        lamp on", 5, False, 3, "Line 3 asks whether range > 200 cm"),
    ("repeat 0 times:\n    lamp on", 4, False, 3, "not once"),
    ("lamp on", 1, False, 0, "no step"),
]  # fmt: skip


class Why(unittest.TestCase):
    def test_an_output_is_traced_to_the_line_and_to_what_that_waited_for(self):
        for steps, part, at, line, since, says in OUTPUTS:
            with self.subTest(steps=steps, at=at):
                text, read, world, _, up_to = told(steps)
                why = why_output(
                    world.run(Runner(read), text)[0], up_to, text, read.bound.steps, {}, part, round(at * 1e6)
                )
                self.assertEqual((why.line, why.tick), (line, round(since * 1e6)), why.because)
                self.assertIn(says, why.because)

    def test_what_kept_a_line_from_running_is_named(self):
        for steps, line, ran, kept_by, says in LINES:
            with self.subTest(steps=steps, line=line):
                text, read, _, run_of, _ = told(steps)
                found = why_not(run_of, text, read.bound.steps, line)
                self.assertEqual((found.ran, found.line), (ran, kept_by), found.because)
                self.assertIn(says, found.because)

    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans())
    def test_whatever_is_asked_of_any_program_is_answered_and_agrees_with_its_run(self, plan):
        rig, text = cart(), format_plan(plan)
        read = NotationProgram(text, rig)
        if not read.good:
            return
        world = TraceWorld(WORLD, rig)
        record = world.run(Runner(read), text)[0]
        for part in ("left", "lamp"):
            why = why_output(
                record,
                lambda tick: replace(world, limit_us=tick).run(Runner(read), text)[0],
                text,
                read.bound.steps,
                {},
                part,
                2_000_000,
            )
            self.assertTrue(why.because.startswith(part))
            self.assertLessEqual(why.tick, 2_000_000)
        seen = {bar.line for bar in record.program if bar.state == "waiting"}
        for line in sorted({step.line for step, _ in terms.walk_steps(read.bound.steps)})[:6]:
            found = why_not(
                lambda block: world.run(Runner(BoundProgram(replace(read.bound, steps=block), rig)), text)[0],
                text,
                read.bound.steps,
                line,
            )
            self.assertTrue(found.because)
            if line in seen:
                self.assertTrue(found.ran, found.because)
