"""Grading: the demonstration class, broken hand-ins, and the command line."""

import contextlib
import csv
import io
import json
import shutil
import tempfile
import unittest
from pathlib import Path

from geduld.cli.main import main
from geduld.grading.exercise import read_exercise
from geduld.grading.folders import marks_csv, read_hand_ins
from geduld.grading.grade import HandIn, grade_all
from tests.glasshouse import DEMO, EXERCISE, program

CLASS = {  # student: verdict over all cases of each of the five checks
    "ada-lindqvist": ["pass", "pass", "pass", "pass", "pass"],
    "bela-okoro": ["pass", "pass", "pass", "pass", "pass"],
    "carla-nwosu": ["fail", "part", "pass", "pass", "pass"],
    "dario-ferro": ["pass", "pass", "pass", "pass", "fail"],
    "edda-brandt": ["pass", "part", "pass", "pass", "pass"],
    "femi-castellan": ["pass", "pass", "fail", "part", "pass"],
    "greta-holm": ["fail", "fail", "fail", "fail", "fail"],
}


class Class(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.exercise = read_exercise(EXERCISE)
        cls.hand_ins = read_hand_ins(DEMO / "hand-ins")
        cls.graded = grade_all(cls.exercise, cls.hand_ins)

    def test_seven_typical_outcomes(self):
        self.assertEqual({g.name: [mark.verdict for mark in g.totals] for g in self.graded}, CLASS)
        self.assertIn("Line 7", self.graded[-1].problem)
        left_running = self.graded[3].totals[4]
        self.assertIn("still so when the run ended", left_running.because)

    def test_broken_hand_ins_cost_only_their_own_mark(self):
        broken = {
            "empty": b"",
            "binary": bytes(range(256)) * 10,
            "huge": b"#" * 300_000,
            "endless": program("repeat:\n    wait 1 us\n    set n to 1").encode(),
            "brackets": b"(" * 150_000,
            "nul": b"\0" * 50,
        }
        mixed = [HandIn(name, data) for name, data in broken.items()] + self.hand_ins
        graded = grade_all(self.exercise, mixed)
        for result in graded[: len(broken)]:
            with self.subTest(result.name):
                self.assertEqual(result.points, 0)
                self.assertTrue(result.problem and all(mark.because == result.problem for mark in result.marks))
        self.assertEqual(graded[len(broken) :], self.graded)

    def test_workers_change_nothing_and_progress_counts(self):
        told = []
        self.assertEqual(grade_all(self.exercise, self.hand_ins, 2, told.append), self.graded)
        self.assertEqual(told, list(range(1, 8)))

    def test_a_check_cannot_be_dodged_and_an_idle_case_costs_nothing(self):
        never_waters = program("wait until knob > 62 %, held 50 ms\ndrive at 45 % for 3 s").encode()
        by_title = {mark.check: mark for mark in grade_all(self.exercise, [HandIn("x", never_waters)])[0].totals}
        self.assertEqual(by_title["Waters for 1.5 s"].verdict, "not exercised")
        self.assertEqual(by_title["Waters for 1.5 s"].points, 0)

    def test_a_name_cannot_become_a_formula(self):
        rows = list(csv.DictReader(io.StringIO(marks_csv(grade_all(self.exercise, [HandIn("=1+1", b"")])))))
        self.assertTrue(all(row["hand_in"] == "'=1+1" for row in rows))
        self.assertEqual(len(rows), 5 * (3 + 1))


class CommandLine(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def call(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                code = main([str(argument) for argument in arguments])
            except SystemExit as leaving:
                code = leaving.code
        return code, out.getvalue(), err.getvalue()

    def file(self, name, text):
        path = self.folder / name
        path.write_text(text)
        return path

    def test_run_check_and_grade(self):
        rig, trace = DEMO / "rigs" / "glasshouse-cart.json", DEMO / "traces" / "dry-day.csv"
        record, channels = self.folder / "r.json", self.folder / "c.csv"
        behaviour = DEMO / "behaviours" / "dock-at-the-barrel.geduld"
        code, out, _ = self.call(
            "run", behaviour, "--rig", rig, "--trace", trace, "--record", record, "--channels", channels
        )
        self.assertEqual(code, 0, out)
        source = json.loads(record.read_text())
        self.assertEqual(
            (source["ended"]["why"], source["ended"]["said"], source["ended"]["lasted"]), ("finished", "watered", 30.0)
        )
        self.assertEqual(
            channels.read_text().splitlines()[0].split(",")[:4], ["time [s]", "nose", "range [cm]", "knob [%]"]
        )
        replayed = self.call("run", behaviour, "--rig", rig, "--trace", channels, "--record", self.folder / "r2.json")
        self.assertEqual(replayed[0], 0)
        self.assertEqual(json.loads((self.folder / "r2.json").read_text())["commands"], source["commands"])
        code, out, _ = self.call("check", EXERCISE / "checks.geduld", "--record", record, "--json")
        verdicts = json.loads(out)["checks"]
        self.assertEqual((code, {check["verdict"] for check in verdicts}), (0, {"pass"}))
        marks, report = self.folder / "m.csv", self.folder / "m.json"
        code, out, _ = self.call("grade", EXERCISE, DEMO / "hand-ins", "--marks", marks, "--report", report)
        self.assertEqual(code, 0)
        header = "hand_in,check,case,verdict,points,of,margin,unit,at,because"
        self.assertEqual(marks.read_text().splitlines()[0], header)
        totals = {h["name"]: h["points"] for h in json.loads(report.read_text())["hand_ins"]}
        self.assertEqual((totals["ada-lindqvist"], totals["dario-ferro"], totals["greta-holm"]), (11, 9, 0))

    def test_rides_with_a_library_replay_from_their_own_channels(self):
        """Encoders, messages and kept speeds come back from the files that a run has written."""
        rig = DEMO / "rigs" / "glasshouse-cart.json"
        for name, trace in (("round-of-a-bed", "round-of-a-bed"), ("called-by-radio", "radio-calls")):
            behaviour, recording = DEMO / "behaviours" / f"{name}.geduld", DEMO / "traces" / f"{trace}.csv"
            record, again, channels = (self.folder / f"{name}{end}" for end in (".json", "-2.json", ".csv"))
            first = ("run", behaviour, "--rig", rig, "--trace", recording, "--record", record, "--channels", channels)
            self.assertEqual(self.call(*first)[0], 0)
            second = ("run", behaviour, "--rig", rig, "--trace", channels, "--record", again)
            self.assertEqual(self.call(*second)[0], 0)
            found, replayed = json.loads(record.read_text()), json.loads(again.read_text())
            for key in ("commands", "controls", "events", "program"):
                self.assertEqual(found[key], replayed[key], key)
            self.assertTrue({event["text"] for event in found["events"] if event["kind"] == "send"})
        alone = self.file("alone.geduld", (DEMO / "behaviours" / "round-of-a-bed.geduld").read_text())
        library = DEMO / "behaviours" / "library"
        self.assertIn("no-library", self.call("hints", alone, "--rig", rig)[1])
        self.assertEqual(self.call("hints", alone, "--rig", rig, "--library", library)[:2], (0, ""))
        self.assertEqual(self.call("hints", alone, "--rig", rig, "--library", self.folder / "nowhere")[0], 2)

    def test_an_exercise_names_its_libraries(self):
        folder = self.folder / "exercise"
        shutil.copytree(EXERCISE, folder)
        source = json.loads((folder / "exercise.json").read_text())
        (folder / "moves.geduld").write_text('library "moves"\n\nto pour:\n    valve at 80 % for 1.5 s\n')
        text = (folder / "reference.geduld").read_text().replace("valve at 80 % for 1.5 s", "pour")
        (folder / "reference.geduld").write_text(text.replace("\n\nlet", '\n\ninclude "moves"\n\nlet', 1))
        for libraries, fault in ((["moves.geduld"], ""), ([], "reference.geduld"), (["reference.geduld"], "not a library"),
                                 (["../moves.geduld"], "outside"), ("moves.geduld", "list of files")):  # fmt: skip
            with self.subTest(libraries):
                (folder / "exercise.json").write_text(json.dumps(source | {"libraries": libraries}))
                hand_ins = self.folder / "hand-ins"
                hand_ins.mkdir(exist_ok=True)
                shutil.copy(folder / "reference.geduld", hand_ins / "ines.geduld")
                code, out, err = self.call("grade", folder, hand_ins, "--marks", self.folder / "m.csv")
                self.assertEqual((code, fault in err), (2 if fault else 0, True), err)
                if not fault:
                    self.assertIn("11 of 11  ines", out)

    def test_exit_codes(self):
        rig, trace = DEMO / "rigs" / "glasshouse-cart.json", DEMO / "traces" / "dry-day.csv"
        good, bad = self.file("a.geduld", program("wait 1 s", "\n")), self.file("b.geduld", program("wait 2"))
        loose, endless = (
            self.file("c.geduld", program("wait   1 s")),
            self.file("d.geduld", program('repeat:\n    note "x"')),
        )
        broken = self.file("broken.csv", "time [s],nose\n0,maybe\n")
        not_rig = self.file("x.json", "[]")
        loops = self.file("e.geduld", program("repeat:\n    wait 1 us\n    lamp on\n    lamp off"))
        table = [
            (("hints", good, "--rig", rig), 0, ""),
            (("hints", bad, "--rig", rig), 1, "b.geduld:3:10: error number-without-unit"),
            (("hints", good, "--rig", not_rig), 2, "x.json"),
            (("hints", self.folder / "none.geduld", "--rig", rig), 2, "none.geduld"),
            (("format", "--check", good), 0, ""),
            (("format", "--check", loose), 1, "not in its standard form"),
            (("format", bad), 0, ""),
            (("format", loose), 0, ""),
            (("format", "--check", loose), 0, ""),
            (("run", bad, "--rig", rig, "--trace", trace), 1, "number-without-unit"),
            (("run", good, "--rig", rig, "--trace", broken), 2, "broken.csv, row 2, column 2"),
            (("run", endless, "--rig", rig, "--trace", trace), 0, ""),
            (("run", loops, "--rig", rig, "--trace", trace), 3, "more steps than a run may"),
            (("run", good, "--rig", rig, "--trace", trace, "--limit", "-1"), 2, "above 0"),
            (("check", EXERCISE / "checks.geduld", "--record", not_rig), 2, "x.json"),
            (("grade", DEMO, DEMO / "hand-ins", "--marks", self.folder / "m.csv"), 2, "exercise.json"),
            (("grade", EXERCISE, DEMO / "none", "--marks", self.folder / "m.csv"), 2, "none"),
            (("fly",), 2, "fly"),
        ]
        for arguments, code, text in table:
            with self.subTest(arguments[:2]):
                found, out, err = self.call(*arguments)
                self.assertEqual(found, code, out + err)
                self.assertIn(text, out + err)
                self.assertLessEqual(len(err.splitlines()), 20)

    def test_hints_as_json(self):
        bad = self.file("b.geduld", program("left at 0.6"))
        _, out, _ = self.call("hints", bad, "--rig", DEMO / "rigs" / "glasshouse-cart.json", "--json")
        self.assertEqual(
            json.loads(out)["hints"],
            [
                {
                    "code": "number-without-unit", "level": "error", "line": 3, "column": 13, "end_line": 3,
                    "end_column": 16, "message": "This number has no unit; the value of left is a ratio (%).",
                    "remedy": "Write 60 %, if that is what you mean.", "fix": "60 %",
                }
            ],
        )  # fmt: skip
