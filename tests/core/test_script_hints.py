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
    ("one-side", 3, "wheels(30, 0)\npause(1)\nhalt()", "wheels(30, 5)\npause(1)\nhalt()"),
    ("already-true", 1, "while dose() < 100:\n    pause(0.01)\nwheels(20, 20)\npause(1)\nhalt()",
     "while dose() < 634:\n    pause(0.01)\nwheels(20, 20)\npause(1)\nhalt()"),
    ("never-came", 2, "glow(1)\nwhile dose() < 1020:\n    pause(0.01)\nhalt()", "while dose() < 634:\n    pause(0.01)\nhalt()"),
    ("never-came", 1, "while True:\n    if scraped():\n        break\n    pause(0.01)\nhalt()",
     "while True:\n    if touched():\n        break\n    pause(0.01)\nhalt()"),
    ("chatter", 2, "while True:\n    if dose() > 770:\n        wheels(20, 20)\n    else:\n        halt()\n    pause(0.01)",
     "on = False\nwhile True:\n    on = dose() > (740 if on else 800)\n    wheels(20 * on, 20 * on)\n    pause(0.01)"),
    ("syntax", 1, "while True\n    halt()", None),
    ("syntax", 2, "x = 1\nif x = 2:\n    halt()", None),
    ("syntax", 3, "if True:\n\thalt()\n        halt()", None),
    ("unknown-import", 2, "import cart\ncart.jump()", None),
    ("edge-left-out", 2, "d = dose()\nif d < 300:\n    glow(0)\nif 300 < d < 600:\n    glow(0.5)\nif d >= 600:\n    glow(1)",
     "d = dose()\nif d < 300:\n    glow(0)\nif 300 <= d <= 599:\n    glow(0.5)\nif d >= 600:\n    glow(1)"),
    ("edge-left-out", 2, "d = gap()\nif d < 30.5:\n    glow(0)\nelif d > 30.5:\n    glow(1)",
     "d = gap()\nif d < 30.5:\n    glow(0)\nelif d > 31:\n    glow(1)"),  # between them it stays as it was
    ("bands-overlap", 4, "d = gap()\nif d < 50:\n    glow(0)\nif d > 40:\n    glow(dose() / 1023)",
     "d = gap()\nif d < 50:\n    glow(0)\nelif d > 40:\n    glow(dose() / 1023)"),
    ("thresholds-swapped", 3, "if dose() > 400:\n    wheels(20, 20)\nif dose() < 600:\n    halt()",
     "if dose() > 600:\n    wheels(20, 20)\nif dose() < 400:\n    halt()"),
    ("every-pass", 3, "n = 0\nwhile n < 9:\n    if touched():\n        n += 1",
     "n = 0\nwas = False\nwhile n < 9:\n    if touched() and not was:\n        n += 1\n    was = touched()"),
    ("every-pass", 5, "on = False\nwhile True:\n    if gap() < 9:\n        on = True\n    elif touched() and gap() > 20:\n        on = not on\n    glow(on)",
     "on = False\nwhile True:\n    if gap() < 9:\n        on = True\n    elif touched() and gap() > 20:\n        on = not on\n        while touched():\n            rest(10)\n    glow(on)"),
    ("set-twice", 2, "wheels(20, 20)\nwheels(-20, 20)\nrest(100)", "wheels(20, 20)\nrest(100)\nwheels(-20, 20)"),
    ("set-twice", 2, "wheels(20, 20)\nhalt()", "wheels(20, 20)\nwheels(20, 20)\ngap()\nhalt()\nwheels(9, 9)"),
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
    ("one-side", 1, "wheels(0, 30); pause(1); halt();", "wheels(5, 30); pause(1); halt();"),
    ("already-true", 1, "while (dose() < 100) rest(10);\nwheels(20, 20); pause(1); halt();",
     "while (dose() < 634) rest(10);\nwheels(20, 20); pause(1); halt();"),
    ("never-came", 1, "do { rest(10); } while (dose() < 1020);", "do { rest(10); } while (dose() < 634);"),
    ("never-came", 1, "for (;;) { if (scraped()) break; rest(10); }", "for (;;) { if (touched()) break; rest(10); }"),
    ("chatter", 1, "while (1) { if (dose() > 770) wheels(20, 20); else halt(); rest(10); }",
     "bool on = false; while (1) { on = dose() > (on ? 740 : 800); wheels(20 * on, 20 * on); rest(10); }"),
    ("edge-left-out", 1, "int d = dose(); if (d < 300) spray(0); if (d > 300 && d < 600) spray(9); if (d >= 600) spray(99);",
     "int d = dose(); if (d < 300) spray(0); if (d >= 300 && d <= 599) spray(9); if (600 <= d) spray(99);"),
    ("edge-left-out", 2, "int low = 300;\nif (dose() < low) { spray(0); } else if (dose() > low) { spray(9); }",
     "int low = 300;\nif (dose() < low) { spray(0); } else { spray(9); }"),
    ("bands-overlap", 2, "double d = gap(); if (d < 50) spray(0);\nif (d > 40) spray(dose() / 4);",
     "double d = gap(); if (d < 50) return 0;\nif (d > 40) spray(dose() / 4);"),
    ("thresholds-swapped", 2, "if (dose() > 400) wheels(20, 20);\nif (dose() < 600) halt();",
     "if (dose() > 600) wheels(20, 20);\nif (dose() < 400) halt();"),
    ("every-pass", 2, "int n = 0; while (n < 9) {\nif (touched()) n++; }",
     "int n = 0; bool was = false; while (n < 9) { if (touched() && !was) n++; was = touched(); }"),
    ("every-pass", 2, "bool on = false; for (;;) { if (gap() < 9) on = true;\nelse if (gap() > 20 && touched()) { on = !on; } glow(on); }",
     "bool on = false; for (;;) { if (gap() < 9) on = true; else if (gap() > 20 && touched()) { on = !on; rest(300); } }"),
    ("set-twice", 2, "wheels(20, 20); // ahead\nwheels(-20, 20); rest(9);", "wheels(20, 20); if (touched()) halt(); wheels(-20, 20);"),
    ("no-brackets", 1, "if (touched) halt();", "if (touched()) halt();"),
    ("no-brackets", 2, "if (gap() < 9)\nhalt;", "int go = 3; if (go) halt();"),
    ("no-brackets", 1, "int x = touched + 3;", None),
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
        lines = [
            '#include "cart.h"', "#define FAR  99 // cm", "#define LIMIT FAR", "#define TWICE(x) ((x) * 2)", "#define SAME 40",
            "int main() {", "double d = gap(); if (d < 40 || dose() > 634) halt();", "if (gap() > LIMIT) halt();",
            "if (TWICE(1) + 30 > 0 && gap() < 35) halt();", "if (gap() > SAME && d < 40) halt();",
            "if (gap() > TWICE(12)) halt();", "}",
        ]  # fmt: skip
        program = CProgram("\n".join(lines), cart(), [C_WORDS])
        found = {(item.part, round(item.value, 3), item.span.line, item.span.column) for item in program.thresholds}
        # where it is not clear which number is meant, there is no handle
        wanted = {("range", 40.0, 7, 27), ("knob", 61.975, 7, 42), ("range", 99.0, 2, 14), ("range", 35.0, 9, 34)}
        self.assertEqual(found, wanted)
        for _, _, line, column in found:
            self.assertRegex(lines[line - 1][column - 1 :], r"^(40|634|99|35)\b")

    def test_what_a_call_sets_is_a_handle_that_can_be_written_anew(self):
        words = [(DEMO / "wordbooks" / f"barrow-{name}.geduld").read_text() for name in ("python", "c")]
        python = """from barrow import *
fast = 40
M = "M2"
roll(fast, -20)
rest(0.5)
pour(share=30)
pour(60)
Wheel("M1").spin(5)
wheel = Wheel(M)
wheel.spin(share=-7)
def one(M):
    Wheel(M).spin(8)
one("M1")
for each in (wheel, Wheel("M1")):
    each.spin(9)
pair = Wheel("M1")
pair.spin(11)
pair = wheel
"""
        c = """#include "barrow.h"
#define FAST 40
#define M "M2"
Wheel wheel(M);
void one(Wheel wheel) { wheel.spin(8); }
int main(void) {
roll(FAST, -20); rest(500);
pour(60); pour(2 * 30);
Wheel left("M1"); left.spin(5); wheel.spin(-7);
one(wheel);
}
"""
        # where it is known only as it runs which wheel is meant, or what number it is given, there is no handle
        wanted = [
            ("output", "left", 40, "40"),
            ("output", "right", -20, "-20"),
            ("time", "", 0.5, None),
            ("output", "valve", 30, "30"),
            ("output", "valve", 60, "60"),
            ("output", "left", 5, "5"),
            ("output", "right", -7, "-7"),
        ]
        for read, text, book in ((PythonProgram, python, words[0]), (CProgram, c, words[1])):
            with self.subTest(read=read.__name__):
                program = read(text, cart(), [book])
                self.assertTrue(program.good, program.errors)
                lines, found = text.split("\n"), []
                for item in program.settings:
                    line = lines[item.span.line - 1]
                    written = line[item.span.column - 1 : item.span.end_column - 1]
                    found.append((item.what, item.part, item.value, written))
                    # moved to twice its value, the number is written by its factor, and says so
                    number = f"{2 * item.value * item.factor:g}"
                    anew = [*lines]
                    anew[item.span.line - 1] = line[: item.span.column - 1] + number + line[item.span.end_column - 1 :]
                    moved = read("\n".join(anew), cart(), [book]).settings
                    self.assertIn((item.what, item.part, 2 * item.value), [(m.what, m.part, m.value) for m in moved])
                told = [(*item[:3], None if item[0] == "time" else item[3]) for item in found]
                self.assertEqual(
                    told, wanted if read is PythonProgram else [item for item in wanted if item[3] != "30"]
                )


if __name__ == "__main__":
    unittest.main()
