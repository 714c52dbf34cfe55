"""A trace by travel: whoever drives faster or slower meets the wall where the wall was."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.errors import TraceError
from geduld.readers.notation import runner_for
from geduld.run.record.as_csv import channels_csv
from geduld.run.world import TraceWorld, TravelWorld
from geduld.worlds.counting import COUNTED, Counter, counted
from geduld.worlds.inputs import inputs_from_csv
from geduld.worlds.kernel import layout
from geduld.worlds.kernel.advance import _derive
from geduld.worlds.recording import read_trace
from geduld.worlds.retraced import travelled
from geduld.worlds.trace_csv import trace_from_csv
from tests.glasshouse import DEMO, EXERCISE, cart, program, small_rig, trace

DOCK = "wait until knob > 62 %\ndrive at {pace} until nose is pressed\nlamp on"


class Counting(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(st.sampled_from(COUNTED), st.lists(st.sampled_from([0.0, 1.0, math.nan]), min_size=1, max_size=12))
    def test_all_worlds_count_alike(self, word, values):
        """The whole column at once, one sample after another, and the floor's kernel."""
        counter, line = Counter(word), np.array([layout.PRESSES + COUNTED.index(word), 0.0, 1.0, math.nan, 0.0])
        by_steps, in_the_kernel = [], []
        for value in values:
            by_steps.append(counter.next(value))
            row = np.array([value, 0.0])
            _derive(line, row)
            in_the_kernel.append(row[1])
        self.assertEqual(counted(word, np.array(values)).tolist(), by_steps)
        self.assertEqual(by_steps, in_the_kernel)

    def test_a_press_behind_a_gap_counts_by_travel_too(self):
        channels = {"left": [20] * 6, "right": [20] * 6, "nose": [0, 0, math.nan, 1, 1, 1]}
        world = TravelWorld(trace(**channels), cart(), limit_us=500_000)
        record, seen = world.run(runner_for(program("drive at 20 % for 500 ms"), cart()))
        self.assertEqual(seen.column("nose.presses").max(), 1, record.why)


class ByTravel(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.rig = cart()
        # the reference's ride on a dry day, with its commands beside the readings
        text = (EXERCISE / "reference.geduld").read_text()
        ride = runner_for(text, cls.rig).run(read_trace(DEMO / "traces" / "dry-day.csv", cls.rig))
        cls.recording = trace_from_csv(channels_csv(ride).encode(), cls.rig)

    def ride(self, pace, **options):
        world = TravelWorld(self.recording, self.rig, limit_us=60_000_000, **options)
        text = program(DOCK.format(pace=pace))
        return world.run(runner_for(text, self.rig), text)

    def test_the_wall_is_where_it_was(self):
        way = travelled(self.recording, self.rig)
        wall = way[np.flatnonzero(self.recording.channels["nose"] == 1)[0]]
        stops = {}
        for pace in ("20 %", "35 %", "60 %", "90 %"):
            record, seen = self.ride(pace)
            stop = record.commands["lamp"].times[-1]
            start = record.commands["left"].times[1]
            per_second = (
                self.rig.turn_rate("left") * float(pace.split()[0]) * self.rig.sizes()["wheel.circumference"] / 360
            )
            stops[pace] = (stop - start) / 1e6
            self.assertAlmostEqual(per_second * stops[pace], wall, delta=per_second * 0.011 + 0.01, msg=pace)
            near = np.searchsorted(seen.times, stop) - 1
            self.assertLess(abs(seen.channels["range"][near] - self.recording.channels["range"][
                np.flatnonzero(self.recording.channels["nose"] == 1)[0] - 1]), 4)  # fmt: skip
            self.assertEqual(record.trust, {})
        self.assertGreater(stops["20 %"], 4 * stops["90 %"])
        by_time = TraceWorld(self.recording, self.rig).run(runner_for(program(DOCK.format(pace="90 %")), self.rig))[0]
        self.assertNotAlmostEqual(by_time.commands["lamp"].times[-1] / 1e6, stops["90 %"] + 2.2, delta=2)

    def test_driven_as_it_was_recorded_it_reads_what_was_recorded(self):
        channels = self.recording.channels
        steps = ["wait until knob > 62 %"]
        changes = self.recording.steps("left")
        pairs = zip(
            changes[0][1:].tolist(), changes[1][1:].tolist(), [*changes[0][2:].tolist(), 30_000_000], strict=True
        )
        for start, power, stop in pairs:
            steps.append(f"drive at {power:.6f} %\nwait {(stop - start) / 1e6:.6f} s")
        start = changes[0][1] / 1e6
        text = program(f"wait {start:.6f} s\n" + "\n".join(steps[1:]))
        _, seen = TravelWorld(self.recording, self.rig).run(runner_for(text, self.rig), text)
        moving = (self.recording.times > changes[0][1]) & (channels["left"] > 0)
        ours = seen.channels["nose"][: len(moving)][moving]
        self.assertGreater((ours == channels["nose"][moving]).mean(), 0.99)
        np.testing.assert_array_equal(seen.channels["knob"], channels["knob"])

    def test_where_the_recording_was_twice_its_later_visit_counts(self):
        # two seconds on, one back, one at rest; each sample's range is its number
        powers = [40.0] * 20 + [-40.0] * 10 + [0.0] * 11
        recording = trace(left=powers, right=powers, range=list(range(41)))
        for steps, wanted in (
            # the place of 1.0 s was come back to, and stood at until the end; 1.5 s was passed again at 2.5 s
            ("drive at 40 % for 2 s", {0: 0, 5: 5, 9: 9, 10: 40, 11: 29, 15: 25, 19: 21, 20: 20}),
            ("drive at 80 % for 1 s", {0: 0, 2: 4, 4: 8, 5: 40, 6: 28, 10: 20, 30: 20}),
            ("drive at 40 % for 1.5 s\ndrive at -40 % for 1 s", {15: 25, 20: 40, 22: 8, 25: 5, 30: 5}),
            ("wait 1 s\ndrive at 20 % for 2 s", {5: 0, 10: 0, 20: 5, 30: 40}),
        ):
            with self.subTest(steps):
                record, seen = TravelWorld(recording, small_rig()).run(runner_for(program(steps), small_rig()))
                ours = dict(zip((seen.times // 100_000).tolist(), seen.channels["range"].tolist(), strict=True))
                self.assertEqual({tenth: ours[tenth] for tenth in wanted}, wanted)
                self.assertEqual(record.trust, {})

    def test_past_the_recorded_stretch_nothing_is_certain(self):
        record, _ = TravelWorld(self.recording, self.rig).run(runner_for(program("drive at -40 % for 5 s"), self.rig))
        self.assertIn("range", record.trust)
        self.assertNotIn("knob", record.trust)

    def test_hands_lie_on_top_and_presses_are_counted(self):
        hands = inputs_from_csv(b"time [s],nose\n3,1\n3.5,0\n4,1\n4.5,-\n", self.rig)
        text = program("wait until nose.presses = 2, patience 9 s\nlamp on")
        record, _ = TravelWorld(self.recording, self.rig, hands).run(runner_for(text, self.rig), text)
        self.assertEqual(record.commands["lamp"].times[-1], 4_000_000)

    def test_a_recording_that_does_not_say_how_it_was_driven(self):
        with self.assertRaises(TraceError) as caught:
            TravelWorld(trace(range=[1.0] * 20), small_rig()).run(runner_for(program("wait 1 s"), small_rig()))
        self.assertEqual(caught.exception.code, "no-travel")


if __name__ == "__main__":
    unittest.main()
