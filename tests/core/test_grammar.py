"""Conditions by the documented grammar, in programs, checks and wordbooks: read, printed, and what they mean.

What a condition means is worked out here once more, from the documentation alone: sides that are absent make every
comparison false, `not` binds tighter than `and`, and `and` tighter than `or`.
"""

import math
import operator
import os
import random
import unittest

import numpy as np

from geduld.checks.printing import format_checks
from geduld.checks.reading import parse_checks
from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.readers.python.program import PythonProgram
from geduld.run.runner import Runner
from geduld.wordbook.printing import format_wordbook
from geduld.wordbook.reading import parse_wordbook
from geduld.worlds.trace import Trace
from tests.core.records import verdict
from tests.glasshouse import run, small_rig

TRIES = 4_000 if os.environ.get("GEDULD_SEARCH") else 250
SIGNS = {"<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge, "=": operator.eq, "!=": operator.ne}
_LOOSE, _OR, _AND, _NOT, _COMPARISON, _SUM, _PRODUCT, _MINUS, _ATOM = range(9)


class Grammar:
    """Random expressions: (text, how tightly its sign binds, a function of what is read)."""

    def __init__(self, chance):
        self.chance = chance

    def inside(self, found, least):
        """A text where signs bind at least so tightly: in parentheses where it must be, and where chance has it."""
        text, rank, _ = found
        return f"({text})" if rank < least or self.chance.random() < 0.15 else text

    def value(self, depth=1):
        pick = self.chance.randrange(9) if depth else self.chance.randrange(2)
        if pick == 0:
            number = self.chance.choice([0, 5, 12.5, 40, 80])
            return f"{number} cm", _ATOM, lambda read: float(number)
        if pick in (1, 2):
            return "range", _ATOM, lambda read: read["range"]
        if pick in (3, 4, 5):
            sign = self.chance.choice("+-")
            one, other = self.value(depth - 1), self.value(depth - 1)
            text = f"{self.inside(one, _SUM)} {sign} {self.inside(other, _PRODUCT)}"
            work = operator.add if sign == "+" else operator.sub
            return text, _SUM, lambda read: work(one[2](read), other[2](read))
        if pick == 6:
            one = self.value(depth - 1)
            return f"{self.inside(one, _PRODUCT)} * 2", _PRODUCT, lambda read: one[2](read) * 2
        if pick == 7:
            one = self.value(depth - 1)
            return f"-{self.inside(one, _MINUS)}", _MINUS, lambda read: -one[2](read)
        name, work = self.chance.choice([("min", min), ("max", max)])
        one, other = self.value(depth - 1), self.value(depth - 1)

        def found(read):
            values = one[2](read), other[2](read)
            return math.nan if any(value != value for value in values) else work(values)

        return f"{name}({one[0]}, {other[0]})", _ATOM, found

    def comparison(self):
        pick = self.chance.randrange(6)
        if pick == 0:
            state = self.chance.choice(["pressed", "released", "absent"])
            wanted = {"pressed": lambda n: n == 1, "released": lambda n: n == 0, "absent": math.isnan}[state]
            return f"nose is {state}", _COMPARISON, lambda read: wanted(read["nose"])
        if pick == 1:
            return "range is absent", _COMPARISON, lambda read: math.isnan(read["range"])
        sides = [self.value() for _ in range(3)]
        one, low, high = (self.inside(side, _SUM) for side in sides)
        of = [side[2] for side in sides]
        if pick == 2:
            return (
                f"{one} between {low} and {high}",
                _COMPARISON,
                lambda read: of[1](read) <= of[0](read) <= of[2](read),
            )
        if pick == 3:
            near = lambda read: abs(of[0](read) - of[1](read)) <= 4  # noqa: E731
            return f"{one} = {low} +- 4 cm", _COMPARISON, near
        sign = self.chance.choice(list(SIGNS))

        def compared(read):
            left, right = of[0](read), of[1](read)
            return left == left and right == right and SIGNS[sign](left, right)

        return f"{one} {sign} {low}", _COMPARISON, compared

    def condition(self, depth=2):
        pick = self.chance.choice(["leaf", "and", "or", "not", "and", "or", "not"]) if depth else "leaf"
        if pick == "leaf":
            return self.comparison()
        one = self.condition(depth - 1)
        if pick == "not":
            return f"not {self.inside(one, _NOT)}", _NOT, lambda read: not one[2](read)
        rank, other = (_AND if pick == "and" else _OR), self.condition(depth - 1)
        text = f"{self.inside(one, rank)} {pick} {self.inside(other, rank + 1)}"
        both = pick == "and"
        return text, rank, lambda read: (all if both else any)((one[2](read), other[2](read)))


def recording(chance, count=8):
    column = lambda *of: np.array([chance.choice(of) for _ in range(count)])  # noqa: E731
    channels = {"range": column(0.0, 5.0, 12.5, 40.0, 77.0, math.nan), "nose": column(0.0, 1.0, math.nan)}
    return Trace(np.arange(count, dtype=np.int64) * 10_000, channels)


PROGRAM = """behaviour "C"
let so = {a}
begin:
    repeat:
        if {a}:
            lamp at 100 %
        else if so:
            lamp at 50 %
        else:
            lamp off
        if not ({b}):
            left at 0 %
        else:
            left at 100 %
"""
EVERYWHERE = """behaviour "C"

to wander with pace:
    left at pace until {a}, held 20 ms, patience 1 s
        otherwise:
            note "no"

begin:
    wait until {a}
    repeat while {a}:
        left follows knob until {b}, patience 1 s
        repeat until {b}:
            drive at 20 % until {a}, keep going
    do:
        wander with 20 %
    unless {a}, held 0.2 s:
        if {b}:
            finish
"""
SENTENCES = [
    "always {a}", "never {a}", "never {a} while {b}", "while {a}, {b}", "from {a} to {b}, {a}", "before {a}, never {b}",
    "after {a}, within 3 ms, {b}", "after {a}, for 3 ms, {b}", "after {a}, within 1 ms to 3 ms, {b}",
    "the 2nd time {a}, within 3 ms, {b}", "{a} lasts at least 2 ms", "{a} happens at most 3 times",
    "first {a}, then {b}", "first ever {a}, then {b}", "at 20 ms, {a}", "at the end, {a}", "{a} settles within 3 ms",
    "{a} every 3 ms +- 1 ms", "{a} happens at least 2 times between ({a}) and ({b})",
    "from the 2nd time {a} to the last time {b}, {a}", "from {a} to the 3rd time {b}, {b}",
]  # fmt: skip
WORDS = """wordbook "w"
for rig "small"
reads python
module cart

word asked() = {a}
word until(limit in cm):
    wait until {a} or range < limit, patience 30 ms
    if {b}:
        lamp on
"""


class Conditions(unittest.TestCase):
    def setUp(self):
        self.chance = random.Random() if os.environ.get("GEDULD_SEARCH") else random.Random(11)

    def pairs(self):
        grammar = Grammar(self.chance)
        for _ in range(TRIES):
            a, b = grammar.condition(), grammar.condition()
            yield a, b, {"a": a[0], "b": b[0]}

    def assert_printed(self, text, read, printed):
        tree = read(text)
        self.assertEqual([str(hint) for hint in tree.hints], [], text)
        again = printed(tree.tree)
        self.assertEqual(read(again).tree, tree.tree, f"{text}\n{again}")
        self.assertEqual(printed(read(again).tree), again)
        return again

    def test_what_is_read_is_printed_alike(self):
        for _, _, both in self.pairs():
            for text in (PROGRAM, EVERYWHERE):
                self.assert_printed(text.format(**both), parse, format_plan)
            checks = "".join(
                f'check "c{n}", 1 point:\n    {text.format(**both)}\n\n' for n, text in enumerate(SENTENCES)
            )
            self.assert_printed(checks, parse_checks, format_checks)
            self.assert_printed(WORDS.format(**both), parse_wordbook, format_wordbook)

    def test_what_they_mean(self):
        rig = small_rig()
        for a, b, both in self.pairs():
            world = recording(self.chance)
            reads = [{name: float(column[k]) for name, column in world.channels.items()} for k in range(8)]
            wanted = [a[2](read) for read in reads]
            record = run(PROGRAM.format(**both), world)
            ticks = world.times
            self.assertEqual((record.commands["lamp"].at(ticks) == 100).tolist(), wanted, both["a"])
            self.assertEqual((record.commands["left"].at(ticks) == 100).tolist(), [b[2](r) for r in reads], both["b"])
            place = self.chance.randrange(8)
            found = verdict(f"at {place * 10} ms, {both['a']}", record)
            self.assertEqual(found.verdict == "pass", wanted[place], both["a"])
            text = f"import cart, time\ntime.sleep({place / 100})\nprint(cart.asked())"
            said = Runner(PythonProgram(text, rig, [WORDS.format(**both)])).run(world)
            self.assertEqual(
                [event.text for event in said.events if event.kind == "note"], [str(wanted[place])], both["a"]
            )

    def test_what_stands_at_a_wrong_place_is_said(self):
        for text in ("range < not 3 cm", "1 + not nose is pressed", "range < 3 cm < 4 cm", "nose is pressed is released",
                     "range < 3 cm and nose is pressed = 3", "not", "range < 3 cm and", "and range < 3 cm"):  # fmt: skip
            hints = parse(f'behaviour "C"\nbegin:\n    wait until {text}\n').hints
            self.assertTrue(hints, text)
            self.assertEqual({hint.line for hint in hints}, {3}, text)


if __name__ == "__main__":
    unittest.main()
