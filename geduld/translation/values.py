"""Values and conditions of a translated behaviour, and what must be there for them to mean anything."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import reduce

from geduld.binding import terms
from geduld.language.quantities import TEXT, TRUTH
from geduld.translation.languages import Language
from geduld.translation.vocabulary import Reads, Vocabulary
from geduld.wordbook.bound import BoundWord

_SIGNS = {"<": "<", "<=": "<=", ">": ">", ">=": ">=", "=": "==", "!=": "!="}
# A time since another is not exact to the last bit, so a timer is compared half a millisecond beside its edge.
_EDGES = {">=": (">", -0.0005), "<": ("<", -0.0005), ">": (">", 0.0005), "<=": ("<", 0.0005)}


class NoWord(Exception):
    """The wordbook cannot say `what`."""


@dataclass
class Values:
    """Writes terms out. `unknown` are the variables that may be absent, by number; `texts` the texts that messages
    are compared with, by code; `used` the words that were named, `objects` the names of the objects made of a class and
    a part, `rough` what is read less exactly than the notation reads it.
    """

    language: Language
    vocabulary: Vocabulary
    names: list[str]
    unknown: set[int]
    texts: dict[float, str]
    used: set[str] = field(default_factory=set)
    objects: dict[tuple[str, str], str] = field(default_factory=dict)
    rough: dict[str, str] = field(default_factory=dict)

    def name(self, word: BoundWord, object_of: str = "", part: str = "") -> str:
        """What is written to call a word, an object's by its object."""
        if object_of:
            return f"{self.objects.setdefault((object_of, part), f'{part}_{object_of.lower()}')}.{word.name}"
        self.used.add(word.name)
        return word.name

    def call(self, read: Reads) -> str:
        """A reading's call."""
        return f"{self.name(read.word, read.object_of, read.part)}()"

    def read(self, term: terms.Reading) -> Reads:
        """The word that reads this. Raises NoWord."""
        read = self.vocabulary.reading(term)
        if read is None:
            raise NoWord(f"reading {term.part}")
        if read.word.whole:
            self.rough[term.part] = f"{read.word.name}() gives whole numbers"
        return read

    def seen(self, part: str) -> str:
        """The variable in which a reading is kept while it is asked about."""
        return f"{part.replace('.', '_')}_now"

    def look(self, term: terms.Term) -> list[tuple[str, str]]:
        """The readings that a value needs: each is looked at once, before; its variable and its call."""
        found = {}
        for item in _asked(term):
            found[self.seen(item.part)] = self.call(self.read(item))
        return list(found.items())

    def clock(self) -> str:
        """The time since the start, in s. Raises NoWord."""
        clock = self.vocabulary.clock
        if clock is None:
            raise NoWord("the time since the start")
        told = f"{self.name(clock.word)}()"
        return told if clock.factor == 1 else f"{told} / {self.language.fraction(clock.factor)}"

    def value(self, term: terms.Term) -> str:
        """A value in base units. Raises NoWord."""
        match term:
            case terms.Const():
                told = self.language.fraction(term.value)
                return f"({told})" if term.value < 0 else told
            case terms.Variable():
                return self.names[term.index]
            case terms.Clock():
                return self.clock()
            case terms.Reading():
                read, seen = self.read(term), self.seen(term.part)
                if 1 / read.factor == round(1 / read.factor):
                    return seen if read.factor == 1 else f"{seen} * {self.language.fraction(1 / read.factor)}"
                return f"{seen} / {self.language.fraction(read.factor)}"
            case terms.Arithmetic():
                return f"({self.value(term.left)} {term.sign} {self.value(term.right)})"
            case terms.Function(name="abs"):
                return f"{self.language.absolute}({bare(self.value(term.values[0]))})"
            case terms.Function(name="min" | "max"):
                least = self.language.least if term.name == "min" else self.language.most
                return reduce(
                    lambda one, other: f"{least}({one}, {other})", (bare(self.value(value)) for value in term.values)
                )
            case terms.Function(name="clamp"):
                value, low, high = (bare(self.value(value)) for value in term.values)
                return f"{self.language.least}({self.language.most}({value}, {low}), {high})"
            case terms.Timer():
                return f"({self.clock()} - {self.names[term.index]})"
        raise NoWord("this value")

    def there(self, term: terms.Term) -> list[str]:
        """The conditions under which a value is there, each once. Raises NoWord."""
        return list(dict.fromkeys(self._there(term)))

    def _there(self, term: terms.Term) -> Iterable[str]:
        if isinstance(term, terms.Reading) and term.dimension not in (TRUTH, TEXT):
            word, seen = self.read(term).word, self.seen(term.part)
            if word.absent is not None:
                yield f"{seen} != {word.absent}"
            elif self.language.nothing:
                yield f"{seen} is not {self.language.nothing}"
            else:
                self.rough[term.part] = f"{word.name}() does not say when nothing is read"
        elif isinstance(term, terms.Variable | terms.Timer) and term.index in self.unknown:
            name = self.names[term.index]
            yield f"{name} is not {self.language.nothing}" if self.language.nothing else f"{name}_there"
        elif isinstance(term, terms.Arithmetic):
            yield from self._there(term.left)
            yield from self._there(term.right)
            if term.sign == "/" and not isinstance(term.right, terms.Const):
                yield f"{self.value(term.right)} != 0"
        elif isinstance(term, terms.Function):
            for value in term.values:
                yield from self._there(value)

    def all_there(self, values: Iterable[terms.Term]) -> str:
        """One condition under which all of these are there; nothing when they always are."""
        found = [told for value in values for told in self.there(value)]
        return f" {self.language.both} ".join(dict.fromkeys(found))

    def condition(self, term: terms.Term) -> str:
        """A condition, that does not hold where what it compares is absent. Raises NoWord."""
        language = self.language
        told = self.vocabulary.reading(term)
        if told is not None:
            return self.call(told)
        match term:
            case terms.Compare() if isinstance(term.left, terms.Reading) and term.left.dimension == TRUTH:
                pressed = terms.Compare("=", term.left, terms.Const(1.0, dimension=TRUTH))
                told = self.vocabulary.reading(pressed)
                if told is None or not isinstance(term.right, terms.Const):
                    raise NoWord(f"reading {term.left.part}")
                call = self.call(told)
                return call if term.right.value == 1.0 else f"{language.opposite}{call}"
            case terms.Compare() if term.left.dimension == TEXT:
                return self._message(term)
            case terms.Compare(right=terms.Const(value=edge)) if _is_timed(term):
                there = " ".join(f"{told} {language.both}" for told in self.there(term.left))
                sign, apart = _EDGES[term.sign]
                beside = language.number(round(edge + apart, 9))
                return f"{there} {bare(self.value(term.left))} {sign} {beside}".strip()
            case terms.Compare():
                compared = f"{bare(self.value(term.left))} {_SIGNS[term.sign]} {bare(self.value(term.right))}"
                there = self.all_there((term.left, term.right))
                return f"{there} {language.both} {compared}" if there else compared
            case terms.Junction():
                word = language.both if term.word == "and" else language.either
                return f"({self.condition(term.left)}) {word} ({self.condition(term.right)})"
            case terms.Opposite():
                return f"{language.opposite}({self.condition(term.value)})"
            case terms.Absent():
                there = self.all_there((term.value,))
                if not there:
                    raise NoWord("that a reading is absent")
                return f"{language.opposite}({there})"
        raise NoWord("this condition")

    def _message(self, term: terms.Compare) -> str:
        read = self.vocabulary.reading(term.left)
        if read is None or not isinstance(term.right, terms.Const) or term.right.value not in self.texts:
            raise NoWord("what a message is")
        told = self.language.text(self.texts[term.right.value])
        return self.language.same_text.format(self.call(read), told)


def bare(told: str) -> str:
    """A value without parentheses around all of it."""
    if not told.startswith("("):
        return told
    depth = 0
    for place, letter in enumerate(told):
        depth += (letter == "(") - (letter == ")")
        if depth == 0:
            return told[1:-1] if place == len(told) - 1 else told
    return told


def _is_timed(term: terms.Compare) -> bool:
    return isinstance(term.left, terms.Timer) and term.sign in _EDGES


def _asked(term: terms.Term) -> Iterable[terms.Reading]:
    return (item for item in term.walk() if isinstance(item, terms.Reading) and item.dimension not in (TRUTH, TEXT))


def may_be_absent(steps: tuple[terms.Step, ...]) -> set[int]:
    """The variables that may hold an absent value, by number."""
    given = [step for step, _ in terms.walk_steps(steps) if isinstance(step, terms.Assign)]
    found: set[int] = set()
    while True:
        more = {step.index for step in given if _uncertain(step.value, found)} - found
        if not more:
            return found
        found |= more


def _uncertain(value: terms.Term, unknown: set[int]) -> bool:
    return any(
        isinstance(item, terms.Now)  # a timer is absent until it is started
        or (isinstance(item, terms.Reading) and item.dimension not in (TRUTH, TEXT))
        or (isinstance(item, terms.Variable | terms.Timer) and item.index in unknown)
        or (isinstance(item, terms.Arithmetic) and item.sign == "/" and not isinstance(item.right, terms.Const))
        for item in value.walk()
    )
