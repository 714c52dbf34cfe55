"""What is done with traces: stretches, levels, parts of them, two together, drawn ones."""

import csv
import io
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.errors import TraceError
from geduld.recordings.csvw import metadata
from geduld.recordings.editing import lined_up, merged, resampled, shifted, split, trimmed
from geduld.recordings.levels import levels_of, nice
from geduld.recordings.sketch import drawn_trace, sketch_from_json
from geduld.recordings.stretch import stretch_of
from geduld.worlds.signal import instants
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import trace_to_csv
from tests.core.test_recordings import RIG
from tests.odd import ODD, places, with_odd

SKETCH = {"geduld": "sketch/1", "lasts": "10 s", "rate": "50 Hz", "seed": 4, "channels": {
    "range": {"points": [["0 s", "150 cm"], ["8 s", "10 cm"]], "noise": "0.5 cm", "missed": "5 %"},
    "knob": {"points": [["1 s", "20 %"], ["2 s", "80 %"]], "shape": "smooth"},
    "nose": {"points": [["0 s", 0], ["8.5 s", 1]], "bounce": "60 ms"}}}  # fmt: skip


@st.composite
def traces(draw):
    """Short traces of the barrow, with gaps and absent readings."""
    count = draw(st.integers(2, 40))
    steps = draw(st.lists(st.sampled_from([10_000, 10_000, 10_000, 70_000]), min_size=count, max_size=count))
    values = st.lists(st.sampled_from([np.nan, 3.0, 40.5, 120.0]), min_size=count, max_size=count)
    contacts = st.lists(st.sampled_from([0.0, 1.0]), min_size=count, max_size=count)
    return Trace(np.cumsum(steps) - steps[0], {"range": np.array(draw(values)), "nose": np.array(draw(contacts))})


def at(found, name, ticks):
    """What a trace reads at some ticks, one by one."""
    return [
        next((found.channels[name][k] for k in range(found.samples - 1, -1, -1) if found.times[k] <= tick), np.nan)
        for tick in ticks
    ]


class Editing(unittest.TestCase):
    @settings(deadline=None)
    @given(traces(), st.integers(0, 1_000_000), st.integers(1, 1_000_000))
    def test_a_part_reads_what_the_whole_read_then(self, whole, start, length):
        try:
            part = trimmed(whole, start, start + length)
        except TraceError as problem:
            self.assertEqual(problem.code, "no-samples")
            self.assertFalse(((whole.times >= start) & (whole.times <= start + length)).any())
            return
        for name in whole.channels:
            np.testing.assert_array_equal(part.channels[name], at(whole, name, part.times + start))
        self.assertLessEqual(part.duration_us, length)

    @settings(deadline=None)
    @given(traces(), st.integers(1, 1_000_000), st.integers(0, 500_000), st.sampled_from([10.0, 50.0, 100.0]))
    def test_split_shifted_and_resampled(self, whole, cut, by, rate):
        self.assertEqual(shifted(shifted(whole, by), -by).fingerprint, whole.fingerprint)
        if 0 < cut <= whole.duration_us:
            before, after = split(whole, cut)
            again = np.concatenate([before.times, after.times + cut])
            self.assertEqual(set(again) - {cut}, set(whole.times) - {cut})
        even = resampled(whole, rate)
        self.assertTrue((np.diff(even.times) == round(1e6 / rate)).all())
        for name in whole.channels:
            np.testing.assert_array_equal(even.channels[name], at(whole, name, even.times))

    @settings(deadline=None)
    @given(traces(), traces(), st.integers(-300_000, 300_000))
    def test_two_together_read_what_each_read(self, one, two, later):
        one = Trace(one.times, {"range": one.channels["range"]})
        two = Trace(two.times, {"nose": two.channels["nose"]})
        try:
            both = merged(one, two, RIG, later)
        except TraceError:
            self.assertLess(later, 0)
            return
        for name, source, moved in (("range", one, 0), ("nose", two, later)):
            inside = (both.times >= moved) & (both.times <= source.duration_us + moved)
            np.testing.assert_array_equal(both.channels[name][inside], at(source, name, both.times[inside] - moved))
            self.assertTrue(np.isnan(both.channels[name][~inside]).all())

    def test_an_event_lines_two_up(self):
        contact = Trace(np.arange(0, 100) * 10_000, {"nose": (np.arange(100) >= 30).astype(float)})
        reading = Trace(np.arange(0, 100) * 10_000, {"range": np.where(np.arange(100) >= 55, 4.0, 90.0)})
        later = lined_up(contact, "nose", reading, "range", RIG)
        self.assertEqual(later, -250_000)
        self.assertEqual(merged(contact, reading, RIG, later).times[0], 0)
        with self.assertRaises(TraceError):
            lined_up(contact, "nose", Trace(reading.times, {"range": np.full(100, 9.0)}), "range", RIG)
        with self.assertRaises(TraceError):
            merged(contact, contact, RIG)
        with self.assertRaises(TraceError):
            shifted(contact, -1)


class Instants(unittest.TestCase):
    @given(st.lists(st.lists(st.integers(-5, 2**40), max_size=8).map(sorted), max_size=4))
    def test_each_once_in_order(self, several):
        found = instants([3], *several)
        self.assertEqual(found.tolist(), sorted({3, *(tick for ticks in several for tick in ticks)}))
        self.assertEqual(found.dtype, np.int64)


class Levels(unittest.TestCase):
    @settings(deadline=None)
    @given(st.integers(0, 10**6), st.floats(5, 60), st.floats(15, 60), st.floats(0.05, 1.5), st.floats(0.15, 0.85))
    def test_a_threshold_between_two_levels(self, seed, low, gap, noise, share):
        chance = np.random.default_rng(seed)
        level = np.repeat(chance.random(30) < share, 40)
        if not 0.1 < level.mean() < 0.9:
            return
        values = low + gap * level + chance.normal(0, noise, len(level))
        found = levels_of(values, RIG.parts["knob"])
        self.assertAlmostEqual(found.low, low, delta=noise + 0.1)
        self.assertAlmostEqual(found.high, low + gap, delta=noise + 0.1)
        self.assertTrue(low + 0.25 * gap < found.threshold < low + 0.75 * gap)
        self.assertAlmostEqual(found.noise, noise, delta=0.35 * noise)
        self.assertTrue(min(6 * noise, 0.39 * gap) <= found.slack <= 0.41 * gap)
        # with on and off so far apart the noise alone switches nothing back
        self.assertEqual(sum(found.counts), len(values))
        self.assertIn(found.because.split(" so on")[0][-2:], (" %,", "%,"))

    def test_where_there_are_no_two_levels(self):
        chance = np.random.default_rng(2)
        for values in (np.linspace(180, 4, 900), chance.normal(50, 3, 900), np.full(50, 9.0)):
            found = levels_of(values, RIG.parts["range"])
            self.assertIsNone(found.threshold, found)
            self.assertTrue(found.because)
        for values, part in ((np.full(5, np.nan), "range"), (np.ones(9), "nose")):
            with self.assertRaises(TraceError):
                levels_of(values, RIG.parts[part])
        self.assertEqual([nice(size) for size in (0.03, 1, 1.2, 70, 100)], [0.05, 1, 2, 100, 100])


class Stretches(unittest.TestCase):
    @settings(deadline=None)
    @given(traces(), st.integers(0, 600_000), st.integers(1, 600_000))
    def test_as_worked_out_one_by_one(self, whole, start, length):
        found = stretch_of(whole, RIG, start, start + length)
        inside = (whole.times >= start) & (whole.times <= start + length)
        self.assertEqual(found.samples, inside.sum())
        by_name = {channel.name: channel for channel in found.channels}
        known = [value for value in whole.channels["range"][inside] if value == value]
        self.assertEqual(by_name["range"].least, min(known, default=None))
        self.assertEqual(by_name["range"].greatest, max(known, default=None))
        if known:
            self.assertAlmostEqual(by_name["range"].mean, sum(known) / len(known))
        if inside.any():
            self.assertAlmostEqual(by_name["range"].absent, 1 - len(known) / inside.sum())
        nose = whole.channels["nose"]
        rises = sum(inside[k] and nose[k] == 1 and nose[k - 1] == 0 for k in range(1, len(nose)))
        self.assertEqual(by_name["nose"].changes, rises)
        steps = np.diff(whole.times[inside])
        if len(steps):
            self.assertEqual(found.gap_count, sum(steps > 3.5 * np.median(steps)))


class Sketches(unittest.TestCase):
    def test_what_is_drawn_is_read(self):
        sketch = sketch_from_json(SKETCH, RIG)
        found = drawn_trace(sketch)
        self.assertEqual(found.fingerprint, drawn_trace(sketch_from_json(SKETCH, RIG)).fingerprint)
        self.assertNotEqual(found.fingerprint, drawn_trace(sketch_from_json(SKETCH | {"seed": 5}, RIG)).fingerprint)
        seconds = found.times / 1e6
        ideal = np.interp(seconds, [0, 8], [150, 10])
        off = (found.channels["range"] - ideal)[~np.isnan(found.channels["range"])]
        self.assertAlmostEqual(float(off.std()), 0.5, delta=0.05)
        self.assertAlmostEqual(float(np.isnan(found.channels["range"]).mean()), 0.05, delta=0.03)
        self.assertEqual([found.channels["knob"][k] for k in (0, 50, 75, 100, 500)], [20, 20, 50, 80, 80])
        nose = found.channels["nose"]
        self.assertEqual((nose[:425].max(), nose[425], nose[430:].min()), (0, 1, 1))
        fewer = SKETCH | {"channels": {"range": SKETCH["channels"]["range"]}}
        np.testing.assert_array_equal(
            drawn_trace(sketch_from_json(fewer, RIG)).channels["range"], found.channels["range"]
        )

    def test_odd_sketches(self):
        for place in places(SKETCH):
            for odd in ODD:
                try:
                    self.assertTrue(drawn_trace(sketch_from_json(with_odd(SKETCH, place, odd), RIG)).samples)
                except TraceError as problem:
                    self.assertTrue(problem.message and problem.place.path, (place, odd))

    def test_the_metadata_say_what_stands_in_the_file(self):
        found = drawn_trace(sketch_from_json(SKETCH, RIG))
        text = trace_to_csv(found, RIG)
        told = metadata(found, RIG, "drawn.csv", "Drawn", [(1.5, "here it turned")])
        columns = told["tableSchema"]["columns"]
        rows = list(csv.DictReader(io.StringIO(text)))
        self.assertEqual([column["titles"] for column in columns], list(rows[0]))
        for column in columns:
            for row in rows[:100]:
                cell = row[column["titles"]]
                if column["datatype"] == "double":
                    self.assertTrue(cell == column["null"] or np.isfinite(float(cell)))
                elif column["datatype"] != "decimal":
                    self.assertIn(cell, ("0", "1"))


if __name__ == "__main__":
    unittest.main()
