"""What the words of a wordbook can say: found by what they do, not by what they are called."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from geduld.binding import terms
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundBook, BoundWord, Given


@dataclass(frozen=True)
class Sets:
    """A word that sets outputs: `places` says which of its values each gets, `object_of` whose part it is."""

    word: BoundWord
    given: tuple[Given, ...]
    places: tuple[tuple[str, int], ...]
    object_of: str = ""
    part: str = ""


@dataclass(frozen=True)
class Stops:
    """A word that stops `parts` in a style; `object_of` whose part it is."""

    word: BoundWord
    parts: frozenset[str]
    style: str
    object_of: str = ""
    part: str = ""


@dataclass(frozen=True)
class Reads:
    """A word that gives a reading, as a term."""

    word: BoundWord
    term: terms.Term
    factor: float = 1.0
    object_of: str = ""
    part: str = ""


class Vocabulary:
    """The words of a wordbook by what they do."""

    def __init__(self, book: BoundBook) -> None:
        self.book = book
        self.sets: list[Sets] = []
        self.reads: list[Reads] = []
        self.stops: list[Stops] = []
        self.waits: tuple[BoundWord, Given] | None = None
        self.sends: BoundWord | None = None
        self.clock: Reads | None = None
        for word in book.words.values():
            if () in word.variants:
                self._learn(word, (), "")
        for thing in book.things.values():
            for word in thing.words.values():
                for parts in word.variants:
                    self._learn(word, parts, thing.name)
        # A word that sets more at once comes first; one that gives the exact value before one that cuts it.
        self.sets.sort(key=lambda item: (-len(item.places), item.object_of))
        self.stops.sort(key=lambda item: (-len(item.parts), item.object_of))
        self.reads.sort(key=lambda item: (item.word.whole, item.word.takes, item.object_of))

    def _learn(self, word: BoundWord, parts: tuple[str, ...], object_of: str) -> None:
        variant = word.variants[parts]
        given = tuple(one for one in variant.given if one.what != bound.PART)
        part = parts[0] if parts else ""
        if variant.term is not None and not given:
            scale = variant.scale
            factor = 1.0
            if scale is not None:
                if scale.low * scale.stop != scale.start * scale.high or not scale.stop:
                    return
                factor = scale.high / scale.stop
            elif word.unit is not None:
                factor = word.unit.from_base(1.0)
            read = Reads(word, variant.term, factor, object_of, part)
            if isinstance(variant.term, terms.Clock):
                self.clock = self.clock or read
            self.reads.append(read)
            return
        if word.takes or len(variant.steps) != 1:
            return
        step = variant.steps[0]
        if isinstance(step, terms.Command) and step.ending is None and not step.regulated:
            places = [_place(value, variant.kept) for _, value in step.settings]
            if all(place >= 0 for place in places) and len(set(places)) == len(given) and _plain(given):
                pairs = zip((name for name, _ in step.settings), places, strict=True)
                self.sets.append(Sets(word, given, tuple(pairs), object_of, part))
        elif isinstance(step, terms.Halt) and not given:
            self.stops.append(Stops(word, frozenset(step.parts), step.style, object_of, part))
        elif isinstance(step, terms.Wait) and isinstance(step.ending, terms.Variable) and len(given) == 1:
            self.waits = self.waits or (word, given[0])
        elif isinstance(step, terms.Send) and isinstance(step.text, int):
            self.sends = self.sends or word

    def setting(self, parts: set[str]) -> Iterator[Sets]:
        """Words that together set just these outputs, each once. It yields none when they cannot."""
        left, found = set(parts), []
        for item in self.sets:
            names = {name for name, _ in item.places}
            if names <= left:
                found.append(item)
                left -= names
        if not left:
            yield from found

    def reading(self, term: terms.Term) -> Reads | None:
        """A word whose value is this term."""
        return next((item for item in self.reads if _same(item.term, term)), None)

    def halting(self, parts: set[str], style: str) -> list[Stops]:
        """Words that together stop just these outputs in this style; none when they cannot."""
        left, found = set(parts), []
        for item in self.stops:
            if item.style == style and item.parts <= left:
                found.append(item)
                left -= item.parts
        return [] if left else found


def _place(value: terms.Term, kept: tuple[int, ...]) -> int:
    return kept.index(value.index) if isinstance(value, terms.Variable) and value.index in kept else -1


def _plain(given: tuple[Given, ...]) -> bool:
    """Whether plain numbers become base units by one factor."""
    return all(one.scale is None or one.scale.low * one.scale.stop == one.scale.start * one.scale.high for one in given)


def _same(one: terms.Term, other: terms.Term) -> bool:
    if isinstance(one, terms.Reading) and isinstance(other, terms.Reading):
        return one.part == other.part
    return one == other


def plain_number(value: float, given: Given) -> float:
    """A value in base units as the plain number that a parameter wants."""
    if given.scale is not None:
        return value * given.scale.high / given.scale.stop if given.scale.high != given.scale.stop else value
    return given.unit.from_base(value) if given.unit is not None else value


def factor_of(given: Given) -> float:
    """How many of a parameter's plain numbers are one base unit."""
    return plain_number(1.0, given)
