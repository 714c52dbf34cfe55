"""Lines of names and values, as boards print them: `range=45.2 bump:0`, `Front: 45 cm | Knob: 512`."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from geduld.recordings.forms.stamps import unstamped
from geduld.recordings.layout import LEADING, MOST_COLUMNS, MOST_COMMENTS, STAMP, Gathering, Layout, Table

WORD = "pairs"
_LONGEST = 5_000
_PAIR = re.compile(
    r"(?<![\w.])(?P<name>[^\W\d](?:[\w.\-/]|[ ](?=[^\W\d]))*(?:\s*[\[(][^\])\[(]*[\])])?)\s*[=:]\s*"
    r"(?P<value>\"[^\"]*\"|[+-]?[0-9]+(?:[.,][0-9]+)?(?:[eE][+-]?[0-9]+)?(?:\s?(?:[^\W\d_]|[%°])[^\W\d_/%²°]*[0-9]?(?![\w=:]|\s*[=:]))?"
    r"|[^\s,;|=:]+(?![\w=:]|\s*[=:]))"
)
# A number before the names: `1020 range=45`, `[1020] range=45`, `I (1020) main: range=45`.
_LEADING = re.compile(
    r"\s*(?:[A-Z]\s+)?[\[(]?([0-9]+(?:[.,][0-9]+)?)[\])]?\s*(?:[:,;|>]|->)?\s+(?:\w+:\s+)?(?=[^\W\d])"
)


def pairs_of(line: str) -> dict[str, str]:
    """The names and values of a line; a number before them is called LEADING."""
    line, found = line[:_LONGEST], dict[str, str]()
    leading = _LEADING.match(line)
    start = 0
    if leading:
        found[LEADING] = leading[1]
        start = leading.end()
    for match in _PAIR.finditer(line, start):
        name = match["name"].strip()
        if name not in found:
            found[name] = match["value"].strip('"')
    return found if len(found) > (1 if leading else 0) else {}


def read(lines: Iterable[str], layout: Layout, quoted: bool) -> Table:
    """The table in such lines: a column for each name; where a line does not say a name, its cell is empty."""
    return gathered(lines, layout, pairs_of, "no name with a value", "No name with a value stands here.")


def gathered(
    lines: Iterable[str], layout: Layout, values_of: Callable[[str], dict[str, str]], kind: str, why: str
) -> Table:
    """The table in lines each of which is a few named values. `values_of` gives those, empty for a line without."""
    gathering = Gathering([STAMP] if layout.stamped else [], layout.numbers)
    for number, line in enumerate(lines, 1):
        if number < layout.first or not line or line.isspace():
            continue
        if layout.comment and line.lstrip().startswith(layout.comment):
            gathering.comments.append(line) if len(gathering.comments) < MOST_COMMENTS else None
            continue
        stamp, rest = unstamped(line) if layout.stamped else ("", line)
        values = values_of(rest)
        if not values:
            gathering.bad.add(number, kind, why, line)
            continue
        for name in values:
            if name not in gathering.names and len(gathering.names) < MOST_COLUMNS:
                gathering.widen(name)
        if layout.stamped:
            values[STAMP] = stamp
        gathering.add(number, [values.get(name, "") for name in gathering.names])
    return gathering.done()
