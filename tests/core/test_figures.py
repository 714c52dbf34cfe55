"""Figures, delays and what a record tells: held against literal definitions and against every way to lay a figure."""

import itertools
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.checks.printing import format_checks
from geduld.checks.reading import parse_checks
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, OPEN, PART, PASS
from geduld.grading.exercise import good_checks
from geduld.readers.notation import runner_for
from geduld.run.record.record import recorded
from geduld.worlds.trace import Trace
from tests.core.records import LASTED, record, signals, steps, verdict
from tests.core.test_checks import CONTACTS, LEVELS, stretches, truths
from tests.glasshouse import program, small_rig, yard

POWERS = st.sampled_from([-20.0, 0.0, 30.0, 60.0])
CONDITIONS = {"left > 0 %": lambda v: v > 0, "left < 0 %": lambda v: v < 0, "left > 40 %": lambda v: v > 40,
              "drive = 0 %": lambda v: v == 0}  # fmt: skip


def laid_best(phases, spans, gap, anything):
    """The most phases that join and are as long as wanted, over every way to lay them; the last is tried whole too."""
    starts = sorted({start for words, _ in phases for start, _ in spans[words] if words != "drive = 0 %"})

    def good(length, start, stop, cut):
        if length is None:
            return True
        wanted, around = length
        return abs(stop - start - wanted) <= around and not (cut and stop - start <= wanted + around)

    best = 0
    choices = [[None, *spans[words]] for words, _ in phases]
    for chosen in itertools.product(*choices):
        there = [(number, span) for number, span in enumerate(chosen) if span]
        passed, joins = 0, True
        for at, (number, (start, behind)) in enumerate(there):
            words, length = phases[number]
            stop, cut, follows = min(behind, LASTED), behind > LASTED, None
            if at + 1 < len(there):
                after, (follows, _) = there[at + 1]
                overlap = behind > follows
                if follows < start or (overlap and (words == phases[after][0] or after > number + 1)):
                    break
                stop, cut = min(behind, follows), cut and not overlap
            passed += joins and good(length, start, stop, cut)
            if follows is not None:
                own = (
                    starts
                    if length
                    else [tick for tick in starts if (tick, True) not in {(s, True) for s, _ in spans[words]}]
                )
                joins = (
                    follows - stop <= gap
                    if gap is not None
                    else anything or not any(stop <= tick < follows for tick in own)
                )
        else:
            best = max(best, passed)
    return best


class Figures(unittest.TestCase):
    @settings(max_examples=250, deadline=None)
    @given(
        signals(POWERS),
        st.lists(
            st.tuples(st.sampled_from(list(CONDITIONS)), st.none() | st.tuples(st.integers(0, 12), st.integers(0, 4))),
            min_size=1,
            max_size=4,
        ),
        st.none() | st.integers(0, 6),
        st.booleans(),
    )
    def test_a_figure_is_laid_as_well_as_can_be(self, left, phases, gap, anything):
        spans = {words: stretches(truths(left, test)) for words, test in CONDITIONS.items()}
        options = f"{f', gaps up to {gap} us' if gap is not None else ''}{', anything between' if anything else ''}"
        lines = [f"in turn{options}:"]
        for words, length in phases:
            lines.append(f"        {words}{f' for {length[0]} us +- {length[1]} us' if length else ''}")
        found = verdict("\n    ".join(lines), record(left, right=left))
        if not any(spans[words] for words, _ in phases):
            self.assertEqual(found.verdict, NOT_EXERCISED)
            return
        words = [window.verdict for window in found.windows]
        self.assertEqual(words.count(PASS), laid_best(phases, spans, gap, anything), found.because)
        decided = len(words) - words.count(OPEN)
        self.assertAlmostEqual(found.points, 6 * words.count(PASS) / decided if decided else 0)
        self.assertEqual(
            [window.label.split(":")[0] for window in found.windows], [str(n + 1) for n in range(len(words))]
        )

    def test_what_is_said_of_turns(self):
        """Turns to the left and the right by time: LLLLRRRR is wanted."""
        head = "in turn:\n        in turn, 4 times:\n            left < 0 % for 2 us +- 1 us\n"
        wanted = f"{head}        in turn, 4 times:\n            left > 0 % for 2 us +- 1 us"
        moves = {"L": -40, "R": 40, "S": 60}

        def run(figure, pause=1, long=2):
            at, pairs = 1, [(0, 0)]
            for move in figure:
                pairs += [(at, moves[move]), (at + long, 0)]
                at += long + pause
            return record(steps(*pairs), right=steps((0, 0)), lasted=60)

        table = [
            ("LLLLRRRR", {}, PASS, 6, "All"), ("LLRRLLRR", {}, PART, None, "in between"),
            ("LLLLRRR", {}, PART, 5.25, "Phase 8 of 8"), ("LLLRRRR", {}, PART, 5.25, "round 4"),
            ("LLLLRRRRR", {}, PASS, 6, ""), ("LLLLRRRR", {"long": 4}, FAIL, 0, "0.004 ms long"), ("", {}, NOT_EXERCISED, 0, ""),
        ]  # fmt: skip
        for figure, how, word, points, said in table:
            with self.subTest(figure, **how):
                found = verdict(wanted, run(figure, **how))
                self.assertEqual(found.verdict, word, found.because)
                if points is not None:
                    self.assertAlmostEqual(found.points, points, msg=found.because)
                if said != "All":
                    self.assertIn(said, found.because)
        gaps = wanted.replace("in turn:", "in turn, gaps up to 2 us:", 1)
        self.assertEqual(verdict(gaps, run("LLLLRRRR", pause=2)).verdict, PASS)
        late = verdict(gaps, run("LLLLRRRR", pause=3))
        self.assertEqual((late.verdict, late.points, late.margin), (PART, 0.75, -1e-6), late.because)
        self.assertIn("gaps up to", late.because)
        # a side and a turn to the left, and the other way in round 3: it is told of the turn, not of the side behind it
        sides = "in turn, 4 times, gaps up to 1 us:\n        left > 50 % for 2 us +- 1 us\n        left < 0 % for 2 us +- 1 us"
        other = verdict(sides, run("SLSLSRSLSL"))
        self.assertEqual([w.verdict for w in other.windows], [PASS] * 5 + [FAIL] + [PASS] * 2, other.because)
        self.assertRegex(other.because, r"Phase 6 .*round 3.* wanted, and at 0 s left was 40 %")

    def test_the_end_of_the_run(self):
        stands = record(steps((0, 0), (3, 40), (8, 0)), right=steps((0, 0), (3, 40), (8, 0)))
        table = [
            ("left > 0 % for 5 us +- 1 us", "still to the end of the run", PASS, [PASS, PASS]),
            ("left > 0 % for 5 us +- 1 us", "still for at least 22 us", PASS, [PASS, PASS]),
            ("left > 0 % for 5 us +- 1 us", "still for at least 23 us", PASS, [PASS, OPEN]),
            ("left > 0 % for 5 us +- 1 us", "still for 30 us +- 1 us", PASS, [PASS, OPEN]),
            ("left > 0 % for 5 us +- 1 us", "still for at most 9 us", PART, [PASS, FAIL]),
            ("left > 0 % for 2 us +- 1 us", "still for 30 us +- 1 us", FAIL, [FAIL, OPEN]),
            ("left > 0 % to the end of the run", "still", PART, [FAIL, PASS]),
        ]
        for first, then, word, windows in table:
            with self.subTest(then, first=first):
                found = verdict(f"in turn:\n        {first}\n    then {then}", stands)
                self.assertEqual((found.verdict, [w.verdict for w in found.windows]), (word, windows), found.because)
        ended = replace(stands, ended_at=12, why="finished")
        for then, word in (
            ("for 5 us +- 1 us", PASS),
            ("for 9 us +- 1 us", PASS),
            ("for at most 4 us", PASS),
            ("for 3 us +- 0 us", PART),
        ):
            found = verdict(f"in turn:\n        left > 0 % for 5 us +- 1 us\n    then still {then}", ended)
            self.assertEqual(found.verdict, word, f"the program was over after 4 us of it: {found.because}")
        alone = verdict("left = 0 % lasts 30 us +- 1 us", record(steps((0, 45), (8, 0))))
        self.assertEqual((alone.verdict, alone.points, alone.left_open), (NOT_CERTAIN, 0, True))
        others = verdict("left = 0 % lasts 3 us +- 1 us", record(steps((0, 0), (3, 40), (28, 0))))
        self.assertEqual((others.verdict, others.points), (PASS, 6))
        self.assertIn("counts for nothing", others.because)

    def test_ways_and_angles(self):
        """On a floor they are the robot's, on a recording the encoders', else the motion model's."""
        text = program(
            "drive at 40 % for 30 cm\nturn left at 30 % for 90 deg\nwait 0.3 s\ndrive at -40 % for 12 cm\nstop all"
        )
        ran, _ = yard(limit_us=9_000_000).run(runner_for(text, small_rig()), text)
        figure = ("in turn, gaps up to 0.5 s:\n        drive > 0 % for 30 cm +- 3 cm\n        left < 0 % and right > 0 % for "
                  "90 deg +- 9 deg\n        drive < 0 % for at least 10 cm")  # fmt: skip
        found = verdict(figure, ran)
        self.assertEqual(found.verdict, PASS, found.because)
        rates = {
            "left": [(0, 0), (1, 50), (3, 0), (4, -50), (5, 0)],
            "right": [(0, 0), (1, 50), (3, 0), (4, 50), (5, 0)],
        }
        left, right = (steps(*pairs, unit=1_000_000) for pairs in rates.values())
        modelled = record(left, right=right, lasted=8_000_000)
        # 50 % of 600 deg/s for 2 s is 600 deg, of a wheel of 6.5 cm; the turn is 300 deg of it over a track of 14 cm
        way, turn = 600 / 360 * np.pi * 6.5, 300 * 6.5 / 14
        for sentence, margin in (
            (f"drive > 0 % lasts {way:.6f} cm +- 1 cm", 1.0),
            (f"left < 0 % lasts {turn:.6f} deg +- 2 deg", 2.0),
            ("drive > 0 % lasts at least 500 deg of left", 100.0),
            ("left < 0 % lasts at most 10 cm of right", 10 - 300 / 360 * np.pi * 6.5),
        ):
            with self.subTest(sentence):
                self.assertAlmostEqual(verdict(sentence, modelled).margin, margin, 4)
        angles = np.array([0.0, 0.0, 100.0, 200.0, 200.0])
        trace = Trace(
            np.arange(5) * 1_000_000,
            {"left": np.array([0.0, 40, 40, 0, 0]), "right": np.array([0.0, 40, 40, 0, 0]), "left.angle": angles,
             "right.angle": angles},
        )  # fmt: skip
        found = verdict("drive > 0 % lasts at least 10 cm", recorded(trace, small_rig()))
        self.assertAlmostEqual(found.margin, 200 / 360 * np.pi * 6.5 - 10, 9)

    def test_the_standard_form_keeps_everything(self):
        text = (
            'check "Square", 6 points:\n    # why\n    in turn, 4 times, gaps up to 0.5 s:  # head\n'
            "        drive > 0 % for 2 s +- 0.1 s  # one\n        # two\n        in turn, 2 times, anything between:\n"
            "            left < 0 % and right > 0 % for at least 90 deg\n            # closing\n"
            "    then still for 5 s +- 0.3 s  # stands\n    then still to the end of the run\n    # last\n\n"
            'check "More", 1 point:\n    the 2nd time nose is pressed, not at the start, while it runs, within 2 s to 3 s, '
            'for 1 s, drive > 0 %\n\ncheck "Told", 1 point:\n    never sent "turned" or finished "why" or line 3 is waiting '
            "after the first 0.2 s\n\n"
            'check "Held", 1 point:\n    while left is braking, left keeps 200 deg/s +- 10 % after the first 0.1 s\n'
        )
        self.assertEqual(format_checks(parse_checks(text).tree), text)
        good_checks(text, small_rig())

    def test_what_cannot_be_read_is_said(self):
        table = [
            ("in turn, 0 times:\n        left > 0 %", "phase-count"), ("in turn:", "no-phases"),
            ("in turn, 60 times:\n        left > 0 %\n        left < 0 %", "phase-count"),
            ("in turn:\n        left > 0 % for 2 s", "unexpected"), ("in turn:\n        left > 0 % for 2 % +- 1 %", "check-time"),
            ("in turn:\n        left > 0 %\n    left < 0 %", "unexpected"), ("in turn:\n        left > 0 %\n            still", "phase"),
            ("in turn, gaps up to 3 cm:\n        left > 0 %", "wrong-dimension"),
            ("left > 0 % lasts 3 cm +- 1 cm of shade", "not-a-motor"), ("the 2th time nose is pressed, for 1 s, still", "unexpected"),
            ("always left keeps 40 % +- 3 %", "wrong-dimension"), ("never nose is braking", "not-a-motor"),
        ]  # fmt: skip
        for sentence, code in table:
            with self.subTest(sentence):
                parsed = parse_checks(f'check "A", 1 point:\n    {sentence}\n')
                from geduld.checks.binder import bind_checks

                codes = [hint.code for hint in parsed.hints] or [
                    h.code for h in bind_checks(parsed.tree, small_rig()).hints
                ]
                self.assertIn(code, codes)


class Answers(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(signals(CONTACTS), signals(LEVELS), st.integers(0, 8), st.integers(0, 8), st.integers(0, 8))
    def test_delays_and_staying(self, nose, left, least, more, stays):
        pressed, quiet = truths(nose, bool), truths(left, lambda value: value <= 0)
        world, most = record(left, nose), least + more
        triggers = [start for start, _ in stretches(pressed)]
        comes = [start for start, _ in stretches(quiet)]

        def stay(tick):
            ahead = quiet[tick : tick + max(stays, 1)]
            return PASS if all(ahead) and len(ahead) >= stays else OPEN if all(ahead) else FAIL

        delayed, staying, at_once = [], [], []
        for trigger in triggers:
            came = next((tick for tick in comes if tick >= trigger), None)
            if came is None or came > trigger + most:
                delayed.append(OPEN if trigger + most > LASTED else FAIL)
            else:
                delayed.append(stay(came) if came >= trigger + least else FAIL)
            tries = [stay(tick) for tick in range(trigger, min(trigger + most, LASTED) + 1)]
            word = PASS if PASS in tries else OPEN if OPEN in tries or trigger + most > LASTED else FAIL
            staying.append(word)
            at_once.append(stay(trigger))
        trail = f"for {stays} us, left <= 0 %"
        for sentence, outcomes in (
            (f"within {least} us to {most} us, {trail}", delayed),
            (f"within {most} us, {trail}", staying),
            (trail, at_once),
        ):
            found = verdict(f"after nose is pressed, {sentence}", world)
            self.assertEqual([window.verdict for window in found.windows], outcomes, f"{sentence}: {found.because}")
            for place, which in ((0, "1st"), (1, "2nd"), (len(outcomes) - 1, "last")):
                one = verdict(f"the {which} time nose is pressed, {sentence}", world)
                self.assertEqual(
                    [window.verdict for window in one.windows], outcomes[place : place + 1] if place >= 0 else []
                )

    def test_which_times_count(self):
        """What holds at the start, and what comes when the program is over, counts; two options say otherwise."""
        nose = steps((0, 1), (2, 0), (5, 1), (7, 0), (20, 1))
        left = steps((0, 40), (5, 0), (6, 40))
        world = replace(record(left, nose), ended_at=10, why="finished")
        for options, passed, count, said in (
            ("", 1, 3, "over since"),  # never answered is worse than too late
            (", not at the start", 1, 2, "over since"),
            (", while it runs", 1, 2, "from the start"),
            (", not at the start, while it runs", 1, 1, "followed"),
        ):
            with self.subTest(options):
                found = verdict(f"after nose is pressed{options}, within 2 us, left = 0 %", world)
                self.assertEqual([w.verdict for w in found.windows].count(PASS), passed)
                self.assertEqual(len(found.windows), count)
                self.assertIn(said, found.because)

    def test_one_of_the_times_may_be_answered_at_that_instant(self):
        world = record(
            steps((0, 0), (3, 40), (9, 0), (12, 60)), steps((0, 0), (2, 1), (4, 0), (8, 1), (10, 0), (11, 1))
        )
        for which, word, margin, at in (("1st", FAIL, -40, 2), ("2nd", PASS, 0, 8), ("last", FAIL, -40, 11)):
            found = verdict(f"the {which} time nose is pressed, left >= 40 %", world)
            self.assertEqual((found.verdict, found.margin, found.at), (word, margin, at), found.because)

    def test_time_to_settle(self):
        world = record(
            steps((0, 0), (3, 40), (9, 0), (14, 10), (17, 40)), steps((0, 1), (9, 0), (12, 1), (13, 0), (15, 1))
        )
        for sentence, windows in (
            ("while nose is pressed, left > 30 %", [(0, 9, FAIL), (12, 13, FAIL), (15, 30, FAIL)]),
            ("while nose is pressed, left > 30 % after the first 3 us", [(3, 9, PASS), (18, 30, PASS)]),
            ("always left > 30 % after the first 17 us", [(17, 30, PASS)]),
            ("never left > 30 % while nose is pressed after the first 8 us", [(8, 9, FAIL), (23, 30, FAIL)]),
            ("from nose is pressed to left = 10 %, left < 5 % after the first 9 us", [(9, 14, PASS)]),
        ):
            with self.subTest(sentence):
                found = verdict(sentence, world)
                self.assertEqual([(w.start, w.stop, w.verdict) for w in found.windows], windows, found.because)


class Told(unittest.TestCase):
    def test_what_a_record_tells(self):
        lines = [
            "left at 60 % for 1 s", "stop left by coasting", "wait 1 s", 'send "turned"', "right at 240 deg/s for 2 s", "wait 0.5 s",
            'note "half"', 'send "turned"', "wait 1 s", 'finish "done"',
        ]  # fmt: skip
        text = program("\n".join(lines))
        ran, _ = yard(limit_us=8_000_000).run(runner_for(text, small_rig()), text)
        first = text.splitlines().index("    left at 60 % for 1 s") + 1
        table = [
            ('sent "turned" happens 2 times', PASS), ('sent "half" happens 0 times', PASS), ('noted "half" happens 1 time', PASS),
            ('after sent "turned", within 1 ms, right > 0 %', PART), ("left is coasting lasts at least 1 s", PASS),
            ("after left = 0 %, not at the start, for 0.5 s, left is coasting", PASS), ("while left > 0 %, left is braking", FAIL),
            ("from right > 0 % to right = 0 %, right keeps 240 deg/s +- 5 % after the first 1 s", PASS),
            ("from right > 0 % to right = 0 %, right keeps 200 deg/s +- 5 % after the first 1 s", FAIL),
            ("after right = 0 %, not at the start, for 0.5 s, right is braking", PASS), ("at the end, finished", PASS),
            ('at the end, finished "done"', PASS), ('at the end, finished "no"', FAIL), ("finished happens 1 time", PASS),
            (f"line {first} is waiting lasts 1 s +- 1 ms", PASS), (f"line {first} is waiting happens 1 time", PASS),
        ]  # fmt: skip
        for sentence, word in table:
            with self.subTest(sentence):
                found = verdict(sentence, ran)
                self.assertEqual(found.verdict, word, found.because)
        trace = Trace(np.arange(2) * 1_000_000, {"left": np.zeros(2)})
        for sentence in (
            'never sent "a"',
            "always left is braking",
            "at the end, finished",
            "never right keeps 9 deg/s +- 1 %",
        ):
            found = verdict(sentence, recorded(trace, small_rig()))
            self.assertEqual(found.verdict, NOT_EXERCISED, sentence)
