"""Two devices on one time axis: what one sends the other hears, late or never."""

import json
import tempfile
import unittest
from functools import partial
from pathlib import Path

from geduld.checks.judge import judge
from geduld.checks.printing import format_checks
from geduld.checks.reading import parse_checks
from geduld.checks.verdicts import FAIL, NOT_EXERCISED, PASS
from geduld.errors import ExerciseError
from geduld.grading.cases import Case
from geduld.grading.exercise import build_exercise, checks_for, good_checks, read_exercise
from geduld.grading.grade import HandIn, grade_all
from geduld.hints.about import hints_in_a_world
from geduld.readers.bundle import program_in
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import rig_from_json
from geduld.run.together import MOST_ROUNDS, Link, Partner, TogetherWorld
from geduld.run.world import TraceWorld, bare
from geduld.worlds.inputs import inputs_from_csv
from tests.glasshouse import SMALL, changes, program, small_rig, yard

HANDSET = {
    "geduld": "rig/1",
    "name": "handset",
    "parts": {
        "go": {"kind": "key", "port": "K1"},
        "light": {"kind": "lamp", "port": "L1"},
        "air": {"kind": "radio", "port": "R1"},
    },
}
PRESSED = "time [s],go\n1,1\n1.2,0\n2,1\n2.2,0\n"
SENDER = (
    'side by side:\n    lane keys:\n        repeat:\n            wait until go is just pressed\n            send "go"\n'
    '    lane answers:\n        repeat:\n            wait until message is "turned"\n            light on for 0.1 s\n'
    "            reset message"
)
CART = 'repeat:\n    wait until message is "go"\n    reset message\n    lamp on for 0.5 s\n    send "turned"'


HANDSET_RIG = rig_from_json(HANDSET)


def devices_at_hand(hands=PRESSED, lasts=4_000_000):
    """The handset's own world: nothing but time, and a hand."""
    return TraceWorld(bare(HANDSET_RIG, lasts), HANDSET_RIG, inputs_from_csv(hands.encode(), HANDSET_RIG))


def devices(cart=CART, sender=SENDER, link=None, hands=PRESSED, on_floor=False, lasts=4_000_000):
    """The cart's run and the handset's."""
    rig, text = HANDSET_RIG, program(sender)
    at_hand = devices_at_hand(hands, lasts)
    main = yard(limit_us=lasts) if on_floor else TraceWorld(bare(small_rig(), lasts), small_rig())
    other = Partner("handset", at_hand, partial(runner_for, text, rig), text, link or Link(30_000))
    world = TogetherWorld(main, other)
    record, _ = world.run(runner_for(program(cart), small_rig()), cart)
    return record, record.partner


class Together(unittest.TestCase):
    def test_a_message_goes_there_and_another_one_back(self):
        for on_floor in (False, True):
            ours, theirs = devices(on_floor=on_floor)
            self.assertEqual(
                [(e.tick, e.text) for e in theirs.events if e.kind == "send"], [(1_000_000, "go"), (2_000_000, "go")]
            )
            lamp = [(0, 0.0), (1_030_000, 100.0), (1_530_000, 0.0), (2_030_000, 100.0), (2_530_000, 0.0)]
            self.assertEqual(changes(ours, "lamp"), lamp)
            self.assertEqual(
                changes(theirs, "light")[1:],
                [(1_560_000, 100.0), (1_660_000, 0.0), (2_560_000, 100.0), (2_660_000, 0.0)],
            )

    def test_what_is_lost_does_not_come(self):
        silent, _ = devices(link=Link(30_000, 1.0))
        self.assertEqual(changes(silent, "lamp"), [(0, 0.0)])
        hands = "time [s],go\n" + "".join(f"{k},{k % 2}\n" for k in range(1, 200))
        sender = 'repeat:\n    wait until go is just pressed\n    send "go"'
        counts = set()
        for seed in range(4):
            link = Link(20_000, 0.3, seed)
            cart = 'set n to 0\nrepeat:\n    wait until message is "go"\n    reset message\n    set n to n + 1\n    lamp at n * 1 %'
            once, again = (devices(cart, sender, link, hands, lasts=200_000_000)[0] for _ in range(2))
            self.assertEqual(changes(once, "lamp"), changes(again, "lamp"))
            counts.add(changes(once, "lamp")[-1][1])
        self.assertGreater(len(counts), 1, "another seed loses others")
        self.assertTrue(all(50 < count < 90 for count in counts), counts)

    def test_like_messages_are_two_and_a_chat_has_a_bound(self):
        cart = 'repeat:\n    wait until message is "ball"\n    reset message\n    wait 0.5 s\n    send "ball"'
        sender = 'send "ball"\n' + cart
        ours, theirs = devices(cart, sender, hands="time [s],go\n", lasts=20_000_000)
        apart = 2 * (500_000 + 30_000)
        self.assertEqual([e.tick for e in theirs.events if e.kind == "send"], [k * apart for k in range(19)])
        self.assertEqual(ours.why, "time")
        fast = cart.replace("    wait 0.5 s\n", "")
        ours, _ = devices(fast, f'send "ball"\n{fast}', hands="time [s],go\n", lasts=60_000_000)
        self.assertTrue(ours.hit_limit)
        self.assertIn(f"more than {MOST_ROUNDS} times", ours.events[-1].text)

    def test_a_check_asks_for_the_other_device(self):
        ours, _ = devices()
        alone, _ = TraceWorld(bare(small_rig(), 2_000_000), small_rig()).run(
            runner_for(program("wait 1 s"), small_rig())
        )
        for sentence, word in (
            ('partner sent "go" happens 2 times', PASS), ('partner sent "stop" happens 1 time', FAIL),
            ("partner.light is on lasts 0.1 s +- 1 ms", PASS), ("partner.go is pressed happens 2 times", PASS),
            ('after partner sent "go", within 40 ms, lamp is on', PASS), ('after partner sent "go", within 20 ms, lamp is on', FAIL),
            ('after partner.air is "turned", within 10 ms, partner.light > 50 %', PASS),
            ('first partner.go is pressed, then message is "go", then sent "turned", then partner.light is on', PASS),
        ):  # fmt: skip
            with self.subTest(sentence):
                text = f'check "A", 1 point:\n    {sentence}\n'
                self.assertEqual(format_checks(parse_checks(text).tree), text)
                check = good_checks(text, small_rig(), HANDSET_RIG).checks[0]
                found = judge(check, ours)
                self.assertEqual(found.verdict, word, found.because)
                self.assertEqual(judge(check, alone).verdict, NOT_EXERCISED)
                codes = [hint.code for hint in checks_for(text, small_rig()).hints]
                self.assertEqual(codes[:1], ["no-partner"])

    def test_what_the_other_one_never_asks_for_is_said(self):
        def codes(cart):
            text = program(SENDER)
            partner = Partner("handset", devices_at_hand(), partial(runner_for, text, HANDSET_RIG), text)
            world = TogetherWorld(TraceWorld(bare(small_rig(), 4_000_000), small_rig()), partner)
            return [(h.code, h.line) for h in hints_in_a_world(NotationProgram(program(cart), small_rig()), world)]

        self.assertIn(("never-read", 7), codes(CART.replace('send "turned"', 'send "turnd"')))
        self.assertNotIn("never-read", [code for code, _ in codes(CART)])

    def test_both_programs_are_handed_in(self):
        """A folder with a behaviour for each rig is one hand-in; either of them may be what is wrong."""
        sender, cart = (text.replace('"Test"\n', f'"Test"\nfor rig "{rig}"\n') for text, rig in
                        ((program(SENDER), "handset"), (program(CART), "small")))  # fmt: skip
        own = Partner(
            "handset", devices_at_hand(), partial(runner_for, program("wait 1 s"), HANDSET_RIG), "", Link(30_000)
        )
        world = TogetherWorld(TraceWorld(bare(small_rig(), 4_000_000), small_rig()), own)
        exercise = build_exercise("T", "", small_rig(), program(CART), 'check "A", 2 points:\n    sent "turned" happens 2 times\n',
                                  [Case("one", world)])  # fmt: skip
        for files, points, problem in (
            ({"a.geduld": sender, "b.geduld": cart}, 2, ""),
            ({"cart.geduld": cart, "sender.geduld": sender.replace("go", "gone", 2)}, 0, ""),
            ({"b.geduld": cart}, 0, ""),
            ({"a.geduld": sender.replace("wait until", "wait untli", 1), "b.geduld": cart}, 0, "Line"),
            ({"a.geduld": cart, "b.geduld": cart}, 0, "several behaviours"),
        ):
            data, language = program_in({name: text.encode() for name, text in files.items()})
            graded = grade_all(exercise, [HandIn("ada", data, language=language)], workers=0)[0]
            self.assertEqual(graded.points, points, graded.totals[0].because)
            self.assertIn(problem, graded.totals[0].because)

    def test_a_case_with_a_partner(self):
        with tempfile.TemporaryDirectory() as folder:
            place = Path(folder)
            partner = {
                "rig": "handset.json",
                "program": "sender.geduld",
                "inputs": "press.csv",
                "delay": "30 ms",
                "lost": "0 %",
            }
            exercise = {"geduld": "exercise/1", "title": "Called", "rig": "rig.json", "reference": "reference.geduld",
                        "checks": "checks.geduld", "cases": [{"name": "twice", "lasts": "4 s", "partner": partner}]}  # fmt: skip
            files = {
                "rig.json": json.dumps(SMALL), "handset.json": json.dumps(HANDSET), "press.csv": PRESSED,
                "sender.geduld": program(SENDER), "reference.geduld": program(CART),
                "checks.geduld": 'check "Answers", 2 points:\n    after message is "go", within 10 ms, lamp is on\n\n'
                                 'check "Says so", 2 points:\n    sent "turned" happens 2 times\n',
                "exercise.json": json.dumps(exercise),
            }  # fmt: skip
            for name, text in files.items():
                (place / name).write_text(text)
            found = read_exercise(place)
            deaf = program('repeat:\n    wait until message is "go"\n    lamp on for 0.5 s\n    wait 9 s')
            for workers in (0, 1):
                good, bad = grade_all(
                    found, [HandIn("a", program(CART).encode()), HandIn("b", deaf.encode())], workers=workers
                )
                self.assertEqual((good.points, bad.points), (4, 1), [mark.because for mark in bad.totals])
            for change, said in (
                ({"delay": "0.1 ms"}, "1 ms to 10 s"), ({"lost": "200 %"}, "0 % to 100 %"), ({"program": "none.geduld"}, "no file"),
                ({"speed": 3}, "not known"), ({"trace": "press.csv", "lasts": "3 s"}, "one of them"),
            ):  # fmt: skip
                broken = {**exercise, "cases": [{"name": "x", "lasts": "4 s", "partner": {**partner, **change}}]}
                (place / "exercise.json").write_text(json.dumps(broken))
                with self.subTest(said), self.assertRaises(ExerciseError) as caught:
                    read_exercise(place)
                self.assertIn(said, str(caught.exception))
