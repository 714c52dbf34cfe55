"""Phrases in the notation's words, and what the words of a class become when they are called."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from geduld.language.quantities import show
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundBook, BoundThing, BoundWord, Given
from geduld.wordbook.printing import marked_steps, marked_value
from geduld.wordbook.tree import PARAMETER, Thing, Word

OR, AND, NOT, COMPARED, SUM, PRODUCT, SIGNED, ALONE = range(1, 9)
_MARKED = re.compile(rf"(\w+?){PARAMETER}")


@dataclass(frozen=True)
class Phrase:
    """A value as it is read aloud, and how tightly its parts are bound.

    `unit` is what its plain number is in, told only where no other number shows it; `number` is a number that stands in
    the text; `absent` the number that stands for no reading.
    """

    text: str
    rank: int = ALONE
    unit: str = ""
    number: float | None = None
    absent: float | None = None

    def at(self, rank: int) -> str:
        """As a part of what binds as `rank`, in brackets where it needs them; with its unit."""
        told = self.told
        return f"({told})" if self.rank < rank or (self.unit and rank > SUM) else told

    @property
    def told(self) -> str:
        """By itself: with its unit."""
        return f"{self.text} {self.unit}" if self.unit else self.text

    @property
    def kept(self) -> str:
        """As what a variable is set to."""
        return self.told if self.absent is None else f"{self.told} ({self.absent:g} where it is absent)"

    @property
    def sure(self) -> Phrase:
        """The same without what it is when there is no reading."""
        return replace(self, absent=None)


def compared(sign: str, left: Phrase, right: Phrase) -> Phrase:
    """Two values compared: a plain number beside a reading gets the reading's unit."""
    for one, other in ((left, right), (right, left)):
        if one.absent is not None and other.number == one.absent and sign in ("=", "!="):
            return Phrase(f"{'not ' if sign == '!=' else ''}{one.text} is absent", NOT if sign == "!=" else COMPARED)
    if left.unit and right.number is not None:
        return Phrase(f"{left.text} {sign} {right.text} {_beside(left.unit)}", COMPARED)
    if right.unit and left.number is not None:
        return Phrase(f"{left.text} {_beside(right.unit)} {sign} {right.text}", COMPARED)
    if left.unit and left.unit == right.unit:
        return Phrase(f"{left.text} {sign} {right.text}", COMPARED)
    return Phrase(f"{left.at(SUM)} {sign} {right.at(SUM)}", COMPARED)


def _beside(unit: str) -> str:
    """A reading's unit as it stands behind a number that the reading is compared with."""
    return unit.removeprefix("in ").removeprefix("whole ").replace("on its scale from 0 to", "of")


class ClassWords:
    """The words of the class's books, said for the values that they are called with. `ports` name the parts."""

    def __init__(self, books: Iterable[BoundBook], ports: Mapping[str | int, str]) -> None:
        self.ports = ports
        self.written: dict[int, Word] = {}
        self.object_words: dict[str, BoundWord] = {}
        for book in books:
            trees = {item.name: item for item in book.book.words}
            for word in book.words.values():
                self._learn(word, trees.get(word.name))
            for thing in book.things.values():
                self._learn_object(thing, trees.get(thing.name))

    def _learn(self, word: BoundWord, tree: Word | Thing | None) -> None:
        if isinstance(tree, Word):
            self.written[id(word)] = tree

    def _learn_object(self, thing: BoundThing, tree: Word | Thing | None) -> None:
        inner = {item.name: item for item in tree.words} if isinstance(tree, Thing) else {}
        for word in thing.words.values():
            self.object_words.setdefault(word.name, word)
            self._learn(word, inner.get(word.name))

    def part(self, key: object, otherwise: str) -> str:
        """The part that a port names; the student's own text where that is not known beforehand."""
        return self.ports.get(key, otherwise) if isinstance(key, str | int) else otherwise

    def value(self, word: BoundWord, values: Sequence[Phrase], part: str = "") -> Phrase:
        """A word that gives a value. `part` is that of the object it is called on."""
        if word.constant is not None:
            constant = word.constant
            number = float(constant) if isinstance(constant, int | float) else None
            return Phrase(f'"{constant}"' if isinstance(constant, str) else str(constant), ALONE, "", number)
        tree = self.written.get(id(word))
        text = self._filled(marked_value(tree), word, values, part) if tree is not None else "clock"
        if word.what != bound.NUMBER:
            return Phrase(text, COMPARED if word.what == bound.TRUTH and " " in text else ALONE)
        unit = f"in {'whole ' if word.whole else ''}{word.unit.word}" if word.unit is not None else ""
        scale = next((variant.scale for variant in word.variants.values() if variant.scale), None)
        if scale is not None:
            unit = f"on its scale from {show(scale.low)} to {show(scale.high)}"
        elif word.whole and not unit:
            unit = "as a whole number"
        return Phrase(text, ALONE, unit, None, None if isinstance(word.absent, str) else word.absent)

    def steps(self, word: BoundWord, values: Sequence[Phrase], part: str = "") -> list[str]:
        """What a word does, line by line, indented as its text is."""
        tree = self.written.get(id(word))
        lasts = [f"wait {show(word.takes / 1000)} ms"] if word.takes else []
        if tree is None:  # the language's own
            return [f"wait {self._given(word.given[0], values[0])}"] if word.given and values else []
        if tree.body is None:
            return [*lasts, f"read {self.value(word, values, part).sure.told}"]
        return lasts + [self._filled(line, word, values, part) for line in marked_steps(tree)]

    def _filled(self, text: str, word: BoundWord, values: Sequence[Phrase], part: str) -> str:
        told = {"part": part, "port": part} if part else {}
        given = [one for one in word.given or () if not (part and one.what == bound.PART)]
        variant = next(iter(word.variants.values()), None)
        by_name = {one.name: one for one in (variant.given if variant else ())}
        for index, one in enumerate(given):
            value = values[index] if index < len(values) else Phrase(str(one.default))
            if index >= len(values) and isinstance(one.default, int | float):
                value = replace(value, number=float(one.default))
            told[one.name] = self._given(by_name.get(one.name, one), value)
        words = text.split(" ")
        if words[0] in ("send", "note") and len(words) == 2 and words[1].rstrip(PARAMETER) in told:
            return f"{words[0]} {told[words[1].rstrip(PARAMETER)]}"
        return _MARKED.sub(lambda match: told.get(match[1], match[1]), text)

    def _given(self, given: Given, value: Phrase) -> str:
        """A value as a parameter of a word takes it."""
        if given.what == bound.PART:
            return self.part(_key(value.text), value.told)
        if given.scale is not None:
            scale = given.scale
            if value.number is not None and scale.stop == 100:
                return f"{show(scale.start + (value.number - scale.low) * scale.slope)} %"
            if (scale.low, scale.high, scale.stop) == (scale.start, scale.stop, 100):
                return f"{value.at(ALONE)} %"
            return f"({value.told} on a scale from {show(scale.low)} to {show(scale.high)})"
        if given.unit is not None:
            if value.unit.removeprefix("in ").removeprefix("whole ") == given.unit.word:
                return value.text if value.rank >= SIGNED else f"({value.text})"
            if value.number is not None:
                return f"{value.text} {given.unit.word}"
            return f"{value.at(ALONE)} {given.unit.word}"
        return value.at(ALONE)


def _key(text: str) -> str | int:
    """A port as it stands in a text."""
    plain = text.strip("\"'")
    return int(plain) if plain.isdigit() and plain == text else plain
