"""Readings as they come, and the stand-in that sends them: nothing is lost, and all is read as it was."""

import random
import unittest

import numpy as np

from geduld.errors import TraceError
from geduld.live.feed import Feed
from geduld.readers.notation import runner_for
from geduld.recordings.recipe import recipe_from_json
from geduld.recordings.sketch import drawn_trace, sketch_from_json
from geduld.standin.lines import FORMS, lines_of
from geduld.standin.sending import send
from tests.core.test_recordings import RIG
from tests.core.test_traces import SKETCH
from tests.glasshouse import program


class Feeds(unittest.TestCase):
    def setUp(self):
        self.trace = drawn_trace(sketch_from_json(SKETCH, RIG))

    def test_what_comes_in_any_form_and_any_batches_is_what_was_sent(self):
        chance = random.Random(4)
        for form in FORMS:
            sent = list(lines_of(self.trace, RIG, 50, form))
            feed = Feed(RIG)
            while sent:
                count = chance.randint(1, 9)
                feed.add([line for _, line in sent[:count]], sent[min(count, len(sent)) - 1][0])
                sent = sent[count:]
            came = feed.trace()
            np.testing.assert_array_equal(came.times, self.trace.times)
            for name in self.trace.channels:
                np.testing.assert_allclose(
                    came.channels[name], self.trace.channels[name], rtol=1e-5, err_msg=f"{form} {name}"
                )
            self.assertEqual((feed.unread, round(feed.rate)), (0, 50))
            readings = {reading.part.name: reading for reading in feed.readings()}
            self.assertAlmostEqual(readings["range"].absent, float(np.isnan(self.trace.channels["range"]).mean()))
            self.assertAlmostEqual(readings["knob"].greatest, 80, places=3)

    def test_lines_without_a_time_get_the_time_at_which_they_came(self):
        feed = Feed(RIG)
        for k in range(60):
            feed.add([f"range={40 + k % 5} nose={int(k > 30)}"], 100 + 0.05 * k)
        came = feed.trace()
        self.assertEqual(came.samples, 60)
        self.assertAlmostEqual(came.duration_us / 1e6, 59 * 0.05, delta=0.05)
        self.assertEqual(came.channels["nose"].tolist(), [float(k > 30) for k in range(60)])

    def test_a_board_that_begins_anew_goes_on_and_noise_is_counted(self):
        feed = Feed(RIG)
        lines = [f"t_ms={20 * k} range={50 - k % 3}" for k in range(40)]
        lines[20] = "\x00\x7f&&"
        for k, line in enumerate([*lines, "boot", *lines[:20]]):
            feed.add([line], 0.02 * k)
        came = feed.trace()
        self.assertEqual((came.samples, feed.unread), (59, 2))
        self.assertTrue((np.diff(came.times) > 0).all())
        self.assertLess(came.duration_us, 1_300_000)

    def test_another_recipe_is_used_from_then_on(self):
        feed = Feed(RIG)
        feed.add([f"t_ms={20 * k} a={148 + k}" for k in range(20)], 0.4)
        with self.assertRaises(TraceError):
            feed.trace()
        recipe = feed.recipe.as_json()
        recipe["columns"] = [{"column": "a", "channel": "range", "unit": "raw", "points": [[148, 10], [620, 60]]}]
        feed.use(recipe_from_json(recipe))
        feed.add([f"t_ms={400 + 20 * k} a=620" for k in range(5)], 0.5)
        self.assertEqual(feed.trace().channels["range"].tolist(), [60.0] * 5)

    def test_a_sensor_that_has_nothing_to_say_at_first_is_read_when_it_does(self):
        for early, late in (
            ('{{"t_ms": {0}, "range": null, "nose": 0}}', '{{"t_ms": {0}, "range": {0}, "nose": 0, "knob": 5}}'),
            ("t_ms={} nose=0", "t_ms={0} nose=0 range={0} knob=5"),
        ):
            feed = Feed(RIG)
            for k in range(60):
                feed.add([(early if k < 30 else late).format(2 * k)], 0.002 * k)
            came = feed.trace()
            self.assertEqual((came.samples, feed.unread), (60, 0))
            self.assertTrue(np.isnan(came.channels["range"][:30]).all() and np.isnan(came.channels["knob"][:30]).all())
            self.assertEqual(came.channels["range"][30:].tolist(), [2.0 * k for k in range(30, 60)])

    def test_what_is_played_along_is_the_beginning_of_what_the_whole_recording_makes_of_it(self):
        text = program(
            "drive at 40 % until range < 48 cm, keep going\nrepeat 3 times:\n    left follows knob for 60 ms\n"
            "    wait until nose is pressed, patience 0.2 s\nstop drive"
        )
        runner, feed, clock, told = runner_for(text, RIG), Feed(RIG), None, []
        lines = list(lines_of(self.trace, RIG, 50, "json"))
        for number, (at, line) in enumerate(lines):
            feed.add([line], at)
            if number == 20:
                clock = feed.clock
            elif clock is not None and number % 7 == 0:
                told.append(runner.run(feed.since(clock)))
        whole = runner.run(feed.since(clock))
        self.assertGreater(len(told), 10)
        for record in told:
            for name, signal in record.commands.items():
                until = whole.commands[name].times <= record.lasted
                self.assertEqual(signal.times.tolist(), whole.commands[name].times[until].tolist(), name)
                np.testing.assert_array_equal(signal.values, whole.commands[name].values[until])
        with self.assertRaises(TraceError):
            feed.since(clock + 1e6)

    def test_what_is_not_recorded_does_not_grow(self):
        feed = Feed(RIG)
        for k in range(0, 40_000, 500):
            feed.add([f"t_ms={20 * n} range=50" for n in range(k, k + 500)], k * 0.02)
        self.assertLess(feed.seconds, 140)
        self.assertEqual(feed.lines, 40_000)


class Sending(unittest.TestCase):
    def test_nothing_is_lost_and_nothing_doubled_when_the_connection_is(self):
        now, got, said, calls = [0.0], [], [], [0]

        def sleep(seconds):
            now[0] += seconds

        def post(batch, first):
            calls[0] += 1
            if 20 < calls[0] < 60:
                raise OSError("no route")
            self.assertEqual(first, len(got))
            got.extend(batch)

        lines = [(k * 0.02, f"line {k}") for k in range(500)]
        self.assertEqual(send(lines, post, said.append, lambda: now[0], sleep), 500)
        self.assertEqual(got, [line for _, line in lines])
        self.assertEqual(["lost" in text for text in said], [True, False])
        self.assertGreaterEqual(now[0], 9.9, "it goes on in real time")


if __name__ == "__main__":
    unittest.main()
