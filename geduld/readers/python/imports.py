"""What the names that a Python program imports mean: words of the class, or Python's own modules."""

from __future__ import annotations

import ast
from collections.abc import Iterable
from dataclasses import dataclass, field

from geduld.binding import terms
from geduld.language.messages import Hint, Span, error, listed, nearest
from geduld.language.quantities import TIME, unit_from_text
from geduld.readers.python.builtins import MATH, RANDOM
from geduld.wordbook.bound import NUMBER, BoundBook, BoundThing, BoundWord, Given, Variant

SECONDS = unit_from_text("s")
FIRST = 1  # the first variable of wordbooks; the one before keeps how long `sleep` sleeps
_NOWHERE = Span(1, 1, 1, 2)


def _sleep() -> BoundWord:
    """`time.sleep` as a word."""
    given = (Given("seconds", NUMBER, SECONDS),)
    steps = (terms.Wait(1, terms.Variable(0, dimension=TIME)),)
    return BoundWord("sleep", 1, _NOWHERE, "", given, {(): Variant(steps, None, (0,), given=given)})


def _clock(name: str) -> BoundWord:
    """`time.time` and its like as words: the time since the start."""
    return BoundWord(name, 1, _NOWHERE, NUMBER, (), {(): Variant(term=terms.Clock())}, unit=SECONDS)


_TIME = {"sleep": _sleep()} | {name: _clock(name) for name in ("time", "monotonic", "perf_counter")}
_SYS = {"exit": "exit"}
_UNREAD = frozenset(["typing", "__future__", "dataclasses", "enum"])


@dataclass(frozen=True, eq=False)
class Own:
    """Something of Python's own: `exit`, or a function of `math` or `random`."""

    kind: str
    name: str


@dataclass(eq=False)
class Space:
    """A module, or a part of one: what stands in it by its name."""

    name: str
    inside: dict[str, Meaning] = field(default_factory=dict)


Meaning = BoundWord | BoundThing | Own | Space


def _own_modules() -> dict[str, Space]:
    return {
        "time": Space("time", dict(_TIME)),
        "math": Space("math", {name: Own("math", name) for name in MATH}),
        "random": Space("random", {name: Own("random", name) for name in RANDOM}),
        "sys": Space("sys", {name: Own(kind, name) for name, kind in _SYS.items()}),
    }


class Imports:
    """What a program's imports bring in, for the wordbooks that it may use. `hints` is what is wrong with them."""

    def __init__(self, books: Iterable[BoundBook]) -> None:
        self.hints: list[Hint] = []
        self.names: dict[str, Meaning] = {}
        self.modules = _own_modules()
        for book in books:
            for module in book.book.modules or ("",):
                self._book(book, module)

    def _book(self, book: BoundBook, module: str) -> None:
        """The words of a book in a module; without a name for it they are there without any import."""
        every: dict[str, BoundWord | BoundThing] = {**book.words, **book.things}
        top = self.names if not module else self._module(module).inside
        for name, meaning in every.items():
            first, *rest = name.split(".")
            place = top
            if rest and first != module:
                place = _space(place, first).inside
            for step in rest[:-1]:
                place = _space(place, step).inside
            place[(rest or [first])[-1]] = meaning

    def _module(self, name: str) -> Space:
        first, *rest = name.split(".")
        found = self.modules.setdefault(first, Space(first))
        for step in rest:
            found = _space(found.inside, step)
        return found

    def names_in(self, name: str) -> list[str]:
        """The names in a module of the class or of Python; none where it is not known."""
        first, *rest = name.split(".")
        found: Meaning | None = self.modules.get(first)
        for step in rest:
            found = found.inside.get(step) if isinstance(found, Space) else None
        return list(found.inside) if isinstance(found, Space) else []

    def read(self, node: ast.Import | ast.ImportFrom) -> None:
        """One import line."""
        if isinstance(node, ast.Import):
            for alias in node.names:
                found = self._find(alias.name, node)
                if isinstance(found, Space):
                    first = alias.name.split(".")[0]
                    self.names[alias.asname or first] = found if alias.asname else self.modules[first]
            return
        module = self._find(node.module or "", node) if not node.level else None
        if node.level:
            self._refuse(node.module or ".", node)
        if module is None:
            return
        for alias in node.names:
            if alias.name == "*":
                self.names |= module.inside
                continue
            brought = module.inside.get(alias.name)
            if brought is None:
                like = nearest(alias.name, module.inside)
                remedy = f"Did you mean {like}?" if like else f"It has {listed(sorted(module.inside)[:12])}."
                message = f'"{module.name}" has nothing called "{alias.name}".'
                self.hints.append(error("unknown-import", _span(alias), message, remedy))
                continue
            self.names[alias.asname or alias.name] = brought

    def _find(self, name: str, node: ast.stmt) -> Space | None:
        if name.split(".")[0] in _UNREAD:
            return None
        first, *rest = name.split(".")
        found: Meaning | None = self.modules.get(first)
        for step in rest:
            found = found.inside.get(step) if isinstance(found, Space) else None
        if isinstance(found, Space):
            return found
        self._refuse(name, node)
        return None

    def _refuse(self, name: str, node: ast.stmt) -> None:
        known = sorted(self.modules)
        like = nearest(name, known)
        message = f'The module "{name}" is not known here.'
        remedy = f"Did you mean {like}?" if like else f"Programs may import {listed(known)}."
        self.hints.append(error("unknown-module", _span(node), message, remedy))


def _space(place: dict[str, Meaning], name: str) -> Space:
    found = place.get(name)
    if not isinstance(found, Space):
        found = place[name] = Space(name)
    return found


def _span(node: ast.stmt | ast.alias) -> Span:
    last = node.end_lineno or node.lineno
    return Span(node.lineno, node.col_offset + 1, last, (node.end_col_offset or node.col_offset) + 1)
