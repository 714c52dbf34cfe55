"""Rigs, traces and exercises: what is read, and the error with its place for what is not."""

import copy
import csv
import io
import json
import shutil
import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.errors import ExerciseError, FloorError, InputError, RigError, TraceError
from geduld.grading.exercise import read_exercise
from geduld.grading.grade import HandIn, grade_all
from geduld.rig.reader import rig_from_json, rig_from_text
from geduld.run.world import FloorWorld
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.inputs import inputs_from_csv, inputs_to_csv
from geduld.worlds.packing import pack, unpack
from geduld.worlds.recording import read_trace
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import trace_from_csv, trace_to_csv
from tests.glasshouse import DEMO, EXERCISE, SMALL, cart, small_rig

YARD = {
    "geduld": "floor/1",
    "name": "Yard",
    "size": ["300 cm", "2 m"],
    "start": {"at": ["50 cm", "80 cm"], "heading": "90 deg"},
    "marks": [{"name": "A", "at": ["150 cm", "100 cm"]}],
}
BOX = [["60 cm", "10 cm"], ["80 cm", "10 cm"], ["80 cm", "30 cm"], ["60 cm", "30 cm"]]
HEADER = b"time [s],nose,range [cm],knob [%]\n"


class Rigs(unittest.TestCase):
    def test_each_fault_names_its_place(self):
        motor = {"kind": "motor", "port": "M9"}
        faults = [
            ({"parts": {**SMALL["parts"], "valve": {"kind": "motor", "port": "M1"}}}, "port-taken", "parts.valve.port"),
            ({"parts": {"valve": {"kind": "moter", "port": "M1"}}}, "unknown-kind", "parts.valve.kind"),
            ({"parts": {"valve": {"kind": "motor"}}}, "rig-value", "parts.valve.port"),
            ({"parts": {"valve": {**motor, "reversed": "yes"}}}, "rig-value", "parts.valve.reversed"),
            ({"parts": {"eye": {"kind": "range", "port": "A", "reversed": True}}}, "rig-value", "parts.eye.reversed"),
            ({"parts": {"eye": {"kind": "range", "port": "A", "least": 3}}}, "number-without-unit", "parts.eye.least"),
            ({"parts": {"eye": {"kind": "range", "port": "A", "least": "3"}}}, "number-without-unit", "parts.eye.least"),
            ({"parts": {"eye": {"kind": "range", "port": "A", "least": "3 %"}}}, "wrong-dimension", "parts.eye.least"),
            ({"parts": {"eye": {"kind": "range", "port": "A", "unit": "%"}}}, "unknown-unit", "parts.eye.unit"),
            ({"parts": {"valve": {**motor, "encoder": {"counts_per_turn": 0}}}}, "rig-value",
             "parts.valve.encoder.counts_per_turn"),
            ({"parts": {"valve": {**motor, "encoder": {"counts_per_turn": 9, "counter_bits": 4}}}}, "rig-value",
             "parts.valve.encoder.counter_bits"),
            ({"parts": {"valve": {**motor, "full_speed": "0 rpm"}}}, "rig-value", "parts.valve.full_speed"),
            ({"parts": {"valve": {**motor, "stop": "roll"}}}, "rig-value", "parts.valve.stop"),
            ({"parts": {"eye": {"kind": "range", "port": "A", "full_speed": "9 rpm"}}}, "rig-value", "parts.eye.full_speed"),
            ({"calibration": {"travel": {"power": "40 %", "distance": "1 m"}}}, "rig-value", "calibration.travel.time"),
            ({"calibration": {"turn": {"power": "40 %", "angle": "1 m", "time": "3 s"}}}, "wrong-dimension",
             "calibration.turn.angle"),
            ({"calibration": {"prefers": "tape"}}, "rig-value", "calibration.prefers"),
            ({"parts": {"wait": motor}}, "reserved-name", "parts.wait"),
            ({"parts": {"valve": {**motor, "prot": "M1"}}}, "unknown-key", "parts.valve.prot"),
            ({"drive": {**SMALL["drive"], "left": "lift"}}, "drive-missing-motor", "drive.left"),
            ({"drive": {**SMALL["drive"], "right": "lamp"}}, "drive-missing-motor", "drive.right"),
            ({"drive": {**SMALL["drive"], "right": "left"}}, "drive-one-motor", "drive.right"),
            ({"drive": {**SMALL["drive"], "right": "left", "left": "right"}}, "drive-swapped", "drive.left"),
            ({"drive": {**SMALL["drive"], "track_width": 14}}, "number-without-unit", "drive.track_width"),
            ({"loop": "10 cm"}, "wrong-dimension", "loop"),
            ({"geduld": "floor/1"}, "not-a-rig", "geduld"),
            ({"parts": {}}, "rig-value", "parts"),
        ]  # fmt: skip
        for change, code, path in faults:
            with self.subTest(path, code=code):
                source = copy.deepcopy(SMALL) | change
                if "parts" in change and "drive" not in change and "left" not in change["parts"]:
                    source.pop("drive", None)
                with self.assertRaises(RigError) as caught:
                    rig_from_json(source)
                self.assertEqual((caught.exception.code, caught.exception.place.path), (code, path))
                self.assertTrue(caught.exception.remedy)

    def test_text_that_is_no_rig(self):
        for text, code in [("{", "not-json"), ("[" * 100_000, "not-json"), (b"\xff", "not-json"), ("[]", "not-a-rig"),
                           ('{"geduld": "rig/1", "name": "a", "name": "b"}', "key-twice")]:  # fmt: skip
            with self.assertRaises(RigError) as caught:
                rig_from_text(text)
            self.assertEqual(caught.exception.code, code)

    def test_the_demonstration_rig(self):
        rig = cart()
        self.assertEqual([part.name for part in rig.sensors][:3], ["nose", "nose_left", "range"])
        self.assertEqual((rig.loop_us, rig.parts["range"].high, rig.parts["right"].reversed), (10_000, 200.0, True))


class Floors(unittest.TestCase):
    def test_each_fault_names_its_place(self):
        tub = {"name": "tub", "at": ["100 cm", "50 cm"], "radius": "10 cm"}
        faults = [
            ({"geduld": "rig/1"}, "not-a-floor", "geduld"),
            ({"size": ["300 cm"]}, "floor-value", "size"),
            ({"size": ["300 cm", 200]}, "number-without-unit", "size.1"),
            ({"size": ["300 cm", "90 deg"]}, "wrong-dimension", "size.1"),
            ({"start": {"at": ["301 cm", "50 cm"]}}, "floor-value", "start.at"),
            ({"start": {}}, "floor-value", "start.at"),
            ({"edge": "fence"}, "floor-value", "edge"),
            ({"wals": []}, "unknown-key", "wals"),
            ({"walls": [{"from": ["1 cm", "1 cm"], "to": ["10 mm", "1 cm"]}]}, "wall-without-length", "walls.0.to"),
            ({"walls": [{"from": ["1 cm", "1 cm"]}]}, "floor-value", "walls.0.to"),
            ({"obstacles": [tub, tub]}, "name-twice", "obstacles.1.name"),
            ({"obstacles": [{**tub, "corners": BOX}]}, "floor-value", "obstacles.0"),
            ({"obstacles": [{**tub, "radius": "0 cm"}]}, "floor-value", "obstacles.0.radius"),
            ({"obstacles": [{"corners": [BOX[0], BOX[1], ["70 cm", "10 cm"]]}]}, "floor-value", "obstacles.0.corners"),
            ({"obstacles": [{"corners": [BOX[0], BOX[0], BOX[1]]}]}, "floor-value", "obstacles.0.corners.1"),
            ({"obstacles": [{"name": "hand", "corners": BOX, "movable": True}]}, "floor-value", "obstacles.0.name"),
            ({"obstacles": [{"name": "box", "corners": [*BOX[:3], ["70 cm", "15 cm"]], "movable": True}]}, "floor-value",
             "obstacles.0.corners"),
            ({"obstacles": [{**tub, "movable": "yes"}]}, "floor-value", "obstacles.0.movable"),
            ({"tones": [{**tub}]}, "floor-value", "tones.0.tone"),
            ({"tones": [{"tone": "20 %", "line": [["1 cm", "1 cm"], ["9 cm", "1 cm"]]}]}, "floor-value", "tones.0.width"),
            ({"ramps": [{"corners": BOX, "slope": "60 deg", "uphill": "0 deg"}]}, "floor-value", "ramps.0.slope"),
            ({"lamps": [{"at": ["1 cm", "1 cm"], "light": "5 %"}]}, "wrong-dimension", "lamps.0.light"),
            ({"marks": [{"at": ["1 cm", "1 cm"]}]}, "floor-value", "marks.0.name"),
            ({"surfaces": [{"name": "mud", "turn_slip": "99 %", "corners": BOX}]}, "floor-value", "surfaces.0.turn_slip"),
            ({"corridors": [{"name": "aisle"}]}, "floor-value", "corridors.0"),
        ]  # fmt: skip
        for change, code, path in faults:
            with self.subTest(path, code=code):
                with self.assertRaises(FloorError) as caught:
                    floor_from_json(YARD | change)
                self.assertEqual((caught.exception.code, caught.exception.place.path), (code, path))
                self.assertTrue(caught.exception.remedy)

    def test_a_start_that_is_not_free(self):
        for things in (
            {"obstacles": [{"at": ["50 cm", "85 cm"], "radius": "5 cm"}]},
            {"walls": [{"from": ["30 cm", "80 cm"], "to": ["90 cm", "81 cm"]}]},
            {"start": {"at": ["4 cm", "80 cm"]}},
        ):
            with self.subTest(things), self.assertRaises(FloorError) as caught:
                FloorWorld(floor_from_json(YARD | things), small_rig()).tried()
            self.assertEqual((caught.exception.code, caught.exception.place.path), ("start-inside", "start.at"))

    def test_the_bodies_and_motors_of_a_rig(self):
        motor, eye, bump = SMALL["parts"]["left"], SMALL["parts"]["range"], SMALL["parts"]["nose"]
        square = [["8 cm", "8 cm"], ["-8 cm", "8 cm"], ["-8 cm", "-8 cm"], ["8 cm", "-8 cm"]]
        faults = [
            ({"body": {"outline": square[::-1]}}, "body.outline"),
            ({"body": {"outline": square, "radius": "9 cm"}}, "body.outline"),
            ({"body": {"outline": [["8 cm", "8 cm"], ["4 cm", "8 cm"], ["4 cm", "-8 cm"]]}}, "body.outline"),
            ({"body": {"mass": "1 cm"}}, "body.mass"),
            ({"parts": {"left": {**motor, "physics": {"gain": "5 %"}}}}, "parts.left.physics.gain"),
            ({"parts": {"left": {**motor, "physics": {"torque": "3 kg"}}}}, "parts.left.physics.torque"),
            ({"parts": {"left": {**motor, "physics": {"cone": "9 deg"}}}}, "parts.left.physics.cone"),
            ({"parts": {"range": {**eye, "physics": {"period": "1.5 ms"}}}}, "parts.range.physics.period"),
            ({"parts": {"range": {**eye, "physics": {"noise": "1 %"}}}}, "parts.range.physics.noise"),
            ({"parts": {"nose": {**bump, "physics": {"rail": ["40 deg", "-40 deg"]}}}}, "parts.nose.physics.rail"),
            ({"parts": {"radio": {**SMALL["parts"]["radio"], "physics": {}}}}, "parts.radio.physics"),
        ]  # fmt: skip
        for change, path in faults:
            with self.subTest(path):
                source = SMALL | change
                if "parts" in change:
                    source = SMALL | {"parts": SMALL["parts"] | change["parts"]}
                with self.assertRaises(RigError) as caught:
                    rig_from_json(source)
                self.assertEqual(caught.exception.place.path, path)


class Hands(unittest.TestCase):
    def test_each_fault_names_its_row_and_column(self):
        faults = [
            (b"", "trace-heading", 1, None),
            (b"knob [%]\n", "trace-heading", 1, 1),
            (b"time [s],knob [cm]\n", "channel-unit", 1, 2),
            (b"time [s],left [%]\n", "channel-without-part", 1, 2),
            (b"time [s],crate.z [cm]\n", "channel-without-part", 1, 2),
            (b"time [s],crate.x [%]\n", "channel-unit", 1, 2),
            (b"time [s],knob [%],knob [%]\n", "channel-twice", 1, None),
            (b"time [s],knob [%]\n1,x\n", "bad-cell", 2, 2),
            (b"time [s],knob [%]\n1,nan\n", "bad-cell", 2, 2),
            (b"time [s],nose\n1,0.5\n", "bad-contact", 2, 2),
            (b"time [s],knob [%]\n1\n", "row-length", 2, None),
            (b"time [s],stop\n1,0\n", "bad-cell", 2, 2),
            (b"time [s],knob [%]\n2,5\n1,5\n", "time-goes-back", 3, 1),
            (b"\xff", "not-csv", None, None),
        ]
        for data, code, row, column in faults:
            with self.subTest(data):
                with self.assertRaises(TraceError) as caught:
                    inputs_from_csv(data, small_rig(), ["crate"])
                place = caught.exception.place
                self.assertEqual((caught.exception.code, place.row, place.column), (code, row, column))

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.tuples(st.sampled_from(["", "-", "0", "12.5", "100"]), st.sampled_from(["", "-", "1", "0"]),
                              st.sampled_from(["", "-", "go", "stop, now"]), st.sampled_from(["", "-", "33.25"]),
                              st.just("")),
                    min_size=1, max_size=8))  # fmt: skip
    def test_what_is_written_is_what_was_read(self, rows):
        table = [["time [s]", "knob [%]", "nose", "radio", "crate.x [cm]", "stop"]]
        table += [[f"{index * 0.25:g}", *row] for index, row in enumerate(rows)]
        table[-1][-1] = "1"
        out = io.StringIO()
        csv.writer(out, lineterminator="\n").writerows(table)
        inputs = inputs_from_csv(out.getvalue().encode(), small_rig(), ["crate"])
        self.assertEqual(inputs_to_csv(inputs, small_rig()), out.getvalue())

    def test_hands_lie_on_top_of_a_trace_until_they_let_go(self):
        base = Trace(np.arange(5, dtype=np.int64) * 1_000_000, {"knob": np.arange(5.0)})
        hands = inputs_from_csv(b"time [s],knob [%],nose\n0.5,70,1\n2.5,-,\n3.5,,-\n", small_rig())
        over = hands.over(base, small_rig())
        self.assertEqual((over.times / 1e6).tolist(), [0, 0.5, 1, 2, 2.5, 3, 3.5, 4])
        self.assertEqual(over.channels["knob"].tolist(), [0, 70, 70, 70, 2, 3, 3, 4])
        np.testing.assert_array_equal(over.channels["nose"], [np.nan, 1, 1, 1, 1, 1, np.nan, np.nan])


class Traces(unittest.TestCase):
    def test_each_fault_names_its_row_and_column(self):
        good = b"0,0,10,5\n0.01,1,11,6\n"
        faults = [
            (HEADER + good + b"0.02,0,1x,5\n", "bad-cell", 4, 3),
            (HEADER + good + b"0.02,0,inf,5\n", "bad-cell", 4, 3),
            (HEADER + good + b"0.02,0,1_000,5\n", "bad-cell", 4, 3),
            (HEADER + good + "0.02,0,１２,5\n".encode(), "bad-cell", 4, 3),
            (HEADER + good + b"0.02,0,1e999,5\n", "bad-cell", 4, 3),
            (HEADER + good + b"0.02,0,0x10,5\n", "bad-cell", 4, 3),
            (HEADER + good + b"nan,0,1,5\n", "bad-cell", 4, 1),
            (HEADER + good + b",0,1,5\n", "bad-cell", 4, 1),
            (HEADER + good + b"0.02,0,12\n", "row-length", 4, 4),
            (HEADER + good + b"0.02,0,12,4,4\n", "row-length", 4, 5),
            (HEADER + good + b"0.005,0,12,4\n", "time-goes-back", 4, 1),
            (HEADER + good + b"0.01,0,12,4\n", "time-goes-back", 4, 1),
            (HEADER + b"-1,0,12,4\n", "time-out-of-reach", 2, 1),
            (HEADER + good + b"0.02,0.5,12,4\n", "bad-contact", 4, 2),
            (HEADER, "no-samples", 2, None),
            (b"time [s],rnage [cm]\n0,1\n", "channel-without-part", 1, 2),
            (b"time [s],range [%]\n0,1\n", "channel-unit", 1, 2),
            (b"time [s],range [cm],range\n0,1,1\n", "channel-twice", 1, 3),
            (b"range [cm],time [s]\n0,1\n", "trace-heading", 1, 1),
            (b"time [s]\n0\n", "trace-heading", 1, None),
            (b"time [s],nose\n0,\xff\n", "not-csv", 2, None),
            (b"", "trace-heading", 1, None),
        ]
        for data, code, row, column in faults:
            with self.subTest(data[-20:]):
                with self.assertRaises(TraceError) as caught:
                    trace_from_csv(data, small_rig())
                place = caught.exception.place
                self.assertEqual((caught.exception.code, place.row, place.column), (code, row, column))

    def test_forms_that_are_read(self):
        plain = trace_from_csv(HEADER + b"0,0,10,\n0.5,1,,6\n", small_rig())
        for data in (
            b"\xef\xbb\xbf" + HEADER.replace(b"\n", b"\r\n") + b"0,0,10,\r\n0.5,1,,6\r\n",
            HEADER + b'0,0,"10",nan\n0.5,1,,6',
            b"time [ms],nose,range [mm],knob\n0,0,100,\n500,1,,6\n",
            HEADER + b"0, 0, 1e1,\n\n0.5,1,,6\n\n",
        ):
            trace = trace_from_csv(data, small_rig())
            self.assertEqual(trace.times.tolist(), [0, 500_000])
            for name in plain.channels:
                np.testing.assert_array_equal(trace.channels[name], plain.channels[name])
        with self.assertRaises(TraceError) as caught:
            read_trace(DEMO / "nowhere.csv", small_rig())
        self.assertIn("nowhere.csv", str(caught.exception))

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.tuples(st.integers(1, 10**7), st.one_of(st.none(), st.integers(-9999, 9999)), st.booleans()),
            min_size=1,
            max_size=30,
        )
    )
    def test_packing_and_csv_lose_nothing(self, rows):
        times = np.cumsum([gap for gap, _, _ in rows]).astype(np.int64)
        distance = np.array([np.nan if value is None else value / 10 for _, value, _ in rows])
        trace = Trace(times, {"range": distance, "nose": np.array([float(on) for _, _, on in rows])})
        for again in (unpack(pack(trace)), trace_from_csv(trace_to_csv(trace, small_rig()).encode(), small_rig())):
            self.assertEqual(again.fingerprint, trace.fingerprint)

    def test_messages_stay_until_the_next_one_and_are_counted(self):
        text = b'time [s],radio\n0,\n1,go\n2,go\n3,\n4,go\n5,"left, then right"\n'
        trace = trace_from_csv(text, small_rig())
        said = [trace.texts.get(code, "") for code in trace.channels["radio"].tolist()]
        self.assertEqual(said, ["", "go", "go", "go", "go", "left, then right"])
        self.assertEqual(trace.channels["radio.messages"].tolist(), [0, 1, 1, 1, 2, 3])
        for again in (unpack(pack(trace)), trace_from_csv(trace_to_csv(trace, small_rig()).encode(), small_rig())):
            self.assertEqual(again.fingerprint, trace.fingerprint)

    def test_unpacking_other_bytes(self):
        with self.assertRaises(TraceError):
            unpack(b"something else")


class Exercises(unittest.TestCase):
    def broken(self, change):
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        shutil.copytree(EXERCISE, folder / "e")
        change(folder / "e")
        return folder / "e"

    def test_each_fault_names_its_file(self):
        def edit(**changes):
            def change(folder):
                path = folder / "exercise.json"
                path.write_text(json.dumps(json.loads(path.read_text()) | changes))

            return change

        def floored(yard=None, **entry):
            def change(folder):
                (folder / "yard.json").write_text(json.dumps(YARD | (yard or {})))
                edit(cases=[{"name": "a", "floor": "yard.json"} | entry])(folder)

            return change

        case = {"name": "a", "trace": "dry-day.csv"}
        table = [
            (edit(rig="../secret.json"), "outside"),
            (edit(rig="nowhere.json"), "no file"),
            (edit(cases=[]), "needs 1 to"),
            (edit(cases=[case, case]), 'Two cases are called "a"'),
            (edit(cases=[case | {"limit": "5 cm"}]), "cases[0].limit"),
            (edit(cases=[case | {"limt": "5 s"}]), "cases[0].limt"),
            (edit(cases=[case | {"seed": 3}]), "cases[0].seed"),
            (edit(cases=[case | {"floor": "yard.json"}]), "a trace or a floor"),
            (floored(seed=-1), "cases[0].seed"),
            (floored(limit="20 min"), "cases[0].limit"),
            (floored(start="Z"), 'There is no mark "Z"'),
            (floored(yard={"start": {"at": ["1 cm", "1 cm"]}}), "yard.json, start.at"),
            (floored(inputs="../hand.csv"), "cases[0].inputs"),
            (edit(titel="x"), 'Did you mean "title"?'),
            (edit(points_over_cases="best"), "points_over_cases"),
            (lambda folder: (folder / "exercise.json").write_text("{"), "exercise.json, row 1"),
            (lambda folder: (folder / "exercise.json").unlink(), "cannot be opened"),
            (lambda folder: (folder / "reference.geduld").write_text('behaviour "a"\nbegin:\n    jmp\n'), "reference.geduld, row 3"),
            (lambda folder: (folder / "checks.geduld").write_text('check "a", 1 point:\n    x\n'), "checks.geduld, row 2"),
            (lambda folder: (folder / "dry-day.csv").write_text("time [s],nose\n0,x\n"), "dry-day.csv, row 2, column 2"),
        ]  # fmt: skip
        for change, text in table:
            with self.subTest(text):
                with self.assertRaises(InputError) as caught:
                    read_exercise(self.broken(change))
                self.assertIn(text, str(caught.exception))
        limited = read_exercise(self.broken(edit(cases=[case | {"limit": "2.5 s"}])))
        self.assertEqual(limited.cases[0].world.limit_us, 2_500_000)
        exercise = read_exercise(self.broken(floored(seed=4, start="A", limit="20 s")))
        marks = grade_all(exercise, [HandIn("same", exercise.reference.encode())])[0].totals
        self.assertEqual(len(marks), len(exercise.checks.checks))
        self.assertNotEqual(
            exercise.cases[0].world.fingerprint,
            read_exercise(self.broken(floored(seed=5, start="A", limit="20 s"))).cases[0].world.fingerprint,
        )
        self.assertRaises(ExerciseError, read_exercise, DEMO)
