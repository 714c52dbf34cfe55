"""Laws of lanes and guards, and what damaged programs may do."""

import time
import unittest

from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from geduld.errors import ProgramError
from geduld.language import tree
from geduld.language.formatter import expression_text, format_plan
from geduld.readers.notation import runner_for
from geduld.run.world import TraceWorld
from tests.core.plans import blocks, conditions, plans
from tests.core.test_run import traces
from tests.glasshouse import changes, program, run, small_rig, soon_ended, trace, yard

CALM = settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))
AIM = tree.Block(
    (
        tree.Ramp("nozzle", tree.Number("20", "deg"), tree.Number("90", "deg"), tree.Number("70", "ms")),
        tree.Wait(tree.Until(tree.Is(tree.Name("nose"), "pressed"), patience=tree.Number("0.3", "s"))),
        tree.Action("nozzle", (tree.Number("10", "deg"),)),
        tree.Wait(tree.For(tree.Number("5", "ms"))),
    )
)
ENDLESS = tree.Block((tree.Wait(tree.For(tree.Number("1", "h"))),))


def whole(*steps):
    """A plan with what the random steps may name."""
    near = tree.Let("near", tree.Number("40", "cm"))
    half = tree.Let("half", tree.Binary("/", tree.Name("gap"), tree.Number("2")), parameters=("gap",))
    dock = tree.Routine("dock", ("pace", "close"), tree.Block((tree.Action("left", (tree.Name("pace"),)),)))
    first = tree.Set("n", tree.Number("5", "%"))
    header = (((), ""), ((), ""), ((), ""))
    return format_plan(
        tree.Plan("Test", "small", (near, half), tree.Block((first, tree.StartTimer("tea"), *steps)), (dock,), header)
    )


def result(text, world):
    try:
        record = runner_for(text, small_rig()).run(world)
    except ProgramError:
        assume(False)
    assume(not record.hit_limit)
    return record


class Lanes(unittest.TestCase):
    @CALM
    @given(blocks(2), traces())
    def test_lanes_that_share_nothing_do_what_they_do_alone(self, steps, world):
        """Two lanes side by side command what two programs would, each on its own."""
        together = whole(tree.Side((tree.Lane("a", steps), tree.Lane("b", AIM))))
        assume("finish" not in together)
        both = result(together, world)
        alone, aim = result(whole(*steps.steps), world), result(whole(*AIM.steps), world)
        for part in ("left", "right", "lamp"):
            self.assertEqual(str(changes(both, part)), str(changes(alone, part)))
        self.assertEqual(str(changes(both, "nozzle")), str(changes(aim, "nozzle")))
        bars = sorted((bar.start, bar.stop, bar.state) for bar in both.program if bar.lane != "b")
        self.assertEqual(bars, sorted((bar.start, bar.stop, bar.state) for bar in alone.program))
        self.assertEqual(both.ended_at, max(alone.ended_at, aim.ended_at))
        self.assertEqual(both.why, "time" if "time" in (alone.why, aim.why) else "finished")

    @CALM
    @given(blocks(1), conditions(1), traces())
    def test_a_guard_around_lanes_calls_all_of_them_out(self, steps, guard, world):
        """A guarded side by side leaves at the instant at which a guarded wait does, and goes on with the handler."""
        shown = tree.Block((tree.Note("called out"),))
        asked = expression_text(guard)
        assume("angle" not in asked and "speed" not in asked)  # those depend on what the lanes command
        plain = whole(tree.Do(ENDLESS, guard, shown))
        lanes = tree.Side((tree.Lane("a", tree.Block((*steps.steps, *ENDLESS.steps))), tree.Lane("b", ENDLESS)))
        text = whole(tree.Do(tree.Block((lanes,)), guard, shown))
        assume("finish" not in text and "set n" not in text.split("begin:")[1].replace("set n to 5 %", "", 1))
        alone, both = result(plain, world), result(text, world)
        self.assertEqual((both.ended_at, both.why), (alone.ended_at, alone.why))
        notes = [[event.tick for event in run.events if event.text == "called out"] for run in (both, alone)]
        self.assertEqual(notes[0], notes[1])

    def test_lanes_see_each_others_values_at_once(self):
        text = program(
            "set n to 0\nside by side:\n    lane a:\n        wait 0.5 s\n        set n to 1\n        wait 0.2 s\n        set n to 2\n"
            "    lane b:\n        wait until n = 1\n        lamp on\n        wait until n = 2, held 30 ms\n        lamp off\n"
            "    lane c:\n        do:\n            left at 30 % for 9 s\n        unless n = 2:\n            right at 20 %"
        )
        record = run(text, trace(nose=[0] * 50))
        self.assertEqual(changes(record, "lamp"), [(0, 0.0), (500_000, 100.0), (730_000, 0.0)])
        self.assertEqual(changes(record, "left"), [(0, 30.0), (700_000, 0.0)])
        self.assertEqual(changes(record, "right"), [(0, 0.0), (700_000, 20.0)])

    def test_lanes_that_begin_again_and_again_at_one_instant(self):
        """A lane may begin again where a wait of its place that was worked out anew still stands in the queue."""
        again = program(
            "set n to 0\nrepeat:\n    side by side:\n        lane a:\n            set seen to n\n            wait until n > seen or clock >= 1 s\n"
            "        lane b:\n            set n to n + 1\n            wait 0.01 s"
        )
        at_once = program(
            "repeat:\n    side by side:\n        lane a:\n            set n to 1\n        lane b:\n            lamp on"
        )
        for text in (again, at_once):
            runner = runner_for(text, small_rig())
            for world in (TraceWorld(trace(nose=[0] * 50), small_rig()), yard()):
                record = world.run(runner)[0]
                self.assertEqual((record.why, record.ended_at), ("time", record.lasted))

    def test_what_a_lane_sets_at_the_very_start_is_seen_and_followed(self):
        head = "set n to 10 %\nside by side:\n    lane a:\n        {}\n    lane b:\n        set n to 40 %\n        wait 3 s\n        set n to 20 %"
        world = trace(nose=[0] * 60)
        record = run(program(head.format("wait until n > 30 %\n        lamp on")), world)
        self.assertEqual(changes(record, "lamp"), [(0, 100.0)])
        record = run(program(head.format("left follows n for 4 s")), world)
        self.assertEqual(changes(record, "left"), [(0, 10.0), (100_000, 40.0), (3_000_000, 20.0), (4_000_000, 0.0)])
        floor = yard(limit_us=5_000_000).run(runner_for(program(head.format("left follows n for 4 s")), small_rig()))[0]
        self.assertEqual([level for _, level in changes(floor, "left")], [10.0, 40.0, 20.0, 0.0])

    def test_the_time_held_counts_from_when_another_lane_sets_a_value(self):
        text = program(
            "set n to 1\nside by side:\n    lane a:\n        wait 30 ms\n        set n to 2\n    lane b:\n        wait until n > 0, held 50 ms\n        lamp on"
        )
        runner = runner_for(text, small_rig())
        for world in (TraceWorld(trace(10_000, nose=[0] * 20), small_rig()), yard(limit_us=500_000)):
            self.assertEqual(changes(world.run(runner)[0], "lamp"), [(0, 0.0), (80_000, 100.0)])

    def test_a_loop_around_lanes_whose_pass_took_no_time(self):
        text = program(
            'repeat 3 times:\n    side by side:\n        lane a:\n            wait until nose is pressed\n        lane b:\n            note "pass"'
        )
        record = run(text, trace(nose=[1] * 9))
        self.assertEqual([event.tick for event in record.events], [0, 10_000, 20_000])
        self.assertEqual((record.why, record.ended_at), ("finished", 30_000))

    def test_what_lanes_cost_is_counted(self):
        """Sixty-four lanes that wait as a class would are let be; those that never rest are stopped."""
        head = "side by side:\n" + "".join(f"    lane a{k}:\n        repeat:\n            {{}}\n" for k in range(64))
        reading = "set n to 0\n" + head.replace(
            "a63:\n        repeat:\n            {}", "z:\n        repeat:\n            set n to n + 1"
        )
        minute = TraceWorld(trace(nose=[0] * 601), small_rig())

        def ended(text):
            return minute.run(runner_for(program(text), small_rig()))[0].why

        self.assertEqual(ended(head.replace("{}", "wait 100 ms")), "time")
        with soon_ended():
            self.assertEqual(ended(head.replace("{}", "wait 1 us")), "steps")
            self.assertEqual(ended(reading.replace("{}", "wait until n < 0")), "steps")

    def test_ten_thousand_lanes_and_routines_in_routines_end_with_a_message(self):
        many = "side by side:\n" + "".join(f"    lane a{k}:\n        wait 1 s\n" for k in range(10_000))
        doubling = "to a0:\n    wait 1 ms\n" + "".join(f"to a{k}:\n    a{k - 1}\n    a{k - 1}\n" for k in range(1, 40))
        for text, code in ((program(many), "text-too-long"), (program("a39", doubling), "too-long")):
            start = time.process_time()
            with self.assertRaises(ProgramError) as caught:
                runner_for(text, small_rig())
            self.assertIn(code, {hint.code for hint in caught.exception.hints})
            self.assertLess(time.process_time() - start, 2)


class Damage(unittest.TestCase):
    @CALM
    @given(plans(), traces(), st.data())
    def test_a_damaged_program_runs_or_says_why_it_does_not(self, plan, world, data):
        text = format_plan(plan)
        lines = text.split("\n")
        for _ in range(data.draw(st.integers(1, 3))):
            at = data.draw(st.integers(0, len(lines) - 1))
            change = data.draw(st.sampled_from(["drop", "double", "swap", "indent", "number"]))
            if change == "drop":
                lines.pop(at)
            elif change == "double":
                lines.insert(at, lines[at])
            elif change == "swap":
                other = data.draw(st.integers(0, len(lines) - 1))
                lines[at], lines[other] = lines[other], lines[at]
            elif change == "indent":
                lines[at] = "    " + lines[at]
            else:
                lines[at] = lines[at].replace("40", "1e300").replace("3", "0")
            lines = lines or [""]
        try:
            runner = runner_for("\n".join(lines), small_rig())
        except ProgramError as problem:
            self.assertTrue(all(hint.message and hint.line for hint in problem.hints))
            return
        record = runner.run(world)
        self.assertLessEqual(record.ended_at, record.lasted)
        for part in record.commands:
            ticks = [tick for tick, _ in changes(record, part)]
            self.assertEqual(ticks, sorted(set(ticks)))
            self.assertLessEqual(ticks[-1], record.lasted)
