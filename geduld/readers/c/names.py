"""What the names of a C program are: variables, functions, types, constants, and the words of the class."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from tree_sitter import Node

from geduld.readers.c.types import Array, Device, Type
from geduld.wordbook.bound import BoundBook, BoundThing, BoundWord

_STANDARD = """
stdio.h math.h stdlib.h string.h stdbool.h stdint.h limits.h cmath cstdio cstdlib cstring cstdint algorithm stddef.h
ctype.h
"""
STANDARD = frozenset(_STANDARD.split())


@dataclass(eq=False)
class Variable:
    """A variable: what it is called in the lane, its type, and its value where that never changes.

    `boxed` when its place is handed on: then it is kept in a list of one. `part` is that of an object.
    """

    name: str
    own: str
    kind: Type
    shared: bool = False
    boxed: bool = False
    constant: int | float | str | None = None
    part: str | None = None


@dataclass(eq=False)
class Parameter:
    """A parameter of a function, with the node of its default."""

    name: str
    kind: Type
    default: Node | None = None


@dataclass(eq=False)
class Function:
    """A function of the program."""

    name: str
    kind: Type
    given: tuple[Parameter, ...]
    body: Node | None = None


@dataclass
class Names:
    """Everything that has a name at the top of a program.

    `calls` are the words of the class that its calls perform, and the parts for which they do, by the `id` of the
    call's node; not where the parts are known only when it runs.
    """

    books: tuple[BoundBook, ...]
    includes: frozenset[str]
    bits: int
    types: dict[str, Type] = field(default_factory=dict)
    functions: dict[str, Function] = field(default_factory=dict)
    constants: dict[str, int | float | str | None] = field(default_factory=dict)
    globals: dict[str, Variable] = field(default_factory=dict)
    boxed: set[str] = field(default_factory=set)
    calls: dict[int, tuple[BoundWord, tuple[str, ...]]] = field(default_factory=dict)

    def _open(self) -> Iterable[BoundBook]:
        """The wordbooks whose header is included."""
        for book in self.books:
            if not book.book.headers or any(name in self.includes for name in book.book.headers):
                yield book

    def word(self, name: str) -> BoundWord | None:
        """A word of the class."""
        return next((book.words[name] for book in self._open() if name in book.words), None)

    def thing(self, name: str) -> BoundThing | None:
        """An object of the class."""
        return next((book.things[name] for book in self._open() if name in book.things), None)

    def header_of(self, name: str) -> str:
        """The header that a word comes from, where it is not included; else empty."""
        for book in self.books:
            if (name in book.words or name in book.things) and book.book.headers:
                return book.book.headers[0]
        return ""

    def begins_words(self, name: str) -> bool:
        """Whether words with a point begin with this name."""
        return any(word.startswith(f"{name}.") for book in self._open() for word in book.words)

    @property
    def ports(self) -> dict[str | int, str]:
        """The parts by what names them."""
        return {key: part for book in self.books for key, part in book.ports.items()}

    @property
    def known(self) -> list[str]:
        """Every name that could have been meant."""
        words = [name for book in self._open() for name in (*book.words, *book.things)]
        return [*words, *self.functions, *self.globals, *self.constants]

    def type(self, name: str) -> Type | None:
        """A type of the program or an object of the class."""
        found = self.types.get(name)
        if found is None and self.thing(name) is not None:
            return Device(name)
        return found


def inner_most(kind: Type) -> Type:
    """What an array of arrays is of."""
    while isinstance(kind, Array):
        kind = kind.of
    return kind
