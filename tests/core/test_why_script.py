"""Why a line of a Python or a C program did not run: which lines came is held against Python itself."""

import ast
import sys
import unittest

from geduld.readers.c.program import CProgram
from geduld.readers.python.program import PythonProgram
from geduld.run.runner import Runner
from geduld.why.script import watched, why_not_script
from geduld.worlds.recording import read_trace
from tests.core.test_python_programs import PROGRAMS, read
from tests.core.test_script_hints import C_WORDS, PYTHON_WORDS
from tests.glasshouse import DEMO, cart
from tests.students import native_python

TRACE = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
SILENT = (ast.Import, ast.ImportFrom, ast.Global, ast.Nonlocal, ast.Pass, ast.AnnAssign)  # nothing is done for them

PYTHON = """\
from cart import *
def never():
    halt()
def back(n):
    if n > 3:
        return
    wheels(-20, -20)
wheels(20, 20)
if gap() > 900:
    halt()
elif gap() < 900:
    pause(1)
else:
    halt()
for k in []:
    halt()
back(5)
try:
    wheels(1, 1)
except ValueError:
    halt()
while True:
    pause(0.2)
halt()
"""
C = """\
#include "cart.h"
void never(void) {
    halt();
}
int main(void) {
    int n = 0;
    if (gap() < 900)
        n = 3;
    else if (n > 2)
        halt();
    switch (n) {
    case 1:
        halt();
        break;
    default:
        n = 4;
    }
    for (int i = 0; (i) < (0); i++)
        halt();
    while (1) {
        pause(20);
        if (n == 4) continue;
        halt();
    }
    halt();
}
"""
WRONG = "from cart import *\npause(1)\nx = [1][3]\nhalt()\n"
TOLD = [  # program, line, the line that kept it from running, what is said of it
    (PYTHON, 1, 0, "does nothing by itself"),
    (PYTHON, 3, 2, "Nothing called never"),
    (PYTHON, 7, 5, "led elsewhere each time"),
    (PYTHON, 10, 9, "asks whether gap() > 900, and no time"),
    (PYTHON, 13, 0, "is no statement"),
    (PYTHON, 14, 11, "each time it asked, gap() < 900 was so"),
    (PYTHON, 16, 15, "repeated its lines not once"),
    (PYTHON, 21, 20, "when something goes wrong"),
    (PYTHON, 24, 23, "still at line 23 when it ended at 30 s"),
    (WRONG, 4, 3, "Line 3 broke the program off at 1 s"),
    (C, 3, 2, "Nothing called never"),
    (C, 9, 7, "each time it asked, gap() < 900 was so"),
    (C, 13, 12, "asks whether n is 1"),
    (C, 19, 18, "repeated its lines not once"),
    (C, 23, 22, "led elsewhere each time"),
    (C, 25, 21, "still at line 21"),
]


def native_lines(text):
    """The lines that Python performs."""
    came = set()

    def look(frame, event, _):
        if event == "line":
            came.add(frame.f_lineno)
        return look

    sys.settrace(lambda frame, *_: look if frame.f_code.co_filename == "<student>" else None)
    try:
        native_python.run(text, TRACE.from_the_start, cart())
    finally:
        sys.settrace(None)
    return came


class Lines(unittest.TestCase):
    def test_the_lines_that_came_are_those_that_python_performs(self):
        for name, text in PROGRAMS.items():
            program = read(text)
            wanted = native_lines(text)
            _, came = watched(lambda: Runner(program).run(TRACE))  # noqa: B023
            for node in ast.walk(ast.parse(text)):
                said = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
                if isinstance(node, ast.stmt) and not said and not isinstance(node, SILENT):
                    with self.subTest(name, line=node.lineno):
                        self.assertEqual(node.lineno in came, node.lineno in wanted)
                        self.assertTrue(program.way_to(node.lineno), "each statement has a way to it")

    def test_what_kept_a_line_from_running_is_told(self):
        for text, line, kept, because in TOLD:
            with self.subTest(text.splitlines()[line - 1], line=line):
                program = (CProgram if text is C else PythonProgram)(text, cart(), [PYTHON_WORDS, C_WORDS])
                self.assertTrue(program.good, program.errors)
                told = why_not_script(lambda: Runner(program).run(TRACE), program.way_to(line), line)  # noqa: B023
                self.assertEqual((told.ran, told.line), (False, kept), told)
                self.assertIn(because, told.because)
        program = PythonProgram(PYTHON, cart(), [PYTHON_WORDS])
        told = why_not_script(lambda: Runner(program).run(TRACE), program.way_to(12), 12)
        self.assertEqual((told.ran, told.line), (True, 12))


if __name__ == "__main__":
    unittest.main()
