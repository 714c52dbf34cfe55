"""Wordbooks: read, printed, bound to a rig with errors in place, and used in exercises and on the command line."""

import contextlib
import io
import json
import shutil
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from geduld.cli.main import main
from geduld.errors import ExerciseError
from geduld.grading.exercise import good_checks, read_exercise
from geduld.grading.folders import marks_json, read_hand_ins
from geduld.grading.grade import grade_all
from geduld.grading.proofreading import prove
from geduld.readers.c.program import CProgram
from geduld.readers.python.program import PythonProgram
from geduld.readers.trying import try_word
from geduld.run.runner import Runner
from geduld.wordbook.binder import read_wordbook
from geduld.wordbook.printing import format_wordbook
from geduld.wordbook.reading import parse_wordbook
from geduld.worlds.recording import read_trace
from geduld.worlds.trace import Trace
from tests.glasshouse import DEMO, ROOT, cart

HEAD = 'wordbook "w"\nfor rig "glasshouse-cart"\nreads python\nmodule cart\n\n'
TEXTS = [path.read_text() for path in sorted((DEMO / "wordbooks").glob("*.geduld"))]
TEXTS += [(ROOT / "tests" / "students" / name).read_text() for name in ("words.geduld", "words-c.geduld")]

ERRORS = [
    ("no-title", 1, "reads python\n"),
    ("no-language", 1, 'wordbook "w"\n'),
    ("unexpected", 2, 'wordbook "w"\nreads basic\n'),
    ("twice", 6, HEAD + "reads c\n"),
    ("unknown-section", 6, HEAD + "wrod halt():\n    stop drive\n"),
    ("name-taken", 8, HEAD + "word halt():\n    stop drive\nword halt():\n    stop drive\n"),
    ("name-taken", 6, HEAD + "word f(a, a):\n    stop drive\n"),
    ("empty-block", 6, HEAD + "word f():\n"),
    ("unknown-unit", 6, HEAD + "word f(a in furlong):\n    wait a\n"),
    ("scale-ends", 6, HEAD + "word f(a from 3 to 3):\n    left at a\n"),
    ("wrong-dimension", 7, HEAD + "word f(a in cm):\n    wait a\n"),
    ("unknown-part", 7, HEAD + "word f(a in %):\n    wheel at a\n"),
    ("not-an-output", 7, HEAD + "word f(a in %):\n    nose at a\n"),
    ("wrong-dimension", 6, HEAD + "word f() in s = range\n"),
    ("no-unit", 6, HEAD + "word f() = range\n"),
    ("no-number", 6, HEAD + "word f() in cm = nose is pressed\n"),
    ("no-range", 6, HEAD + "word f() from 0 to 9 = light\n"),
    ("unknown-name", 6, HEAD + "word f() in cm = rnage\n"),
    ("object-part", 6, HEAD + "object Wheel:\n    word stop():\n        stop part\n"),
    ("no-interrupt", 7, HEAD + "word f(a in cm, run):\n    each time range < a, run\n"),
    ("no-interrupt", 7, HEAD + "word f(run):\n    each time left.angle > 90 deg, run\n"),
    ("unexpected", 7, HEAD + "word f(run):\n    each time nose is pressed, halt\n"),
    ("number-too-large", 6, HEAD + "word f() in cm, takes 1e400 ms = range\n"),
    ("number-too-large", 6, HEAD + "word f() in cm, absent is 1e400 = range\n"),
    ("number-too-large", 6, HEAD + "word A = 1e400\n"),
    ("number-too-large", 6, HEAD + "word f(a from 0 to 1e400):\n    left at a\n"),
    ("no-parameter", 8, HEAD + "object Wheel(port):\n    word nose(share from -1 to 1):\n        note part\n"),
    ("two-roles", 7, HEAD + "word f(part, handler):\n    each time part is pressed, part\n"),
    ("two-roles", 8, HEAD + "word f(part, run):\n    part at 3 %\n    note part\n"),
    ("wrong-absent", 6, HEAD + 'word f() in cm, absent is "" = range\n'),
    ("wrong-absent", 6, HEAD + "word f() absent is -1 = nose is pressed\n"),
    ("no-constant", 6, HEAD + "word NEAR = 40 cm\n"),
    ("stray-character", 7, HEAD + "word f():\n    drive at 3 % \u02d1\n"),
]


TIMES = """wordbook "times"
for rig "glasshouse-cart"
reads {}
{} cart

word ms() in ms, whole = clock
word us() in us, whole = clock
word exactly() in ms = clock
word minutes() in min, whole = clock
word rest(time in us):
    wait time
"""


class Times(unittest.TestCase):
    @given(st.integers(1, 90_000_000))
    def test_a_time_is_converted_as_the_whole_number_that_it_is(self, us):
        """4.02 s are 4020 ms: floating-point numbers would make 4019 of that."""
        world = Trace(np.array([0, 100_000_000]), {"range": np.array([1.0, 2.0])})
        wanted = [us // 1000, us, us / 1000, us // 60_000_000]
        python = f"from cart import *\nrest({us})\nprint(ms(), us(), exactly(), minutes())"
        c = f'#include "cart"\nint main() {{ rest({us}); printf("%ld %ld %.3f %d", ms(), us(), exactly(), minutes()); }}'
        for program in (
            PythonProgram(python, cart(), [TIMES.format("python", "module")]),
            CProgram(c, cart(), [TIMES.format("c", "header").replace("header cart", 'header "cart"')]),
        ):
            self.assertEqual(program.errors, ())
            said = Runner(program).run(world).events[0].text
            self.assertEqual([float(word) for word in said.split()], [float(f"{value:.3f}") for value in wanted])


class Books(unittest.TestCase):
    def test_what_is_printed_is_read_alike_and_is_its_own_standard_form(self):
        for text in TEXTS:
            parsed = parse_wordbook(text)
            self.assertEqual(parsed.hints, ())
            printed = format_wordbook(parsed.tree)
            self.assertEqual(parse_wordbook(printed).tree, parsed.tree)
            self.assertEqual(format_wordbook(parse_wordbook(printed).tree), printed)
            self.assertEqual(read_wordbook(text, cart()).hints, ())

    def test_errors_are_said_in_their_place(self):
        for code, line, text in ERRORS:
            with self.subTest(code, text=text):
                hints = read_wordbook(text, cart()).hints
                self.assertIn((code, line), {(hint.code, hint.line) for hint in hints})
                for hint in hints:
                    self.assertNotIn("\u02d1", hint.message + hint.remedy)

    @given(st.data())
    def test_no_text_is_too_odd(self, data):
        text = data.draw(st.sampled_from(TEXTS))
        at = data.draw(st.integers(0, len(text)))
        junk = data.draw(
            st.text(max_size=4) | st.sampled_from(["word ", "object X(p):\n", "=", "(", "in ", "from 1 to "])
        )
        changed = text[:at] + junk + text[at + data.draw(st.integers(0, 12)) :]
        book = read_wordbook(changed, cart())
        self.assertTrue(book.good or book.hints)
        format_wordbook(parse_wordbook(changed).tree)

    def test_a_parameter_may_be_called_like_anything(self):
        text = HEAD + "".join(
            f"word f{number}({name} in %):\n    drive at {name}\n"
            for number, name in enumerate(["left", "range", "wait", "to", "s", "part"])
        )
        self.assertEqual(read_wordbook(text, cart()).hints, ())
        turn = HEAD + "word spin(left in %):\n    turn left at left for 1 s\n"
        self.assertEqual(read_wordbook(turn, cart()).hints, (), "behind turn, left is the notation's own")

    def test_words_are_tried_on_a_recording(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        table = [
            ("gap", [], ("104.1", (), 12_000, "")),
            ("touched", [], ("False", (), 0, "")),
            ("dose", [], ("791", (), 0, "")),
            ("pause", [2], ("", (), 2_000_000, "")),
            ("wheels", [45, -30], ("", (("left", 0, 45.0), ("right", 0, -30.0)), 0, "")),
            ("spray", [51], ("", (("valve", 0, 20.0),), 0, "")),
            ("Motor.power", ["M3", 300], ("", (("valve", 0, 100.0),), 0, "")),
        ]
        for text in TEXTS[2:]:
            for word, values, expected in table:
                with self.subTest(word):
                    tried = try_word(text, cart(), word, values, trace, 5_000_000)
                    self.assertEqual((tried.value, tried.commands, tried.lasted_us, tried.problem), expected)
            tried = try_word(text, cart(), "when_pressed", ["D1", 1], trace, 5_000_000)
            self.assertEqual((tried.said[0], tried.problem), ("It is performed after 6.71 s.", ""))
            self.assertIn("takes 2 values", try_word(text, cart(), "wheels", [1], trace, 0).problem)
            self.assertIn('nothing called "whels"', try_word(text, cart(), "whels", [1], trace, 0).problem)
            self.assertIn("ended before", try_word(text, cart(), "pause", [900], trace, 0).problem)


class Exercises(unittest.TestCase):
    def test_a_class_in_two_languages_gets_its_marks(self):
        graded = grade_all(read_exercise(DEMO / "dock-in-code"), read_hand_ins(DEMO / "code-class"), 0)
        by_name = {item.name: item for item in graded}
        right = {name for name, item in by_name.items() if item.points == 14}
        styles = "alva-brandt bela-torvald cosima-idowu dario-lund mirko-strand nadja-everett oskar-pilgrim petra-quade"
        self.assertEqual(right, set(styles.split()))
        self.assertEqual({name for name, item in by_name.items() if item.unread}, {"kasimir-ode", "wilma-doherty"})
        self.assertEqual({mark.verdict for mark in by_name["kasimir-ode"].marks}, {"not read"})
        self.assertIn("says nothing about whether it is right", by_name["wilma-doherty"].problem)
        for name in ("lotte-arnesen", "xaver-molina"):
            self.assertTrue(by_name[name].problem.startswith("The program has errors."))
        self.assertEqual(len(marks_json(graded)["hand_ins"]), 24)

    def test_a_check_that_is_unfair_to_code_is_found_before_the_class_is_graded(self):
        exercise = read_exercise(DEMO / "dock-in-code")
        words = ['in the words of "barrow in Python"', 'in the words of "barrow in C"']
        lost = {item.what: [mark.check for mark in item.lost] for item in prove(exercise).rewritten}
        self.assertEqual([lost[name] for name in words], [[], []])
        short = exercise.checks_text + '\ncheck "Short", 1 point:\n    program has at most 8 steps\n'
        unfair = replace(exercise, checks_text=short, checks=good_checks(short, exercise.rig))
        lost = {item.what: [mark.check for mark in item.lost] for item in prove(unfair).rewritten}
        self.assertEqual([lost[name] for name in words], [["Short"], ["Short"]])

    def test_a_wordbook_with_errors_names_its_file_and_line(self):
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "exercise"
            shutil.copytree(DEMO / "dock-in-code", copy)
            book = copy / "barrow-c.geduld"
            book.write_text(book.read_text().replace("valve at share", "valvve at share"))
            with self.assertRaises(ExerciseError) as caught:
                read_exercise(copy)
            self.assertEqual((caught.exception.place.file, caught.exception.place.row), ("barrow-c.geduld", 14))

    def test_the_command_line_takes_words(self):
        rig, trace = DEMO / "rigs" / "glasshouse-cart.json", DEMO / "traces" / "dry-day.csv"
        words = [f"--words={DEMO / 'wordbooks' / name}" for name in ("barrow-python.geduld", "barrow-c.geduld")]

        def run(*arguments):
            out, err = io.StringIO(), io.StringIO()
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
                code = main([str(item) for item in arguments])
            return code, out.getvalue() + err.getvalue()

        class_ = DEMO / "code-class"
        for name, expected in (
            ("alva-brandt.py", (0, "The program finished at")),
            ("mirko-strand.c", (0, "The program finished at")),
            ("juno-haddad.py", (0, "juno-haddad.py:14: The program broke off here with IndexError")),
            ("tadeo-klein.c", (0, "went round for ever and did nothing more")),
            ("lotte-arnesen.py", (1, "lotte-arnesen.py:3:24: error syntax")),
        ):
            with self.subTest(name):
                code, said = run("run", class_ / name, "--rig", rig, "--trace", trace, *words)
                self.assertEqual(code, expected[0])
                self.assertIn(expected[1], said)
        self.assertEqual(
            run("run", class_ / "alva-brandt.py", "--rig", rig, "--trace", trace)[0], 1, "without its words"
        )
        code, said = run("hints", class_ / "vito-hallgren.c", "--rig", rig, *words, "--json")
        self.assertEqual(code, 0)
        codes = [hint["code"] for hint in json.loads(said)["hints"]]
        self.assertEqual(codes, ["assigned-in-condition", "whole-division"])
        self.assertEqual(run("hints", DEMO / "wordbooks" / "barrow-c.geduld", "--rig", rig), (0, ""))
        self.assertEqual(run("format", "--check", DEMO / "wordbooks" / "barrow-c.geduld")[0], 0)
        with tempfile.TemporaryDirectory() as folder:
            copy, marks = Path(folder) / "exercise", Path(folder) / "marks.csv"
            shutil.copytree(DEMO / "dock-in-code", copy)
            settings = json.loads((copy / "exercise.json").read_text())
            del settings["words"]
            (copy / "exercise.json").write_text(json.dumps(settings))
            hand_ins = Path(folder) / "class"
            hand_ins.mkdir()
            for name in ("alva-brandt.py", "mirko-strand.c"):
                shutil.copy(class_ / name, hand_ins)
            for given, expected in (([], ["0 of 14", "0 of 14"]), (words, ["14 of 14", "14 of 14"])):
                said = run("grade", copy, hand_ins, "--marks", marks, *given)[1]
                self.assertEqual([line.partition("  ")[0] for line in said.splitlines()], expected, said)
            self.assertEqual(run("prove", copy, *words)[0], run("prove", copy)[0])


if __name__ == "__main__":
    unittest.main()
