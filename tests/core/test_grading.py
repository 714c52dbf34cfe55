"""Grading: the demonstration class, broken hand-ins, and the command line."""

import contextlib
import csv
import io
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from dataclasses import replace
from pathlib import Path
from unittest.mock import patch

from geduld.cli.main import main
from geduld.errors import InputError
from geduld.grading.exercise import good_checks, read_exercise
from geduld.grading.folders import marks_csv, read_hand_ins
from geduld.grading.grade import HandIn, grade_all
from geduld.grading.kept import KeptMarks
from geduld.grading.resume import grade_with
from geduld.readers.notation import runner_for
from geduld.run.record.as_csv import channels_csv
from tests.glasshouse import DEMO, EXERCISE, ROOT, program

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

    def test_over_all_cases_the_worst_one_is_told(self):
        order = ["fail", "part", "not certain", "pass"]
        told = 0
        for graded in self.graded[:-1]:
            for total in graded.totals:
                marks = [mark for mark in graded.marks if mark.check == total.check and mark.case != "all"]
                marks = [mark for mark in marks if mark.verdict != "not exercised"]
                worst = min(order.index(mark.verdict) for mark in marks)
                margins = {mark.margin: mark for mark in reversed(marks) if order.index(mark.verdict) == worst}
                if None not in margins:
                    mark = margins[min(margins)]
                    told += len(margins) > 1
                    self.assertEqual((total.margin, total.at), (mark.margin, mark.at))
                    self.assertIn(mark.because, total.because)
        self.assertGreaterEqual(told, 5, "several cases have margins that differ")

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


class OnTheFloor(unittest.TestCase):
    def test_a_class_on_the_floor_with_a_recorded_run(self):
        """Touches, quick, slows, gently, stops, waters, order, backs away, aisle, still: p(ass), h(alf), f(ail), - not exercised."""
        graded = grade_all(read_exercise(DEMO / "gentle-docking"), read_hand_ins(DEMO / "gentle-class"))
        word = {"pass": "p", "part": "h", "fail": "f", "not exercised": "-", "not certain": "?"}
        self.assertEqual(
            {
                item.name: ("".join(word[mark.verdict] for mark in item.totals), round(item.points, 2))
                for item in graded
            },
            {
                "ilse-morgan": ("pppppppppp", 19),
                "mateo-vance": ("ppppppffpp", 15),
                "pia-sandoval": ("fhp--pffpp", 7.5),
                "piet-dahlgren": ("-fpppfpp-p", 13),
                "ruth-okonjo": ("hhh----hph", 3.2),
                "sunniva-brook": ("fppp-pfppp", 14),
                "tariq-holloway": ("ppffpppppp", 13),
            },
        )
        self.assertEqual({item.problem for item in graded}, {""})


class OverCases(unittest.TestCase):
    def test_a_check_says_how_its_points_come_from_several_cases(self):
        source = read_exercise(EXERCISE)
        femi = HandIn("femi", (DEMO / "hand-ins" / "femi-castellan.geduld").read_bytes())
        broken = HandIn("broken", b"begin")
        sentence = "    after nose is pressed, within 150 ms, drive = 0 %\n"
        found = {}
        for over in ("mean", "least", "each"):
            checks = good_checks(f'check "Stops", 3 points, {over} over cases, private:\n{sentence}', source.rig)
            marks = [graded.totals[0] for graded in grade_all(replace(source, checks=checks), [femi, broken], 0)]
            self.assertEqual(marks[0].of, marks[1].of, "worth the same for everybody")
            found[over] = (round(marks[0].points, 3), marks[0].of)
            self.assertTrue(checks.checks[0].private)
        single = [mark.points for mark in grade_all(source, [femi], 0)[0].marks if mark.check == "Stops at the barrel"][
            :3
        ]
        self.assertEqual(found["mean"], (round(sum(single) / 3, 3), 3))
        self.assertEqual(found["least"], (min(single), 3))
        self.assertEqual(found["each"], (sum(single), 9))


class Resumed(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.exercise = self.folder / "exercise"
        shutil.copytree(EXERCISE, self.exercise)
        self.marks = self.folder / "marks.csv"
        self.kept = self.folder / "marks.csv.kept"

    def hand_in(self, copies):
        place = self.folder / "hand-ins"
        place.mkdir()
        for copy in range(copies):
            for path in (DEMO / "hand-ins").glob("*.geduld"):
                text = path.read_text() + f"# number {copy}\n"
                (place / f"{path.stem}-{copy}.geduld").write_text(text)
        return place

    def keys(self):
        found = []
        for line in self.kept.read_bytes().splitlines():
            with contextlib.suppress(ValueError):
                found.append(json.loads(line)["key"])
        return found

    def test_only_what_changed_is_graded_again(self):
        exercise, hand_ins = read_exercise(self.exercise), read_hand_ins(self.hand_in(1))

        def grade(exercise, hand_ins):
            asked = []
            graded = grade_with(KeptMarks(self.kept), exercise, hand_ins, 1, progress=lambda done, of: asked.append(of))
            self.assertEqual(marks_csv(graded), marks_csv(grade_all(exercise, hand_ins, 0)))
            return asked[0], len(self.keys())

        self.assertEqual(grade(exercise, hand_ins), (7, 35))
        self.assertEqual(grade(exercise, hand_ins), (0, 35))
        changed = [HandIn(hand_ins[0].name, hand_ins[0].data + b"# more\n"), *hand_ins[1:]]
        self.assertEqual(grade(exercise, changed), (1, 40))
        checks = self.exercise / "checks.geduld"
        checks.write_text("# a line more\n" + checks.read_text().replace("within 150 ms", "within 100 ms"))
        self.assertEqual(grade(read_exercise(self.exercise), changed), (7, 47), "one check of seven hand-ins")
        self.kept.write_bytes(self.kept.read_bytes()[:-20])
        self.assertEqual(grade(read_exercise(self.exercise), changed), (1, 47), "a line that was cut off")
        with patch("geduld.grading.keys.core_hash", lambda: "a later Geduld"):
            self.assertEqual(grade(read_exercise(self.exercise), changed), (7, 82), "Geduld itself")

    def test_recorded_runs_are_judged_as_they_are(self):
        exercise = read_exercise(self.exercise)
        text = exercise.reference
        record = exercise.cases[0].world.run(runner_for(text, exercise.rig))[0]
        place = self.hand_in(0)
        (place / "recorded.csv").write_text(channels_csv(record))
        (place / "broken.csv").write_text("time [s],nose\n0,x\n")
        broken, good = grade_all(exercise, read_hand_ins(place))
        self.assertEqual([mark.verdict for mark in good.totals], ["pass"] * 5)
        self.assertEqual({mark.case for mark in good.marks}, {"recording", "all"})
        self.assertIn("row 2, column 2", broken.problem)
        self.assertEqual(broken.points, 0)

    def test_a_pool_gives_the_same_marks(self):
        exercise, hand_ins = read_exercise(self.exercise), read_hand_ins(self.hand_in(1))
        wanted = grade_all(exercise, hand_ins, 0)
        self.assertEqual(grade_all(exercise, hand_ins, 2), wanted)
        done = threading.Event()
        other = threading.Thread(target=done.wait)
        other.start()  # as in a server: then nothing may be forked
        self.addCleanup(other.join)
        self.addCleanup(done.set)
        self.assertEqual(grade_all(exercise, hand_ins, 2), wanted)

    def test_a_cluster_gives_the_same_marks(self):
        place, file = self.hand_in(1), self.folder / "scheduler.json"
        command = [sys.executable, "-m", "distributed.cli.dask_scheduler", "--port", "0", "--no-dashboard"]
        worker = [
            sys.executable,
            "-m",
            "distributed.cli.dask_worker",
            "--nthreads",
            "1",
            "--no-dashboard",
            "--no-nanny",
        ]
        at = ["--scheduler-file", str(file)]
        place_of_work = ["--local-directory", str(self.folder)]
        for line in (command + at, worker + at + place_of_work, worker + at + place_of_work):
            process = subprocess.Popen(line, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
            self.addCleanup(process.wait)
            self.addCleanup(process.terminate)
        for _ in range(300):
            if file.exists() and file.read_text().strip():
                break
            time.sleep(0.1)
        address = json.loads(file.read_text())["address"]
        exercise, hand_ins = read_exercise(self.exercise), read_hand_ins(place)
        graded = grade_with(KeptMarks(self.kept), exercise, hand_ins, scheduler=address)
        self.assertEqual(graded, grade_all(exercise, hand_ins, 0))
        with self.assertRaises(InputError) as caught:
            grade_with(KeptMarks(self.folder / "other"), exercise, hand_ins, scheduler="nowhere")
        self.assertEqual(caught.exception.code, "no-cluster")

    def test_killing_it_at_any_moment_loses_and_doubles_nothing(self):
        place = self.hand_in(8)
        command = [sys.executable, "-m", "geduld", "grade", str(self.exercise), str(place), "--marks", str(self.marks)]
        chance = random.Random(5)
        for workers in ("1", "2"):
            self.kept.unlink(missing_ok=True)
            for _ in range(10):
                process = subprocess.Popen([*command, "--workers", workers], cwd=ROOT, start_new_session=True,
                                           stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)  # fmt: skip
                with contextlib.suppress(subprocess.TimeoutExpired):
                    process.wait(chance.uniform(0.2, 1.6))
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(process.pid, signal.SIGKILL)
                process.wait()
            subprocess.run([*command, "--workers", workers], cwd=ROOT, check=True, capture_output=True)
            wanted = grade_all(read_exercise(self.exercise), read_hand_ins(place), 0)
            self.assertEqual(self.marks.read_text(), marks_csv(wanted))
            keys = self.keys()
            self.assertEqual((len(keys), len(set(keys))), (56 * 5, 56 * 5))


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

    def test_a_run_on_a_floor_is_kept_as_a_trace(self):
        rig, floor = DEMO / "rigs" / "glasshouse-cart.json", DEMO / "floors" / "north-aisle.json"
        hands = self.file("h.csv", "time [s],knob [%],crate.x [cm],crate.y [cm]\n1,80,,\n3,,250,60\n")
        behaviour = DEMO / "behaviours" / "dock-at-the-barrel.geduld"
        record, channels = self.folder / "r.json", self.folder / "c.csv"
        on_floor = ("run", behaviour, "--rig", rig, "--floor", floor, "--inputs", hands, "--seed", 3, "--limit", 30)
        code, out, err = self.call(*on_floor, "--start", "A", "--record", record, "--channels", channels)
        self.assertEqual((code, err), (0, ""), out)
        source = json.loads(record.read_text())
        self.assertEqual(source["pose"][0], [0.0, 1.1, 0.6, 0.0])
        self.assertAlmostEqual(source["things"]["crate"][-1][1], 2.5, delta=0.01)
        code, *_ = self.call("run", behaviour, "--rig", rig, "--trace", channels, "--record", self.folder / "r2.json")
        self.assertEqual((code, json.loads((self.folder / "r2.json").read_text())["commands"]), (0, source["commands"]))
        code, _, err = self.call(*on_floor, "--start", "Q")
        self.assertEqual((code, err.count("\n")), (2, 1))
        self.assertIn('There is no mark "Q"', err)
        self.assertEqual(self.call("hints", behaviour, "--rig", rig, "--floor", floor, "--inputs", hands)[0], 0)

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
        code, out, _ = self.call("check", EXERCISE / "checks.geduld", "--trace", channels, "--rig", rig, "--json")
        self.assertEqual((code, json.loads(out)["checks"]), (0, verdicts), "what it did, recorded, is judged alike")
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
            (("check", EXERCISE / "checks.geduld", "--trace", trace), 2, "--rig"),
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
