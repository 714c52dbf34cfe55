"""Hints about programs in Python and C: each with a program that must get it, and the nearest right one that must not."""

import unittest

from geduld.hints.about import hints_in_a_world
from geduld.readers.c.program import CProgram
from geduld.readers.python.program import PythonProgram
from geduld.run.world import TraceWorld
from geduld.worlds.recording import read_trace
from tests.glasshouse import DEMO, ROOT, cart

STUDENTS = ROOT / "tests" / "students"
PYTHON_WORDS, C_WORDS = (STUDENTS / "words.geduld").read_text(), (STUDENTS / "words-c.geduld").read_text()

PYTHON = [
    ("no-brackets", 1, "if touched:\n    halt()", "if touched():\n    halt()"),
    ("no-brackets", 3, "def near():\n    return gap() < 20\nwhile not near:\n    halt()\n    break",
     "def near():\n    return gap() < 20\nwhile not near():\n    halt()\n    break"),
    ("written-over", 1, "gap = gap()", "distance = gap()"),
    ("no-global", 3, "n = 0\ndef count():\n    n += 1\ncount()", "n = 0\ndef count():\n    global n\n    n += 1\ncount()"),
    ("unknown-name", 1, "wheels(spead, 0)\nhalt()", "spead = 5\nwheels(spead, 0)\nhalt()"),
    ("value-count", 3, "def go(power):\n    wheels(power, power)\ngo()\nhalt()",
     "def go(power=0):\n    wheels(power, power)\ngo()\nhalt()"),
    ("compared-for-nothing", 2, "x = 1\nx == 5", "x = 1\nx = 5"),
    ("is-for-equal", 2, "x = dose()\nif x is 5:\n    halt()", "x = dose()\nif x == 5:\n    halt()"),
    ("never-changes", 2, "d = gap()\nwhile d > 20:\n    wheels(0, 0)", "d = gap()\nwhile d > 20:\n    d = gap()"),
    ("behind-endless", 3, "while True:\n    touched()\nhalt()", "while True:\n    if touched():\n        break\nhalt()"),
    ("burns-time", 1, "for i in range(100000):\n    pass", "for i in range(3):\n    pass"),
    ("unit-slipped", 1, "rest(2)", "rest(2000)"),
    ("unit-slipped", 1, "pause(500)", "pause(0.5)"),
    ("left-running", 1, "wheels(20, 20)\npause(1)", "wheels(20, 20)\npause(1)\nhalt()"),
    ("broke-off", 2, "x = [1]\nx[3] = 2", "x = [1]\nx[0] = 2"),
    ("no-time", 3, "wheels(40, 40)\npause(0.001)\nhalt()", "wheels(40, 40)\npause(1)\nhalt()"),
    ("syntax", 1, "while True\n    halt()", None),
    ("syntax", 2, "x = 1\nif x = 2:\n    halt()", None),
    ("syntax", 3, "if True:\n\thalt()\n        halt()", None),
    ("unknown-import", 2, "import cart\ncart.jump()", None),
]  # fmt: skip
C = [
    ("assigned-in-condition", 1, "int x = 0; if (x = 3) halt();", "int x = 0; if (x == 3) halt();"),
    ("empty-body", 1, "while (gap() > 30);\n    spray(0);", "while (gap() > 30)\n    spray(0);"),
    ("empty-body", 1, "if (touched());\n{ halt(); }", "if (touched())\n{ halt(); }"),
    ("braces-missing", 3, "if (touched())\n    halt();\n    spray(0);", "if (touched())\n    halt();\nspray(0);"),
    ("chained-comparison", 1, "int x = 3; if (1 < x < 3) halt();", "int x = 3; if (1 < x && x < 3) halt();"),
    ("one-sign", 1, "if (gap() > 0 & touched()) halt();", "if ((dose() & 3) == 1) halt();"),
    ("whole-division", 1, "spray(8 / 10 * 100); spray(0);", "spray(8.0 / 10 * 100); spray(0);"),
    ("runs-over", 1, "int s = 3000000; rest(s * 1000);", "long s = 3000000; rest(s * 1L);"),
    ("never-set", 1, "int n; wheels(n * 0, 0);", "int n; n = 0; wheels(n, 0);"),
    ("no-break", 1, "switch (dose()) { case 1: halt(); case 2: spray(0); }",
     "switch (dose()) { case 1: halt(); break; case 2: spray(0); }"),
    ("never-changes", 1, "double d = gap(); while (d > 20) halt();", "double d = gap(); while (d > 20) d = gap();"),
    ("behind-endless", 2, "while (1) { touched(); }\nhalt();", "while (1) { if (touched()) break; }\nhalt();"),
    ("burns-time", 1, "for (long i = 0; i < 100000; i++);", "for (int i = 0; i < 3; i++);"),
    ("unit-slipped", 1, "rest(2);", "rest(2000);"),
    ("left-running", 1, "wheels(20, 20); pause(1);", "wheels(20, 20); pause(1); halt();"),
    ("broke-off", 1, "int a[3]; int i = 4; a[i] = 1;", "int a[3]; int i = 2; a[i] = 1;"),
    ("no-brackets", 1, "if (touched) halt();", None),
    ("syntax", 1, "int x = 3\nhalt();", None),
    ("unknown-word", 1, "jump_up();", None),
    ("text-compared", 1, 'if (heard() == "go") halt();', None),
]  # fmt: skip


class Pairs(unittest.TestCase):
    def test_python(self):
        self.pairs(PYTHON, lambda text: PythonProgram(f"from cart import *\n{text}\n", cart(), [PYTHON_WORDS]), 1)

    def test_c(self):
        text = '#include "cart.h"\nint main() {{\n{}\n}}\n'
        self.pairs(C, lambda body: CProgram(text.format(body), cart(), [C_WORDS]), 2)

    def pairs(self, table, read, above):
        world = TraceWorld(read_trace(DEMO / "traces" / "missed-echoes.csv", cart()), cart())
        for code, line, raising, calm in table:
            with self.subTest(code, raising=raising):
                raised = hints_in_a_world(read(raising), world)
                self.assertIn((code, line + above), {(hint.code, hint.line) for hint in raised})
                hint = next(hint for hint in raised if hint.code == code)
                self.assertTrue(hint.message.endswith((".", "'.")) and hint.remedy)
                if calm is not None:
                    found = {hint.code for hint in hints_in_a_world(read(calm), world)}
                    self.assertNotIn(code, found)
                    self.assertTrue(read(calm).good)

    def test_handles_are_where_readings_are_compared(self):
        text = "from cart import *\nLIMIT = 40\nd = gap()\nif dose() > 634 or d > LIMIT or 300 > echo():\n    halt()\n"
        found = {
            (item.part, round(item.value, 3), item.span.line)
            for item in PythonProgram(text, cart(), [PYTHON_WORDS]).thresholds
        }
        self.assertEqual(found, {("knob", 61.975, 4), ("range", 40.0, 2), ("range", 30.0, 4)})
        text = '#include "cart.h"\n#define FAR 99\nint main() {\ndouble d = gap(); if (d < 40 || dose() > 634 || gap() > FAR) halt();\n}\n'
        found = {(item.part, round(item.value, 3)) for item in CProgram(text, cart(), [C_WORDS]).thresholds}
        self.assertEqual(found, {("range", 40.0), ("knob", 61.975)}, "a macro's number stands elsewhere")


if __name__ == "__main__":
    unittest.main()
