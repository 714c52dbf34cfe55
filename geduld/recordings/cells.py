"""Cells of a recording: numbers as people and boards write them, and everything else as words."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from geduld.worlds.trace import Floats

Codes = NDArray[np.int32]
POINT, COMMA = "point", "comma"
_PLAIN = str.maketrans("", "", "0123456789+-.eE")
_WITH_COMMA = str.maketrans("", "", "0123456789+-,eE")
_POINTED = re.compile(r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]+)?", re.ASCII)
_HEX = re.compile(r"0[xX][0-9a-fA-F]{1,12}", re.ASCII)
_WITH_UNIT = re.compile(
    r"([+-]?[0-9.,'’\u00a0\u202f ]*[0-9](?:[eE][+-]?[0-9]+)?)\s*((?:[^\W\d_]|[%°\"″])(?:[^\W\d_]|[/%²°^])*[0-9]?)"
)
_GROUPED = {
    ".": re.compile(r"[+-]?[0-9]{1,3}(?:\.[0-9]{3})+(?:,[0-9]*)?"),
    ",": re.compile(r"[+-]?[0-9]{1,3}(?:,[0-9]{3})+(?:\.[0-9]*)?"),
    " ": re.compile(r"[+-]?[0-9]{1,3}(?:[ \u00a0\u202f][0-9]{3})+(?:[.,][0-9]*)?"),
    "'": re.compile(r"[+-]?[0-9]{1,3}(?:['’][0-9]{3})+(?:[.,][0-9]*)?"),
}
_MOST_KEPT = 100_000


@dataclass(frozen=True)
class Numbers:
    """How numbers are written: `decimal` is POINT or COMMA, `grouped` the sign between thousands, or nothing."""

    decimal: str = POINT
    grouped: str = ""

    def read(self, cell: str) -> float | None:
        """The number that a cell is, without its unit; None where it is none."""
        text = cell
        if self.grouped and (found := _GROUPED[self.grouped].fullmatch(text)):
            text = re.sub(r"[ \u00a0\u202f'’]" if self.grouped in " '" else re.escape(self.grouped), "", found[0])
        if self.decimal == COMMA and "." not in text:
            text = text.replace(",", ".", 1)
        if _POINTED.fullmatch(text):
            return float(text)
        return float(int(text, 16)) if _HEX.fullmatch(text) else None

    def with_unit(self, cell: str) -> tuple[float, str] | None:
        """The number and the unit that a cell is, such as `12.5 cm`; None where it is no such thing."""
        match = _WITH_UNIT.fullmatch(cell)
        number = self.read(match[1].strip()) if match else None
        return None if match is None or number is None else (number, match[2])

    def plain(self, cells: list[str]) -> list[float] | None:
        """All cells as numbers, quickly; None where one of them must be looked at."""
        joined = "".join(cells)
        if self.grouped or joined.translate(_WITH_COMMA if self.decimal == COMMA else _PLAIN):
            return None
        try:
            if self.decimal == COMMA:
                return [float(cell.replace(",", ".", 1)) for cell in cells]
            return list(map(float, cells))
        except ValueError:
            return None


@dataclass
class Column:
    """One column: `numbers` of shape (n,), NaN where a cell is no number, and `codes` of shape (n,): which of `words`
    stands there, 0 where a number does. `units` counts the units that stand behind numbers."""

    name: str
    numbers: Floats
    codes: Codes
    words: list[str]
    units: dict[str, int]

    @property
    def is_words(self) -> bool:
        """Whether more of its cells are words than numbers; empty cells are neither."""
        words = int(np.count_nonzero(self.codes)) - int(self.is_word("").sum())
        return words > int((self.codes == 0).sum())

    def is_word(self, word: str) -> NDArray[np.bool_]:
        """Where a word stands, shape (n,)."""
        code = self.words.index(word) if word in self.words else -1
        found: NDArray[np.bool_] = self.codes == code
        return found

    def sample(self, most: int = 4) -> list[str]:
        """Its first cells that are not empty, as they can be shown."""
        shown: list[str] = []
        for number, code in zip(self.numbers[:400].tolist(), self.codes[:400].tolist(), strict=True):
            if (text := self.words[code] if code else f"{number:.10g}") and (not shown or shown[-1] != text):
                shown.append(text[:40])
            if len(shown) == most:
                break
        return shown


@dataclass
class Filling:
    """A column as it is being read, lot by lot."""

    name: str
    how: Numbers
    numbers: list[Floats] = field(default_factory=list)
    codes: list[Codes] = field(default_factory=list)
    words: dict[str, int] = field(default_factory=lambda: {"\0": 0})
    units: dict[str, int] = field(default_factory=dict)
    _known: dict[str, tuple[float, int]] = field(default_factory=dict)

    def add(self, cells: list[str]) -> None:
        """The next cells, without spaces around them."""
        plain = self.how.plain(cells)
        if plain is not None:
            self.add_numbers(np.array(plain))
            return
        known, found = self._known, []
        for cell in cells:
            pair = known.get(cell)
            if pair is None:
                if len(known) > _MOST_KEPT:
                    known.clear()
                pair = known[cell] = self._looked_at(cell)
            found.append(pair)
        numbers, codes = zip(*found, strict=True) if found else ((), ())
        self.numbers.append(np.array(numbers, np.float64))
        self.codes.append(np.array(codes, np.int32))

    def add_numbers(self, values: Floats) -> None:
        """The next cells, which are all plain numbers, or empty where there is none."""
        codes = np.zeros(len(values), np.int32)
        empty = np.isnan(values)
        if empty.any():
            codes[empty] = self.words.setdefault("", len(self.words))
        self.numbers.append(values)
        self.codes.append(codes)

    def _looked_at(self, cell: str) -> tuple[float, int]:
        number = self.how.read(cell)
        if number is None and (found := self.how.with_unit(cell)):
            number = found[0]
            self.units[found[1]] = self.units.get(found[1], 0) + 1
        if number is not None and np.isfinite(number):
            return number, 0
        return np.nan, self.words.setdefault(cell, len(self.words))

    def done(self) -> Column:
        """The whole column."""
        numbers = np.concatenate(self.numbers) if self.numbers else np.empty(0)
        codes = np.concatenate(self.codes) if self.codes else np.empty(0, np.int32)
        return Column(self.name, numbers, codes, list(self.words), self.units)
