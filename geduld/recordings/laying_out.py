"""Finds out how a recording's text is laid out: its form, its delimiter, its decimal sign, its heading."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace

from geduld.recordings.cells import COMMA, POINT, Numbers
from geduld.recordings.contacts import CONTACT_WORDS
from geduld.recordings.forms import json_lines, pairs, table
from geduld.recordings.forms.stamps import unstamped
from geduld.recordings.headings import RAW_WORDS, unit_word
from geduld.recordings.layout import Layout
from geduld.recordings.moments import is_moment
from geduld.recordings.nothing import NOTHING
from geduld.recordings.text import Text

SAMPLE = 600
DELIMITERS = {";": "semicolon", "\t": "tab", ",": "comma", "|": "bar", " ": "space"}
_COMMENTS = ("#", "//", "%", "!", "*")
_COMMA_NUMBER = re.compile(r"[+-]?\d+,\d+(?:[eE][+-]?\d+)?")
_POINT_NUMBER = re.compile(r"[+-]?\d+\.\d+(?:[eE][+-]?\d+)?")
_BOTH = re.compile(r"[+-]?\d{1,3}(?:([.,'’ \u00a0\u202f])\d{3})+([.,])\d+")
_GROUPS = re.compile(r"[+-]?\d{1,3}(?:([.,'’\u00a0\u202f])\d{3})+")


def layout_of(text: Text) -> Layout:
    """How a text is probably laid out."""
    lines = list(itertools.islice(text.lines(), SAMPLE))
    numbered = [(number, line) for number, line in enumerate(lines, 1) if line.strip()]
    if not numbered:
        return Layout()
    comment = _comment(numbered)
    plain = [(number, line) for number, line in numbered if not comment or not line.lstrip().startswith(comment)]
    if not plain:
        return Layout()
    stamped = sum(bool(unstamped(line)[0]) for _, line in plain) > 0.6 * len(plain)
    rests = [(number, unstamped(line)[1] if stamped else line) for number, line in plain]
    layout = Layout(comment=comment, stamped=stamped)
    objects = [line for _, line in rests if line.lstrip().startswith(("{", "[{", "["))]
    opened = rests[0][1].lstrip().startswith(("[", "{")) and "}" in text.text[:100_000]
    if opened or len(objects) > 0.5 * len(rests):
        return replace(layout, form=json_lines.WORD, delimiter="", numbers=Numbers())
    named = [pairs.pairs_of(line) for _, line in rests]
    if sum(bool(found) for found in named) > 0.6 * len(named) and _table_share(line for _, line in rests) < 0.7:
        numbers = _numbers([value for found in named for value in found.values()], False)
        return replace(layout, form=pairs.WORD, delimiter="", numbers=numbers)
    return _table(rests, numbered, layout, '"' in text.text)


def _comment(numbered: Sequence[tuple[int, str]]) -> str:
    """How comments begin here, or nothing."""
    for sign in _COMMENTS:
        found = sum(line.lstrip().startswith(sign) for _, line in numbered)
        if 0 < found < 0.5 * len(numbered) or (found and sign in ("#", "//")):
            return sign
    return ""


def _table_share(lines: Iterable[str]) -> float:
    """How much of the lines reads as rows of data, at best."""
    kept = list(lines)
    return max(_score(kept, delimiter)[0] for delimiter in (*DELIMITERS, ""))


def _table(
    rests: Sequence[tuple[int, str]], numbered: Sequence[tuple[int, str]], layout: Layout, quoted: bool
) -> Layout:
    first = 1
    said = re.fullmatch(r"\"?sep=(.)\"?", numbered[0][1].strip())
    if said:  # what spreadsheets write in the first line
        first = numbered[0][0] + 1
        rests = [row for row in rests if row[0] >= first]
    lines = [line for _, line in rests]
    if said:
        delimiter = said[1]
    else:
        scores = {sign: _score(lines, sign) for sign in (*DELIMITERS, "")}
        delimiter = max(scores, key=lambda sign: scores[sign])
    split = table.splitter(delimiter, quoted)
    rows = [(number, [cell.strip() for cell in split(line)]) for number, line in rests]
    width = _width(cells for _, cells in rows)
    inner = [cells for _, cells in rows if len(cells) == width]
    # a delimiter behind the last cell of each row makes an empty column more than the heading has
    widths = (width, width - 1) if not any(cells[-1] for cells in inner) else (width,)
    fitting = [(number, cells) for number, cells in rows if len(cells) in widths]
    numbers = _numbers([cell for cells in inner for cell in cells], delimiter == ",")
    columns = list(zip(*inner, strict=True))
    lower = [column[len(column) // 2 :] for column in columns]
    of_data = [_share(column, numbers) > 0.55 for column in lower]
    names, units, start = _heading(fitting, of_data, numbers, first)
    if not names:
        start = fitting[0][0] if fitting else first
        comments = [row for row in numbered if layout.comment and row[1].lstrip().startswith(layout.comment)]
        names = _heading_in_comment([row for row in comments if row[0] < start], layout, delimiter, width, numbers)
    return replace(layout, delimiter=delimiter, numbers=numbers, heading=names, units=units, first=max(names, start))


def _heading(
    rows: Sequence[tuple[int, list[str]]], of_data: Sequence[bool], numbers: Numbers, first: int
) -> tuple[int, int, int]:
    """The lines with names and with units before the first row of data, 0 where there is none, and the last of them."""
    names = units = 0
    start = first
    for number, cells in rows:
        said = [cell for cell, data in zip(cells, of_data, strict=False) if data and cell.lower() not in NOTHING]
        if not any(of_data) or (said and sum(_is_data(cell, numbers) for cell in said) >= 0.5 * len(said)):
            break
        if not said:
            continue
        if names and _are_units(cells):
            units = number
        else:
            names = number
        start = number
    return names, units, start


def _heading_in_comment(
    comments: Sequence[tuple[int, str]], layout: Layout, delimiter: str, width: int, numbers: Numbers
) -> int:
    """The line of the last comment before the data, where it is their heading; else 0."""
    if not comments:
        return 0
    titles = table.heading(comments[-1][1], layout, table.splitter(delimiter, True))
    is_heading = len(titles) == width and not any(_is_data(title.strip(), numbers) for title in titles)
    return comments[-1][0] if is_heading else 0


def _score(lines: Sequence[str], delimiter: str) -> tuple[float, float]:
    """How well lines fall into a table at a delimiter: the share of them that are rows of data, then the columns."""
    split = table.splitter(delimiter, True)
    rows = [[cell.strip() for cell in split(line)] for line in lines]
    width = _width(rows)
    if delimiter and width < 2:
        return 0.0, 0.0
    right = [row for row in rows if len(row) == width]
    either = (Numbers(POINT, ","), Numbers(COMMA, "."))
    good = sum(max(_share(row, how) for how in either) for row in right)
    short = sum(len(row) > 1 or not delimiter for row in right)
    # A number with a decimal comma is not two cells: where both readings fit, the one with fewer guesses is taken.
    # Spaces may stand inside cells, so any other sign that fits as well is the delimiter.
    weight = width * (0.4 if delimiter == " " else 1.0)
    # a first line that is no data is a heading, and has as many names as there are columns
    first = rows[0] if rows else []
    named = not any(_is_data(cell, either[1]) for cell in first if cell) and len(first) == width
    share = round(good / max(1, len(rows)), 1) + (0.01 if short else 0) + (0.02 if named else 0)
    return share, good * weight / max(1, len(rows))


def _width(rows: Iterable[Sequence[str]]) -> int:
    counts = Counter(len(row) for row in rows if row)
    return max(counts, key=lambda width: (counts[width] * (1 if width > 1 else 0.5), width)) if counts else 0


def _share(cells: Sequence[str], numbers: Numbers) -> float:
    known = [cell for cell in cells if cell]
    return sum(_is_data(cell, numbers) for cell in known) / len(known) if known else 0.0


def _is_data(cell: str, numbers: Numbers) -> bool:
    low = cell.lower()
    return (
        numbers.read(cell) is not None
        or low in NOTHING
        or low in CONTACT_WORDS
        or is_moment(cell)
        or ((found := numbers.with_unit(cell)) is not None and bool(unit_word(found[1])))
    )


def _are_units(cells: Sequence[str]) -> bool:
    said = [cell.strip("[]() ") for cell in cells]
    known = [cell for cell in said if cell not in ("", "-")]
    return bool(known) and all(unit_word(cell) or cell.lower() in RAW_WORDS or cell in ("V", "A") for cell in known)


def _numbers(cells: Sequence[str], comma_delimits: bool) -> Numbers:
    """How numbers are written in some cells."""
    both = Counter(match[1] + match[2] for cell in cells if (match := _BOTH.fullmatch(cell)) and match[1] != match[2])
    if both:
        signs = both.most_common(1)[0][0]
        return Numbers(COMMA if signs[1] == "," else POINT, _plain_group(signs[0]))
    commas = sum(bool(_COMMA_NUMBER.fullmatch(cell)) for cell in cells)
    points = sum(bool(_POINT_NUMBER.fullmatch(cell)) for cell in cells)
    if commas and not points:
        return Numbers(COMMA)
    if commas and points:
        # thousands are three digits each, a decimal sign stands before any number of digits
        pointed = [cell for cell in cells if _POINT_NUMBER.fullmatch(cell)]
        if all(_GROUPS.fullmatch(cell) for cell in pointed):
            return Numbers(COMMA, ".")
        if all(_GROUPS.fullmatch(cell) for cell in cells if _COMMA_NUMBER.fullmatch(cell)):
            return Numbers(POINT, ",")
        return Numbers(COMMA)
    apart = Counter(match[1] for cell in cells if (match := _GROUPS.fullmatch(cell)) and match[1] not in ".,")
    return Numbers(POINT, _plain_group(apart.most_common(1)[0][0])) if apart else Numbers()


def _plain_group(sign: str) -> str:
    return "'" if sign in "'’" else " " if sign in " \u00a0\u202f" else sign
