"""Checks: against the definitions written down literally, and the stated edge cases."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.checks.judge import judge
from geduld.checks.places import room_inside
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, OPEN, PART, PASS
from geduld.grading.exercise import good_checks
from geduld.readers.notation import NotationProgram, runner_for
from geduld.run.world import FloorWorld
from geduld.worlds.floor.model import Shape
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.trace import Trace
from tests.core.records import LASTED, record, signals, steps, verdict
from tests.glasshouse import program, small_rig


def truths(signal, test):
    """The truth at every tick of the run, one by one."""
    column = signal.at(np.arange(LASTED + 1))
    return [not math.isnan(value) and test(value) for value in column.tolist()]


def stretches(truth):
    found, start = [], None
    for tick, value in enumerate([*truth, False]):
        if value and start is None:
            start = tick
        elif not value and start is not None:
            found.append((start, tick))
            start = None
    return found


LEVELS = st.sampled_from([0.0, 10.0, 45.0, math.nan])
CONTACTS = st.sampled_from([0.0, 1.0, math.nan])
PRESENT = st.sampled_from([0.0, 10.0, 30.0, 45.0])
DISTANCES = st.sampled_from([5.0, 30.0, 40.0, 55.0, math.nan])


@st.composite
def conditions(draw, depth=2):
    """A condition on both wheels as text, and its robustness in % as the literature defines it."""
    if depth == 0 or draw(st.booleans()):
        side, level = draw(st.integers(0, 1)), draw(st.sampled_from([5, 20, 30, 40]))
        name = ("left", "right")[side]
        return draw(
            st.sampled_from(
                [
                    (f"{name} > {level} %", lambda *wheels: wheels[side] - level),
                    (f"{name} <= {level} %", lambda *wheels: level - wheels[side]),
                    (f"{name} = {level} % +- 8 %", lambda *wheels: 8 - abs(wheels[side] - level)),
                    (
                        f"{name} between {level} % and 42 %",
                        lambda *wheels: min(wheels[side] - level, 42 - wheels[side]),
                    ),
                ]
            )
        )
    (one, robust_one), (two, robust_two) = draw(conditions(depth - 1)), draw(conditions(depth - 1))
    return draw(
        st.sampled_from(
            [
                (f"(({one}) and ({two}))", lambda *wheels: min(robust_one(*wheels), robust_two(*wheels))),
                (f"(({one}) or ({two}))", lambda *wheels: max(robust_one(*wheels), robust_two(*wheels))),
                (f"(not ({one}))", lambda *wheels: -robust_one(*wheels)),
            ]
        )
    )


class AgainstTheDefinitions(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(signals(CONTACTS), signals(LEVELS), st.integers(0, 12))
    def test_after(self, nose, left, within):
        pressed, quiet = truths(nose, bool), truths(left, lambda value: value <= 0)
        outcomes = []
        for trigger, _ in stretches(pressed):
            ahead = range(trigger, min(trigger + within, LASTED) + 1)
            came = next((tick for tick in ahead if quiet[tick]), None)
            if came is not None:
                outcomes.append((PASS, (within - (came - trigger)) / 1e6))
            else:
                outcomes.append((OPEN if trigger + within > LASTED else FAIL, None))
        found = verdict(f"after nose is pressed, within {within} us, left <= 0 %", record(left, nose))
        self.assert_gathered(found, [word for word, _ in outcomes])
        if found.verdict == PASS:
            self.assertEqual(found.margin, min(margin for word, margin in outcomes if word == PASS))

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), st.integers(0, 12), st.integers(0, 6))
    def test_lasts(self, left, wanted, around):
        outcomes, margins = [], []
        for start, stop in stretches(truths(left, lambda value: value > 0)):
            cut = stop > LASTED
            length = (LASTED if cut else stop) - start
            if cut and length <= wanted + around:
                outcomes.append(OPEN)
            else:
                outcomes.append(PASS if abs(length - wanted) <= around else FAIL)
                margins.append((around - abs(length - wanted)) / 1e6)
        found = verdict(f"left > 0 % lasts {wanted} us +- {around} us", record(left))
        self.assert_gathered(found, outcomes)
        if found.verdict == PASS:
            self.assertEqual(found.margin, min(margins))

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), st.integers(0, LASTED + 5))
    def test_settles(self, left, within):
        truth = truths(left, lambda value: value > 30)
        settled = next((tick for tick in range(LASTED + 1) if all(truth[tick:])), None)
        found = verdict(f"left > 30 % settles within {within} us", record(left))
        if within > LASTED:
            self.assertEqual(found.verdict, NOT_CERTAIN)
        else:
            self.assertEqual(found.verdict, PASS if settled is not None and settled <= within else FAIL)
            if settled is not None:
                self.assertEqual(found.margin, (within - settled) / 1e6)
            elif found.margin is not None:
                self.assertLessEqual(found.margin, 0)

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), signals(DISTANCES))
    def test_never_while_and_always(self, left, distance):
        near, fast = truths(distance, lambda value: value < 40), truths(left, lambda value: value > 30)
        world = record(left, distance=distance)
        found = verdict("never left > 30 % while range < 40 cm", world)
        during = [tick for tick in range(LASTED + 1) if near[tick]]
        broken = [tick for tick in during if fast[tick]]
        self.assertEqual(found.verdict, FAIL if broken else PASS if during else NOT_EXERCISED)
        if broken:
            self.assertEqual((found.at, found.points), (broken[0], 0))
        slow = verdict("always left <= 30 %", world)
        bad = [tick for tick, value in enumerate(truths(left, lambda value: value <= 30)) if not value]
        self.assertEqual((slow.verdict, slow.at if bad else None), (FAIL if bad else PASS, bad[0] if bad else None))

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), signals(DISTANCES), signals(CONTACTS))
    def test_while_before_and_from_to(self, left, distance, nose):
        near, fast = truths(distance, lambda value: value < 40), truths(left, lambda value: value > 30)
        pressed = truths(nose, bool)
        world = record(left, nose, distance)
        during = verdict("while range < 40 cm, left > 30 %", world)
        outcomes = [PASS if all(fast[start:stop]) else FAIL for start, stop in stretches(near)]
        self.assert_gathered(during, outcomes)

        end = next((tick for tick in range(LASTED + 1) if pressed[tick]), None)
        early = [tick for tick in range(LASTED + 1) if fast[tick] and (end is None or tick < end)]
        found = verdict("before nose is pressed, never left > 30 %", world)
        self.assertEqual(found.verdict, FAIL if early else PASS if end else NOT_EXERCISED)
        self.assertEqual(found.at if early else None, early[0] if early else None)

        outcomes, tick = [], 0
        starts = {start for start, _ in stretches(near)}
        while tick <= LASTED:
            if tick in starts and not pressed[tick]:
                stop = next((later for later in range(tick, LASTED + 1) if pressed[later]), LASTED + 1)
                outcomes.append(PASS if all(fast[tick:stop]) else FAIL)
                tick = stop
            else:
                tick += 1
        self.assert_gathered(verdict("from range < 40 cm to nose is pressed, left > 30 %", world), outcomes)

    @settings(max_examples=300, deadline=None)
    @given(signals(CONTACTS), signals(LEVELS), st.integers(0, 4), st.sampled_from(["", "at least ", "at most "]))
    def test_happens_and_first(self, nose, left, wanted, bound):
        pressed, fast = truths(nose, bool), truths(left, lambda value: value > 30)
        number = len(stretches(pressed))
        good = {"": number == wanted, "at least ": number >= wanted, "at most ": number <= wanted}[bound]
        found = verdict(f"nose is pressed happens {bound}{wanted} times", record(left, nose))
        self.assertEqual(found.verdict, PASS if good else FAIL)
        self.assertEqual(found.margin >= 0, good)

        first = [next((t for t in range(LASTED + 1) if truth[t]), None) for truth in (pressed, fast)]
        found = verdict("first ever nose is pressed, then left > 30 %", record(left, nose))
        if first == [None, None]:
            self.assertEqual(found.verdict, NOT_EXERCISED)
        elif None in first:
            self.assertEqual(found.verdict, FAIL)
        else:
            self.assertEqual(
                (found.verdict, found.margin), (PASS if first[0] <= first[1] else FAIL, (first[1] - first[0]) / 1e6)
            )
        presses, runs = ([start for start, _ in stretches(truth)] for truth in (pressed, fast))
        orders = [(a, b, c) for a in presses for b in runs for c in presses if a <= b <= c and a < c]
        found = verdict("first nose is pressed, then left > 30 %, then nose is pressed", record(left, nose))
        if orders:
            a, b, c = min(orders)
            self.assertEqual((found.verdict, found.margin), (PASS, min(b - a, c - b) / 1e6), found.because)
        else:
            self.assertEqual(found.verdict, FAIL if presses or runs else NOT_EXERCISED, found.because)

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), signals(LEVELS), st.integers(0, 9), st.sampled_from([0, 5, 20, 40]))
    def test_matches(self, left, other, shift, tolerance):
        ours, theirs = (signal.at(np.arange(LASTED + 1)).tolist() for signal in (left, other))

        def apart(a, b):
            if a != a or b != b:
                return 0.0 if a != a and b != b else math.inf
            return abs(a - b)

        def worst(a, b):
            return max(min(apart(a[t], b[s]) for s in range(max(0, t - shift), min(LASTED, t + shift) + 1))
                       for t in range(LASTED + 1))  # fmt: skip

        distance = max(worst(ours, theirs), worst(theirs, ours))
        sentence = f"left matches reference.left within {tolerance} %, shifted by at most {shift} us"
        found = verdict(sentence, record(left), reference=record(other))
        self.assertEqual(found.verdict, PASS if distance <= tolerance else FAIL)
        self.assertEqual(found.margin, tolerance - distance if math.isfinite(distance) else None)
        self.assertEqual(verdict(sentence, record(left)).verdict, NOT_EXERCISED, "nothing to match with")

    @settings(max_examples=300, deadline=None)
    @given(signals(PRESENT), signals(PRESENT), conditions(), st.integers(0, 9))
    def test_margins_are_the_robustness_of_the_formula(self, left, right, condition, within):
        text, robust = condition
        world = record(left, steps((0, 0), (7, 1)), right=right)
        columns = [signal.at(np.arange(LASTED + 1)).tolist() for signal in (left, right)]
        along = [robust(*values) for values in zip(*columns, strict=True)]
        for sentence, margin in (
            (f"always {text}", min(along)),
            (f"never {text}", -max(along)),
            (f"while nose is pressed, {text}", min(along[7:])),
            (f"never {text} while nose is pressed", -max(along[7:])),
            (f"at the end, {text}", along[-1]),
            (f"at {within} us, {text}", along[within]),
        ):
            found = verdict(sentence, world)
            self.assertEqual(found.margin, margin, f"{sentence}: {found.because}")
            if margin:
                self.assertEqual(found.verdict, PASS if margin > 0 else FAIL, sentence)

    def assert_gathered(self, found, outcomes):
        passed, failed = outcomes.count(PASS), outcomes.count(FAIL)
        if not outcomes:
            word, points = NOT_EXERCISED, 0
        elif failed:
            word, points = (PART if passed else FAIL), 6 * passed / (passed + failed)
        else:
            word, points = (PASS, 6) if passed else (NOT_CERTAIN, 0)
        self.assertEqual((found.verdict, found.points), (word, points))
        self.assertEqual([window.verdict for window in found.windows], outcomes)


class TheWorstDecides(unittest.TestCase):
    """Of several times that failed, the worst one decides points, margin and evidence."""

    @settings(max_examples=200, deadline=None)
    @given(signals(DISTANCES.filter(lambda value: value == value)), signals(PRESENT))
    def test_points_fade_by_the_worst_time(self, distance, left):
        near, run = distance.at(np.arange(LASTED + 1)), left.at(np.arange(LASTED + 1)) > 0
        world = record(left, distance=distance)
        for sentence, counts in (("never range < 40 cm while left > 0 %", run), ("never range < 40 cm", run | True)):
            if not counts.any():
                continue
            worst = float((near[counts] - 40).min())
            found = verdict(sentence, world, points="10 points, fading over 20 cm")
            self.assertEqual(found.verdict == PASS, worst >= 0)
            self.assertEqual(found.margin, worst, sentence)
            self.assertEqual(found.points, 10 if worst >= 0 else 10 * max(0.0, 1 + worst / 20), sentence)
        windows = stretches(run.tolist())
        passed = sum(bool((near[start:stop] >= 40).all()) for start, stop in windows)
        found = verdict("while left > 0 %, range >= 40 cm", world)
        if passed < len(windows):
            self.assertEqual(found.margin, min(float((near[start:stop] - 40).min()) for start, stop in windows))
            self.assertEqual(found.points, 6 * passed / len(windows))

    def test_the_smallest_gap_and_what_never_came(self):
        rows = (
            ("first ever nose is pressed, then left > 0 %, then range < 40 cm",
             record(steps((0, 0), (8, 45)), steps((0, 0), (10, 1)), steps((0, 50), (1, 30))), -7e-6),
            ("after nose is pressed, within 2 us, left = 0 %",
             record(steps((0, 45), (7, 0), (9, 45)), steps((0, 0), (3, 1), (5, 0), (20, 1))), -45),
            ("after nose is pressed, within 2 us, left = 0 %",
             record(steps((0, 45), (8, 0), (12, 45), (29, 0)), steps((0, 0), (3, 1), (5, 0), (20, 1))), -7e-6),
        )  # fmt: skip
        for sentence, world, margin in rows:
            with self.subTest(sentence, margin=margin):
                self.assertEqual((verdict(sentence, world).verdict, verdict(sentence, world).margin), (FAIL, margin))


class TheClock(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(signals(PRESENT), st.sampled_from([0.5, 1.0, 3.0]), st.integers(0, 40), st.sampled_from(["", "after"]))
    def test_what_is_held_meets_the_clock_exactly(self, left, slope, around, settling):
        """A reading or an output against the clock, at every tick of the run."""
        text = f"left = clock * {slope * 1e6:.0f} %/s +- {around} %"
        column = left.at(np.arange(LASTED + 1))
        along = around - np.abs(column - np.arange(LASTED + 1) / 1e6 * (slope * 1e6))
        along = along[5:] if settling else along
        found = verdict(f"always {text}{' after the first 5 us' if settling else ''}", record(left))
        sure = np.abs(along) > 1e-9  # where both meet, the last bit decides
        self.assertAlmostEqual(found.margin, float(along.min()), 9)
        if sure.all():
            self.assertEqual(found.verdict, PASS if along.min() > 0 else FAIL)
            if along.min() < 0:
                self.assertEqual(found.at, int(np.argmax(along < 0)) + (5 if settling else 0))


class PastTheHorizon(unittest.TestCase):
    def test_what_was_decided_before_stays_decided(self):
        near, nose = steps((0, 50), (5, 30), (9, 50), (12, 30)), steps((0, 0), (4, 1))
        rows = [
            ("range < 40 cm lasts at most 2 us", 8, FAIL, 0), ("range < 40 cm lasts at most 8 us", 8, NOT_CERTAIN, 0),
            ("nose is pressed lasts at least 2 us", 8, PASS, 6), ("range < 40 cm settles within 7 us", 10, FAIL, 0),
            ("range < 40 cm settles within 12 us", 10, NOT_CERTAIN, 0),
            ("first ever range < 40 cm, then nose is pressed", 6, FAIL, 0),
            ("first ever range < 40 cm, then nose is pressed", 4, FAIL, 0),
            ("after nose is pressed, for 9 us, range > 40 cm", 6, FAIL, 0),
            ("after nose is pressed, for 9 us, range > 20 cm", 6, NOT_CERTAIN, 0),
            ("after nose is pressed, within 9 us, range < 40 cm", 6, PASS, 6),
            ("after range < 40 cm, within 1 us, nose is released", 11, FAIL, 0),
            ("while range < 40 cm, nose is released", 13, FAIL, 0),
            ("the last time nose is pressed, within 1 us, range > 70 cm", 1, NOT_CERTAIN, 0),
            ("while range < 20 cm, left > 3 %", 20, NOT_CERTAIN, 0), ("while left < 0 %, range > 3 cm", 20, NOT_EXERCISED, 0),
            ("nose is pressed lasts at least 3 us", 20, PASS, 6),
        ]  # fmt: skip
        for sentence, horizon, word, points in rows:
            with self.subTest(sentence, horizon=horizon):
                trust = {"range": horizon, "nose": horizon}
                found = verdict(sentence, record(None, nose, near, trust))
                self.assertEqual((found.verdict, found.points), (word, points), found.because)

    def test_what_came_later_counts_for_nothing(self):
        """Three stretches pass and two fail before the horizon, one comes behind it: three of five, not of six."""
        pairs = [(tick, level) for k in range(6) for tick, level in ((4 * k, 30), (4 * k + 2, 50))]
        nose = steps((0, 0), (4, 1), (6, 0), (12, 1), (14, 0))
        world = record(None, nose, steps(*pairs), {"range": 19, "nose": 19})
        found = verdict("while range < 40 cm, nose is released", world, points="5 points")
        self.assertEqual((found.verdict, found.points), (PART, 3), found.because)
        self.assertIn("1 more came when the readings could no longer be trusted", found.because)


class EdgeCases(unittest.TestCase):
    def test_an_angle_that_nothing_recorded_is_the_motion_models(self):
        """In a case of nothing but time, as the program that waits on it has it; and each program its own."""
        trace = Trace(np.array([0, 20_000_000]), {})
        for power in (20, 50, 80):
            steps = f"drive at {power} %\nwait until left.angle >= 360 deg\nstop all\nwait 1 s\n"
            run = runner_for(program(steps), small_rig()).run(trace)
            self.assertEqual(run.commands["left"].times.tolist(), [0, 60_000_000 // power])
            for sentence in (
                "after left.angle >= 360 deg, within 1 ms, drive = 0 %",
                f"left.angle < 180 deg lasts {30_000 / power} ms +- 0 ms",
                f"while drive > 0 %, left.speed = {6 * power} deg/s",
                "always left.angle <= 360 deg",
            ):
                self.assertEqual(verdict(sentence, run).verdict, PASS, sentence)

    def test_two_at_one_instant_are_in_order_and_that_is_said(self):
        run = record(steps((0, 0), (9, 40)), steps((0, 0), (9, 1)))
        found = verdict("first nose is pressed, then left > 20 %", run)
        self.assertEqual((found.verdict, found.margin), (PASS, 0))
        self.assertIn("came at the same instant, which is in order", found.because)
        none = verdict("from nose is pressed to nose is pressed, left = 0 %", run)
        self.assertEqual(none.verdict, NOT_EXERCISED)
        self.assertIn("no stretch", none.because)

    def test_stated_cases(self):
        pressed_last = steps((0, 0), (LASTED, 1))
        running = steps((0, 45))
        table = [
            ("a trigger that holds at the start counts", "after range < 40 cm, within 3 us, left > 0 %",
             record(running, distance=steps((0, 5))), PASS, 3e-6),
            ("a trigger at the last sample, answered at once", "after nose is pressed, within 3 us, left > 0 %",
             record(running, pressed_last), PASS, 3e-6),
            ("a trigger at the last sample, unanswered", "after nose is pressed, within 3 us, left = 0 %",
             record(running, pressed_last), NOT_CERTAIN, None),
            ("an answer that comes late has a margin in time", "after nose is pressed, within 3 us, left = 0 %",
             record(steps((0, 45), (20, 0)), steps((0, 0), (10, 1))), FAIL, -7e-6),
            ("an answer that never comes has one in its unit", "after nose is pressed, within 3 us, left = 0 %",
             record(running, steps((0, 0), (10, 1))), FAIL, -45),
            ("two triggers inside one window", "after nose is pressed, within 9 us, left = 0 %",
             record(steps((0, 45), (15, 0)), steps((0, 0), (10, 1), (12, 0), (13, 1))), PASS, 4e-6),
            ("at the end", "at the end, drive = 0 %", record(running), FAIL, -45),
            ("drive means both wheels", "at the end, drive > 30 %", record(running), FAIL, -30),
            ("drive is not nothing when one wheel turns", "at the end, drive != 0 %", record(running), PASS, 45),
            ("near a value", "at the end, left = 40 % +- 6 %", record(running), PASS, 1),
            ("absent makes both comparisons false", "never range < 5 cm or range >= 5 cm",
             record(distance=steps((0, math.nan))), PASS, None),
            ("units that differ have no common margin", "at the end, left > 0 % and range < 9 cm",
             record(running, distance=steps((0, 5))), PASS, None),
            ("contacts beside a number leave its margin", "at the end, left > 5 % and nose is released",
             record(running), PASS, 40),
            ("at an instant", "at 5 us, left = 45 %", record(steps((0, 0), (5, 45))), PASS, 0),
            ("just before it", "at 4 us, left = 45 %", record(steps((0, 0), (5, 45))), FAIL, -45),
            ("past the end", "at 31 us, left = 45 %", record(running), NOT_CERTAIN, None),
            ("what follows a reading", "while range between 12 cm and 40 cm, left follows range * 1 %/cm within 5 %",
             record(steps((0, 45), (10, 33)), distance=steps((0, 60), (5, 40), (10, 30))), PASS, 0),
            ("an order in one instant", "first nose is pressed, then left > 0 %",
             record(steps((0, 0), (9, 45)), steps((0, 0), (9, 1))), PASS, 0),
            ("an order that breaks off", "first nose is pressed, then left > 50 %",
             record(running, steps((0, 0), (9, 1))), FAIL, None),
            ("before: what must not be, without what ends it", "before nose is pressed, never left > 0 %",
             record(running), FAIL, -45),
            ("the clock", "never left > 0 % while clock > 20 us", record(steps((0, 45), (21, 0))), PASS, 0),
        ]  # fmt: skip
        for name, sentence, world, word, margin in table:
            with self.subTest(name):
                found = verdict(sentence, world)
                self.assertEqual((found.verdict, found.margin), (word, margin), found.because)
                self.assertTrue(found.because)

    def test_places_and_touches(self):
        floor = {
            "geduld": "floor/1",
            "name": "Yard",
            "size": ["300 cm", "200 cm"],
            "start": {"at": ["50 cm", "100 cm"]},
            "obstacles": [{"name": "tub", "at": ["150 cm", "100 cm"], "radius": "20 cm"}],
            "marks": [{"name": "A", "at": ["121 cm", "100 cm"]}],
            "corridors": [{"name": "aisle", "corners": [["20 cm", "80 cm"], ["140 cm", "80 cm"], ["140 cm", "130 cm"],
                                                        ["20 cm", "130 cm"]]}],
        }  # fmt: skip
        text = program("drive at 60 % until nose is pressed\nstop drive")
        world = FloorWorld(floor_from_json(floor), small_rig(), limit_us=8_000_000)
        ran = world.run(runner_for(text, small_rig()), text)[0]
        table = [
            ('ends within 4 cm of mark "A"', PASS, 4.0, "cm"),
            ('at the end, cart is within 4 cm of mark "A" and heading is 0 deg +- 5 deg', PASS, None, ""),
            ("at the end, heading is 350 deg +- 5 deg", FAIL, -5.0, "deg"),
            ("at the end, cart.x = 121 cm +- 1 cm", PASS, 1.0, "cm"),
            ('stays inside "aisle"', PASS, 19.0, "cm"),
            ('always cart is inside "aisle"', PASS, 19.0, "cm"),
            ('never cart is within 60 cm of mark "A" while clock < 1 s', FAIL, None, ""),
            ('touches "tub" at most 1 time', PASS, 0.0, ""),
            ('touches "edge" at most 0 times', PASS, 0.0, ""),
            ("touches anything 2 times", FAIL, -1.0, ""),
            ('ends within 4 cm of mark "Q"', NOT_EXERCISED, None, ""),
            ('stays inside "nowhere"', NOT_EXERCISED, None, ""),
            ("at 2 s, cart.x > reference.cart.x - 1 cm", PASS, 1.0, "cm"),
        ]
        for sentence, word, margin, unit in table:
            with self.subTest(sentence):
                found = verdict(sentence, ran, reference=ran)
                self.assertEqual(found.verdict, word, found.because)
                if margin is not None:
                    self.assertEqual((round(found.margin, 2), found.unit), (margin, unit), found.because)
        aslant = floor | {
            "start": {"at": ["200 cm", "70 cm"], "heading": "-30 deg"},
            "obstacles": [{"name": "tub", "at": ["255 cm", "105 cm"], "radius": "20 cm"}],
        }
        ran = FloorWorld(floor_from_json(aslant), small_rig(), limit_us=8_000_000).run(
            runner_for(text, small_rig()), text
        )[0]
        for sentence, margin in (
            ("at the end, heading is 10 deg +- 45 deg", 5.0),
            ("at the end, heading is 190 deg +- 45 deg", -95.0),
            ('touches "edge" 1 time', 0.0),
            ('touches "tub" at most 0 times', 0.0),
        ):
            self.assertAlmostEqual(verdict(sentence, ran).margin, margin, 1, sentence)
        for sentence in ('ends within 4 cm of mark "A"', "touches anything at most 1 time"):
            self.assertEqual(verdict(sentence, record()).verdict, NOT_EXERCISED, "on a trace nobody knows the place")

    def test_points_fade_with_the_miss(self):
        running = record(steps((0, 45)))
        for fading, word, points in (
            ("", FAIL, 0),
            (", fading over 20 %", PART, 4.5),
            (", fading over 5 %", FAIL, 0),
            (", fading over 20 cm", FAIL, 0),
        ):
            text = f'check "A", 6 points{fading}:\n    at the end, left < 40 %\n'
            found = judge(good_checks(text, running.rig).checks[0], running)
            self.assertEqual((found.verdict, found.points, found.margin), (word, points, -5), fading)
        passes = good_checks('check "A", 6 points, fading over 20 %:\n    at the end, left > 40 %\n', running.rig)
        self.assertEqual(judge(passes.checks[0], running).points, 6)

    def test_how_far_a_point_is_inside_a_shape(self):
        ring = Shape("corners", ((0.0, 0.0), (10.0, 0.0), (10.0, 4.0), (0.0, 4.0)))
        points = np.array([[5, 2], [5, 1], [-3, 2], [13, 8], [0, 0]], float)
        np.testing.assert_allclose(room_inside(ring, *points.T), [2, 1, -3, -5, 0])
        path = Shape("line", ((0.0, 0.0), (10.0, 0.0)), 4.0)
        np.testing.assert_allclose(room_inside(path, *points.T), [0, 1, 2 - math.hypot(3, 2), 2 - math.hypot(3, 8), 2])
        np.testing.assert_allclose(
            room_inside(Shape("round", ((0.0, 0.0),), 6.0), *points.T)[:2], [6 - math.hypot(5, 2), 6 - math.hypot(5, 1)]
        )

    def test_the_program_itself(self):
        text = program('# repeat is only a word here\nrepeat 3 times:\n    left at 40 % for 1 s\nnote "valve"')
        facts = NotationProgram(text, small_rig()).facts
        self.assertEqual(facts.steps, 3)
        table = [("program uses repeat", PASS), ("program uses valve", FAIL), ("program does not use drive", PASS),
                 ("program does not use left", FAIL), ("program has at most 3 steps", PASS),
                 ("program has at most 2 steps", FAIL), ('program has no hint "chatter"', PASS),
                 ('program has no hint "one-side"', FAIL)]  # fmt: skip
        for sentence, word in table:
            with self.subTest(sentence):
                self.assertEqual(verdict(sentence, record(), program=facts).verdict, word)
                self.assertEqual(verdict(sentence, record()).verdict, NOT_EXERCISED)

    def test_past_the_trust_horizon_nothing_is_certain(self):
        world = record(steps((0, 45)), steps((0, 0), (10, 1)), trust={"nose": 8, "range": 8})
        late = verdict("after nose is pressed, within 3 us, left = 0 %", world)
        self.assertEqual((late.verdict, late.points), (NOT_CERTAIN, 0))
        self.assertIn("recording", late.because)
        before = verdict("never left > 0 % while nose is released", world)
        self.assertEqual((before.verdict, before.at), (FAIL, 0))
        self.assertEqual(verdict("at the end, left > 0 %", world).verdict, PASS)
        self.assertEqual(verdict("at the end, nose is pressed", world).verdict, NOT_CERTAIN)
