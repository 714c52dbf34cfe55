"""The teacher's rules for points: late hand-ins and rounding, in numbers and on the command line."""

import csv
import json
import shutil
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from geduld.cli.main import main
from geduld.grading.points import NO_RULES, PointRules, counted
from tests.glasshouse import DEMO, EXERCISE

DUE = datetime(2026, 11, 20, 15, tzinfo=UTC)
SECOND, DAY = timedelta(seconds=1), timedelta(days=1)
TENTH = PointRules(DUE, 0.1, 0.25)


class Counting(unittest.TestCase):
    def test_examples_worked_by_hand(self):
        cases = (
            (9.0, None, TENTH, 9.0, 0, ""),
            (9.0, DUE, TENTH, 9.0, 0, ""),
            (9.0, DUE + SECOND, TENTH, 8.1, 1, "1 day late, minus 10 % of 9 points."),
            (9.0, DUE + DAY, TENTH, 8.1, 1, "1 day late, minus 10 % of 9 points."),
            (9.0, DUE + DAY + SECOND, TENTH, 7.2, 2, "2 days late, minus 20 % of 9 points."),
            (8.0, DUE + 9 * DAY, TENTH, 6.0, 9, "9 days late, minus 25 % of 8 points."),
            (8.0, DUE + 2 * DAY, PointRules(DUE), 8.0, 2, "2 days late, which costs nothing."),
            (0.0, DUE + SECOND, TENTH, 0.0, 1, "1 day late, which costs nothing."),
            (7.25, None, PointRules(round_to=0.5), 7.5, 0, "7.25 rounded to 7.5 points."),
            (7.2, None, PointRules(round_to=0.5), 7.0, 0, "7.2 rounded to 7 points."),
            (0.1 + 0.2 + 0.2, None, PointRules(round_to=1), 1.0, 0, "0.5 rounded to 1 point."),
            (9.0, DUE + SECOND, PointRules(DUE, 0.1, 1, 0.5), 8.0, 1,
             "1 day late, minus 10 % of 9 points; 8.1 rounded to 8 points."),
            (7.123, DUE + DAY, NO_RULES, 7.123, 0, ""),
        )  # fmt: skip
        for earned, received, rules, points, days, because in cases:
            with self.subTest(because, earned=earned):
                found = counted(earned, received, rules)
                self.assertAlmostEqual(found.counting, points)
                self.assertEqual((found.late_days, found.because), (days, because))

    @given(
        st.floats(0, 1000), st.floats(0, 40), st.floats(0, 1), st.floats(0, 1), st.sampled_from([0, 0.1, 0.25, 0.5, 1])
    )
    def test_later_is_never_better_and_rounding_moves_by_half_a_step(self, earned, days, per_day, most, step):
        rules = PointRules(DUE, per_day, most, step)
        on_time, late, later = (counted(earned, DUE + d * DAY, rules) for d in (0, days, days + 1))
        self.assertLessEqual(late.counting, on_time.counting)
        self.assertLessEqual(later.counting, late.counting)
        self.assertGreaterEqual(later.counting, earned * (1 - most) - step / 2 - 1e-6)
        self.assertLessEqual(abs(on_time.counting - earned), step / 2 + 1e-6)


class OnTheCommandLine(unittest.TestCase):
    def test_the_files_say_what_was_earned_and_what_counts(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            shutil.copytree(EXERCISE, folder / "task")
            rules = {"due": "2026-11-20T16:00:00+01:00", "late": {"per_day": "10 %"}, "round_to": "0.5 points"}
            asked = ["grade", folder / "task", DEMO / "hand-ins", "--marks", folder / "m.csv"]
            asked += ["--report", folder / "m.json", "--results", folder / "r.csv", "--received", folder / "t.csv"]

            def call(received, **changed):
                source = json.loads((EXERCISE / "exercise.json").read_text()) | rules | changed
                (folder / "task" / "exercise.json").write_text(json.dumps(source))
                (folder / "t.csv").write_text(f"hand_in,received\n{received}\n")
                out, err = StringIO(), StringIO()
                with redirect_stdout(out), redirect_stderr(err):
                    return main([str(item) for item in asked]), out.getvalue(), err.getvalue()

            code, out, err = call("dario-ferro,2026-11-21T09:00:00+01:00")
            self.assertEqual((code, err), (0, ""))
            self.assertIn("8 of 11  dario-ferro  1 day late, minus 10 % of 9 points; 8.1 rounded to 8 points.", out)
            with (folder / "r.csv").open() as file:
                scores = {row["studentSourcedId"]: (row["score"], row["comment"]) for row in csv.DictReader(file)}
            self.assertEqual(scores["ada-lindqvist"], ("11", ""))
            self.assertEqual(scores["dario-ferro"][0], "8")
            report = {item["name"]: item for item in json.loads((folder / "m.json").read_text())["hand_ins"]}
            dario = report["dario-ferro"]
            self.assertEqual((dario["earned"], dario["late_days"], dario["points"]), (9, 1, 8))
            wrong = (
                ({"due": "tomorrow"}, "due"),
                ({"due": "2026-11-20T16:00:00"}, "time zone"),
                ({"late": {"per_week": "10 %"}}, "late"),
                ({"late": {"per_day": "10"}}, "late.per_day"),
                ({"late": {"at_most": "200 %"}}, "late.at_most"),
                ({"round_to": "half a point"}, "round_to"),
            )
            for changed, said in wrong:
                with self.subTest(said):
                    code, _, err = call("dario-ferro,2026-11-21T09:00:00+01:00", **changed)
                    self.assertEqual((code, err.count("\n")), (2, 1))
                    self.assertIn(said, err)
            for received in ("dario-ferro,soon", ",2026-11-21T09:00:00Z", "dario-ferro"):
                with self.subTest(received):
                    code, _, err = call(received)
                    self.assertEqual((code, "row 2" in err), (2, True), err)
