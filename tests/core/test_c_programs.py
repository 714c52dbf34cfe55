"""Programs in C: held against what a real compiler makes of them, under attack, and broken in every way."""

import random
import shutil
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from contextlib import nullcontext

from geduld.readers.c.preprocess import preprocess
from geduld.readers.c.program import CProgram
from geduld.run.runner import Runner
from geduld.understood.understood import understood
from geduld.worlds.recording import read_trace
from tests.core.test_python_programs import MUTANTS, done, mutated
from tests.glasshouse import DEMO, ROOT, cart, soon_ended
from tests.students import native_c

STUDENTS = ROOT / "tests" / "students"
WORDS = (STUDENTS / "words-c.geduld").read_text()
NARROW = WORDS.replace("reads c\n", "reads c\nwhole numbers of 16 bits\n")
PROGRAMS = {path.stem: path.read_text() for path in sorted((STUDENTS / "c").glob("*.c"))}


# Drives until it bumps, and is interrupted there.
BUMPS = """\
#include "cart.h"
void back(void) { wheels(-20, -20); pause(0.7); call("back"); }
int main(void) {
    when_pressed("D1", back);
    wheels(90, 90);
    while (1) { rest(30); }
}
"""


def read(text, words=WORDS):
    return CProgram(text, cart(), [words])


class Native(unittest.TestCase):
    def test_every_program_does_what_a_compiler_makes_it_do(self):
        self.assertTrue(shutil.which("g++"), "g++ is missing: apt-get install g++")
        traces = [read_trace(DEMO / "traces" / f"{name}.csv", cart()) for name in ("missed-echoes", "radio-calls")]
        texts = {code: text for trace in traces for code, text in trace.texts.items()}
        with native_c.folder() as folder, ThreadPoolExecutor(2) as pool:
            files = []
            for number, trace in enumerate(traces):
                files.append(native_c.Path(folder) / f"trace{number}")
                native_c.write_trace(trace.from_the_start, files[-1], trace.duration_us)
            native_c.prepare(texts, folder)
            built = {name: pool.submit(native_c.compiled, text, folder, name) for name, text in PROGRAMS.items()}
            for name, text in PROGRAMS.items():
                program = read(text)
                self.assertEqual([hint for hint in program.hints if hint.level == "error"], [], name)
                for trace, file in zip(traces, files, strict=True):
                    with self.subTest(name, trace=trace.duration_us):
                        native, said, why = native_c.run(built[name].result(), file, cart())
                        commands, sent, ended, _ = done(Runner(program).run(trace))
                        told = {part: entries for part, entries in commands.items() if len(entries) > 1}
                        native = {part: entries for part, entries in native.items() if len(entries) > 1}
                        self.assertEqual(told, native)
                        self.assertEqual((sent, ended), (said, why))


class Numbers(unittest.TestCase):
    def test_numbers_of_sixteen_bits_run_over_as_on_small_controllers(self):
        table = [
            ("45 * 1000", -20536),
            ("40000", 40000),  # a literal that does not fit is a long
            ("30000 + 10000", -25536),
            ("30000L + 10000", 40000),
            ("(unsigned int) -1", 65535),
            ("-1 < 1u", 0),
            ("1 << 15", -32768),
            ("(char) 200", -56),
            ("7 / 2 * 2.0", 6),
            ("sizeof(int) + sizeof(long)", 6),
            ("(32767 + 1) / 2", -16384),
        ]
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        for text, value in table:
            with self.subTest(text):
                program = read(f'#include "cart.h"\nint main() {{ puts(""); printf("%g", 0.0 + ({text})); }}', NARROW)
                self.assertEqual(program.errors, ())
                self.assertEqual(Runner(program).run(trace).events[-1].text, f"{value:g}")

    def test_the_functions_that_are_named_start_the_program(self):
        words = WORDS.replace("reads c\n", "reads c\nstarts with prepare, then again and again turn\n")
        text = '#include "cart.h"\nint n;\nvoid prepare() { n = 5; }\nvoid turn() { wheels(n, 0); n++; }\n'
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        record = Runner(read(text, words)).run(trace, 50_000)
        self.assertEqual(record.commands["left"].times.tolist(), [0, 10_000, 20_000, 30_000, 40_000, 50_000])
        self.assertEqual(record.commands["left"].values.tolist(), [5, 6, 7, 8, 9, 10])
        idle = Runner(read(text.replace("wheels(n, 0); n++;", "if (n) return;"), words)).run(trace)
        self.assertEqual((idle.why, idle.ended_at), ("idle", 0))

    def test_values_that_say_where_they_belong(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        body = "int main() { for (int i = 0; i < 6; i++) { wheels(a[i], p.y - p.x); rest(10); } }\n"
        told = []
        for array, point in (("[1] = 10, 20, [5] = 7", ".y = 3"), ("0, 10, 20, 0, 0, 7", "0, 3")):
            text = f'#include "cart.h"\nstruct P {{ int x, y; }};\nstruct P p = {{ {point} }};\nint a[6] = {{ {array} }};\n'
            told.append(done(Runner(read(text + body)).run(trace))[0]["left"])
        self.assertEqual(told[0], told[1])
        self.assertEqual([value for _, value in told[0]], [0, 10, 20, 0, 7])
        for wrong in ("[6] = 1", "[1][2] = 3"):
            self.assertFalse(read(f"int a[6] = {{ {wrong} }};\nint main() {{}}\n").good)

    def test_the_preprocessor_keeps_lines_and_puts_macros_in(self):
        text = "#define A(x, y) ((x) + y)\n#define B A(1, \\\n  2)\n#ifdef C\nno\n#else\nB A((3, 4), 5) 'A' \"B\"\n#endif\n"
        found = preprocess(text)
        self.assertEqual(found.hints, [])
        self.assertEqual(
            found.text.split("\n")[6].split(), ["((1)", "+", "2)", "(((3,", "4))", "+", "5)", "'A'", '"B"']
        )
        self.assertEqual(preprocess("#define X X\nX\n").text, "\nX\n")
        table = [
            ("1", "a"), ("0", "b"), ("defined(A) && !defined(Z)", "a"), ("A > 2 || B", "b"), ("A + 1 == 3 && (A < 5)", "a"),
            ("!A", "b"), ("Z", "b"), ("A == 2UL", "a"),
        ]  # fmt: skip
        for condition, kept in table:
            text = f"#define A 2\n#if {condition}\na\n#elif 1\nb\n#elif 1\nc\n#else\nd\n#endif\n"
            self.assertEqual((preprocess(text).text.split(), preprocess(text).hints), ([kept], []), condition)
        self.assertEqual([hint.code for hint in preprocess("#if A[3]\n#endif\n").hints], ["not-read"])


HOSTILE = {
    "an array of many dimensions": f"int a{'[2]' * 40}; a{'[0]' * 40} = 1;",
    "a struct of large arrays": f"struct S {{ {' '.join(f'int a{n}[99999];' for n in range(20))} }} s;",
    "large arrays again and again": "while (1) { int a[90000]; a[0] = 1; }",
    "large structs copied": "struct S { int a[90000]; } s; for (;;) { struct S t = s; t.a[0] = 1; }",
    "large statics": f"{' '.join(f'static int a{n}[99999];' for n in range(30))}",
    "a long text looked at again and again": "static char a[90000]; memset(a, 65, 89999); int n = 0; while (1) n += strlen(a);",
    "filling for ever": "static char a[90000]; while (1) memset(a, 65, 90000);",
    "a text behind its end": 'char a[3]; strcpy(a, "much too long");',
    "a text without an end": "char a[3] = {65, 66, 67}; puts(a);",
    "written far": 'char a[10]; snprintf(a, -1, "%d", 3); memset(a, 0, -5); strncpy(a, "x", 2000000000);',
    "counting for ever": "int n = 0; while (1) n++;",
    "counting far": "for (long i = 0; i < 2000000000; i++);",
    "going down": "return main();",
    "printing for ever": 'while (1) { printf("x"); touched(); }',
    "printing much": 'for (int i = 0; i < 10000000; i++) printf("%d", i);',
    "a wide text": 'printf("%999999999d", 1);',
    "a large array": "int a[2000000000]; a[0] = 1;",
    "arrays of arrays": "int a[9999][9999]; a[0][0] = 1;",
    "outside an array": "int a[3]; for (int i = 0; i < 10; i++) a[i] = i;",
    "before an array": "int a[3]; int i = -1; a[i] = 1;",
    "through nothing": "const char *s = NULL; wheels(s[0], 0);",
    "a division by nothing": "int a = 0; wheels(1 / a, 1 % a);",
    "a wait for ever": "pause(1e300);",
    "a wait of nothing": "while (1) pause(0.0 / 0.0);",
    "deep brackets": "int x = " + "(" * 400 + "1" + ")" * 400 + ";",
    "deep blocks": "{" * 400 + "}" * 400,
    "loops in loops": "for (;;) " * 30 + ";",
    "unary signs": "int x = " + "- " * 400 + "1;",
    "shifts": "int x = 1 << 100; long y = x >> -5; wheels(x, y);",
    "casts": "int x = (int) 1e300; float f = 1e300; wheels(x, f);",
    "names of the engine": "int now = 5, steps = 1, i = 3, loop = 9, acts = 2, machine = 1; wheels(now, i);",
    "reaching through": "wheels(wheels.__globals__, 1);",
}
MACROS = {
    "macros that double": "".join(f"#define A{k} A{k + 1} A{k + 1}\n" for k in range(40))
    + "#define A40 1\nint x = A0;\n",
    "macros in a circle": "#define A B\n#define B A\nint A = 1;\nint main() { }\n",
    "an endless text": 'int main() { puts("',
    "an endless comment": "int main() { /* ",
    "nothing": "",
    "nothing but zeros": "\0\0\0",
    "unended": "#if 1\nint main() { }\n",
}


class Hostile(unittest.TestCase):
    def test_hostile_programs_end_soon_and_cost_only_themselves(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        texts = {name: f'#include "cart.h"\nint main() {{ {body} }}\n' for name, body in HOSTILE.items()} | MACROS
        for name, text in texts.items():
            with self.subTest(name), nullcontext() if name == "counting for ever" else soon_ended():
                began = time.process_time()
                program = read(text)
                self.assertTrue(program.good or program.errors)
                if program.good:
                    Runner(program).run(trace)
                # a bound on what must never hang, not a measure of speed
                self.assertLess(time.process_time() - began, 60)

    def test_broken_programs_get_only_our_own_errors(self):
        rng = random.Random(1 if MUTANTS < 1000 else None)
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        texts = list(PROGRAMS.values())
        for number in range(MUTANTS):
            text = mutated(rng, rng.choice(texts), texts)
            with self.subTest(number, text=text):
                program = read(text)
                self.assertTrue(program.good or program.errors)
                if program.good:
                    understood(program)
                    Runner(program).run(trace, 200_000)


if __name__ == "__main__":
    unittest.main()
