"""Programs that nest everything in everything, through routines, lets and formulas: they run, or a message says why not."""

import time
import unittest

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from geduld.errors import ProgramError
from geduld.hints.about import hints_in_a_world
from geduld.readers.notation import NotationProgram, runner_for
from geduld.run.world import TraceWorld
from tests.glasshouse import program, small_rig, trace, yard

WORLDS = (
    TraceWorld(trace(nose=[0] * 9 + [1] * 6, range=[30] * 15, knob=[40] * 15), small_rig()),
    yard(limit_us=400_000),
)
# each holds another step in its place
AROUND = [
    "repeat 2 times:\n    {}",
    "repeat until clock > 0.2 s:\n    {}\n    left at 9 %",
    "repeat while nose is released:\n    {}\n    wait 30 ms",
    "do:\n    {}\nunless nose is pressed:\n    wait 20 ms",
    "do:\n    wait 20 ms\nunless clock > 10 ms:\n    {}",
    "if nose is pressed:\n    wait 10 ms\nelse:\n    {}",
    "by range:\n    under 20 cm: wait 10 ms\n    over 20 cm:\n        {}",
    "by range:\n    under 20 cm: wait 10 ms\n    over 20 cm: wait 20 ms\n    absent:\n        {}",
    "side by side:\n    lane a:\n        {}\n    lane b:\n        wait 20 ms",
    "wait until nose is pressed, patience 10 ms\n    otherwise:\n        {}",
    "{}",
]
INSIDE = ["wait 10 ms", "left at 9 % for 10 ms", "leave", "set n to 1", "left follows knob for 20 ms", "finish"]
VALUES = [
    "abs({})",
    "({} + 1 %)",
    "min({}, knob)",
    "-{}",
    "scale({}, from 0 % to 100 %, to 0 % to 100 %)",
    "clamp({}, 0 %, 9 %)",
]


def deep(found, most):
    """Some of these in a row, as often many as few."""
    return st.integers(0, most).flatmap(lambda count: st.lists(st.sampled_from(found), min_size=count, max_size=count))


def inside(outer, inner):
    """The inner text in the place of the outer one, indented as the place is."""
    head, _, tail = outer.partition("{}")
    gap = head[head.rfind("\n") + 1 :]
    return head + inner.replace("\n", "\n" + gap) + tail


def chained(steps, last):
    """Routines of which each performs the one before inside its own block."""
    texts = [f"to r0:\n    {last}\n"]
    for k, step in enumerate(steps):
        body = inside(step, f"r{k}").replace("\n", "\n    ")
        texts.append(f"to r{k + 1}:\n    {body}\n")
    return program(f"r{len(steps)}", "".join(texts))


class Nested(unittest.TestCase):
    def assert_fair(self, text):
        """It runs in every world, or each error has a message; never anything else."""
        try:
            runner_for(text, small_rig())
        except ProgramError as problem:
            self.assertTrue(all(hint.message and hint.remedy for hint in problem.hints), text)
            return False
        for world in WORLDS:
            hints_in_a_world(NotationProgram(text, small_rig()), world)
        return True

    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(deep(AROUND, 40), st.sampled_from(INSIDE), st.booleans())
    def test_steps_in_steps(self, around, last, through_routines):
        if through_routines:
            self.assert_fair(chained(around, last))
            return
        text = last
        for outer in around:
            text = inside(outer, text)
        self.assert_fair(program(text))

    @settings(max_examples=50, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.lists(deep(VALUES, 40), max_size=12), st.booleans())
    def test_values_in_values(self, layers, formulas):
        lets = "let v0 = knob\n"
        for k, layer in enumerate(layers):
            text = "x" if formulas else f"v{k}"
            for outer in layer:
                text = outer.replace("{}", text)
            call = "x" if not k else f"f{k}({text})"
            lets += f"let f{k + 1}(x) = {call}\n" if formulas else f"let v{k + 1} = {text}\n"
        last = f"f{len(layers)}(knob)" if formulas and layers else f"v{0 if formulas else len(layers)}"
        self.assert_fair(program(f"left at {last} for 20 ms\nwait until {last} > 3 %, patience 20 ms", lets))

    def test_each_kind_of_block_as_deep_as_it_goes(self):
        for outer in AROUND:
            deepest = 0
            for depth in (8, 17, 18, 19, 20, 60, 900):
                start = time.process_time()
                if self.assert_fair(chained([outer] * depth, "wait 10 ms")):
                    deepest = depth
                self.assertLess(time.process_time() - start, 20, "a hang, however slow the machine")
            self.assertGreaterEqual(deepest, 17, outer)

    def test_long_times_and_chains_of_else(self):
        for steps in (
            "wait 1e309 us",
            "wait 1e302 s",
            "wait 1e300 s * 1e300",
            "repeat 1e300 * 1e300 times:\n    wait 1 s",
            "left at 1e309 % for 1 s",
            "if nose is pressed:\n    lamp on\n" + "else if nose is pressed:\n    lamp off\n" * 2000,
            "by range:\n    under 1 cm: wait 1 s\n"
            + "".join(f"    {k} to {k + 1} cm: wait 1 s\n" for k in range(1, 2000))
            + "    over 2000 cm: wait 1 s",
        ):
            with self.subTest(steps[:40]):
                self.assert_fair(program(steps))


class TwoMistakesOnALine(unittest.TestCase):
    def test_all_that_are_independent_are_said(self):
        for steps, said in (
            ("drive at 40 cn until rnge < 40 cm", ["unknown-unit", "unknown-name"]),
            ("lft at foo until bar < 40 cm", ["unknown-part", "unknown-name", "unknown-name"]),
            ("left at 40 cm until range < 40 s, held 3 cm", ["wrong-dimension"] * 3),
            ("wait until rnge < 4 cm and knb > 3 %, patience 2 cm", ["unknown-name"] * 2 + ["wrong-dimension"]),
            ("left at scale(foo, from bar to 4 %, to 1 % to baz)", ["unknown-name"] * 3),
            ("set begin to 40 cn", ["reserved-name", "unknown-unit"]),
            ("nozzle from 1 cm to 3 cm over 3 cm", ["wrong-dimension"] * 3),
            ("drive follows foo until nose is prssd, held 3 ss", ["unknown-name", "unknown-state", "unknown-unit"]),
            ("drive at 40 %", []),
            ("drive at 40 cn", ["unknown-unit"]),
        ):
            with self.subTest(steps):
                try:
                    runner_for(program(steps), small_rig())
                    found = []
                except ProgramError as problem:
                    found = [hint.code for hint in problem.hints if hint.line == 3]
                self.assertEqual(found, said)


if __name__ == "__main__":
    unittest.main()
