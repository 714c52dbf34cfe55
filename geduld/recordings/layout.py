"""How a recording's text is laid out, and the table that is read from it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from geduld.recordings.cells import Column, Filling, Numbers
from geduld.worlds.trace import Floats

MOST_COLUMNS = 200
MOST_TOLD, MOST_COMMENTS = 200, 20
LOT = 20_000
STAMP, LEADING = "clock", "first number"  # columns that the text has no names for


@dataclass(frozen=True)
class Layout:
    """How a text is laid out. `form` is a word of `FORMS`; `delimiter` what stands between cells, " " for any white
    space, empty where there is one column; `heading` and `units` the lines (from 1) with names and with units, 0 where
    there is none; `first` the first line that is read; `comment` how lines begin that are passed over; `stamped` when
    a serial monitor wrote the time of day before each line."""

    form: str = "table"
    delimiter: str = ","
    numbers: Numbers = field(default_factory=Numbers)
    heading: int = 0
    units: int = 0
    first: int = 1
    comment: str = ""
    stamped: bool = False


@dataclass(frozen=True)
class BadRow:
    """A row that could not be read: its line in the file, why, and its beginning."""

    line: int
    why: str
    text: str


@dataclass
class BadRows:
    """Rows that could not be read: the first of them, and how many there are of each kind."""

    rows: list[BadRow] = field(default_factory=list)
    kinds: Counter[str] = field(default_factory=Counter)

    def add(self, line: int, kind: str, why: str, text: str = "") -> None:
        """One more. `kind` is its reason without what is special about this row."""
        self.kinds[kind] += 1
        if len(self.rows) < MOST_TOLD:
            self.rows.append(BadRow(line, why, text[:80]))

    @property
    def count(self) -> int:
        """How many there are."""
        return sum(self.kinds.values())


@dataclass
class Table:
    """What a text holds: columns, the line (from 1) of each row, the rows that could not be read, and its comments."""

    columns: list[Column]
    lines: NDArray[np.int64]
    bad: BadRows
    comments: list[str]
    names: list[str]

    def column(self, name: str) -> Column:
        """The column with a name."""
        return next(column for column in self.columns if column.name == name)

    @property
    def rows(self) -> int:
        """How many rows were read."""
        return len(self.lines)


@dataclass
class Gathering:
    """A table as it is being read: rows of cells, in lots."""

    names: list[str]
    how: Numbers
    bad: BadRows = field(default_factory=BadRows)
    comments: list[str] = field(default_factory=list)
    _rows: list[list[str]] = field(default_factory=list)
    _numbers: list[int] = field(default_factory=list)
    _lines: list[int] = field(default_factory=list)
    _columns: list[Filling] = field(default_factory=list)

    def add(self, line: int, cells: list[str]) -> None:
        """A row with as many cells as there are names."""
        self._rows.append(cells)
        self._numbers.append(line)
        if len(self._rows) >= LOT:
            self._lot()

    def add_numbers(self, lines: list[int], numbers: Floats) -> None:
        """Rows of which every cell is a plain number, shape (rows, columns)."""
        self._lot()
        for column, values in zip(self._columns, numbers.T, strict=True):
            column.add_numbers(values)
        self._lines += lines

    def widen(self, name: str) -> None:
        """One more column, which was empty up to here."""
        self._lot()
        self.names.append(name)
        filling = Filling(name, self.how)
        if self._lines:
            filling.add([""] * len(self._lines))
        self._columns.append(filling)

    def _lot(self) -> None:
        if not self._columns:
            self._columns = [Filling(name, self.how) for name in self.names]
        if not self._rows:
            return
        for column, cells in zip(self._columns, zip(*self._rows, strict=True), strict=True):
            column.add([cell.strip() for cell in cells])
        self._lines += self._numbers
        self._rows, self._numbers = [], []

    def done(self) -> Table:
        """The whole table."""
        self._lot()
        columns = [column.done() for column in self._columns]
        return Table(columns, np.array(self._lines, np.int64), self.bad, self.comments, self.names)


def one_each(names: list[str]) -> list[str]:
    """Names of columns: none is empty, and none stands twice."""
    found: list[str] = []
    for number, name in enumerate(names, 1):
        plain = " ".join(name.strip().strip("\"'").split()) or f"column {number}"
        other, again = plain, 2
        while other in found:
            other, again = f"{plain} ({again})", again + 1
        found.append(other)
    return found
