"""Tables: cells between delimiters, with a heading or without."""

from __future__ import annotations

import csv
import io
import itertools
import re
from collections.abc import Callable, Iterable
from functools import cache

import numpy as np

from geduld.recordings.cells import COMMA
from geduld.recordings.forms.stamps import unstamped
from geduld.recordings.layout import LOT, MOST_COLUMNS, MOST_COMMENTS, STAMP, Gathering, Layout, Table, one_each

WORD = "table"


def splitter(delimiter: str, quoted: bool) -> Callable[[str], list[str]]:
    """How a line falls into its cells. `quoted` when there are quotation marks in the text."""
    if delimiter == "":
        return lambda line: [line]
    if delimiter == " ":
        return str.split
    if not quoted:
        return lambda line: line.split(delimiter)

    def split(line: str) -> list[str]:
        # each line by itself: an odd quotation mark costs its own row, not all that follow
        try:
            return next(csv.reader([line], delimiter=delimiter), [])
        except csv.Error:
            return line.split(delimiter)

    return split


def read(lines: Iterable[str], layout: Layout, quoted: bool) -> Table:
    """The table in a text."""
    reading = _Reading(layout, splitter(layout.delimiter, quoted))
    quick = not quoted and not layout.stamped and layout.delimiter not in ("", " ")
    numbered = enumerate(lines, 1)
    for number, line in numbered:
        reading.line(number, line)
        if quick and reading.gathering is not None:
            break
    while lot := list(itertools.islice(numbered, LOT)):
        if not (quick and reading.plain_lot(lot)):
            for number, line in lot:
                reading.line(number, line)
    gathering = reading.gathering or Gathering(one_each(reading.names or []), layout.numbers)
    gathering.comments = reading.comments
    return gathering.done()


class _Reading:
    """A table as it is read: the heading's names, then rows with as many cells."""

    def __init__(self, layout: Layout, split: Callable[[str], list[str]]) -> None:
        self.layout = layout
        self.split = split
        self.gathering: Gathering | None = None
        self.names: list[str] | None = None
        self.comments: list[str] = []
        self.width = 0

    def line(self, number: int, line: str) -> None:
        """The next line of the text."""
        layout = self.layout
        if number == layout.heading:
            self.names = heading(line, layout, self.split)
        elif number == layout.units and self.names is not None:
            self.names = with_units(self.names, self.split(line))
        elif not line or line.isspace():
            pass
        elif number < layout.first or (layout.comment and line.lstrip().startswith(layout.comment)):
            self.comments.append(line) if len(self.comments) < MOST_COMMENTS else None
        else:
            self._row(number, line)

    def _row(self, number: int, line: str) -> None:
        stamp, rest = unstamped(line) if self.layout.stamped else ("", line)
        cells = self.split(rest)
        if self.gathering is None:
            self.width = len(self.names) if self.names else min(len(cells), MOST_COLUMNS)
            titles = one_each(self.names or [""] * self.width)
            self.gathering = Gathering([STAMP, *titles] if self.layout.stamped else titles, self.layout.numbers)
        if len(cells) == self.width + 1 and not cells[-1].strip():
            cells.pop()  # a delimiter behind the last cell
        if len(cells) == self.width:
            self.gathering.add(number, [stamp, *cells] if self.layout.stamped else cells)
        elif self.names and cells[: len(self.names)] == self.names:
            self.gathering.bad.add(number, "the heading again", "The heading stands here again.", line)
        else:
            many = "1 cell" if len(cells) == 1 else f"{len(cells)} cells"
            why = f"It has {many}, and there are {self.width} columns."
            self.gathering.bad.add(number, "not as many cells as there are columns", why, line)

    def plain_lot(self, lot: list[tuple[int, str]]) -> bool:
        """Takes many rows at once, where all their cells are plain numbers or empty; says whether they were."""
        assert self.gathering is not None
        comma, delimiter = self.layout.numbers.decimal == COMMA, self.layout.delimiter
        text = "\n".join(line for _, line in lot)
        if (
            not text
            or text.isspace()
            or self.layout.numbers.grouped
            or not text.isascii()
            or text.translate(_plain(delimiter, comma))
        ):
            return False
        if comma:
            text = text.replace(",", ".")
        if delimiter * 2 in text or delimiter + "\n" in text or "\n" + delimiter in text:
            text = _EMPTY.sub("nan", f"\n{text}\n".replace(delimiter, " , "))[1:-1]
            delimiter = ","
        try:
            numbers = np.loadtxt(io.StringIO(text), delimiter=delimiter, ndmin=2, comments=None)
        except ValueError:
            return False
        if numbers.shape != (len(lot), self.width) or np.isinf(numbers).any():
            return False
        self.gathering.add_numbers([number for number, _ in lot], numbers)
        return True


# An empty cell, where cells stand between " , ": between two of those, or one and an end of a line.
_EMPTY = re.compile(r"(?<=, )(?= ,)|(?<=\n)(?= ,)|(?<=, )(?=\n)")


@cache
def _plain(delimiter: str, comma: bool) -> dict[int, None]:
    """What lots of plain numbers are made of, to be taken away."""
    return dict.fromkeys(map(ord, "0123456789+-eE\n" + delimiter + ("," if comma else ".")))


def heading(line: str, layout: Layout, split: Callable[[str], list[str]]) -> list[str]:
    """The names in a heading; it may stand in a comment. A delimiter behind the last name is none."""
    if layout.comment and line.lstrip().startswith(layout.comment):
        line = line.lstrip().removeprefix(layout.comment).strip()
    names = split(line)[:MOST_COLUMNS]
    return names[:-1] if len(names) > 1 and not names[-1].strip() else names


def with_units(names: list[str], units: list[str]) -> list[str]:
    """Names with the units that stand in a row of their own below."""
    cells = [unit.strip().strip("[]()") for unit in units] + [""] * len(names)
    return [
        f"{name.strip()} [{unit}]" if unit not in ("", "-") else name for name, unit in zip(names, cells, strict=False)
    ]
