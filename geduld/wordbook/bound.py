"""A wordbook bound to a rig: what each word does there, and how its plain numbers become quantities and back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from geduld.binding import terms
from geduld.language.messages import Hint, Span
from geduld.language.quantities import Unit
from geduld.wordbook.tree import Wordbook

NUMBER, PART, TEXT, LINE, FUNCTION = "number", "part", "text", "line", "function"
TRUTH = "truth"


@dataclass(frozen=True)
class Scale:
    """From a plain number on the scale `low` to `high` to a base unit from `start` to `stop`, and back."""

    low: float
    high: float
    start: float
    stop: float

    @property
    def slope(self) -> float:
        """Base units for each one of the plain number."""
        return (self.stop - self.start) / (self.high - self.low)


@dataclass(frozen=True)
class Given:
    """A parameter: `what` is given for it, and how a plain number becomes one in base units."""

    name: str
    what: str = NUMBER
    unit: Unit | None = None
    scale: Scale | None = None
    default: float | int | str | None = None


@dataclass(frozen=True)
class Variant:
    """What a word does with certain parts: steps, or a value (`term`). `kept` are the variables of its parameters."""

    steps: tuple[terms.Step, ...] = ()
    term: terms.Term | None = None
    kept: tuple[int, ...] = ()
    scale: Scale | None = None
    rounds: bool = False
    given: tuple[Given, ...] = ()


@dataclass(frozen=True)
class BoundWord:
    """A word on a rig.

    `what` its value is: NUMBER, TRUTH, TEXT, or empty when it has none. `constant` is its value when it is just a name
    for one. `variants` are by the names of the parts that are given for its part parameters, in their order.
    `whole`, `unit` and `absent` say how its number comes back; `takes` is how long the call itself lasts, in us.
    """

    name: str
    line: int
    span: Span
    what: str
    given: tuple[Given, ...] | None
    variants: Mapping[tuple[str, ...], Variant] = field(default_factory=dict)
    constant: float | int | str | None = None
    unit: Unit | None = None
    whole: bool = False
    absent: float | int | str | None = None
    takes: int = 0
    kind: str = ""

    @property
    def parts(self) -> tuple[Given, ...]:
        """Its parameters for which a part is given."""
        return tuple(given for given in self.given or () if given.what == PART)


@dataclass(frozen=True)
class BoundThing:
    """An object: its first parameter names a part; its words are those of that part."""

    name: str
    line: int
    given: tuple[Given, ...]
    words: Mapping[str, BoundWord]


@dataclass(frozen=True)
class BoundBook:
    """A wordbook on a rig, or the hints that say what is wrong with it.

    `ports` are the parts by whatever names them: their own names, their ports, and ports that are whole numbers.
    `start` are steps before any program; `variables` is how many values the words keep.
    """

    book: Wordbook
    words: Mapping[str, BoundWord]
    things: Mapping[str, BoundThing]
    ports: Mapping[str | int, str]
    start: tuple[terms.Step, ...]
    variables: int
    hints: tuple[Hint, ...]

    @property
    def good(self) -> bool:
        """Whether programs can be read with it."""
        return not any(hint.level == "error" for hint in self.hints)
