"""What a verdict rests on: the sentence and the windows it shows, and nothing that cannot be trusted."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, PART, PASS
from geduld.worlds.signal import Signal
from tests.core.records import LASTED, record, signals, steps, verdict

S = 1_000_000
PRESSED = ((0, 0), (4, 1), (5, 0), (9, 1), (9.05, 0))
OFTEN = tuple((0.5 * k, k % 2) for k in range(13))
NEARER = ((0, 80), (3, 39.5), (4, math.nan), (6, 30), (8, 12))


def ride(left=((0, 45),), nose=((0, 0),), distance=((0, 80),), trust=None):
    """Ten seconds, times in seconds."""
    signals = [steps(*pairs, unit=S) for pairs in (left, nose, distance)]
    return record(*signals, trust={name: at * S for name, at in (trust or {}).items()}, lasted=10 * S)


SENTENCES = [
    # sentence, ride, verdict, instant in s, windows in s, evidence
    ("after nose is pressed, within 200 ms, left = 0 %", ride(((0, 45), (4.15, 0)), PRESSED), PASS, 4.15,
     [(4, 4.2), (9, 9.2)],
     '2 of 2 times as wanted. "nose is pressed" came true at 4 s; "left = 0 %" followed after 150 ms, 50 ms to spare.'),
    ("after nose is pressed, within 200 ms, left = 0 %", ride(((0, 45), (4.5, 0), (6, 45), (9.1, 0)), PRESSED), PART,
     4.2, [(4, 4.2), (9, 9.2)],
     '1 of 2 times as wanted. "nose is pressed" came true at 4 s; "left = 0 %" was due within 200 ms and came '
     "300 ms too late."),
    ("after nose is pressed, within 1.5 s, left = 0 %", ride(nose=PRESSED[:3]), FAIL, 5.5, [(4, 5.5)],
     '"nose is pressed" came true at 4 s; "left = 0 %" was due by 5.5 s and never came: left was 45 % then.'),
    ("after nose is pressed, within 1.5 s, left = 0 %", ride(nose=((0, 0), (9, 1))), NOT_CERTAIN, 9, [(9, 10)],
     '"nose is pressed" came true at 9 s, and the run ended at 10 s, before the 1.5 s were over.'),
    ("after nose is pressed, within 1 s, left = 0 %", ride(), NOT_EXERCISED, None, [],
     '"nose is pressed" never came true in this run.'),
    ("left > 0 % lasts 3 s +- 500 ms", ride(((0, 0), (1, 30), (3.75, 0))), PASS, 1, [(1, 3.75)],
     '"left > 0 %" held for 2.75 s from 1 s; 3 s +- 500 ms was wanted.'),
    ("left > 0 % lasts 3 s +- 500 ms", ride(((0, 30), (4.25, 0))), FAIL, 3.5, [(0, 4.25)],
     '"left > 0 %" held for 4.25 s from 0 s; 3 s +- 500 ms was wanted.'),
    ("left > 0 % lasts 3 s +- 500 ms", ride(((0, 0), (2, 30))), FAIL, 5.5, [(2, 10)],
     '"left > 0 %" held for 8 s from 2 s and was still so when the run ended; 3 s +- 500 ms was wanted.'),
    ("left > 0 % lasts 3 s +- 500 ms", ride(((0, 0), (8, 30))), NOT_CERTAIN, 8, [(8, 10)],
     '"left > 0 %" held from 8 s, and the run ended 2 s later; 3 s +- 500 ms was wanted.'),
    ("nose is pressed happens 2 times", ride(nose=PRESSED), PASS, 10, [(0, 10)],
     '"nose is pressed" became true 2 times (at 4 s, 9 s); 2 times was wanted.'),
    ("nose is pressed happens at most 1 time", ride(nose=PRESSED), FAIL, 9, [(0, 10)],
     '"nose is pressed" became true 2 times (at 4 s, 9 s); at most 1 time was wanted.'),
    ("nose is pressed happens at least 1 time", ride(), FAIL, 10, [(0, 10)],
     '"nose is pressed" became true 0 times; at least 1 time was wanted.'),
    ("nose is pressed happens at least 5 times", ride(nose=OFTEN), PASS, 4.5, [(0, 10)],
     '"nose is pressed" became true 6 times (at 0.5 s, 1.5 s, 2.5 s, 3.5 s, 4.5 s, …); at least 5 times was wanted.'),
    ("first range < 40 cm, then nose is pressed, then left = 0 %", ride(((0, 45), (9, 0)), PRESSED, NEARER), PASS, 4,
     [(3, 9)], 'In order: "range < 40 cm" at 3 s, "nose is pressed" at 4 s, "left = 0 %" at 9 s.'),
    ("first range < 40 cm, then nose is pressed", ride(nose=((0, 0), (2.25, 1)), distance=NEARER), FAIL, 2.25,
     [(2.25, 3)], '"nose is pressed" came at 2.25 s, 750 ms before "range < 40 cm", and never after it.'),
    ("first ever range < 40 cm, then nose is pressed", ride(nose=((0, 0), (2.25, 1), (2.5, 0), (6, 1)), distance=NEARER), FAIL,
     2.25, [(2.25, 3)], '"nose is pressed" came at 2.25 s, 750 ms before "range < 40 cm".'),
    ("first range < 40 cm, then nose is pressed", ride(nose=PRESSED), FAIL, 4, [(0, 4)],
     '"range < 40 cm" never came true, and "nose is pressed" came at 4 s all the same.'),
    ("first range < 40 cm, then nose is pressed, then left = 0 %", ride(distance=NEARER), FAIL, 10, [(3, 10)],
     '"range < 40 cm" came at 3 s, and "nose is pressed" never came after it.'),
    ("first range < 40 cm, then nose is pressed", ride(), NOT_EXERCISED, None, [],
     "None of these ever came true in this run."),
    ("never left > 40 % while range < 40 cm", ride(distance=NEARER), FAIL, 3, [(3, 4), (6, 10)],
     '"left > 40 %" held at 3 s while "range < 40 cm": left was 45 %.'),
    ("never left > 45 % while range < 20 cm", ride(distance=NEARER), PASS, 8, [(8, 10)],
     "Closest at 8 s: left was 45 %."),
    ("never left > 45 % while range < 2 cm", ride(distance=NEARER), NOT_EXERCISED, None, [],
     '"range < 2 cm" was never so in this run.'),
    ("always range > 8 cm", ride(distance=NEARER[:2] + NEARER[3:]), PASS, 8, [(0, 10)],
     "Closest at 8 s: range was 12 cm, 4 cm to spare."),
    ("always range > 8 cm", ride(distance=NEARER), FAIL, 4, [(0, 10)],
     '"range > 8 cm" was not so at 4 s: range was absent.'),
    ("while range < 40 cm, left = 45 %", ride(((0, 45), (7, 44)), distance=NEARER), PART, 7, [(3, 4), (6, 10)],
     '1 of 2 times as wanted. "left = 45 %" was not so at 7 s while "range < 40 cm": left was 44 %.'),
    ("before nose is pressed, never left > 40 %", ride(((0, 40), (3.5, 41)), PRESSED), FAIL, 3.5, [(0, 4)],
     '"left > 40 %" held at 3.5 s before "nose is pressed": left was 41 %.'),
    ("from range < 40 cm to nose is pressed, left < 30 %", ride(((0, 20), (3.5, 31), (5, 20)), PRESSED, NEARER), PART, 3.5,
     [(3, 4), (6, 9)],
     '1 of 2 times as wanted. "left < 30 %" was not so at 3.5 s between "range < 40 cm" and "nose is pressed": '
     "left was 31 %."),
    ("at 2.5 s, left = 45 % and range > 50 cm", ride(), PASS, 2.5, [(2.5, 2.5)],
     'At 2.5 s, left was 45 %, range was 80 cm; "left = 45 % and range > 50 cm" was wanted.'),
    ("at 12 s, left = 45 %", ride(), NOT_CERTAIN, 10, [(10, 10)], "The run ended at 10 s, before 12 s."),
    ("at the end, nose is released", ride(nose=PRESSED[:2]), FAIL, 10, [(10, 10)],
     'At the end, 10 s, nose was pressed; "nose is released" was wanted.'),
    ("left matches reference.left within 5 %", ride(((0, 45), (5, 42))), PASS, 5, [(0, 10)],
     "Farthest apart at 5 s, by 3 %: left was 42 %, and the reference's left was 45 %."),
    ("left matches reference.left within 5 %, shifted by at most 150 ms", ride(((0, 45), (5, 0))), FAIL, 5, [(0, 10)],
     "At 5 s left was 0 %, and the reference's left was 45 %, 150 ms earlier and later too: not within 5 %."),
    ("always left > reference.range * 1 %/cm - 50 %", ride(), PASS, 0, [(0, 10)],
     "Closest at 0 s: left was 45 %, the reference's range was 80 cm, 15 % to spare."),
    ("always range > 8 cm", ride(distance=NEARER[:2], trust={"range": 3.5}), NOT_CERTAIN, 0, [(0, 10)],
     "From 3.5 s on this program drove differently from the recording, so the readings after that cannot be trusted."),
]  # fmt: skip


class Sentences(unittest.TestCase):
    def test_each_says_what_was_wanted_and_what_was_there(self):
        for sentence, world, word, at, windows, because in SENTENCES:
            with self.subTest(sentence, because=because):
                found = verdict(sentence, world, reference=ride())
                self.assertEqual((found.because, found.verdict), (because, word))
                self.assertEqual(None if found.at is None else found.at / S, at)
                self.assertEqual([(window.start / S, window.stop / S) for window in found.windows], windows)

    def test_faded_points_say_how_much_was_missed(self):
        found = verdict("at the end, left < 40 %", ride(), points="6 points, fading over 20 %")
        wanted = (
            'At the end, 10 s, left was 45 %; "left < 40 %" was wanted. Missed by 5 % of 20 %: a part of the points.'
        )
        self.assertEqual(found.because, wanted)


WHOLE_RUN = [
    "always range > 8 cm", "never nose is pressed", "never left > 30 %", "nose is pressed happens 1 time",
    "nose is pressed happens at least 2 times", "range < 40 cm happens at most 1 time",
    "first range < 40 cm, then nose is pressed", "before nose is pressed, never range < 40 cm",
    "at 12 us, range < 40 cm", "at the end, nose is released",
    "range matches reference.range within 20 cm, shifted by at most 3 us",
    "left matches reference.left within 20 %, shifted by at most 3 us", "always range < reference.range + 30 cm",
]  # fmt: skip
TIME_AND_AGAIN = [
    "after nose is pressed, within 4 us, range < 40 cm", "after range < 40 cm, within 4 us, left > 30 %",
    "range < 40 cm lasts 6 us +- 3 us", "while nose is pressed, range < 40 cm",
    "from range < 40 cm to nose is pressed, range > 8 cm",
]  # fmt: skip
ALL_TICKS = np.arange(LASTED + 1)
CONTACT, GAP, POWER = st.sampled_from([0.0, 1.0]), st.sampled_from([5.0, 30.0, 55.0]), st.sampled_from([0.0, 45.0])


@st.composite
def two_futures(draw, values, horizon):
    """Two courses that are the same up to the horizon."""
    one, two = (draw(signals(values)).at(ALL_TICKS) for _ in range(2))
    return [Signal(ALL_TICKS, one), Signal(ALL_TICKS, np.where(horizon >= ALL_TICKS, one, two))]


class Trust(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.data(), st.integers(0, LASTED - 1), st.booleans())
    def test_what_lies_past_the_horizon_changes_no_certain_verdict(self, data, horizon, of_the_reference):
        noses, ranges = (data.draw(two_futures(values, horizon)) for values in (CONTACT, GAP))
        left, other = data.draw(signals(POWER)), data.draw(signals(GAP))
        trust = {"nose": horizon, "range": horizon}
        if of_the_reference:
            worlds = [record(left, distance=other)] * 2
            references = [record(left, nose, gap, trust=trust) for nose, gap in zip(noses, ranges, strict=True)]
        else:
            worlds = [record(left, nose, gap, trust=trust) for nose, gap in zip(noses, ranges, strict=True)]
            references = [record(left, distance=other)] * 2
        for sentence in WHOLE_RUN:
            one, two = (verdict(sentence, *pair) for pair in zip(worlds, references, strict=True))
            words = {one.verdict, two.verdict}
            if words & {PASS, FAIL} and NOT_EXERCISED not in words:
                self.assertEqual(replace(one, windows=()), replace(two, windows=()), sentence)
        for sentence in TIME_AND_AGAIN:
            one, two = (
                [
                    (window.start, window.verdict)
                    for window in verdict(sentence, *pair).windows
                    if window.start <= horizon
                ]
                for pair in zip(worlds, references, strict=True)
            )
            self.assertEqual(one, two, sentence)


if __name__ == "__main__":
    unittest.main()
