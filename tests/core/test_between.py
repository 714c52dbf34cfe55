"""Chosen times, stretches between two conditions, what comes again and again, and points that are all or nothing."""

import unittest
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.checks.printing import format_checks
from geduld.checks.reading import parse_checks
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, PART, PASS
from tests.core.records import LASTED, record, signals, steps, verdict
from tests.core.test_checks import CONTACTS, LEVELS, stretches, truths

WHICH = st.sampled_from(["", "the 1st time ", "the 2nd time ", "the 3rd time ", "the last time "])


def one_of(which, times):
    """The times that are meant, by the words in front of a condition."""
    if not which:
        return times
    word = which.split()[1]
    return times[-1:] if word == "last" else times[int(word[0]) - 1 : int(word[0])]


def literally(opens, closes, from_which="", to_which=""):
    """The stretches between two truths, tick by tick."""
    ends = one_of(to_which, [start for start, _ in stretches(closes)]) if to_which else None
    found, free = [], 0
    for begin in one_of(from_which, [start for start, _ in stretches(opens)]):
        if begin < free:
            continue
        if ends is not None:
            behind = ends[0] if ends else LASTED + 1
        else:
            behind = next((tick for tick in range(begin, LASTED + 1) if closes[tick]), LASTED + 1)
        if behind > begin:
            found.append((begin, behind))
            free = behind
    return found


class Between(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(signals(CONTACTS), signals(LEVELS), signals(LEVELS), WHICH, WHICH)
    def test_from_one_time_to_another(self, nose, left, right, from_which, to_which):
        pressed, fast = truths(nose, bool), truths(left, lambda value: value > 20)
        held = truths(right, lambda value: value <= 20)
        spans = literally(pressed, fast, from_which, to_which)
        failed = [not all(held[begin:behind]) for begin, behind in spans]
        sentence = f"from {from_which}nose is pressed to {to_which}left > 20 %, right <= 20 %"
        found = verdict(sentence, record(left, nose, right=right))
        wanted = NOT_EXERCISED if not spans else PASS if not any(failed) else FAIL if all(failed) else PART
        self.assertEqual(found.verdict, wanted)
        self.assertEqual([window.start for window in found.windows], [begin for begin, _ in spans])

    @settings(max_examples=300, deadline=None)
    @given(
        signals(CONTACTS),
        signals(LEVELS),
        signals(LEVELS),
        st.integers(0, 3),
        st.sampled_from(["", "at least ", "at most "]),
    )
    def test_how_often_in_each_stretch(self, nose, left, right, count, bound):
        pressed, fast = truths(nose, bool), truths(left, lambda value: value > 20)
        starts = [start for start, _ in stretches(truths(right, lambda value: value > 20))]
        passed, failed = 0, 0
        for begin, behind in literally(pressed, fast):
            number = sum(begin <= start < behind for start in starts)
            good = {"": number == count, "at least ": number >= count, "at most ": number <= count}[bound]
            decided = number > count if bound != "at least " else number >= count
            if behind <= LASTED or decided:
                passed, failed = passed + good, failed + (not good)
        times = "time" if count == 1 else "times"
        sentence = f"right > 20 % happens {bound}{count} {times} between nose is pressed and left > 20 %"
        found = verdict(sentence, record(left, nose, right=right))
        if not literally(pressed, fast):
            self.assertEqual(found.verdict, NOT_EXERCISED)
        elif not passed + failed:
            self.assertEqual(found.verdict, NOT_CERTAIN)
        else:
            self.assertEqual(found.points, 6 * passed / (passed + failed))

    @settings(max_examples=300, deadline=None)
    @given(signals(LEVELS), st.integers(1, 9), st.integers(0, 4))
    def test_again_and_again(self, left, every, around):
        starts = [start for start, _ in stretches(truths(left, lambda value: value > 20))]
        good = [abs(after - before - every) <= around for before, after in pairwise(starts)]
        if starts and starts[-1] + every + around < LASTED:
            good.append(False)
        found = verdict(f"left > 20 % every {every} us +- {around} us", record(left))
        wanted = NOT_CERTAIN if starts else NOT_EXERCISED
        if good:
            wanted = PASS if all(good) else PART if any(good) else FAIL
        self.assertEqual((found.verdict, found.points), (wanted, 6 * sum(good) / max(len(good), 1)))

    def test_and_belongs_to_the_sentence_unless_it_stands_in_brackets(self):
        text = 'check "A", 1 point:\n    left > 0 % happens 1 time between (nose is pressed and right = 0 %) and nose is released\n'
        read = parse_checks(text)
        self.assertEqual((list(read.hints), format_checks(read.tree)), ([], text))
        loose = text.replace("(", "").replace(")", "")
        self.assertTrue(parse_checks(loose).hints, "nobody knows where the stretch ends")


class AllOrNothing(unittest.TestCase):
    def test_a_part_is_worth_nothing(self):
        run = record(steps((0, 0), (4, 40), (8, 0), (12, 40), (14, 0), (20, 40), (24, 0)))
        sentence = "left > 0 % lasts 4 us +- 0 us"
        for points, expected in (("6 points", (PART, 4)), ("6 points, all or nothing", (FAIL, 0))):
            found = verdict(sentence, run, points=points)
            self.assertEqual((found.verdict, found.points), expected)
        self.assertIn("2 of 3 times as wanted. It is all or nothing.", found.because)
        self.assertEqual(verdict("left > 0 % lasts at most 4 us", run, points="6 points, all or nothing").points, 6)
        text = f'check "A", 6 points, least over cases, all or nothing, private:\n    {sentence}\n'
        self.assertEqual(format_checks(parse_checks(text).tree), text)
        both = parse_checks(text.replace("all or nothing", "fading over 10 cm, all or nothing")).hints
        self.assertEqual([hint.code for hint in both], ["fading-and-whole"])

    def test_a_figure_in_a_wrong_order_is_worth_at_most_half(self):
        """Turns to the left and to the right, 2 us each, 1 us apart."""
        phases = {"L": "left < 0 %", "R": "left > 0 %"}
        table = [  # asked, done, share
            ("LLRRLLRR", "LLRRLLRR", 1), ("LLRRLLRR", "LLLLRRRR", 0.5), ("LLRR", "LLR", 0.75), ("LLRR", "LLRL", 0.75),
            ("LR", "RL", 0.5), ("LRLR", "LRLRLR", 1), ("LLR", "LLL", 2 / 3), ("LLLR", "RLLL", 0.5),
        ]  # fmt: skip
        for asked, done, share in table:
            with self.subTest(asked=asked, done=done):
                course = [(0, 0)]
                for number, turn in enumerate(done):
                    course += [(2 + 3 * number, -30 if turn == "L" else 30), (4 + 3 * number, 0)]
                lines = "".join(f"\n        {phases[turn]} for 2 us +- 0 us" for turn in asked)
                found = verdict(f"in turn, gaps up to 20 us:{lines}", record(steps(*course)))
                self.assertAlmostEqual(found.points, 6 * share)
                self.assertEqual("order is wrong" in found.because, share == 0.5)


if __name__ == "__main__":
    unittest.main()
