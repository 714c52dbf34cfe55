"""Tables: cells between delimiters, with a heading or without."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterable

from geduld.recordings.forms.stamps import unstamped
from geduld.recordings.layout import MOST_COLUMNS, STAMP, Gathering, Layout, Table, one_each

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
    split = splitter(layout.delimiter, quoted)
    comment = layout.comment or None
    gathering: Gathering | None = None
    names: list[str] | None = None
    comments: list[str] = []
    width = 0
    for number, line in enumerate(lines, 1):
        if number == layout.heading:
            names = heading(line, layout, split)
            continue
        if number == layout.units and names is not None:
            names = with_units(names, split(line))
            continue
        if not line or line.isspace():
            continue
        if number < layout.first or (comment and line.lstrip().startswith(comment)):
            comments.append(line) if len(comments) < 20 else None
            continue
        stamp, rest = unstamped(line) if layout.stamped else ("", line)
        cells = split(rest)
        if gathering is None:
            width = len(names) if names else min(len(cells), MOST_COLUMNS)
            titles = one_each(names or [""] * width)
            gathering = Gathering([STAMP, *titles] if layout.stamped else titles, layout.numbers)
        if len(cells) != width:
            if len(cells) == width + 1 and not cells[-1].strip():
                cells.pop()  # a delimiter behind the last cell
            else:
                if names and cells[: len(names)] == names:
                    gathering.bad.add(number, "the heading again", "The heading stands here again.", line)
                else:
                    why = f"It has {len(cells)} cells, and there are {width} columns."
                    gathering.bad.add(number, "not as many cells as there are columns", why, line)
                continue
        gathering.add(number, [stamp, *cells] if layout.stamped else cells)
    if gathering is None:
        gathering = Gathering(one_each(names or []), layout.numbers)
    gathering.comments = comments
    return gathering.done()


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
