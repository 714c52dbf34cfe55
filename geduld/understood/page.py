"""The page on which a program is read aloud, line by line."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from geduld.script.telling import plain


@dataclass(frozen=True)
class Line:
    """A line as it was understood: the student's line, how far it is indented, and what it says."""

    line: int
    level: int
    text: str


class Page:
    """Lines as they are said."""

    def __init__(self) -> None:
        self.lines: list[Line] = []
        self.level = 0

    def say(self, line: int, text: str) -> None:
        """One more line; what is indented in `text` is so on the page."""
        inner = text.lstrip(" ")
        self.lines.append(Line(line, self.level + (len(text) - len(inner)) // 4, plain(inner)))

    @contextmanager
    def under(self, line: int, text: str) -> Iterator[None]:
        """A line with what is said under it; `do nothing` where that is nothing."""
        self.say(line, text)
        self.level += 1
        first = len(self.lines)
        yield
        if len(self.lines) == first:
            self.say(line, "do nothing")
        self.level -= 1


def stitched(text: str, start: int, pieces: Iterable[tuple[int, int, str]]) -> str:
    """A text that begins at `start`, with some stretches of it said in other words; its blanks are single ones."""
    told, place = [], start
    for first, last, said in sorted(pieces, key=lambda piece: piece[0]):
        if first >= place:
            told += [text[place - start : first - start], said]
            place = last
    told.append(text[place - start :])
    return " ".join("".join(told).split())
