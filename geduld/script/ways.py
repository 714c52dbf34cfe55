"""The way to a line of a script: the blocks that it stands in, from the outermost, and its place in each."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

S = TypeVar("S")


@dataclass(frozen=True)
class Opened:
    """What opens a block: `kind` is `call` (a function), `if`, `else`, `loop`, `handler` or `plain`.

    `words` are a function's name or what is asked, as they stand in the text; `line` is where.
    """

    kind: str
    line: int
    words: str = ""


@dataclass(frozen=True)
class Block:
    """A block on the way to a line: what opens it (None for the whole program), where each of its statements begins
    and ends, and which of them the line stands in.
    """

    opened: Opened | None
    statements: tuple[tuple[int, int], ...]
    index: int


Way = tuple[Block, ...]


def way_to(
    line: int,
    statements: Sequence[S],
    lines: Callable[[S], tuple[int, int]],
    inside: Callable[[S], Iterator[tuple[Opened, Sequence[S]]]],
    opened: Opened | None = None,
) -> Way:
    """The way to a line. Empty where no statement begins there.

    `lines` gives where a statement begins and ends, `inside` the blocks that it opens.
    """
    places = tuple(lines(statement) for statement in statements)
    for index, (statement, (first, last)) in enumerate(zip(statements, places, strict=True)):
        if not first <= line <= last:
            continue
        here = Block(opened, places, index)
        for within, block in inside(statement):
            found = way_to(line, block, lines, inside, within)
            if found:
                return here, *found
        if first == line:
            return (here,)
    return ()
