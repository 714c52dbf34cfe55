"""A recipe: every choice with which a recording is read, as a document that can be kept for the next one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any

from geduld.errors import TraceError
from geduld.language.messages import listed
from geduld.recordings.cells import COMMA, POINT, Numbers
from geduld.recordings.forms import FORMS, VCD
from geduld.recordings.layout import Layout
from geduld.recordings.text import ENCODINGS
from geduld.recordings.timing import DROP, FILE, SECONDS, SPREAD, ZERO, Timing
from geduld.rig.values import Values

STOP = "stop"
ABSENT, HOLD = "absent", "hold"
MARK = "recipe/1"
_READ = Values(TraceError, "recipe")
_EXAMPLE = '{"column": "Abstand (mm)", "channel": "range", "unit": "mm"}'


@dataclass(frozen=True)
class Use:
    """What a column is used for.

    `channel` is a channel of the rig, empty for a column that is left out; `unit` the column's unit, empty for none,
    `raw` for the numbers of a converter that `points` or the rig says the meaning of, `counts` for an encoder's.
    `absent` are the numbers and `absent_words` the words that mean "no reading". `points` are two numbers with their
    values in the part's own unit: the straight line through them is the meaning of all others. `inverted` when pressed
    reads as 0.
    """

    column: str
    channel: str
    unit: str = ""
    absent: tuple[float, ...] = ()
    absent_words: tuple[str, ...] = ()
    points: tuple[tuple[float, float], ...] = ()
    inverted: bool = False


@dataclass(frozen=True)
class Recipe:
    """How a recording is read: how its text is laid out, its time, and what its columns are used for.

    `bad_rows` says whether reading stops at rows that cannot be read (STOP) or leaves them out (DROP); `missing`
    whether a value that a line does not say is ABSENT or is HELD from the line before.
    """

    layout: Layout = field(default_factory=Layout)
    timing: Timing = field(default_factory=Timing)
    uses: tuple[Use, ...] = ()
    encoding: str = ""
    bad_rows: str = STOP
    missing: str = ABSENT

    def as_json(self) -> dict[str, Any]:
        """The recipe as a document."""
        layout = asdict(self.layout)
        numbers = layout.pop("numbers")
        return {
            "geduld": MARK,
            "encoding": self.encoding,
            "layout": layout | numbers,
            "time": asdict(self.timing),
            "columns": [
                asdict(use)
                | {
                    "absent": list(use.absent),
                    "absent_words": list(use.absent_words),
                    "points": [list(p) for p in use.points],
                }
                for use in self.uses
            ],
            "bad_rows": self.bad_rows,
            "missing": self.missing,
        }


def recipe_from_json(source: Any) -> Recipe:
    """The recipe in a document. What is left out is as it is where nothing is said. Raises TraceError with the path."""
    if not isinstance(source, dict) or source.get("geduld") != MARK:
        remedy = f'Start it with {{"geduld": "{MARK}", "columns": [{_EXAMPLE}]}}.'
        raise _READ.wrong("geduld", "This JSON does not say that it is a recipe.", remedy)
    _READ.known_keys(source, ("geduld", "encoding", "layout", "time", "columns", "bad_rows", "missing"), "")
    encoding = _one_of(source.get("encoding", ""), ("", *ENCODINGS), "encoding")
    uses = source.get("columns", [])
    if not isinstance(uses, list) or len(uses) > 1000:
        raise _READ.wrong("columns", "A list of columns belongs here.", f"For example: [{_EXAMPLE}]")
    return Recipe(
        layout_from_json(source.get("layout", {})),
        _timing(source.get("time", {})),
        tuple(_use(use, f"columns[{place}]") for place, use in enumerate(uses)),
        encoding,
        _one_of(source.get("bad_rows", STOP), (STOP, DROP), "bad_rows"),
        _one_of(source.get("missing", ABSENT), (ABSENT, HOLD), "missing"),
    )


def layout_from_json(table: Any) -> Layout:
    """The layout in a recipe's document. Raises TraceError with the path."""
    keys = ("form", "delimiter", "decimal", "grouped", "heading", "units", "first", "comment", "stamped")
    table = _READ.table(table, "layout", keys, '{"delimiter": ";", "decimal": "comma"}')
    delimiter = _text(table, "delimiter", ",", "layout", 1)
    return Layout(
        _one_of(table.get("form", "table"), (*FORMS, VCD), "layout.form"),
        delimiter,
        Numbers(
            _one_of(table.get("decimal", POINT), (POINT, COMMA), "layout.decimal"),
            _one_of(table.get("grouped", ""), ("", ".", ",", " ", "'"), "layout.grouped"),
        ),
        _whole(table, "heading", 0, "layout"),
        _whole(table, "units", 0, "layout"),
        max(1, _whole(table, "first", 1, "layout")),
        _text(table, "comment", "", "layout", 4),
        _yes(table, "stamped", "layout"),
    )


def _timing(table: Any) -> Timing:
    keys = ("column", "unit", "date", "rate", "wraps", "starts", "equal", "day_first")
    table = _READ.table(table, "time", keys, '{"column": "t", "unit": "ms"}')
    return Timing(
        _text(table, "column", "", "time", 200),
        _one_of(table.get("unit", "s"), tuple(SECONDS), "time.unit"),
        _text(table, "date", "", "time", 200),
        _number(table, "rate", "time", 0.0, 1e6),
        _number(table, "wraps", "time", 0.0, 1e15),
        _one_of(table.get("starts", FILE), (FILE, ZERO), "time.starts"),
        _one_of(table.get("equal", DROP), (DROP, SPREAD), "time.equal"),
        _yes(table, "day_first", "time", True),
    )


def _use(table: Any, path: str) -> Use:
    keys = ("column", "channel", "unit", "absent", "absent_words", "points", "inverted")
    table = _READ.table(table, path, keys, _EXAMPLE)
    points = table.get("points", [])
    if not isinstance(points, list) or len(points) not in (0, 2) or not all(_is_pair(point) for point in points):
        raise _READ.wrong(f"{path}.points", "Two pairs of numbers belong here.", "For example: [[148, 10], [620, 60]]")
    if points and points[0][0] == points[1][0]:
        raise _READ.wrong(f"{path}.points", "The two numbers are the same.", "Measure at two places far apart.")
    absent, words = table.get("absent", []), table.get("absent_words", [])
    if not isinstance(absent, list) or not all(_is_number(code) for code in absent) or len(absent) > 100:
        raise _READ.wrong(f"{path}.absent", "A list of numbers belongs here.", "For example: [-1, 999]")
    if not isinstance(words, list) or not all(isinstance(word, str) for word in words) or len(words) > 100:
        raise _READ.wrong(f"{path}.absent_words", "A list of words belongs here.", 'For example: ["ERR"]')
    return Use(
        _text(table, "column", "", path, 200),
        _text(table, "channel", "", path, 200),
        _text(table, "unit", "", path, 20),
        tuple(float(code) for code in absent),
        tuple(words),
        tuple((float(raw), float(value)) for raw, value in points),
        _yes(table, "inverted", path),
    )


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < 1e18


def _is_pair(value: Any) -> bool:
    return isinstance(value, list) and len(value) == 2 and all(_is_number(number) for number in value)


def _one_of(value: Any, known: tuple[str, ...], path: str) -> str:
    if value not in known or not isinstance(value, str):
        raise _READ.wrong(path, f"This is not known here: {str(value)[:40]!r}.", f"Write {listed(map(repr, known))}.")
    return value


def _text(table: Mapping[str, Any], key: str, otherwise: str, path: str, most: int) -> str:
    value = table.get(key, otherwise)
    if not isinstance(value, str) or len(value) > most:
        raise _READ.wrong(
            f"{path}.{key}", f"A text of at most {most} letters belongs here.", "Write it in quotation marks."
        )
    return value


def _whole(table: Mapping[str, Any], key: str, otherwise: int, path: str) -> int:
    value = table.get(key, otherwise)
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value < 10**9:
        raise _READ.wrong(f"{path}.{key}", "A line's number belongs here.", "Lines count from 1; 0 is none.")
    return value


def _number(table: Mapping[str, Any], key: str, path: str, low: float, high: float) -> float:
    value = table.get(key, 0.0)
    if not _is_number(value) or not low <= value <= high:
        raise _READ.wrong(f"{path}.{key}", f"A number from {low:g} to {high:g} belongs here.", "0 is none.")
    return float(value)


def _yes(table: Mapping[str, Any], key: str, path: str, otherwise: bool = False) -> bool:
    value = table.get(key, otherwise)
    if not isinstance(value, bool):
        raise _READ.wrong(f"{path}.{key}", "A yes or no belongs here.", "Write true or false.")
    return value
