"""Programs in Python: held against Python itself, under attack, and broken in every way."""

import os
import random
import time
import unittest
from contextlib import nullcontext

from geduld.readers.python.program import PythonProgram
from geduld.run.runner import Runner
from geduld.understood.understood import understood
from geduld.worlds.recording import read_trace
from tests.glasshouse import DEMO, ROOT, cart, soon_ended
from tests.students import native_python

STUDENTS = ROOT / "tests" / "students"
WORDS = (STUDENTS / "words.geduld").read_text()
PROGRAMS = {path.stem: path.read_text() for path in sorted((STUDENTS / "python").glob("*.py"))}
MUTANTS = 20_000 if os.environ.get("GEDULD_SEARCH") else 400


# Drives until it bumps, and is interrupted there.
BUMPS = """\
from cart import *
def back():
    wheels(-20, -20)
    pause(0.7)
    call("back")
when_pressed("D1", back)
wheels(90, 90)
while True:
    pass
"""


def read(text):
    return PythonProgram(text, cart(), [WORDS])


def done(record):
    """What a run did, as the native one tells it."""
    commands = {
        name: list(zip(signal.times.tolist(), signal.values.tolist(), strict=True))
        for name, signal in record.commands.items()
    }
    sent = [(event.tick, event.text) for event in record.events if event.kind == "send"]
    broke = next((event.line for event in record.events if event.kind == "error"), None)
    return commands, sent, record.why, broke


class Native(unittest.TestCase):
    def test_every_program_does_what_python_makes_it_do(self):
        traces = [read_trace(DEMO / "traces" / f"{name}.csv", cart()) for name in ("missed-echoes", "radio-calls")]
        for name, text in PROGRAMS.items():
            program = read(text)
            self.assertEqual(program.hints, (), name)
            for trace in traces:
                with self.subTest(name, trace=trace.duration_us):
                    clock, why, line = native_python.run(text, trace.from_the_start, cart())
                    record = Runner(program).run(trace)
                    commands, sent, ended, broke = done(record)
                    notes = [(event.tick, event.text) for event in record.events if event.kind == "note"]
                    self.assertEqual(notes, clock.printed)
                    told = {part: entries for part, entries in commands.items() if len(entries) > 1}
                    native = {part: entries for part, entries in clock.commands.items() if len(entries) > 1}
                    self.assertEqual(told, native)
                    self.assertEqual((sent, ended, broke), (clock.said, why, line))


HOSTILE = {
    "a power that grows": "x = 2\nwhile True:\n    x = x ** x\n",
    "a number that doubles": "x = 1\nwhile True:\n    x += x\n",
    "a list that doubles": "x = [1]\nwhile True:\n    x = x + x\n",
    "a list in a list": "x = []\nfor i in range(10 ** 9):\n    x = [x]\n",
    "lists of lists compared": "a, b = [], []\nfor i in range(60):\n    a = [a, a]\n    b = [b, b]\nprint(a == b)\n",
    "lists of lists told": "a = [1]\nfor i in range(60):\n    a = [a, a]\nprint(a)\n",
    "a text of many": "x = 'a' * 10 ** 10\n",
    "a text joined": "x = 'ab'\nfor i in range(40):\n    x = x.join([x, x, x])\n",
    "a text replaced": "x = 'aa'\nfor i in range(60):\n    x = x.replace('a', 'aa')\n",
    "a wide text": "print('%999999999d' % 1)\n",
    "a wide f-string": "print(f'{1:999999999}')\n",
    "a wide format": "print('{:>999999999}'.format(1))\n",
    "a look inside": "print('{0.__class__}'.format(1))\n",
    "a long list": "x = list(range(10 ** 9))\n",
    "a long sum": "x = sum(range(10 ** 12))\n",
    "a long comprehension": "x = [i for i in range(10 ** 9)]\n",
    "counting for ever": "n = 0\nwhile True:\n    n += 1\n",
    "counting far": "for i in range(10 ** 15):\n    pass\n",
    "rounding far": "x = round(5, -10 ** 9)\n",
    "shifting far": "x = 1 << 10 ** 9\n",
    "going down": "def f(n):\n    return f(n + 1)\nf(0)\n",
    "going down by two": "def f(n):\n    g(n)\ndef g(n):\n    f(n)\nf(0)\n",
    "printing for ever": "while True:\n    print('x')\n    touched()\n",
    "printing much": "for i in range(10 ** 7):\n    print(i)\n",
    "a table that grows": "d = {}\nn = 0\nwhile True:\n    d[n] = n\n    n += 1\n",
    "appending for ever": "x = []\nwhile True:\n    x.append(1.5)\n",
    "objects for ever": "class A:\n    pass\nx = []\nwhile True:\n    x.append(A())\n",
    "looking in a long list": "x = list(range(100000))\nwhile True:\n    -1 in x\n",
    "sorting for ever": "x = list(range(100000))\nwhile True:\n    sorted(x)\n",
    "holding on": "try:\n    while True:\n        pause(1)\nfinally:\n    while True:\n        wheels(1, 1)\n",
    "catching all": "while True:\n    try:\n        pause(1)\n    except:\n        pass\n",
    "catching limits": "while True:\n    try:\n        x = [0] * 10 ** 9\n    except Exception:\n        pass\n",
    "a circle": "x = []\nx.append(x)\nprint(x, x == x)\nd = {}\nd['d'] = d\nprint(d)\n",
    "a wait for ever": "pause(1e300)\n",
    "a wait below nothing": "while True:\n    pause(-1)\n",
    "a wait of nothing": "pause(float('nan'))\nwheels(float('nan'), float('inf'))\n",
    "deep brackets": "x = " + "(" * 90 + "1" + ")" * 90 + "\n",
    "deeper brackets": "x = " + "(" * 3000 + "1" + ")" * 3000 + "\n",
    "a long sum of terms": "x = " + "+".join(["1"] * 3000) + "\n",
    "many minus signs": "x = " + "-" * 5000 + "1\n",
    "loops in loops": "".join("    " * k + f"for i{k} in range(2):\n" for k in range(25)) + "    " * 25 + "pass\n",
    "blocks in blocks": "".join("    " * k + "if touched():\n" for k in range(90)) + "    " * 90 + "pass\n",
    "reaching for the class": "x = ().__class__.__bases__[0].__subclasses__()\n",
    "reaching by name": "x = getattr(wheels, '__globals__')\n",
    "reaching by import": "import os\nos.system('true')\n",
    "reaching by eval": "eval('1')\n",
    "an interrupt for ever": "def f():\n    while True:\n        pass\nwhen_pressed('D1', f)\nwhile True:\n    pass\n",
    "an interrupt that asks for itself": "def f():\n    when_pressed('D1', f)\n    pause(9)\nf()\npause(99)\n",
    "an interrupt that breaks off": "when_pressed('D1', lambda: 1 // 0)\npause(99)\n",
    "an interrupt of nothing": "when_pressed('D1', 5)\npause(99)\n",
    "an interrupt that ends it": "import sys\nwhen_pressed('D1', lambda: sys.exit())\nwhile True:\n    gap()\n",
    "interrupts without end": "while True:\n    when_pressed('D1', halt)\n",
    "equal data in data": "from dataclasses import dataclass\n@dataclass\nclass A:\n    x: int\n    y: int = 0\n"
    "a, b = A(1), A(1)\nfor i in range(60):\n    a, b = A([a, a]), A([b, b])\nprint(a == b)\n",
    "a text of itself": "class A:\n    def __repr__(self):\n        return repr(self)\nprint(A())\n",
    "engine names": "now = 5\nsteps = 1\ni = 3\nloop = 9\nacts = 2\nmachine = 1\nend = 0\nwheels(now, i)\n",
    "names with prefixes": "g_x = 1\ns_x = 2\ndef f(s_now, nonlocal_=1):\n    return s_now\nwheels(f(g_x), s_x)\n",
}

# Tuples that hold themselves twice, thirty deep: Python's own hashing and comparing never comes back from them.
_TWICE = "a, b = (), ()\nfor i in range(60):\n    a, b = (a, a), (b, b)\n"
_LARGE = (1 << 61) - 1
HOSTILE |= {
    f"twice thirty deep: {use}": f"{_TWICE}d, s = {{1: 2}}, {{1}}\n{use}\n"
    for use in (
        "d = {a: 1}", "d[a] = 1", "x = d[a]", "del d[a]", "s = {a}", "s = {*[a]}", "x = a in d", "x = a not in s", "x = d.get(a)",
        "d.setdefault(a, 3)", "d.pop(a, 1)", "d.update([(a, 1)])", "d = dict([(a, 1)])", "s.add(a)", "s.discard(a)", "s = set([a])",
        "s.update([a])", "x = s.union([a])", "x = {k: 1 for k in [a]}", "x = {k for k in [a]}", "x = [a].count(b)", "x = b in [a]",
        "x = [a].index(b)", "[a].remove(b)", "x = (a,).count(b)", "x = sorted([a, b])", "x = max(a, b)", "x = min([b, a], key=lambda v: v)",
        "x = a < b", "x = {1: a} == {1: b}", "x = str(a)", "print(f'{b}')",
    )
} | {
    f"numbers that collide: {use}": f"d, s = {{}}, set()\nfor i in range(100000):\n    {use}\n"
    for use in (f"d[i * {_LARGE}] = 1", f"s.add(i * {_LARGE})", f"d[(i * {_LARGE}, 1)] = 1", f"x = d.setdefault(i * {_LARGE}, 1)")
} | {
    "numbers that collide at once": f"s = set([i * {_LARGE} for i in range(60000)])\n",
    "a deep tuple looked up": "a = ()\nfor i in range(90000):\n    a = (a,)\nd = {a: 1}\n",
    "a long tuple looked up": "a = tuple(range(100000))\nwhile True:\n    a in {1: 2}\n",
}  # fmt: skip


NOT_READ = [
    ("x = next(iter([1]))", "Python's next"),
    ("x = map", "Python's map"),
    ("x = 'a'.encode()", "Python's .encode"),
    ("x = [lambda: gap() for _ in range(2)]", "a lambda that waits here"),
    ("x = min([1, 2], key=gap)", "a key that waits"),
    ("for d in (gap() for _ in range(3)):\n    halt()", "bit by bit"),
    ("dir = 5\nnext = dir\nmap = [next]\nwheels(map[0], dir)", ""),
    ("x = list(map(int, '12'))\nx = any(gap() < 5 for _ in x)\nx = max('ab', key='ab'.count)", ""),
]


class NotRead(unittest.TestCase):
    def test_what_is_not_read_is_said_and_never_run_otherwise(self):
        for text, said in NOT_READ:
            with self.subTest(text):
                told = [hint.message for hint in read("from cart import *\n" + text + "\n").errors]
                self.assertEqual(any(said in message for message in told) if said else not told, True, told)


class Hostile(unittest.TestCase):
    def test_hostile_programs_end_soon_and_cost_only_themselves(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        for name, text in HOSTILE.items():
            with self.subTest(name), nullcontext() if name == "objects for ever" else soon_ended():
                began = time.process_time()
                program = read("from cart import *\n" + text)
                if program.good:
                    record = Runner(program).run(trace)
                    self.assertIn(record.why, ("finished", "time", "idle", "error", "steps", "events", "memory"))
                # a bound on what must never hang, not a measure of speed
                self.assertLess(time.process_time() - began, 60)

    def test_broken_programs_get_only_our_own_errors(self):
        rng = random.Random(0 if MUTANTS < 1000 else None)
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


def mutated(rng, text, texts):
    """A program with a few changes: letters, words or lines taken out, put in, or from another one."""
    for _ in range(rng.randint(1, 3)):
        lines = text.split("\n")
        at, kind = rng.randrange(len(lines)), rng.randrange(6)
        line = lines[at]
        if kind == 0:
            del lines[at]
        elif kind == 1:
            lines.insert(at, rng.choice(rng.choice(texts).split("\n")))
        elif kind == 2 and line:
            place = rng.randrange(len(line))
            lines[at] = line[:place] + line[place + 1 :]
        elif kind == 3:
            place = rng.randrange(len(line) + 1)
            lines[at] = line[:place] + rng.choice("()[]{}:=+-*/%,.'\" \t0x_~|&^<>!@#\\\x00é") + line[place:]
        elif kind == 4 and line.split():
            words = line.split(" ")
            words[rng.randrange(len(words))] = rng.choice(rng.choice(texts).split())
            lines[at] = " ".join(words)
        else:
            lines[at] = "    " + line if rng.random() < 0.5 else line.lstrip(" ")
        text = "\n".join(lines)
    return text


if __name__ == "__main__":
    unittest.main()
