"""The words of a wordbook as functions of a lane: each that a script uses, once, for the parts it is used with."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from geduld.binding import terms
from geduld.binding.binder import commanded
from geduld.language.quantities import TIME, TRUTH
from geduld.rig.model import Rig
from geduld.run.program.compiler import block, controlled
from geduld.run.program.outputs import give
from geduld.run.program.requests import AWAIT, SLEEP, Op
from geduld.run.program.scalar import Names
from geduld.run.program.writer import Writer
from geduld.script.lines import outputs_on_lines
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundWord, Given, Scale, Variant

_SHARED = "# what the functions share"
# How the compiler writes a line that takes time; no text of a wordbook begins one.
_YIELDS = re.compile(r"\s*(now, i, \w+ = |if now > end: )?yield\b")
_CONDITIONS = (terms.Wait, terms.Follow, terms.Guarded, terms.Ramp)


class OpByLine(dict[int, Op]):
    """One op for each line of the script that asks for it."""

    def __init__(self, op: Op) -> None:
        self.op = op

    def __missing__(self, line: int) -> Op:
        found = self[line] = replace(self.op, line=line)
        return found


class WordNames(Names):
    """What terms are called inside a word: its parameters are its own, all else is kept for the whole run."""

    def __init__(self) -> None:
        super().__init__(True)
        self.own: dict[int, str] = {}

    def variable(self, index: int) -> str:
        """A parameter, or a value that is kept."""
        return self.own.get(index) or super().variable(index)


class WordWriter(Writer):
    """Writes the steps of words: their line is that of the script that calls them, in `called_in`."""

    called_in = "line"
    called = ""

    def set_line(self, level: int, step: terms.SetLine) -> None:
        """Sets a line; which outputs that changes is not known here."""
        pin = self.names.variable(step.pin) if isinstance(step.pin, int) else repr(step.pin)
        value = self.names.scalar(step.level)
        told = value if step.shares else f"(100.0 if {value} else 0.0)"
        self.add(level, f"lines.set({pin}, {told}, now, {self.line(step)})")
        self.forget(level, set(outputs_on_lines(self.rig)))

    def each_time(self, level: int, step: terms.EachTime) -> None:
        """Asks for something to be performed each time a condition comes true: first it must not hold."""
        on, off = self.condition(step.condition), self.condition(_surely_not(step.condition))
        ops = ", ".join(self.op(Op(AWAIT, 0, AWAIT, index, (0, None))) for index in (off, on))
        handler = self.names.variable(step.handler)
        watch = f"None if {handler} is None else watch_({on}, {ops})"
        self.add(level, f"calls.hook({on}, {watch}, lambda: perform_({handler}), {self.called!r})")

    def line(self, step: terms.Step) -> str:
        """The line of the call."""
        return self.called_in

    def op(self, op: Op) -> str:
        """An op with the line of the call."""
        return f"{super().op(op)}[{self.called_in}]"


@dataclass(frozen=True)
class Used:
    """A word as the lane has it.

    `name` is its function, which takes the line and the values; `timed` when the function is a generator. `inline` is
    its value as an expression, where it needs no function; `vector` the same for all samples at places `at`, beside
    which nothing may be absent in `columns`. `sleeps` when all it does is to wait the time that it is given, in `unit`.
    """

    name: str
    timed: bool
    inline: str = ""
    vector: str = ""
    columns: frozenset[str] = frozenset()
    always_there: bool = False
    sleeps: Given | None = None
    takes: int = 0


class Words:
    """The words that one script uses, as they are asked for."""

    def __init__(self, rig: Rig, words: Iterable[BoundWord], closed: bool, absent: str, watched: bool) -> None:
        self.absent = absent
        self.watched = watched
        self.rig = rig
        every = [item for word in words for variant in word.variants.values() for item in variant.steps]
        steps = list(terms.walk_steps(tuple(every)))
        self.names = WordNames()
        outputs = frozenset((*commanded(tuple(every)), *outputs_on_lines(rig)))
        motors = controlled(steps, rig)
        if any(isinstance(step, terms.SetLine) for step, _ in steps):
            motors |= {driver.motor for driver in rig.drivers}
        self.writer = WordWriter(rig, self.names, motors, outputs, block, closed)
        self.writer.depth = 1
        self.writer.in_lane = watched  # then the clock goes on by waits alone, so that something can come in between
        self.found: dict[tuple[int, tuple[str, ...]], Used] = {}
        self.functions: list[str] = []

    def use(self, word: BoundWord, parts: tuple[str, ...]) -> Used:
        """A word with certain parts. Raises KeyError when it does nothing with these."""
        key = (id(word), parts)
        if key not in self.found:
            self.found[key] = self._write(word, word.variants[parts], len(self.found))
        return self.found[key]

    def commands(self, word: BoundWord, parts: tuple[str, ...], values: list[float], line: int) -> list[str] | None:
        """A word that only sets outputs, with numbers that are known, as lines without a call; None for other words."""
        variant = word.variants[parts]
        given = [one for one in variant.given if one.what != bound.PART]
        plain = all(isinstance(s, terms.Halt) or (isinstance(s, terms.Command) and not s.ending) for s in variant.steps)
        if not plain or not variant.steps or word.takes or len(given) != len(values):
            return None
        if any(one.what != bound.NUMBER for one in given):
            return None
        writer = self.writer
        first = len(writer.lines)
        pairs = zip(variant.kept, given, values, strict=True)
        self.names.own = {index: repr(in_base(value, one)) for index, one, value in pairs}
        writer.called_in = str(line)
        block(writer, 0, variant.steps)
        writer.called_in, self.names.own = "line", {}
        lines = writer.lines[first:]
        del writer.lines[first:]
        return lines

    def _write(self, word: BoundWord, variant: Variant, number: int) -> Used:
        name, writer = f"w{number}", self.writer
        first = len(writer.lines)
        given = [one for one in variant.given if one.what != bound.PART]
        self.names.own = {index: f"p{place}" for place, index in enumerate(variant.kept)}
        takes = ", ".join(["line", *(f"p{place}{_default(one)}" for place, one in enumerate(given))])
        writer.called = " ".join([word.name, *next(key for key, item in word.variants.items() if item is variant)])
        writer.add(1, f"def {name}({takes}):")
        writer.add(2, _SHARED)
        for place, one in enumerate(given):
            self._convert(f"p{place}", one)
        if any(isinstance(step, _CONDITIONS) or _ends(step) for step, _ in terms.walk_steps(variant.steps)):
            for place, index in enumerate(variant.kept):
                writer.add(2, f"kept[{index}] = p{place}")
        if word.takes:
            give(writer, 2, Op(SLEEP, 0, amount=word.takes))
        writer.add(2, "acts += 1")
        if variant.term is None:
            block(writer, 2, variant.steps)
            value = ""
        else:
            value = self._value(word, variant)
            writer.add(2, f"return {value}")
        self.names.own = {}
        lines = writer.lines[first:]
        del writer.lines[first:]
        timed = any(_YIELDS.match(line) for line in lines)
        self.functions += lines
        inline = value if not given and not word.takes else ""
        vector, columns = self._vector(word, variant) if not given else ("", frozenset())
        return Used(name, timed, inline, vector, columns, word.absent is not None, _sleeps(variant), word.takes)

    def _convert(self, name: str, given: Given) -> None:
        if given.what in (bound.LINE, bound.FUNCTION):
            return
        if given.what == bound.TEXT:
            self.writer.add(2, f"{name} = text_({name}, {given.name!r})")
            return
        number = f"number_({name}, {given.name!r})"
        if given.scale is not None:
            number = _from_scale(number, given.scale)
        elif given.unit is not None and not given.unit.is_base:
            number = f"{number} * {given.unit.factor.numerator} / {given.unit.factor.denominator}"
        self.writer.add(2, f"{name} = {number}")

    def _value(self, word: BoundWord, variant: Variant) -> str:
        assert variant.term is not None
        told = self.names.scalar(variant.term)
        if word.what == bound.TRUTH:
            return told
        if word.what == bound.TEXT:
            if word.absent is None:
                return f"message_({told})"
            return f"(q if (q := message_({told})) is not None else {word.absent!r})"
        absent = self.absent if word.absent is None else repr(word.absent)
        number = _time("q", word) if word.unit is not None and _is_time(variant.term) else _number("q", word, variant)
        return f"({number} if (q := {told}) == q else {absent})"

    def _vector(self, word: BoundWord, variant: Variant) -> tuple[str, frozenset[str]]:
        """The value at all places `at`, where it is just a reading; empty where it is not so simple."""
        term = variant.term
        if type(term) is terms.Reading and word.what == bound.NUMBER:
            column = f"a{self.names.channels.setdefault(term.part, len(self.names.channels))}"
            value = f"{column}[at]"
            told = _number(value, word, replace(variant, rounds=False)) if not variant.rounds else ""
            if word.whole:
                told = (
                    f"rint_({_number(value, replace(word, whole=False), variant)})"
                    if variant.rounds
                    else (f"trunc_({_number(value, replace(word, whole=False), variant)})")
                )
            absent = self.absent if word.absent is None else repr(word.absent)
            if absent != "None":
                told = f"where_({column}[at] == {column}[at], {told}, {float(absent)!r})"
            return told, frozenset((column,))
        if (
            word.what == bound.TRUTH
            and type(term) is terms.Compare
            and type(term.left) is terms.Reading
            and type(term.right) is terms.Const
            and term.sign in ("=", "<", ">", "<=", ">=")
        ):
            column = f"a{self.names.channels.setdefault(term.left.part, len(self.names.channels))}"
            sign = "==" if term.sign == "=" else term.sign
            return f"({column}[at] {sign} {term.right.value!r})", frozenset()
        return "", frozenset()

    def source(self) -> list[str]:
        """The functions of all words that were used."""
        shared = ["now", "i", "steps", "acts", *(f"o{index}" for index in range(len(self.writer.outputs)))]
        line = f"        nonlocal {', '.join(shared)}"
        return [line if text.strip() == _SHARED else text for text in self.functions]


def in_base(value: float, given: Given) -> float:
    """A plain number that is given for a parameter, in base units."""
    if given.scale is not None:
        scale = given.scale
        if (scale.low, scale.high) == (scale.start, scale.stop):
            return float(value)
        if scale.low * scale.stop == scale.start * scale.high and scale.high:
            return float(value) * scale.stop / scale.high
        return scale.start + (float(value) - scale.low) * scale.slope
    if given.unit is not None and not given.unit.is_base:
        return float(value) * given.unit.factor.numerator / given.unit.factor.denominator
    return float(value)


def _surely_not(condition: terms.Term) -> terms.Term:
    """That a condition does not hold, and not for want of a reading."""
    found: terms.Term = terms.Opposite(condition, dimension=TRUTH)
    for item in condition.walk():
        if isinstance(item, terms.Compare) and not any(isinstance(inner, terms.Absent) for inner in condition.walk()):
            for reading in item.walk():
                if isinstance(reading, terms.Reading):
                    there = terms.Opposite(terms.Absent(reading, dimension=TRUTH), dimension=TRUTH)
                    found = terms.Junction("and", found, there, dimension=TRUTH)
    return found


def _ends(step: terms.Step) -> bool:
    return isinstance(step, terms.Command) and step.ending is not None


def _sleeps(variant: Variant) -> Given | None:
    """The parameter that says how long to wait, of a word that does nothing else."""
    if len(variant.steps) != 1 or len(variant.given) != 1:
        return None
    step = variant.steps[0]
    if not isinstance(step, terms.Wait) or not isinstance(step.ending, terms.Variable):
        return None
    return variant.given[0]


def _default(given: Given) -> str:
    return "" if given.default is None else f"={given.default!r}"


def _from_scale(number: str, scale: Scale) -> str:
    """From a plain number on a scale to base units."""
    if (scale.low, scale.high) == (scale.start, scale.stop):
        return number
    if scale.low * scale.stop == scale.start * scale.high and scale.high:
        return f"{number} * {scale.stop!r} / {scale.high!r}"
    return f"{scale.start!r} + ({number} - {scale.low!r}) * {scale.slope!r}"


def _is_time(term: terms.Term) -> bool:
    """Whether a value is a time in s, which is a whole number of microseconds."""
    return term.dimension == TIME


def _time(value: str, word: BoundWord) -> str:
    """From a time to the plain number that a word gives: in whole numbers, so that 4.02 s are 4020 ms, and not 4019."""
    assert word.unit is not None
    share = word.unit.factor * 1_000_000
    ticks = f"round_({value} * 1000000) * {share.denominator}"
    if not word.whole:
        return f"{ticks} / {share.numerator}"
    return f"cut_time_({ticks}, {share.numerator})"


def _number(value: str, word: BoundWord, variant: Variant) -> str:
    """From base units to the plain number that a word gives."""
    told = value
    scale = variant.scale
    if scale is not None and (scale.low, scale.high) != (scale.start, scale.stop):
        if scale.low * scale.stop == scale.start * scale.high and scale.stop:
            told = f"{value} * {scale.high!r} / {scale.stop!r}"
        else:
            told = f"{scale.low!r} + ({value} - {scale.start!r}) / {scale.slope!r}"
    elif word.unit is not None and not word.unit.is_base:
        told = f"{value} * {word.unit.factor.denominator} / {word.unit.factor.numerator}"
    if word.whole:
        return f"round_({told})" if variant.rounds else f"int_({told})"
    return told
