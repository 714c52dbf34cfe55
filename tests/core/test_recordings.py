"""Recordings from elsewhere: what is written in any usual way is read as what it was."""

import gzip
import json
import random
import unittest
import zlib
from dataclasses import replace

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from geduld.errors import TraceError
from geduld.recordings.recipe import DROP, recipe_from_json
from geduld.recordings.text import MOST_BYTES
from geduld.recordings.understanding import imported, understood
from geduld.rig.reader import rig_from_json
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import trace_from_csv, trace_to_csv
from tests.core.foreign import RANGES, styles, written
from tests.glasshouse import DEMO, cart
from tests.odd import ODD, places, with_odd

RIG = rig_from_json({"geduld": "rig/1", "name": "barrow", "parts": {
    "left": {"kind": "motor", "port": "M1", "encoder": {"counts_per_turn": 180}},
    "right": {"kind": "motor", "port": "M2", "encoder": {"counts_per_turn": 180}},
    "nose": {"kind": "bump", "port": "D1"},
    "range": {"kind": "range", "port": "A1", "least": "2 cm", "greatest": "200 cm"},
    "knob": {"kind": "knob", "port": "A2", "raw": [0, 1023]},
    "radio": {"kind": "radio", "port": "R1"}},
    "drive": {"left": "left", "right": "right", "wheel_diameter": "6 cm", "track_width": "12 cm"}})  # fmt: skip


INCHES = {"geduld": "rig/1", "name": "old", "parts": {"nose": {"kind": "bump", "port": "1"},
    "range": {"kind": "range", "port": "2", "unit": "inch"}, "knob": {"kind": "knob", "port": "3"}}}  # fmt: skip


@st.composite
def recorded(draw):
    """Rows of an instant in us, a range in cm or None, and whether the nose is pressed; a usual rate, a few gaps."""
    step = draw(st.sampled_from([10_000, 20_000, 50_000]))
    count = draw(st.integers(30, 60))
    start = draw(st.integers(5, 190))
    gap = draw(st.integers(0, count))
    missing = set(draw(st.lists(st.integers(0, count - 1), max_size=6)))
    rows = []
    for row in range(count):
        tick = row * step + (3 * step if row > gap else 0)
        value = None if row in missing else round(3 + (start + 0.7 * row + row % 7) % 190, 1)
        rows.append((tick, value, row % 11 > 7))
    return rows


def json_line(line):
    """A line of names and values as JSON; any other line as it is."""
    pairs = [item.replace(": ", "=").split("=") for item in line.split(" ") if "=" in item] or []
    return json.dumps({name: float(value) if value.isdigit() else value for name, value in pairs}) if pairs else line


class Foreign(unittest.TestCase):
    @settings(deadline=None, max_examples=100, suppress_health_check=list(HealthCheck))
    @given(styles(), recorded())
    def test_what_is_written_in_any_usual_way_is_read_as_what_it_was(self, style, rows):
        found = understood(written(style, rows), RIG)
        if style.bad_rows:
            self.assertEqual(found.problem.code, "bad-row", found.problem)
            found = understood(written(style, rows), RIG, replace(found.recipe, bad_rows=DROP))
            self.assertEqual(found.report.bad.count, 1)
        self.assertIsNone(found.problem, found.problem)
        trace = found.trace
        ticks = np.array([tick for tick, _, _ in rows])
        own = found.recipe.timing.column.startswith("time [")  # what Geduld heads so keeps its times as they are
        np.testing.assert_array_equal(trace.times - (trace.times[0] if own else 0), ticks)
        factor, places = RANGES[style.unit]
        wanted = [np.nan if value is None else value for _, value, _ in rows]
        np.testing.assert_allclose(trace.channels["range"], wanted, atol=0.51 * 10**-places / factor)
        np.testing.assert_array_equal(trace.channels["nose"], [float(nose) for _, _, nose in rows])
        again, _ = imported(written(style, rows), RIG, recipe_from_json(found.recipe.as_json()))
        self.assertEqual(again.fingerprint, trace.fingerprint, "a recipe that was kept reads the same")


def read(text, rig=RIG, **changed):
    """What a text is understood as, with places of its recipe changed."""
    data = text.encode() if isinstance(text, str) else text
    found = understood(data, rig)
    return understood(data, rig, replace(found.recipe, **changed)) if changed else found


# a text, the instants in us, and channels; what cannot be read by itself stands in DEFECTS
PLAIN = {
    "a heading row, then a row of units, below a preamble": (
        "Logger 3\nDate;2026-11-27\n\nTime;Range;Bump\ns;mm;-\n0;450;0\n0,02;451;1\n", [0, 20_000],
        {"range": [45.0, 45.1], "nose": [0, 1]}),
    "what a spreadsheet writes in the first line": ("sep=;\ntime;range\n0;10\n0,5;20\n", [0, 500_000], {"range": [10, 20]}),
    "decimal commas between commas": ('"time","range"\n"0,5","12,5"\n"0,6","12,4"\n', [500_000, 600_000], {"range": [12.5, 12.4]}),
    "thousands": ("Zeit (ms);Abstand (mm)\n980,5;1.012,5\n1.000,5;1.013,5\n1.020,5;998,0\n", [0, 20_000, 40_000],
        {"range": [101.25, 101.35, 99.8]}),
    "a date and a clock past midnight": ("Datum;Uhrzeit;Entfernung in cm\n27.11.2026;23:59:59,98;12,5\n28.11.2026;00:00:00,01;13\n",
        [0, 30_000], {"range": [12.5, 13]}),
    "a clock past midnight without a date": ("clock,range\n23:59:59.98,12\n00:00:00.01,13\n", [0, 30_000], {"range": [12, 13]}),
    "a zone that is not ours": ("timestamp,range\n2026-11-27T23:30:00+02:00,3\n2026-11-27T21:30:00.5Z,4\n", [0, 500_000], {"range": [3, 4]}),
    "a clock of whole seconds": ("clock,range\n" + "".join(f"10:00:0{k // 4},{k}\n" for k in range(12)),
        [k * 250_000 for k in range(12)], {"range": list(range(12))}),
    "milliseconds since 1970": ("timestamp,range\n1764222000123,12\n1764222000143,13\n", [0, 20_000], {"range": [12, 13]}),
    "units behind the values": ("t=10 Front range: 45 cm, Knob: 50 %\nt=30 Front range: 46 cm, Knob: 60 %\n", [10_000, 30_000],
        {"range": [45, 46], "knob": [50, 60]}),
    "what is the only part with such a unit": ("t=10 forward=45cm\nt=30 forward=46cm\n", [10_000, 30_000], {"range": [45, 46]}),
    "a serial monitor's clock": ("12:03:11.100 -> dist=45,D1=0\n12:03:11.120 -> dist=44,D1=1\n", [0, 20_000],
        {"range": [45, 44], "nose": [0, 1]}),
    "a number before the names": ("1000 range=45\n1020 range=44\n1040 range=43\n", [0, 20_000, 40_000], {"range": [45, 44, 43]}),
    "a log's level and clock before the names": ("I (1034) main: dist=45.2 D1=0\nI (1054) main: dist=45 D1=1\nI (1074) main: dist=44 D1=1\n",
        [0, 20_000, 40_000], {"range": [45.2, 45, 44], "nose": [0, 1, 1]}),
    "counts are an encoder's": ("time_s,left_ticks,right_ticks\n0,0,0\n0.1,90,88\n0.2,180,176\n", [0, 100_000, 200_000],
        {"left.angle": [0, 180, 360], "right.angle": [0, 176, 352]}),
    "one column with decimal commas": ("# 50 Hz\nAbstand\n45,2\n44,1\n43,0\n", [0, 20_000, 40_000], {"range": [45.2, 44.1, 43]}),
    "a counter of 16 bits without a name": ("".join(f"{(65400 + 20 * k) % 65536},{k % 2}\n" for k in range(30)) , None, {}),
    "counts of encoders by side": ("ms,enc_l,enc_r\n0,0,0\n10,45,-45\n20,90,-90\n", [0, 10_000, 20_000],
        {"left.angle": [0, 90, 180], "right.angle": [0, -90, -180]}),
    "numbers of a converter": ("ms,knob_adc\n0,0\n10,1023\n", [0, 10_000], {"knob": [0, 100]}),
    "objects inside objects": ('{"t_ms": 0, "front": {"range": 12}}\n{"t_ms": 20, "front": {"range": null}}\n', [0, 20_000], {"range": [12, np.nan]}),
    "a list of objects over many lines": ('[\n {"t": 0.0,\n "range": 12},\n {"t": 0.1, "range": 13}\n]', [0, 100_000], {"range": [12, 13]}),
    "a rate in a comment": ("# 50 Hz\nrange,nose\n12,0\n13,1\n12,0\n", [0, 20_000, 40_000], {"range": [12, 13, 12], "nose": [0, 1, 0]}),
    "a count of rows is no time": ("# every 20 ms\nindex,range\n1,12\n2,13\n3,12\n", [0, 20_000, 40_000], {"range": [12, 13, 12]}),
    "mm without a word of it": ("time [s],range\n0,1500\n0.1,1490\n0.2,1480\n", [0, 100_000, 200_000], {"range": [150, 149, 148]}),
    "no echo as 0": ("ms,range\n" + "".join(f"{20 * k},{0 if k in (4, 5) else 60 + k}\n" for k in range(9)), [20_000 * k for k in range(9)],
        {"range": [np.nan if k in (4, 5) else 60 + k for k in range(9)]}),
    "messages": ("time [s],radio\n0,\n0.1,come\n0.2,\n0.3,go\n", [0, 100_000, 200_000, 300_000], {"radio.messages": [0, 1, 1, 2]}),
    "a delimiter behind each row": ("ms;range;\n0;12;\n20;13;\n", [0, 20_000], {"range": [12, 13]}),
    "lines without ends but CR, and none at the end": ("ms\trange\r0\t12\r20\t13", [0, 20_000], {"range": [12, 13]}),
}  # fmt: skip

# a text, the line of each bad row with a word of its reason
DEFECTS = {
    "a row too short, one too long": ("ms,range,nose\n0,12,0\n20,13\n40,14,0,9\n60,15,0\n", {3: "2 cells", 4: "4 cells"}),
    "a word where a number belongs": ("ms,range\n0,12\n20,13\n40,zwölf\n60,15\n", {4: "zwölf"}),
    "time goes back, stands still, and leaps": ("ms,range\n0,12\n20,13\n10,14\n20,15\n40,16\n99999,17\n60,18\n80,19\n100,20\n",
        {4: "goes back", 5: "row before", 7: "far from"}),
    "a contact that is neither": ("ms,nose\n0,0\n20,1\n40,7\n60,0\n", {4: "neither 0 nor 1"}),
    "the heading again": ("ms;range;nose\n0;12;0\n20;13;0\nms;range;nose\n40;14;0\n", {4: "no time"}),
    "a board that starts anew": ("range=12 t=100\nrange=13 t=120\nstart\nrange=14 t=140\n", {3: "No name"}),
    "a row without its time": ("ms,range\n0,12\n,13\n40,14\n", {3: "no time"}),
    "noise on the cable": (b"ms,range\n0,12\n20,13\n\xff\xfe4\x00,1\n60,14\n80,15\n", {4: "no time"}),
}  # fmt: skip


class Table(unittest.TestCase):
    def test_each_usual_form(self):
        for name, (text, ticks, channels) in PLAIN.items():
            with self.subTest(name):
                found = read(text)
                if ticks is None:  # nobody can know what its columns are, and its time is found all the same
                    self.assertEqual((found.recipe.timing.column, found.recipe.timing.wraps), ("column 1", 65536.0))
                    continue
                self.assertIsNone(found.problem, found)
                self.assertEqual(found.trace.times.tolist(), ticks, found)
                for channel, values in channels.items():
                    np.testing.assert_allclose(found.trace.column(channel), values, atol=1e-9)

    def test_bad_rows_are_listed_and_nothing_is_left_out_unasked(self):
        for name, (text, wanted) in DEFECTS.items():
            with self.subTest(name):
                stopped = read(text)
                self.assertEqual((stopped.problem.code, stopped.trace), ("bad-row", None))
                self.assertEqual(stopped.problem.place.row, min(wanted))
                found = read(text, bad_rows=DROP)
                self.assertIsNone(found.problem, found.problem)
                told = {row.line: row.why for row in found.report.bad.rows}
                self.assertEqual(set(told), set(wanted), told)
                for line, word in wanted.items():
                    self.assertIn(word, told[line])
                self.assertEqual(found.report.rows - found.report.bad.count, found.trace.samples)

    def test_what_geduld_writes_is_read_as_it_reads_it_itself(self):
        for path in sorted((DEMO / "traces").glob("*.csv")):
            data = path.read_bytes()
            own = trace_from_csv(data, cart())
            trace, report = imported(data, cart())
            self.assertEqual(trace.fingerprint, own.fingerprint, path)
            self.assertEqual(report.bad.count, 0)
            again, _ = imported(trace_to_csv(trace, cart()).encode(), cart())
            self.assertEqual(again.fingerprint, own.fingerprint)

    @settings(deadline=None)
    @given(
        st.lists(
            st.tuples(st.integers(1, 10**7), st.floats(0, 200), st.floats(0, 100), st.booleans()),
            min_size=1,
            max_size=30,
        )
    )
    def test_what_is_exported_is_read_again_unchanged(self, rows):
        gaps, ranges, knobs, noses = zip(*rows, strict=True)
        for rig in (RIG, rig_from_json(INCHES)):
            channels = {"range": np.array(ranges), "knob": np.array(knobs), "nose": np.array(noses, np.float64)}
            trace = Trace(np.cumsum(gaps), channels)
            text = trace_to_csv(trace, rig).encode()
            for again in (trace_from_csv(text, rig), imported(text, rig)[0]):
                self.assertEqual(again.fingerprint, trace.fingerprint)

    def test_a_sentence_says_why(self):
        found = read(
            "ms,dist,D1,enc_l,thing\n0,50,1,3,1\n20,999,1,4,1\n40,-1,1,5,2\n"
            + "".join(f"{60 + 20 * k},50,1,6,3\n" for k in range(9))
        )
        self.assertIn("only range", found.because["dist"])
        self.assertIn("999 cannot be", found.because["dist"])
        self.assertIn("port D1", found.because["D1"])
        self.assertIn("pull-up", found.because["D1"])
        self.assertIn("180 counts a turn", found.because["enc_l"])
        self.assertIn("nothing in the rig", found.because["thing"])
        self.assertEqual(dict(found.report.absent["range"]), {"-1": 1, "999": 1})

    def test_a_line_that_is_no_reading_is_no_time(self):
        """Between the readings of a board stand its own words; with a rate they must not take time."""
        lines = [f"range={20 + k} nose=0" for k in range(200)]
        for place, said in ((0, "motor: on"), (17, "state=idle"), (90, "hello"), (130, "speed: 12"), (199, "done: 1")):
            lines.insert(place, said)
        text = "\n".join(lines) + "\n"
        for layout in (text, "\n".join(json_line(line) for line in lines) + "\n"):
            first = read(layout)
            found = read(layout, timing=replace(first.recipe.timing, column="", rate=20.0), bad_rows="drop")
            self.assertEqual(found.trace.samples, 200)
            self.assertEqual(found.trace.duration_us, 9_950_000)
            np.testing.assert_array_equal(found.trace.channels["range"], 20 + np.arange(200))
        table = read("range,nose\n12,0\n,\n13,1\n", timing=replace(first.recipe.timing, column="", rate=20.0))
        self.assertEqual(table.trace.duration_us, 100_000, "a row of a table in which nothing was read takes its time")

    def test_choices(self):
        text = "ms,a,b\n0,148,1\n20,620,0\n40,384,1\n"
        base = read(text).recipe.as_json()
        base["columns"] = [
            {"column": "a", "channel": "range", "unit": "raw", "points": [[148, 10], [620, 60]]},
            {"column": "b", "channel": "nose", "inverted": True},
        ]
        trace, _ = imported(text.encode(), RIG, recipe_from_json(base))
        np.testing.assert_allclose(trace.channels["range"], [10, 60, 35])
        np.testing.assert_array_equal(trace.channels["nose"], [0, 1, 0])
        found = read("range=12\nnose=0\nrange=13\nnose=1\n", timing=replace(read("range=1\n").recipe.timing, rate=50.0))
        np.testing.assert_array_equal(found.trace.channels["range"], [12, 12, 13, 13])
        self.assertEqual(found.report.held, 3)

    def test_wrong_choices_are_refused_with_what_to_do(self):
        text = "ms,a,b\n0,148,1\n20,620,0\n"
        base = read(text).recipe.as_json() | {"columns": [{"column": "a", "channel": "range"}]}
        for change, code in (
            ({"columns": [{"column": "a", "channel": "rnge"}]}, "channel-without-part"),
            ({"columns": [{"column": "a", "channel": "range", "unit": "s"}]}, "channel-unit"),
            ({"columns": [{"column": "a", "channel": "range", "unit": "raw"}]}, "channel-unit"),
            ({"columns": [{"column": "a", "channel": "range"}, {"column": "b", "channel": "range"}]}, "channel-twice"),
            ({"columns": []}, "channel-without-part"),
            ({"time": {"column": "tick"}}, "no-time"),
            ({"time": {}}, "no-time"),
        ):
            with self.subTest(change):
                found = understood(text.encode(), RIG, recipe_from_json(base | change))
                self.assertEqual(found.problem.code, code)
                self.assertTrue(found.problem.remedy)

    def test_a_kept_recipe_is_used_for_the_next_file_of_its_kind(self):
        first = read("ms,front\n0,12\n20,13\n")
        kept = recipe_from_json(
            first.recipe.as_json() | {"columns": [{"column": "front", "channel": "range", "unit": "mm"}]}
        )
        found = understood(b"# another\nms;front\n0;120\n20;130,5\n", RIG, None, [kept])
        self.assertTrue(found.remembered)
        np.testing.assert_allclose(found.trace.channels["range"], [12.0, 13.05])
        holes = understood(b"ms;front;nose\n0;120;0\n20;9999;1\n40;9999;0\n", RIG, None, [kept])
        self.assertEqual({use.column: use.channel for use in holes.recipe.uses}, {"front": "range", "nose": "nose"})
        self.assertEqual(np.isnan(holes.trace.channels["range"]).tolist(), [False, True, True])
        self.assertFalse(understood(b"ms,rear\n0,12\n", RIG, None, [kept]).remembered)

    def test_dumps_are_read_and_hostile_files_are_refused_in_time(self):
        dump = b"$timescale 1 ms $end\n$var wire 1 ! D1 $end\n$enddefinitions $end\n#0\n0!\n#20\n1!\n#40\n0!\n"
        for data in (dump, gzip.compress(dump)):
            found = understood(data, RIG)
            self.assertEqual((found.recipe.layout.form, found.trace.channels["nose"].tolist()), ("vcd", [0, 1, 0]))
        packed = zlib.compressobj(9, zlib.DEFLATED, 31)
        zeros = bytes(10_000_000)
        bomb = b"".join(packed.compress(zeros) for _ in range(25)) + packed.flush()
        for data, code in (
            (bomb, "trace-too-large"),
            (bytes(MOST_BYTES), "trace-too-large"),
            (gzip.compress(dump)[:30], None),
        ):
            with self.assertRaises(TraceError) as caught:
                imported(data, RIG)
            self.assertIn(caught.exception.code, (code, "no-samples", "channel-without-part", "not-vcd"))
        chance = random.Random(3)
        seeds = [
            text if isinstance(text, bytes) else text.encode() for text, *_ in (*PLAIN.values(), *DEFECTS.values())
        ]
        for _ in range(400):
            data = bytearray(chance.choice(seeds) * chance.choice((1, 3)))
            for _ in range(chance.randint(1, 6)):
                at = chance.randrange(len(data))
                data[at : at + chance.randint(0, 5)] = chance.choice(
                    (b"", b"\x00", b"\xff", b'"', b"=", b"1e999", b"-", b"\n\r", b"{")
                )
            try:
                imported(bytes(data), RIG)
            except TraceError as problem:
                self.assertTrue(problem.message)
        for text in (
            "a" * 200_000,
            "= " * 100_000,
            "a a a " * 50_000,
            "[" * 100_000,
            '{"a":' * 50_000,
            "1" * 300_000,
            "9" * 400 + ",1\n",
        ):
            self.assertIsNotNone(read(text).problem)

    def test_odd_recipes(self):
        document = read(PLAIN["messages"][0]).recipe.as_json()
        chance = random.Random(5)
        for place in places(document):
            for odd in chance.sample(ODD, 6):
                try:
                    found = understood(
                        PLAIN["messages"][0].encode(), RIG, recipe_from_json(with_odd(document, place, odd))
                    )
                    self.assertTrue(found.trace or found.problem.message)
                except TraceError as problem:
                    self.assertTrue(problem.message and problem.place.path, (place, odd, problem))


if __name__ == "__main__":
    unittest.main()
