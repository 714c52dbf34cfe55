"""Calibration: intervals that hold the truth as often as they say, on data of known truth and on the floor."""

import contextlib
import io
import json
import math
import tempfile
import unittest
from pathlib import Path

import numpy as np
from scipy.stats import linregress
from scipy.stats import t as student

from geduld.calibration.applying import applied
from geduld.calibration.board import on_the_board
from geduld.calibration.findings import findings_of, following_of
from geduld.calibration.measurements import sheet_from_json
from geduld.calibration.sweep import sweep_of, turning
from geduld.calibration.tape import measured_on
from geduld.calibration.trials import pair, spin
from geduld.cli.main import main
from geduld.errors import FloorError, GeduldError, InputError, RigError, TraceError
from geduld.rig.reader import read_rig, rig_from_json
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import trace_to_csv
from tests.glasshouse import DEMO, cart
from tests.odd import ODD, places, with_odd

DRAWS = 1000
DISTANCES = (20, 50, 50, 100, 100, 150, 200)
ANGLES = (90, 90, 180, 360, 360, 720)
TIMED = [(power, time) for power in (20, 40, 60) for time in (1, 2, 3)]


def sheet(*rows, **more):
    return sheet_from_json({"geduld": "measurements/1", "surface": "tiles", "rows": list(rows)} | more)


def straight(asked, measured, **more):
    return {"move": "straight", "by": "encoder", "amount": f"{asked} cm", "measured": f"{measured:.6f} cm", **more}


def turn(asked, measured, move="turn", **more):
    return {"move": move, "by": "encoder", "amount": f"{asked} deg", "measured": f"{measured:.6f} deg", **more}


def timed(move, power, time, measured):
    unit = "cm" if move == "straight" else "deg"
    return {
        "move": move,
        "by": "time",
        "power": f"{power} %",
        "time": f"{time} s",
        "measured": f"{measured:.6f} {unit}",
    }


class Coverage(unittest.TestCase):
    def test_intervals_hold_the_truth_in_95_of_100_draws(self):
        """A robot with wheels of 6.37 cm, 14.4 cm apart, that rolls on by 0.4 cm, bends, and needs 3.5 % to move."""
        rig, chance = cart(), np.random.default_rng(11)
        drive = rig.drive
        s, q = 6.37 / drive.wheel_diameter, 6.37 / drive.wheel_diameter * drive.track_width / 14.4
        ratio = 0.985
        curve = 2 * (1 - ratio) / (1 + ratio) / drive.track_width
        truth = {
            "wheel diameter": 6.37, "slip": 100 - 100 * s, "on top": 0.4, "track width": 14.4, "trim": 100 * ratio,
            "travel": 0.33 * (40 - 3.5), "quarter turn": 90 / (6.1 * (40 - 3.5)) + 0.05, "dead zone": 3.5, "lag": 50.0,
        }  # fmt: skip
        held = dict.fromkeys(truth, 0)
        for _ in range(DRAWS):
            noise = iter(chance.normal(0, 1, 100).tolist())
            rows = [
                straight(
                    d,
                    s * d + 0.4 + 0.5 * next(noise),
                    sideways=f"{curve * (s * d + 0.4) ** 2 / 2 + 0.6 * next(noise):.6f} cm",
                )
                for d in DISTANCES
            ]
            rows += [turn(a, q * a + 2 * next(noise)) for a in ANGLES]
            rows += [timed("straight", p, t, 0.33 * (p - 3.5) * (t - 0.05) + 0.4 * next(noise)) for p, t in TIMED]
            rows += [timed("turn", p, t, 6.1 * (p - 3.5) * (t - 0.05) + 4 * next(noise)) for p, t in TIMED]
            found = {finding.word: finding.found for finding in findings_of(sheet(*rows), rig).findings}
            for word, value in truth.items():
                held[word] += found[word].low <= value <= found[word].high
        for word, count in held.items():
            self.assertTrue(0.93 <= count / DRAWS <= 0.97, (word, count / DRAWS))

    def test_a_straight_line_is_fitted_as_scipy_does(self):
        rig = cart()
        measured = [20.3, 48.9, 49.6, 97.8, 98.9, 146.2, 195.8]
        found = findings_of(sheet(*(straight(d, m) for d, m in zip(DISTANCES, measured, strict=True))), rig)
        line = linregress(DISTANCES, measured)
        half = student.ppf(0.975, 5)
        diameter, more = found.get("wheel diameter").found, found.get("on top").found
        self.assertAlmostEqual(diameter.value, 6.5 * line.slope, 6)
        self.assertAlmostEqual(diameter.half, 6.5 * line.stderr * half, 5)
        self.assertAlmostEqual(more.value, line.intercept, 5)
        self.assertAlmostEqual(more.half, line.intercept_stderr * half, 4)


class Sheets(unittest.TestCase):
    def test_what_few_measurements_can_say(self):
        one = findings_of(sheet(straight(100, 97)), cart())
        self.assertTrue(math.isinf(one.get("wheel diameter").found.high))
        self.assertIn("one more measurement", one.get("wheel diameter").sentence)
        self.assertIsNone(following_of(sheet(straight(100, 97))))
        self.assertEqual(findings_of(sheet(), cart()).findings, ())
        two = findings_of(sheet(straight(100, 97), straight(50, 48.6), turn(360, 340)), cart())
        self.assertTrue(math.isfinite(two.get("wheel diameter").found.high))

    def test_what_is_kept_out_tests_the_fit(self):
        rows = [straight(d, 0.97 * d + k % 2 * 0.2) for k, d in enumerate((50, 60, 100, 110, 150))]
        good, bad = straight(130, 126.2, kept_out=True), straight(120, 90, kept_out=True)
        found = findings_of(sheet(*rows, good, bad), cart())
        inside = {row.row.place: row.inside for row in found.residuals}
        self.assertEqual((inside[5], inside[6]), (True, False))
        without = findings_of(sheet(*rows), cart())
        self.assertEqual(found.get("wheel diameter").found, without.get("wheel diameter").found)

    def test_the_next_measurement_narrows_as_it_says(self):
        rng = np.random.default_rng(5)
        rows = [straight(d, 0.97 * d + rng.normal(0, 0.5)) for d in (50, 60, 100, 110, 150)]
        found = findings_of(sheet(*rows), cart())
        following = following_of(sheet(*rows))
        self.assertEqual((following.move, following.by), ("straight", "encoder"))
        before = found.get("wheel diameter").found
        tried = findings_of(sheet(*rows, straight(following.asked, 1, kept_out=True)), cart())
        fit = tried.residuals[-1].expected
        after = findings_of(sheet(*rows, straight(following.asked, fit)), cart()).get("wheel diameter").found
        self.assertLess(after.half, before.half)
        # the spread itself changes a little with one more measurement
        self.assertAlmostEqual(after.half / before.half, following.share, delta=0.15)

    def test_applied_the_rig_says_what_was_found(self):
        rig = cart()
        rows = [straight(d, 0.98 * d + 0.1 * (k % 2), sideways=f"{0.0002 * d * d} cm") for k, d in enumerate(DISTANCES)]
        rows += [turn(a, 0.95 * a) for a in ANGLES] + [timed("straight", 40, t, 12.0 * t) for t in (1, 2, 3, 4)]
        measured = sheet(*rows)
        found = findings_of(measured, rig)
        words = ["wheel diameter", "track width", "travel", "trim"]
        changed = rig_from_json(applied(rig, measured, found, words, "2026-11-27"))
        self.assertAlmostEqual(changed.drive.wheel_diameter, found.get("wheel diameter").found.value, 3)
        self.assertAlmostEqual(changed.drive.track_width, found.get("track width").found.value, 3)
        self.assertAlmostEqual(changed.calibration.travel * 40, 12.0, 2)
        self.assertEqual(
            changed.source["calibration"]["note"], "measured 2026-11-27: wheel diameter, track width, travel, trim"
        )
        self.assertEqual(dict(rig.source)["drive"], json.loads(json.dumps(cart().source))["drive"], "the old one stays")
        self.assertEqual((changed.calibration.ways, changed.calibration.angles), ((12.0, 196.0), (85.5, 684.0)))
        again = findings_of(measured, changed)
        self.assertAlmostEqual(
            again.get("wheel diameter").found.value / changed.drive.wheel_diameter,
            found.get("wheel diameter").found.value / rig.drive.wheel_diameter,
            3,
        )
        with self.assertRaises(InputError):
            applied(rig, measured, found, ["turning"], "2026-11-27")

    def test_the_board_s_arithmetic(self):
        rig = cart()
        around = math.pi * 6.5
        for row, last in (
            (straight(100, 1), round(100 / around * 360)),
            (turn(90, 1), round(90 / 360 * math.pi * 14 / around * 360)),
            (turn(90, 1, "pivot"), round(90 / 360 * 2 * math.pi * 14 / around * 360)),
        ):
            lines = on_the_board(sheet(row).rows[0], rig)
            self.assertIn(f"{last}", lines[-1], lines)
        self.assertIn(
            "13.1579 cm", on_the_board(sheet(timed("straight", 40, 2, 1)).rows[0], rig)[1].replace("13.16", "13.1579")
        )

    def test_odd_sheets(self):
        document = {"geduld": "measurements/1", "surface": "tiles", "battery": "90 %",
                    "rows": [straight(100, 97, sideways="1 cm"), timed("turn", 30, 2, 300), turn(90, 80, kept_out=True)]}  # fmt: skip
        for place in places(document):
            for odd in ODD:
                try:
                    findings_of(sheet_from_json(with_odd(document, place, odd)), cart())
                except GeduldError as problem:
                    self.assertTrue(problem.message and problem.place.path, (place, odd))


class OnTheFloor(unittest.TestCase):
    def test_the_floor_plays_the_tape_measure(self):
        """A floor on which a twentieth of each way and an eighth of each turn is lost: the sheet finds both."""
        floor = floor_from_json({
            "geduld": "floor/1", "name": "hall", "size": ["900 cm", "900 cm"],
            "surface": {"name": "carpet", "travel_slip": "5 %", "turn_slip": "12 %"},
            "start": {"at": ["300 cm", "450 cm"], "heading": "30 deg"},
        })  # fmt: skip
        rows = [
            {"move": "straight", "by": "encoder", "power": "40 %", "amount": f"{d} cm"} for d in (50, 100, 150, 200)
        ]
        rows += [{"move": "turn", "by": "encoder", "power": "30 %", "amount": f"{a} deg"} for a in (90, 180, 360)]
        rows += [{"move": "pivot", "by": "encoder", "power": "30 %", "amount": "180 deg"}]
        rows += [{"move": "straight", "by": "time", "power": "40 %", "time": f"{t} s"} for t in (1, 2, 4)]
        planned = sheet(*rows)
        made = measured_on(floor, cart(), planned, None)
        self.assertEqual([said for _, said in made], [""] * len(rows))
        found = findings_of(type(planned)("carpet", None, tuple(row for row, _ in made)), cart())
        self.assertAlmostEqual(found.get("slip").found.value, 5.0, delta=0.6)
        self.assertAlmostEqual(found.get("track width").found.value, 14 * 0.95 / 0.88, delta=0.35)
        wall = floor_from_json(
            dict(floor.source) | {"obstacles": [{"name": "crate", "at": ["345 cm", "476 cm"], "radius": "10 cm"}]}
        )
        self.assertIn("touched", measured_on(wall, cart(), sheet(rows[3]), None)[0][1])

    def test_trials_on_a_made_up_robot_show_how_it_is(self):
        hoist = read_rig(DEMO / "rigs" / "seed-hoist.json")
        for rig, motor in ((cart(), "left"), (cart(), "valve"), (hoist, "hoist"), (hoist, "slew")):
            ways = set()
            for seed in range(12):
                tried = spin(rig, motor, seed)
                ends = rig.physics.motor(motor).stops
                if not tried.wired_round or ends is None or ends[0] < -5:
                    self.assertGreater(tried.turned * (-1 if tried.wired_round else 1), 20, (motor, tried))
                ways.add(tried.wired_round)
            self.assertEqual(ways, {True, False})
        for seed in range(8):
            tried = pair(cart(), seed)
            half = tried.aside / (tried.way**2 + tried.aside**2) * cart().drive.track_width
            share = (1 - half) / (1 + half)
            # what the dead zone takes is taken from both, so that their speeds differ more than their commands
            weaker = min(share, 1 / share)
            self.assertAlmostEqual(weaker + (1 - weaker) * 2 / 40, tried.share, delta=0.004)
            self.assertEqual(share < 1, tried.weaker == "left")
        with self.assertRaises(RigError):
            spin(cart(), "nose", 1)
        with self.assertRaises(RigError):
            pair(hoist, 1)
        with self.assertRaises(FloorError):
            bench = floor_from_json({"geduld": "floor/1", "name": "bench"})
            measured_on(bench, cart(), sheet({"move": "straight", "by": "time", "power": "40 %", "time": "1 s"}), None)

    def test_a_recorded_sweep_tells_dead_zone_and_lag(self):
        chance = np.random.default_rng(4)
        times = np.arange(0, 360) * 20_000
        told = np.repeat([0, 5, 10, 20, 40, -30, 60, 0, 80], 40).astype(float)
        truth = np.array([5.8, 4.2, 0.11])
        held = np.zeros(3)
        for _ in range(40):
            angle = turning(truth, told, np.diff(times) / 1e6) + chance.normal(0, 0.5, len(times))
            found = sweep_of(Trace(times, {"left": told, "left.angle": angle}), "left")
            held += [
                i.low <= value <= i.high
                for i, value in zip((found.rate, found.dead_zone, found.lag), truth, strict=True)
            ]
        self.assertTrue((held >= 34).all(), held)
        self.assertAlmostEqual(found.residual, 0.5, delta=0.05)
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(io.StringIO()) as said:
            path = Path(folder) / "sweep.csv"
            path.write_text(trace_to_csv(Trace(times, {"left": told, "left.angle": angle}), cart()))
            rig = str(DEMO / "rigs" / "glasshouse-cart.json")
            self.assertEqual(main(["sweep", str(path), "--rig", rig, "--motor", "left"]), 0)
        self.assertIn(f"dead zone: {found.dead_zone.value:.2f}".rstrip("0"), said.getvalue())
        for trace in (Trace(times, {"left": told}), Trace(times, {"left": told * 0, "left.angle": told})):
            with self.assertRaises(TraceError):
                sweep_of(trace, "left")


if __name__ == "__main__":
    unittest.main()
