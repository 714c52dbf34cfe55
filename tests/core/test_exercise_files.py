"""What is refused in the files of an exercise and in the text of checks: each with its place and what to do."""

import contextlib
import io
import json
import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.cli.main import main
from geduld.errors import ExerciseError, FloorError, InputError
from geduld.grading.cases import CASE_KEYS
from geduld.grading.exercise import EXERCISE_KEYS, checks_for, read_exercise
from geduld.grading.folders import read_hand_ins
from geduld.grading.kept import KeptMarks
from tests.glasshouse import DEMO, EXERCISE, cart

FLOOR = {"name": "aisle", "floor": "north-aisle.json"}
TRACE = {"name": "dry", "trace": "dry-day.csv"}

# what is changed in exercise.json, the path to it, and a piece of the message with its remedy
WRONG = [
    ({"geduld": "exercise/9"}, "geduld", 'Start it with {"geduld": "exercise/1"'),
    ({"titel": "x"}, "titel", 'Did you mean "title"?'),
    ({"title": " "}, "title", "needs a title"),
    ({"rig": None}, "rig", "must name its rig"),
    ({"rig": "../rig.json"}, "rig", "outside the exercise"),
    ({"reference": "nowhere.geduld"}, "reference", 'no file "nowhere.geduld"'),
    ({"reference": "a" * 5000}, "reference", 'no file "aaa'),
    ({"reference": "\0"}, "reference", "no file"),
    ({"points_over_cases": "most"}, "points_over_cases", "mean, least or each"),
    ({"cases": []}, "cases", "1 to 100 cases"),
    ({"cases": [TRACE, TRACE]}, "cases", 'Two cases are called "dry"'),
    ({"cases": ["dry-day.csv"]}, "cases[0]", "A case needs a name"),
    ({"cases": [{"name": "dry"}]}, "cases[0]", "a trace or a floor, one of them"),
    ({"cases": [TRACE | FLOOR]}, "cases[0]", "a trace or a floor, one of them"),
    ({"cases": [TRACE | {"noise": 1}]}, "cases[0].noise", "not known here"),
    ({"cases": [TRACE | {"seed": 1}]}, "cases[0].seed", "A trace has no seed"),
    ({"cases": [TRACE | {"follow": "love"}]}, "cases[0].follow", "the time or the travel"),
    ({"cases": [TRACE | {"limit": "60"}]}, "cases[0].limit", "a time with its unit"),
    ({"cases": [TRACE | {"limit": "60 cm"}]}, "cases[0].limit", "a time with its unit"),
    ({"cases": [TRACE | {"limit": 60}]}, "cases[0].limit", "a time with its unit"),
    ({"cases": [FLOOR | {"seed": -1}]}, "cases[0].seed", "a whole number from 0 on"),
    ({"cases": [FLOOR | {"seed": True}]}, "cases[0].seed", "a whole number from 0 on"),
    ({"cases": [FLOOR | {"limit": "900 s"}]}, "cases[0].limit", "at most 600 s"),
    ({"cases": [FLOOR | {"inputs": "no.csv"}]}, "cases[0].inputs", 'no file "no.csv"'),
]

# a sentence, the code of its error, and a piece of what is said
WRONG_CHECKS = [
    ("left matches right within 5 %", "not-a-reference", "left matches reference.left"),
    ("nose is pressed matches reference.left within 5 %", "not-a-reference", "Only an output, a reading"),
    ("left matches reference.range within 5 %", "wrong-dimension", "What is matched"),
    ("left matches reference.clock within 5 %", "unknown-name", "reference.left"),
    ("left matches reference.left within left", "check-time", "a fixed value"),
    ("left matches reference.left within 5 cm", "wrong-dimension", "The tolerance"),
    ("valve > 0 % lasts 2 lx +- 1 lx", "check-time", "time, way or angle"),
    ("valve > 0 % lasts clock +- 1 s", "check-time", "a fixed value"),
    ("at the end, left is within 4 cm of mark \"A\"", "only-of-the-cart", "cart"),
    ("at the end, range is 90 deg +- 5 deg", "only-of-the-cart", "heading"),
    ("never wheel > 3 %", "unknown-name", "wheel"),
]  # fmt: skip


UNITS = st.sampled_from(["60 s", "-1 s", "1e400 s", "nan s", "10 %", "nan %", "0.5 points", "2026-11-20T16:00:00+01:00",
                         "A", "travel", "mean", "rig.json", ".", "..", "checks.geduld/x", "\0"])  # fmt: skip
LATE = st.sampled_from(["per_day", "at_most", "name", "trace"])


class Refused(unittest.TestCase):
    def setUp(self):
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.folder = Path(place.name) / "task"
        shutil.copytree(EXERCISE, self.folder)
        shutil.copy(DEMO / "floors" / "north-aisle.json", self.folder)
        self.source = json.loads((self.folder / "exercise.json").read_text())

    def read(self, **changed):
        (self.folder / "exercise.json").write_text(json.dumps(self.source | changed))
        return read_exercise(self.folder)

    def test_values_in_exercise_json(self):
        for changed, path, said in WRONG:
            with self.subTest(said, **changed), self.assertRaises(ExerciseError) as caught:
                self.read(**changed)
            self.assertEqual((caught.exception.place.file, caught.exception.place.path), ("exercise.json", path))
            self.assertIn(said, f"{caught.exception.message} {caught.exception.remedy}")
        self.assertEqual(len(self.read(cases=[TRACE, FLOOR]).cases), 2, "and what is right is read")

    def test_no_value_anywhere_is_worse_than_refused(self):
        """Any JSON in the place of any value, or of a value of a case, is read or refused with its place."""
        scalars = st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8) | UNITS
        values = st.recursive(
            scalars, lambda inner: st.lists(inner, max_size=3) | st.dictionaries(LATE, inner), max_leaves=5
        )

        @settings(max_examples=250, deadline=None)
        @given(st.sampled_from(EXERCISE_KEYS), st.sampled_from(CASE_KEYS), st.sampled_from([TRACE, FLOOR]), values)
        def holds(key, case_key, case, value):
            for changed in ({key: value}, {"cases": [case | {case_key: value}]}):
                with contextlib.suppress(InputError):
                    self.read(**changed)

        holds()

    def test_files_that_cannot_be_read(self):
        whole = (self.folder / "exercise.json").read_bytes()
        for data, code in (
            (b'{"geduld": ', "not-json"),
            (b"\xff\xfe", "not-json"),
            (b"[" * 100_000, "not-json"),
            (b'{"reference": "\\ud800"}', "not-json"),
        ):
            with self.subTest(data[:9]), self.assertRaises(ExerciseError) as caught:
                (self.folder / "exercise.json").write_bytes(data)
                read_exercise(self.folder)
            self.assertEqual(caught.exception.code, code)
        (self.folder / "exercise.json").write_bytes(whole)
        (self.folder / "checks.geduld").write_bytes(b"\xff")
        with self.assertRaises(ExerciseError) as caught:
            read_exercise(self.folder)
        self.assertEqual((caught.exception.code, caught.exception.place.file), ("not-utf8", "checks.geduld"))
        with self.assertRaises(ExerciseError) as caught:
            read_exercise(self.folder / "nowhere")
        self.assertEqual(caught.exception.code, "cannot-open")

    def test_errors_in_the_texts_name_the_file_and_the_line(self):
        for file, line in (("reference.geduld", "    drvie at 40 % for 1 s\n"), ("checks.geduld", "    never wheel\n")):
            text = (self.folder / file).read_text()
            with self.subTest(file), self.assertRaises(ExerciseError) as caught:
                (self.folder / file).write_text(text + line)
                self.read()
            self.assertEqual(caught.exception.place.file, file)
            self.assertGreater(caught.exception.place.row, 1)
            (self.folder / file).write_text(text)

    def test_a_floor_on_which_the_robot_cannot_start(self):
        source = json.loads((self.folder / "north-aisle.json").read_text())
        source["start"] = {"at": ["345 cm", "60 cm"]}
        (self.folder / "north-aisle.json").write_text(json.dumps(source))
        with self.assertRaises(FloorError) as caught:
            self.read(cases=[FLOOR])
        self.assertEqual(caught.exception.place.file, "north-aisle.json")

    def test_checks_that_cannot_be_judged(self):
        good = 'check "Good", 1 point:\n    never drive > 90 %\n\n'
        for sentence, code, said in WRONG_CHECKS:
            with self.subTest(sentence):
                found = checks_for(f'{good}check "A", 1 point:\n    {sentence}\n', cart())
                hint = found.hints[0]
                self.assertEqual((hint.code, hint.line, hint.level), (code, 5, "error"))
                self.assertIn(said, f"{hint.message} {hint.remedy}")
                self.assertEqual([check.title for check in found.checks], ["Good"], "it costs only itself")
        twice = checks_for(good + good, cart())
        self.assertEqual([hint.code for hint in twice.hints], ["check-twice"])

    def test_hand_ins_in_folders_and_marks_that_cannot_be_kept(self):
        place = self.folder / "hand-ins"
        for name, files in (("one", ["a.geduld"]), ("none", []), ("two", ["a.geduld", "b.geduld"])):
            (place / name).mkdir(parents=True)
            for file in files:
                shutil.copy(DEMO / "hand-ins" / "ada-lindqvist.geduld", place / name / file)
        shutil.copy(DEMO / "hand-ins" / "ada-lindqvist.geduld", place / "one.geduld")
        (place / ".hidden").write_text("")
        with open(os.fsencode(place) + b"/\xff.geduld", "w"):
            pass
        found = {item.name: bool(item.data) and b"no program" not in item.data for item in read_hand_ins(place)}
        self.assertEqual(found, {"none": False, "one": True, "one.geduld": True, "two": False, "\ufffd": False})
        marks = self.folder / "m.csv"
        with contextlib.redirect_stdout(io.StringIO()):
            code = main(["grade", str(EXERCISE), str(place), "--marks", str(marks)])
        self.assertEqual((code, "\ufffd" in marks.read_text()), (0, True))
        for kept in (self.folder, self.folder / "nowhere" / "kept"):
            with self.subTest(kept.name), self.assertRaises(InputError):
                KeptMarks(kept).add([], None)

    def test_who_reads_the_output_may_stop_reading(self):
        reading, writing = os.pipe()
        os.close(reading)
        command = [sys.executable, "-m", "geduld", "prove", str(EXERCISE)]
        with os.fdopen(writing, "wb") as output:
            done = subprocess.run(command, stdout=output, stderr=subprocess.PIPE, text=True, check=False, timeout=120)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_proofreading_on_the_command_line(self):
        for task, code, said in (
            ("dock-at-the-barrel", 1, "78% caught. 6 of 27 mistakes go unnoticed"),
            ("dock-at-the-barrel-mended", 0, "100% caught. All 27 planted mistakes are caught"),
        ):
            out = io.StringIO()
            with self.subTest(task), contextlib.redirect_stdout(out):
                self.assertEqual(main(["prove", str(DEMO / task)]), code)
            lines = out.getvalue().splitlines()
            self.assertTrue(lines[-1].startswith(said), lines[-1])
            self.assertEqual({line.split()[0] for line in lines[:-1]} - {"missed"},
                             {"reference", "caught", "hidden", "left", "no", "rewrite"})  # fmt: skip


if __name__ == "__main__":
    unittest.main()
