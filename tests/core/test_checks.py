"""Checks: against the definitions written down literally, and the stated edge cases."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.checks.judge import judge
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, PART, PASS
from geduld.grading.exercise import good_checks
from geduld.run.record import Record, Signal, Written
from tests.glasshouse import small_rig

LASTED = 30


@st.composite
def signals(draw, values):
    ticks = sorted(draw(st.sets(st.integers(1, LASTED), max_size=8)))
    column = draw(st.lists(values, min_size=len(ticks) + 1, max_size=len(ticks) + 1))
    return Signal(np.array([0, *ticks], np.int64), np.array(column))


def record(left=None, nose=None, distance=None, trust=None):
    resting = Signal(np.zeros(1, np.int64), np.zeros(1))
    return Record(
        rig=small_rig(),
        ended_at=LASTED,
        lasted=LASTED,
        why="time",
        said="",
        events=(),
        details=Written(
            dict.fromkeys(("left", "right", "lamp"), resting) | ({"left": left} if left else {}),
            {"nose": nose or resting, "range": distance or resting},
            of_trust=trust or {},
        ),
    )


def verdict(sentence, world, points=6):
    return judge(good_checks(f'check "A", {points} points:\n    {sentence}\n', world.rig).checks[0], world)


def steps(*pairs):
    return Signal(np.array([at for at, _ in pairs], np.int64), np.array([float(value) for _, value in pairs]))


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
DISTANCES = st.sampled_from([5.0, 30.0, 40.0, 55.0, math.nan])


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
                outcomes.append((NOT_CERTAIN if trigger + within > LASTED else FAIL, None))
        found = verdict(f"after nose is pressed, within {within} us, left <= 0 %", record(left, nose))
        self.assert_gathered(found, [word for word, _ in outcomes])
        if found.verdict == PASS:
            self.assertEqual(found.margin, min(margin for _, margin in outcomes))

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), st.integers(0, 12), st.integers(0, 6))
    def test_lasts(self, left, wanted, around):
        outcomes, margins = [], []
        for start, stop in stretches(truths(left, lambda value: value > 0)):
            cut = stop > LASTED
            length = (LASTED if cut else stop) - start
            if cut and length <= wanted + around:
                outcomes.append(NOT_CERTAIN)
            else:
                outcomes.append(PASS if abs(length - wanted) <= around else FAIL)
                margins.append((around - abs(length - wanted)) / 1e6)
        found = verdict(f"left > 0 % lasts {wanted} us +- {around} us", record(left))
        self.assert_gathered(found, outcomes)
        if found.verdict == PASS:
            self.assertEqual(found.margin, min(margins))

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

    def assert_gathered(self, found, outcomes):
        passed, failed = outcomes.count(PASS), outcomes.count(FAIL)
        if not outcomes:
            word, points = NOT_EXERCISED, 0
        elif failed:
            word, points = (PART if passed else FAIL), 6 * passed / len(outcomes)
        else:
            word, points = (NOT_CERTAIN, 0) if NOT_CERTAIN in outcomes else (PASS, 6)
        self.assertEqual((found.verdict, found.points), (word, points))
        self.assertEqual([window.verdict for window in found.windows], outcomes)


class EdgeCases(unittest.TestCase):
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
            ("the clock", "never left > 0 % while clock > 20 us", record(steps((0, 45), (21, 0))), PASS, 0),
        ]  # fmt: skip
        for name, sentence, world, word, margin in table:
            with self.subTest(name):
                found = verdict(sentence, world)
                self.assertEqual((found.verdict, found.margin), (word, margin), found.because)
                self.assertTrue(found.because)

    def test_past_the_trust_horizon_nothing_is_certain(self):
        world = record(steps((0, 45)), steps((0, 0), (10, 1)), trust={"nose": 8, "range": 8})
        late = verdict("after nose is pressed, within 3 us, left = 0 %", world)
        self.assertEqual((late.verdict, late.points), (NOT_CERTAIN, 0))
        self.assertIn("recording", late.because)
        before = verdict("never left > 0 % while nose is released", world)
        self.assertEqual((before.verdict, before.at), (FAIL, 0))
        self.assertEqual(verdict("at the end, left > 0 %", world).verdict, PASS)
        self.assertEqual(verdict("at the end, nose is pressed", world).verdict, NOT_CERTAIN)
