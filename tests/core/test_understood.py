"""What programs are read aloud as: whole pages, and what no page may get wrong."""

import re
import unittest

from geduld.understood.understood import understood
from tests.core import test_c_programs, test_python_programs

PYTHON = """\
from cart import *
import time
left = Motor("M1")

def near(limit=20):
    \"\"\"Is something close?\"\"\"
    d = gap()
    return d != -1 and d < limit

if __name__ == "__main__":
    left.power(level=-40)
    time.sleep(0.5)
    for _ in range(3):
        wheels(30, right=speed if (speed := 3) else 2)
    while True:
        if not near() or dose() > 512:
            break
        elif 10 < gap() <= 20 or heard() is None:
            spray(51)
            continue
    else:
        pass
    (a, b), c = (1, 2), 3
    wheels((a + b) * c, -b % 2)
    try:
        call(f"at {gap()}")
    finally:
        halt()
"""
PYTHON_SAID = """\
3 left is the part left
5 to near with limit=20:
7   set d to range in cm (-1 where it is absent)
8   go back with d != -1 and d < limit
11 left at -40 %
12 wait 0.5 s
13 repeat 3 times:
14   drive at 30 %, (speed if speed := 3, else 2) %
15 repeat:
16   if not near() or knob > 512 of 1023:
17     leave
18   else if 10 cm < range and range <= 20 cm or message is absent:
19     valve at 20 %
20     begin the next pass
22 if it was not left before its end:
22   do nothing
23 set (a, b), c to (1, 2), 3
24 drive at ((a + b) * c) %, (-b mod 2) %
25 try:
26   send f"at {gap()}"
28 in any case, at its end:
28   stop drive by braking
"""
C = """\
#include "cart.h"
#define NEAR 40
Motor left("M1");
static int turns;
double half(double v) { return v / 2; }
int main(void) {
    for (int i = 0; i < 3; i++) {
        static unsigned char n = 200;
        n += 2 * (i + 1);
        if (gap() == -1) continue;
    }
    do { rest(20); } while (!(gap() < NEAR && touched()));
    switch (turns) {
    case 1: wheels(10, half(turns)); break;
    case 2:
        if (dose() >= 600) break;
        left.power(turns == 0 ? -40 : turns);
    default: spray(255);
    }
    return 0;
}
"""
C_SAID = """\
3 left is the part left
4 turns (int)
5 to half with double v:
5   go back with v / 2
6 to main:
7   set i (int) to 0
7   repeat while i < 3:
8     set n (unsigned char) to 200, once for all calls
9     set n to n + 2 * (i + 1)
10     if range is absent:
10       begin the next pass
7     set i to i + 1
12   repeat, and again while not (range < 40 cm and nose is pressed):
12     wait 20 ms
13   by turns:
14     1:
14       drive at 10 %, half(turns) %
15     2:
16       if knob >= 600 of 1023:
16         leave the choice
17       left at (-40 if turns = 0, else turns) %
15       go on with the next one
18     any other:
18       valve at 100 %
20   go back with 0
"""


def page(program):
    return "".join(f"{line.line} {'  ' * line.level}{line.text}\n" for line in understood(program))


class Understood(unittest.TestCase):
    maxDiff = None

    def test_whole_pages(self):
        self.assertEqual(page(test_python_programs.read(PYTHON)), PYTHON_SAID)
        self.assertEqual(page(test_c_programs.read(C)), C_SAID)

    def test_every_word_that_is_called_is_said_at_its_line(self):
        says = {
            "wheels": "drive at",
            "halt": "stop drive",
            "rest": "wait",
            "pause": "wait",
            "call": "send",
            "aim": "nozzle",
        }
        for programs in (test_python_programs, test_c_programs):
            for name, text in programs.PROGRAMS.items():
                said = {}
                for line in understood(programs.read(text)):
                    said[line.line] = f"{said.get(line.line, '')} {line.text}"
                for number, line in enumerate(text.split("\n"), 1):
                    for word in re.findall(r"^\s*(\w+)\(.*\);?$", line):
                        with self.subTest(name, line=line):
                            if word in says:
                                self.assertIn(says[word], said.get(number, ""))

    def test_what_cannot_be_run_is_not_said(self):
        self.assertEqual(page(test_python_programs.read("from cart import *\nwheels(1\n")), "")
        deep = "x = " + "-" * 60 + "1\n"
        self.assertIn("set x to ---", page(test_python_programs.read(deep)))
