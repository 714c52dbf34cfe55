"""What Geduld says about a program: one hint, with its place, sentence, remedy and fix."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from difflib import get_close_matches
from typing import Any, NamedTuple

_new = tuple.__new__  # as Span(…) does, without its detour: there are many


class Span(NamedTuple):
    """A stretch of text. Lines and columns count from 1; the end column is the first one after it."""

    line: int
    column: int
    end_line: int
    end_column: int

    def to(self, other: Span) -> Span:
        """From the start of this span to the end of `other`."""
        return _new(Span, (self.line, self.column, other.end_line, other.end_column))


@dataclass(frozen=True)
class Hint:
    """One message about a program. `fix` is the text to put in place of the span, where one is known."""

    code: str
    level: str
    line: int
    column: int
    end_line: int
    end_column: int
    message: str
    remedy: str
    fix: str | None = None

    def as_json(self) -> dict[str, Any]:
        """The hint in the form of `hints --json`."""
        return asdict(self)

    @property
    def order(self) -> tuple[int, int, str]:
        """Where it stands in the text."""
        return (self.line, self.column, self.code)


def error(code: str, span: Span, message: str, remedy: str, fix: str | None = None) -> Hint:
    """A hint that keeps the program from being run."""
    return Hint(code, "error", span.line, span.column, span.end_line, span.end_column, message, remedy, fix)


def ordered(hints: Iterable[Hint]) -> tuple[Hint, ...]:
    """Each message once, in the order of the text."""
    return tuple(sorted(dict.fromkeys(hints), key=lambda hint: hint.order))


def nearest(word: str, known: Iterable[str]) -> str | None:
    """The known word most like `word`, or None when none is like it."""
    options = {name.lower(): name for name in known}
    found = get_close_matches(word.lower(), options, n=1, cutoff=0.6)
    return options[found[0]] if found else None


def listed(words: Iterable[str]) -> str:
    """Words as a list in a sentence: `a, b or c`."""
    items = list(words)
    if len(items) < 2:
        return "".join(items)
    return f"{', '.join(items[:-1])} or {items[-1]}"


class Problem(Exception):
    """Stops the reading of one line; the parser keeps its hint and goes on with the next line."""

    def __init__(self, hint: Hint) -> None:
        super().__init__(hint.message)
        self.hint = hint
