"""The runner against a plain one, and its bounds."""

import math
import time
import unittest
from contextlib import nullcontext
from dataclasses import dataclass, fields, replace

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from benchmarks.hostile import PROGRAMS, hour, outcome
from geduld.binding import terms
from geduld.language.formatter import format_plan
from geduld.language.quantities import text_code
from geduld.readers.notation import NotationProgram
from geduld.run.program.program import BoundProgram
from geduld.run.record.journal import LEAST_EVENTS
from geduld.run.runner import Runner
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.floor.simulation import Simulation
from geduld.worlds.inputs import inputs_from_csv
from geduld.worlds.trace import Trace
from tests.core.plain_runner import PlainRunner
from tests.core.plans import plans, sides
from tests.glasshouse import cart, changes, program, run, small_rig, soon_ended, trace

READINGS = st.one_of(st.sampled_from([0.0, 40.0, 12.5, 3.0, math.nan]), st.integers(-20, 120).map(float))
TURNS = st.sampled_from([0.0, 12.0, 90.0, -7.0])


@st.composite
def traces(draw):
    count = draw(st.integers(2, 12))
    gaps = draw(st.lists(st.sampled_from([1, 10_000, 70_000, 333_333]), min_size=count, max_size=count))
    times = np.cumsum(gaps).astype(np.int64) - (gaps[0] if draw(st.booleans()) else 0)
    column = st.lists(READINGS, min_size=count, max_size=count).map(np.array)
    contact = st.lists(st.sampled_from([0.0, 1.0, 1.0, math.nan]), min_size=count, max_size=count).map(np.array)
    channels = {"range": draw(column), "knob": draw(column), "nose": draw(contact)}
    said = st.sampled_from([text_code("go"), text_code("stop"), math.nan])
    channels["radio"] = draw(st.lists(said, min_size=count, max_size=count).map(np.array))
    for name in draw(st.sampled_from([(), (), ("left.angle",), ("left.angle", "right.angle")])):
        channels[name] = np.cumsum(draw(st.lists(TURNS, min_size=count, max_size=count).map(np.array)))
    return Trace(times, channels if draw(st.integers(0, 9)) else {"range": channels["range"]})


class AgainstThePlainRunner(unittest.TestCase):
    """Two runners that share no code: the real one must say the same, bit for bit."""

    def assert_same(self, plan, world):
        rig = small_rig()
        bound = NotationProgram(format_plan(plan), rig).bound
        assume(bound.good)
        record = Runner(BoundProgram(bound, rig)).run(world)
        assume(not record.hit_limit)  # the plain runner has no limits
        plain = PlainRunner(bound, rig, world.from_the_start, record.lasted)
        self.assertEqual((record.why, record.ended_at), (plain.why, plain.ended_at))
        # lanes write down their bars and events as they end; of one lane the order counts
        several = any(isinstance(step, terms.Side) for step, _ in terms.walk_steps(bound.steps))
        order = sorted if several else list
        bars = [(b.line, b.start, b.stop, b.state, b.lane) for b in record.program]
        self.assertEqual(order(bars), order(plain.bars))
        self.assertEqual(order((e.tick, e.kind, e.line) for e in record.events), order(plain.events))
        controls = {name: entries for name, entries in plain.controls.items() if entries != [(0, 0)]}
        self.assertEqual(
            {name: list(zip(s.times.tolist(), s.values.tolist(), strict=True)) for name, s in record.controls.items()},
            controls,
        )
        for name, entries in plain.commands.items():
            np.testing.assert_array_equal(np.array(changes(record, name)), np.array(entries))

    @settings(max_examples=250, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans(), traces())
    def test_every_program_makes_the_same_record(self, plan, world):
        self.assert_same(plan, world)

    @settings(max_examples=120, deadline=None, suppress_health_check=list(HealthCheck))
    @given(plans(body=sides()), traces())
    def test_every_program_with_lanes_makes_the_same_record(self, plan, world):
        self.assert_same(plan, world)

    def test_the_plain_runner_refuses_what_it_does_not_know(self):
        @dataclass
        class Unheard:
            line: int = 1

        bound = NotationProgram(program("wait 1 s"), small_rig()).bound
        for step in (Unheard(), terms.Assign(1, 0, terms.Pose("x"))):
            with self.assertRaises(TypeError):
                PlainRunner(replace(bound, steps=(step,)), small_rig(), trace(nose=[0, 0]), 1)


def on_a_floor(runner):
    """A second on an empty floor while a hand turns the knob."""
    place = floor_from_json({"geduld": "floor/1", "name": "a", "size": ["2 m", "2 m"], "start": {"at": ["1 m", "1 m"]}})
    hands = inputs_from_csv(b"time [s],knob [%]\n0,80\n0.09,20\n0.2,70\n0.31,20\n", small_rig(), [])
    return runner.run_on(Simulation(small_rig(), place, hands, None, 1_000_000))


class Bounds(unittest.TestCase):
    def test_hostile_programs_end_with_the_limit_named(self):
        expected = {
            "a loop that never waits": "ended by time",
            "a loop of endless inner loops": "ended by time",
            "waits of a microsecond": "The program took more steps",
            "awaiting what is so already": "The program took more steps",
            "awaiting with a patience": "The program made more events",
            "awaiting a timer": "The program took more steps",
            "awaiting values that change": "The program took more steps",
            "following itself": "ended by time",
            "a ramp in a microsecond, for ever": "The program took more steps",
            "events without end": "The program made more events",
            "messages without end": "The program made more events",
            "a thousand lanes that never rest": "too-long",
            "sixty-four lanes that never rest": "The program took more steps",
            "sixty-three lanes that read one": "The program took more steps",
            "guards that call out at once": "ended by time",
            "squares of squares": "ended by time",
            "a wait without end": "ended by time",
            "14 loops deep": "ended by time",
            "14 guards deep": "ended by finished",
            "20 loops deep": "too-deep",
            "ten thousand lanes": "text-too-long",
            "a million brackets": "text-too-long",
            "180,000 brackets": "too-deep",
            "a long sum": "too-deep",
            "routines in routines": "too-long",
            "a routine in itself": "routine-circle",
            "names in names": "too-long",
            "5,000 lines": "too-long",
            "a number of 900 digits": "number-too-large",
            "NUL bytes": "invisible-character",
            "characters that turn text round": "invisible-character",
            "UTF-16": "not-utf8",
            "any bytes": "not-utf8",
            "nothing": "no-begin",
        }
        self.assertEqual(list(PROGRAMS), list(expected))
        rig = cart()
        world = hour(rig)
        for name, said in expected.items():
            with self.subTest(name), nullcontext() if name == "waits of a microsecond" else soon_ended():
                start = time.process_time()
                found = outcome(PROGRAMS[name], rig, world)
                self.assertTrue(found.startswith(said), found)
                self.assertLess(time.process_time() - start, 30, "a hang, however slow the machine")
        minute = run(program('repeat:\n    note "a"\n    note "b"'), trace(nose=[0] * 601))
        notes = sum(event.kind == "note" for event in minute.events)
        self.assertEqual(notes, LEAST_EVENTS + 600)

    def test_nothing_of_the_text_reaches_python(self):
        names = ["__import__", "exec", "c0", "put", "now", "_ticks", "nan", "lane"]
        steps = "\n".join(f"set {name} to 7" for name in names) + "\nwait exec * 1 s"
        bound = NotationProgram(program(steps + '\nnote "\'); raise SystemExit"'), small_rig()).bound
        runner = Runner(BoundProgram(bound, small_rig()))
        self.assertEqual(runner.run(trace(nose=[0] * 100)).ended_at, 7_000_000)
        source = runner.program.recorded.source
        self.assertFalse([word for word in ("__import__", "exec", "SystemExit") if word in source])

    def test_a_pass_that_is_cut_short_takes_its_time(self):
        """`leave` in the lines named is made to go on with the next pass; beside it the same with if and otherwise."""
        many = "repeat 3 times"
        rows = (
            (f"{many}:\n    if knob > 50 %:\n        leave\n    note \"x\"", (5,),
             f"{many}:\n    if knob <= 50 %:\n        note \"x\""),
            ("repeat:\n    if knob > 50 %:\n        leave\n    if range < 20 cm:\n        leave\n    lamp at 40 %", (5,),
             "repeat:\n    if knob <= 50 %:\n        if range < 20 cm:\n            leave\n        lamp at 40 %"),
            (f"repeat until range < 20 cm:\n    {many}:\n        if knob > 50 %:\n            leave\n        lamp at 10 %\n"
             "        wait 30 ms\n    if knob > 60 %:\n        leave\n    set n to n + 1", (6, 10),
             f"repeat until range < 20 cm:\n    {many}:\n        if knob <= 50 %:\n            lamp at 10 %\n"
             "            wait 30 ms\n    if knob <= 60 %:\n        set n to n + 1"),
        )  # fmt: skip

        def cut_short(item, lines):
            if isinstance(item, tuple):
                return tuple(cut_short(inner, lines) for inner in item)
            if isinstance(item, terms.Leave) and item.line in lines:
                return terms.Continue(item.line)
            if not isinstance(item, terms.Step):
                return item
            return replace(item, **{field.name: cut_short(getattr(item, field.name), lines) for field in fields(item)})

        rig = small_rig()
        chance = np.random.default_rng(5)
        for text, lines, other in rows:
            start = "set n to 0\n"
            bound = NotationProgram(program(start + text), rig).bound
            short = Runner(BoundProgram(replace(bound, steps=cut_short(bound.steps, [n + 1 for n in lines])), rig))
            plain = Runner(NotationProgram(program(start + other), rig))
            self.assertIn("for _ in (0,):", short.program.recorded.source)
            for _ in range(20):
                count = 60
                knob, gap = chance.choice([20.0, 55.0, 80.0], count), chance.choice([15.0, 50.0, 60.0, 70.0], count)
                world = Trace(np.arange(count, dtype=np.int64) * 20_000, {"knob": knob, "range": gap})
                for way in ("recorded", "feedback"):
                    runs = (runner.run(world) if way == "recorded" else on_a_floor(runner) for runner in (short, plain))
                    found, wanted = runs
                    self.assertEqual((found.why, found.ended_at), (wanted.why, wanted.ended_at), text)
                    self.assertEqual(changes(found, "lamp"), changes(wanted, "lamp"), text)
                    self.assertEqual([e.tick for e in found.events], [e.tick for e in wanted.events], text)

    def test_limit_loop_pass_and_stop_at_the_end(self):
        world = trace(nose=[0] * 101)
        self.assertEqual(run(program("wait 20 s"), world, limit_us=3_000_000).lasted, 3_000_000)
        from geduld.rig.reader import rig_from_json
        from tests.glasshouse import SMALL

        slow = rig_from_json({**SMALL, "loop": "250 ms", "at_end": "stop"})
        record = run(program("drive at 30 %\nrepeat 4 times:\n    set n to 1"), world, slow)
        self.assertEqual(record.ended_at, 1_000_000)
        self.assertEqual(changes(record, "left"), [(0, 30.0), (1_000_000, 0.0)])

    def test_trust_ends_where_the_program_leaves_the_recording(self):
        world = trace(left=[0] * 10 + [45] * 30, right=[0] * 10 + [45] * 30, range=[50] * 40, knob=[50] * 40)
        same = run(program("wait 1.1 s\ndrive at 45 %"), world)
        self.assertEqual(dict(same.trust), {}, "a difference shorter than 0.2 s does not count")
        other = run(program("wait 2 s\ndrive at 45 %"), world)
        self.assertEqual(dict(other.trust), {"range": 1_000_000}, "the knob follows the hand")
        self.assertEqual(dict(run(program("wait 1 s"), trace(range=[5] * 9)).trust), {})
