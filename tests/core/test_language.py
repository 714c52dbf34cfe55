"""The notation: laws for every plan, and the message for each mistake."""

import json
import unittest

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from geduld.binding.library import library_of
from geduld.checks.printing import format_checks
from geduld.checks.reading import parse_checks
from geduld.errors import ProgramError
from geduld.grading.exercise import checks_for
from geduld.language.formatter import format_plan
from geduld.language.parser import MOST_HINTS, parse
from geduld.language.quantities import UNITS, exact, show
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import rig_from_json
from tests.core.plans import plans
from tests.glasshouse import DEMO, EXERCISE, SMALL, cart, changes, program, run, small_rig, trace

COUNTS = {"counts_per_turn": 360}
HEAD = 'behaviour "Test"\n'
CALM = settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))

# steps under begin: (text, code, line, column, fix); a line and a column count from 1
MISTAKES = [
    ("drve at 40 %", "unknown-part", 3, 5, "drive"),
    ("stpo drive", "unknown-step", 3, 5, "stop"),
    ("drive 40 %", "unexpected", 3, 11, None),
    ("left at 0.6", "number-without-unit", 3, 13, "60 %"),
    ("left at 45", "number-without-unit", 3, 13, "45 %"),
    ("wait 500", "number-without-unit", 3, 10, "500 ms"),
    ("wait 2", "number-without-unit", 3, 10, "2 s"),
    ("wait 2 seconds", "unknown-unit", 3, 12, None),
    ("wait 3sec", "unknown-unit", 3, 11, None),
    ("left at 40 cm", "wrong-dimension", 3, 13, None),
    ("left at 40 % for", "missing-time", 3, 18, None),
    ("left at 40 % for 3 lx", "wrong-dimension", 3, 22, None),
    ("turn left at 40 % for 30 cm", "wrong-dimension", 3, 27, None),
    ("lamp at 40 % for 30 cm", "wrong-dimension", 3, 22, None),
    ("left at 40 % for -3 cm", "negative-move", 3, 22, None),
    ("wait 3 s by time", "too-much", 3, 14, None),
    ("left at 4 % for 3 s by encoder", "nothing-measured", 3, 17, None),
    ("pump at 4 % for 3 rev by encoder", "not-measured", 3, 21, None),
    ("pump at 4 % for 3 rev", "no-calibration", 3, 21, None),
    ("pump at 40 rpm", "not-measured", 3, 13, None),
    ("winch at 40 rpm", "no-full-speed", 3, 14, None),
    ("reel at 4 cm/s", "wrong-dimension", 3, 13, None),
    ("left at 900 deg/s", "past-range", 3, 13, None),
    ("drive at 40 rpm, 40 %", "two-controls", 3, 22, None),
    ("stop lamp by braking", "cannot-brake", 3, 5, None),
    ("reset range", "cannot-reset", 3, 11, None),
    ("start timer nose", "name-taken", 3, 17, None),
    ("wait until nose is just pressed, held 1 s", "just-held", 3, 43, None),
    ("wait until left.angel > 3 deg", "unknown-property", 3, 16, "left.angle"),
    ("wait until pump.angle > 3 deg", "not-measured", 3, 16, None),
    ("wait until nose.angle > 3 deg", "unknown-property", 3, 16, "nose.releases"),
    ("wait until range is \"go\"", "wrong-dimension", 3, 16, None),
    ("left at 140 %", "past-range", 3, 13, "100 %"),
    ("nose at 40 %", "not-an-output", 3, 5, None),
    ("nozzle on", "not-a-lamp", 3, 5, None),
    ("stop nozzle", "cannot-stop", 3, 5, None),
    ("wait until rnage < 40 cm", "unknown-name", 3, 16, "range"),
    ("wait until range < 40", "number-without-unit", 3, 24, "40 cm"),
    ("wait until range < 40 %", "wrong-dimension", 3, 16, None),
    ("wait until range", "not-a-condition", 3, 16, None),
    ("wait until nose", "not-a-condition", 3, 16, "nose is pressed"),
    ("wait until nose is presed", "unknown-state", 3, 24, "pressed"),
    ("wait until range is pressed", "wrong-dimension", 3, 16, None),
    ("wait until left > 3 %", "not-a-sensor", 3, 16, None),
    ("wait until drive > 3 %", "not-a-sensor", 3, 16, None),
    ("wait until range == 4 cm", "unexpected", 3, 23, ""),
    ("wait until 3 cm < range < 9 cm", "chained-comparison", 3, 29, None),
    ("wait until range < 4 cm, patiance 3 s", "unexpected", 3, 30, None),
    ("wait until range < 4 cm, held -3 s", "negative-time", 3, 35, None),
    ("wait 1 s, keep going", "too-much", 3, 13, None),
    ("left at 5 %, keep going", "keep-going-without-ending", 3, 5, None),
    ("repeat 2.5 times:\n    wait 1 s", "repeat-count", 3, 12, None),
    ("repeat 3:\n    wait 1 s", "unexpected", 3, 13, None),
    ("repeat 3 times\n    wait 1 s", "missing-colon", 3, 19, ":"),
    ("repeat:", "empty-block", 3, 11, None),
    ("leave", "lonely-leave", 3, 5, None),
    ("side by side:\n    lane a:\n        wait 1 s", "one-lane", 3, 17, None),
    ("side by side:\n    lane a:\n        left at 5 %\n    lane b:\n        stop all", "two-lanes-one-part", 6, 9, None),
    ("side by side:\n    lane a:\n        wait 1 s\n    lane a:\n        wait 1 s", "name-taken", 6, 14, None),
    ("side by side:\n    lane a:\n        wait 1 s\n    wait 1 s", "unexpected", 6, 9, None),
    ("repeat:\n    side by side:\n        lane a:\n            leave\n        lane b:\n            wait 1 s", "lonely-leave", 6, 17, None),
    ("do:\n    wait 1 s", "do-without-unless", 3, 5, None),
    ("do:\n    wait 1 s\nlamp on\nunless nose is pressed:\n    lamp off", "do-without-unless", 3, 5, None),
    ("unless nose is pressed:\n    lamp off", "lonely-unless", 3, 5, None),
    ("do:\n    wait 1 s\nunless range:\n    lamp off", "not-a-condition", 5, 12, None),
    ("else:\n    wait 1 s", "lonely-else", 3, 5, None),
    ("otherwise:\n    wait 1 s", "lonely-otherwise", 3, 5, None),
    ("wait 1 s\n    wait 1 s", "indent", 4, 1, None),
    ("set range to 4", "name-taken", 3, 9, None),
    ("set cm to 4", "reserved-name", 3, 9, None),
    ("set n to n + 1", "unknown-name", 3, 14, None),
    ("set n to range + 4", "number-without-unit", 3, 22, "4 cm"),
    ("set n to range + knob", "wrong-dimension", 3, 14, None),
    ("set n to 4 / 0", "divides-by-zero", 3, 14, None),
    ("set n = 4", "unexpected", 3, 11, None),
    ("left = 4 %", "unexpected", 3, 10, None),
    ("lamp follows knob", "follows-without-ending", 3, 10, None),
    ("lamp follows range until nose is pressed", "wrong-dimension", 3, 18, None),
    ("nozzle from 20 deg over 2 s", "unexpected", 3, 24, None),
    ("lamp from 20 % to 140 % over 2 s", "past-range", 3, 23, "100 %"),
    ("dockk with 4 %", "unknown-step", 3, 5, None),
    ("let near = 40 cm", "let-inside", 3, 5, None),
    ("by range:\n    over 40 cm: lamp on\n    under 12 cm: lamp off", "band-gap", 4, 9, None),
    ("by range:\n    over 40 cm: lamp on\n    under 42 cm: lamp off", "band-overlap", 4, 9, None),
    ("by range:\n    over 40 cm: lamp on", "band-gap", 4, 9, None),
    ("by range:\n    under 40 cm: lamp on", "band-gap", 3, 5, None),
    ("by range:\n    over knob: lamp on", "wrong-dimension", 4, 14, None),
    ("by range, slack range:\n    over 4 cm: lamp on", "band-edge", 3, 21, None),
    ("by nose:\n    over 4 cm: lamp on", "wrong-dimension", 3, 8, None),
    ("by range:\n    over 40 cm", "unexpected", 4, 19, None),
    ("set n to scale(knob, from 0 % to knob, to 1 cm to 2 cm)", "scale-ends", 3, 14, None),
    ('note "not closed', "text-not-closed", 3, 10, None),
    ("wait 1 s;", "stray-character", 3, 13, ""),
    ("wait max 3 s", "unexpected", 3, 10, None),
    ("wait maxi(3 s, 4 s)", "unknown-function", 3, 10, "max"),
    ("wait max(3 s)", "value-count", 3, 10, None),
    ("wait\u202e 1 s", "invisible-character", 3, 9, ""),
    ("wait " + "(" * 50 + "1 s", "too-deep", 3, 51, None),
    ("wait " + "1 s + " * 60 + "1 s", "too-deep", 3, 254, None),
]  # fmt: skip


class Messages(unittest.TestCase):
    def test_each_mistake_has_its_message_in_its_place(self):
        reel = {"kind": "motor", "port": "M7", "encoder": COUNTS, "full_speed": "90 rpm"}
        parts = {
            "reel": reel,
            "pump": {"kind": "motor", "port": "M8"},
            "winch": {"kind": "motor", "port": "M9", "encoder": COUNTS},
        }
        rig = rig_from_json({**SMALL, "parts": {**SMALL["parts"], **parts}})
        for text, code, line, column, fix in MISTAKES:
            with self.subTest(text[:40]):
                hints = NotationProgram(program(text), rig).hints
                self.assertIn((code, line, column, fix), [(h.code, h.line, h.column, h.fix) for h in hints])
                self.assertTrue(all(h.message and h.remedy for h in hints))
                if fix and code != "past-range":
                    mended = program(text).splitlines(keepends=True)
                    row, hint = mended[line - 1], next(h for h in hints if h.code == code)
                    mended[line - 1] = row[: hint.column - 1] + fix + row[hint.end_column - 1 :]
                    after = NotationProgram("".join(mended), rig).hints
                    self.assertNotIn(hint, after, "the fix mends what it says")

    def test_mistakes_do_not_hide_each_other(self):
        lines = ["drve at 40 %", "wait 2", "repeat untl nose is pressed:", "    lamp at 5 cm", "set cm to 4"]
        hints = NotationProgram(program("\n".join(lines)), small_rig()).hints
        self.assertEqual([hint.line for hint in hints], [3, 4, 5, 7])
        hints = NotationProgram(program("left at 40 cm for 3 lx, kep going\nwait 3"), small_rig()).hints
        found = [(hint.line, hint.code) for hint in hints]
        self.assertEqual(found, [*[(3, "wrong-dimension")] * 2, (3, "too-much"), (4, "number-without-unit")])

    def test_header_and_lets(self):
        table = [
            ("begin:\n    wait 1 s\n", [("no-title", 1)]),
            ("", [("no-begin", 1), ("no-title", 1)]),
            (HEAD + "wait 1 s\n", [("no-begin", 2), ("step-outside", 2)]),
            (HEAD + 'for rig "other"\nbegin:\n    wait 1 s\n', [("other-rig", 1)]),
            (HEAD + "let left = 4 cm\nlet s = 4\nbegin:\n    wait 1 s\n", [("name-taken", 2), ("reserved-name", 3)]),
            (HEAD + "begin:\n    wait 1 s\nbegin:\n    wait 1 s\n", [("twice", 4)]),
            (HEAD + "to blink:\n    blink\nbegin:\n    blink\n", [("routine-circle", 3)]),
            (HEAD + "to dock with pace:\n    left at pace\nbegin:\n    dock\n", [("value-count", 5)]),
            (
                HEAD + "to dock with pace:\n    left at pace\nbegin:\n    dock with 4 cm\n    dock with 5 cm\n",
                [("wrong-dimension", 3)],
            ),
            (HEAD + "to left:\n    wait 1 s\nbegin:\n    wait 1 s\n", [("name-taken", 2)]),
            (HEAD + "let half(gap) = half(gap)\nbegin:\n    set n to half(4 cm)\n", [("unknown-function", 2)]),
            (HEAD + "let half(gap, gap) = gap\nbegin:\n    wait 1 s\n", [("name-taken", 2)]),
            (HEAD + "begn:\n    wait 1 s\n", [("no-begin", 2), ("unknown-section", 2)]),
            (b"\xff\xfe" + HEAD.encode("utf-16-le"), [("not-utf8", 1)]),
            (b"# " + b"x" * 200_000, [("text-too-long", 1)]),
            ("\n" * 6000, [("text-too-long", 1)]),
            (HEAD + "begin:\n\twait 1 s\n", [("tab", 3)]),
        ]
        for text, expected in table:
            with self.subTest(text[:30]):
                self.assertEqual([(h.code, h.line) for h in NotationProgram(text, small_rig()).hints], expected)

    def test_libraries(self):
        moves = 'library "moves"\n\nlet pace = 40 %\n\nto go with far:  # away\n    drive at pace for far\n'
        self.assertEqual(format_plan(parse(moves).tree), moves)
        library = library_of(
            [moves, HEAD + "begin:\n    wait 1 s\n", 'library "odd"\n\nto go with far:\n    dirve at 3 %\n']
        )
        self.assertEqual(list(library), ["moves", "odd"])
        text = HEAD + 'include "{}"\n\nbegin:\n    wait 1 s\n    go with 30 cm\n'
        self.assertEqual(
            format_plan(parse(text.format("moves")).tree), text.format("moves").replace('"\nin', '"\n\nin')
        )
        record = runner_for(text.format("moves"), small_rig(), library).run(trace(nose=[0] * 100))
        plain = program("wait 1 s\ndrive at 40 % for 30 cm")
        self.assertEqual(changes(record, "left"), changes(run(plain, trace(nose=[0] * 100)), "left"))
        self.assertEqual(
            [bar.line for bar in record.program], [5, 6], "a library's step stands at the line that performs it"
        )
        table = [
            (text.format("move"), [("no-library", 2, 'include "moves"')]),
            (text.format("odd"), [("unknown-part", 6, None)]),
            (moves, [("library-alone", 1, None)]),
            (moves + "\nbegin:\n    wait 1 s\n", [("library-begin", 8, None)]),
        ]
        for source, expected in table:
            with self.subTest(source[:30]):
                hints = NotationProgram(source, small_rig(), library).hints
                found = [(h.code, h.line, h.fix) for h in hints]
                self.assertTrue(set(expected) <= set(found), found)
        with self.assertRaises(ProgramError):
            runner_for(moves, small_rig())

    def test_handles_stand_in_the_text_itself_and_never_in_a_library(self):
        near = 'library "near"\n\nlet close = 40 cm\nlet tight(gap) = gap < 9 cm\n\nto come:\n    wait until range < 30 cm\n'
        own = "let far = 70 cm\n"
        text = f'{HEAD}include "near"\n\n{own}\nbegin:\n    come\n    wait until range < close or tight(range)\n'
        text += "    wait until range > far or range > 80 cm\n"
        read = NotationProgram(text, small_rig(), library_of([near]))
        bound, hints = read.bound, read.hints
        self.assertEqual(hints, ())
        lines = text.splitlines()
        shown = [lines[t.span.line - 1][t.span.column - 1 : t.span.end_column - 1] for t in bound.thresholds]
        self.assertEqual(shown, ["70 cm", "80 cm"])
        wrong = f'{HEAD}include "near"\n\nbegin:\n    wait 1 s\n    wait until tight(knob)\n'
        hints = NotationProgram(wrong, small_rig(), library_of([near])).hints
        self.assertEqual([(h.code, h.line, h.column) for h in hints], [("wrong-dimension", 6, 16)])

    def test_what_sets_something_is_a_handle_where_it_stands(self):
        text = program(
            "left at -30 %\ndrive at pace for 30 cm\nturn left at 25 % for 90 deg\nlamp on for 1.50 s\n"
            "right at 90 deg/s until range < near, held 40 ms, patience 2 s\nleft from 0 % to 60 % over 500 ms\n"
            "by range, slack 2 cm:\n    over near: stop drive\n    120 mm to 40 cm: lamp on\n    under 12 cm: lamp off\n"
            "left at knob for pi * 1 s",
            "let pace = 45 %\nlet near = 40 cm\n",
        )
        lines = text.splitlines()
        found = [
            (s.what, s.part, round(s.value, 2), lines[s.span.line - 1][s.span.column - 1 : s.span.end_column - 1])
            for s in NotationProgram(text, cart()).bound.settings
        ]
        self.assertEqual(
            found,
            [("output", "left", -30, "-30 %"), ("way", "", 30, "30 cm"), ("output", "left", 45, "45 %"), ("output", "right", 45, "45 %"),
             ("way", "", 90, "90 deg"), ("output", "left", -25, "25 %"), ("output", "right", 25, "25 %"), ("time", "", 1.5, "1.50 s"),
             ("held", "", 0.04, "40 ms"), ("patience", "", 2, "2 s"), ("output", "right", 15.52, "90 deg/s"), ("time", "", 0.5, "500 ms"),
             ("output", "left", 0, "0 %"), ("output", "left", 60, "60 %"), ("edge", "range", 40, "40 cm"), ("edge", "range", 12, "120 mm"),
             ("edge", "range", 40, "40 cm"), ("edge", "range", 12, "12 cm")],
        )  # fmt: skip

    def test_a_converters_own_number_is_a_handle_on_its_lane(self):
        source = json.loads((DEMO / "rigs" / "glasshouse-cart.json").read_text())
        source["parts"]["knob"]["raw"] = [100, 900]
        rig = rig_from_json(source)
        text = program("wait until knob.raw > 500 or 300 > knob.raw")
        found = NotationProgram(text, rig).bound.thresholds
        self.assertEqual(
            [(t.part, t.value, text.splitlines()[t.span.line - 1][t.span.column - 1 :][:3]) for t in found],
            [("knob", 50, "500"), ("knob", 25, "300")],
        )
        self.assertEqual([t.value * t.factor + t.zero for t in found], [500, 300], "and back")

    @CALM
    @given(plans())
    def test_a_handle_that_is_written_anew_is_moved(self, plan):
        text = format_plan(plan)
        bound = NotationProgram(text, cart()).bound
        for kind in ("thresholds", "settings"):
            for index, handle in enumerate(getattr(bound, kind)):
                lines, span = text.split("\n"), handle.span
                line = lines[span.line - 1]
                written = line[span.column - 1 : span.end_column - 1]
                number = float(written.removesuffix(handle.unit).replace(" ", ""))
                twice = f"{2 * number:.4f} {handle.unit}".strip()
                lines[span.line - 1] = line[: span.column - 1] + twice + line[span.end_column - 1 :]
                after = NotationProgram("\n".join(lines), cart()).bound
                if len(getattr(after, kind)) == len(getattr(bound, kind)):  # what is written twice may be one no longer
                    moved = getattr(after, kind)[index]
                    self.assertEqual((moved.span.line, moved.span.column), (span.line, span.column))
                    self.assertAlmostEqual(moved.value, 2 * handle.value, places=6)

    def test_names_inside_names_cannot_explode(self):
        lets = "let a0 = range\n" + "".join(f"let a{k} = a{k - 1} + a{k - 1}\n" for k in range(1, 40))
        hints = NotationProgram(program("left at a39 * 1 %/cm", lets), small_rig()).hints
        self.assertIn("too-long", {hint.code for hint in hints})

    def test_check_mistakes(self):
        table = [
            ("after nose is pressed, drive = 0 %", "unexpected"),
            ("sometimes drive = 0 %", "unexpected"),
            ("drive > 0 % lasts 1 s", "unexpected"),
            ("at the end, drive = 0", "number-without-unit"),
            ("after nose is pressed, within range, drive = 0 %", "wrong-dimension"),
            ("always 0 % < drive", "drive-alone"),
            ("never left", "not-a-condition"),
            ("never nose is just pressed", "just-in-a-check"),
            ("while range < 40 cm drive = 0 %", "unexpected"),
            ("before nose is pressed, drive = 0 %", "unexpected"),
            ("from nose is pressed, drive = 0 %", "unexpected"),
            ("first nose is pressed", "unexpected"),
            ("nose is pressed happens often", "unexpected"),
            ("nose is pressed happens 1.5 times", "unexpected"),
            ("left matches right within 5 %", "not-a-reference"),
            ("nose matches reference.nose within 5 %", "not-a-reference"),
            ("left matches reference.range within 5 %", "wrong-dimension"),
            ("left matches reference.left within range", "wrong-dimension"),
            ("left matches reference.left within 5 %, shifted by at most 5 cm", "wrong-dimension"),
            ('ends within 4 % of mark "A"', "wrong-dimension"),
            ('always left is within 4 cm of mark "A"', "only-of-the-cart"),
            ("always heading is 90 cm +- 5 deg", "wrong-dimension"),
            ("touches barrel at most 1 time", "unexpected"),
            ("program has 3 steps", "unexpected"),
            ("at range, drive = 0 %", "wrong-dimension"),
        ]
        for sentence, code in table:
            with self.subTest(sentence):
                hints = checks_for(f'check "A", 2 points:\n    {sentence}\n', small_rig()).hints
                self.assertEqual([hint.code for hint in hints], [code])
        for steps in ('wait until cart is inside "aisle"', "wait until left follows 3 % within 2 %"):
            self.assertIn(
                NotationProgram(program(steps), small_rig()).hints[0].code, ("only-in-a-check", "unexpected"), steps
            )
        twice = 'check "A", 1 point:\n    always lamp is on\n'
        self.assertEqual([h.code for h in checks_for(twice + twice, small_rig()).hints], ["check-twice"])
        self.assertEqual([h.code for h in checks_for("", small_rig()).hints], ["no-checks"])


SENTENCES = """
after nose is pressed, within 100 ms, drive = 0 %
while range between 12 cm and 40 cm, drive follows (range - 12 cm) * 2 %/cm within 5 %
from knob > 62 % to nose is pressed, drive > 0 %
before knob > 62 %, never drive > 0 %
never range < 5 cm while drive > 0 %
always cart is inside "aisle" or heading is -90 deg +- 5 deg
valve > 0 % lasts 1.5 s +- 0.2 s
nose is pressed happens at least 3 times
lamp > 0 % happens 1 time
first range < 40 cm, then nose is pressed, then valve > 0 %
at 2 s, left = reference.left +- 5 %
at the end, cart is within 4 cm of mark "A" and heading is 90 deg +- 5 deg
left matches reference.left within 5 %, shifted by at most 150 ms
cart.x matches reference.cart.x within 4 cm
range = 20 cm +- 2 cm settles within 3 s
ends within 4 cm of mark "A"
stays inside "aisle"
touches "barrel" at most 1 time
touches anything 2 times
program uses repeat
program does not use drive
program has at most 12 steps
program has no hint "chatter"
"""


class Laws(unittest.TestCase):
    def test_every_sentence_of_a_check_is_read_and_printed_as_it_stands(self):
        for sentence in SENTENCES.strip().splitlines():
            with self.subTest(sentence):
                text = f'check "A", 2 points, least over cases, fading over 10 cm, private:\n    {sentence}\n'
                parsed = parse_checks(text)
                self.assertEqual((parsed.hints, format_checks(parsed.tree)), ((), text))
                self.assertTrue(checks_for(text, cart()).good, checks_for(text, cart()).hints)

    @CALM
    @given(plans())
    def test_parse_and_print_are_inverse(self, plan):
        text = format_plan(plan)
        parsed = parse(text)
        self.assertEqual(parsed.hints, ())
        again = format_plan(parsed.tree)
        self.assertEqual(again, text)
        self.assertEqual(parse(again).tree, parsed.tree)
        self.assertEqual(len(parsed.tree.begin.steps), len(plan.begin.steps))

    def test_demonstration_texts_are_in_standard_form_and_without_hints(self):
        texts = [path.read_text() for path in (DEMO / "behaviours").rglob("*.geduld")]
        library = library_of(texts)
        self.assertTrue(library)
        for text in texts:
            self.assertEqual(format_plan(parse(text).tree), text)
            codes = {hint.code for hint in NotationProgram(text, cart(), library).hints}
            self.assertEqual(codes, {"library-alone"} if text.startswith("library") else set())
        checks = (EXERCISE / "checks.geduld").read_text()
        self.assertEqual(format_checks(parse_checks(checks).tree), checks)

    def test_comments_stay_where_they_belong(self):
        text = (
            '# top\nbehaviour "A"  # name\n\n# l\nlet a = 4  # four\n\n# b\nbegin:  # go\n    # one\n    repeat:  # r\n'
            "        wait 1 s\n        # closing\n    # two\n    if nose is pressed:\n        wait 1 s\n"
            "    # else\n    else:  # e\n        wait 1 s\n    wait until nose is pressed, patience 1 s\n"
            "        # o\n        otherwise:  # p\n            wait 1 s\n# last\n"
        )
        self.assertEqual(format_plan(parse(text).tree), text)

    @settings(max_examples=300, deadline=None)
    @given(st.one_of(st.binary(max_size=300), st.text(max_size=200)))
    def test_no_text_breaks_the_parser(self, source):
        for read in (parse, parse_checks):
            self.assertLessEqual(len(read(source).hints), MOST_HINTS)
        NotationProgram(source, small_rig())

    @CALM
    @given(plans(), st.data())
    def test_no_damage_breaks_the_parser_or_the_binder(self, plan, data):
        text = format_plan(plan)
        at = data.draw(st.integers(0, len(text)))
        cut = data.draw(st.integers(0, 12))
        junk = data.draw(st.sampled_from(["", "(", "\n", ":", '"', " at ", "%", "\x00", "until", "    ", "9" * 400]))
        hints = NotationProgram(text[:at] + junk + text[at + cut :], small_rig()).hints
        self.assertTrue(all(hint.line >= 1 and hint.column >= 1 for hint in hints))

    def test_units_are_exact(self):
        for text, unit, value in [("400", "mm", 40.0), ("0.1", "m", 10.0), ("3", "mm", 0.3), ("1", "inch", 2.54),
                                  ("2.5", "rev", 900.0), ("33", "rpm", 198.0), ("1.005", "ms", 0.001005)]:  # fmt: skip
            self.assertEqual(exact(text, UNITS[unit]), value)
        self.assertEqual([show(100, places=0), show(-0.0), show(1.50, "s")], ["100", "0", "1.5 s"])
        self.assertEqual(exact("9" * 400, UNITS["rev"]), float("inf"))
