"""A sheet of measurements: what was asked of the robot, and what the tape said."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from geduld.errors import InputError
from geduld.language.messages import listed
from geduld.language.quantities import ANGLE, LENGTH, RATIO, TIME
from geduld.rig.values import Values

MARK = "measurements/1"
STRAIGHT, TURN, PIVOT = "straight", "turn", "pivot"
MOVES = (STRAIGHT, TURN, PIVOT)
BY_TIME, BY_ENCODER = "time", "encoder"
MOST_ROWS = 500
_READ = Values(InputError, "measurements")
_ROW_KEYS = ("move", "by", "power", "amount", "time", "measured", "sideways", "kept_out", "note")
_EXAMPLE = '{"move": "straight", "by": "encoder", "power": "40 %", "amount": "100 cm", "measured": "97.5 cm"}'


@dataclass(frozen=True)
class Measurement:
    """One move and what was measured.

    `move` is a straight one, a turn about the middle, or a pivot about a wheel that stands still; `by` says whether it
    ended by a time (`asked` in s) or by encoder counts (`asked` in cm, or in deg). `power` is in %. `measured` is in cm
    or deg, None where it has not been measured yet; `sideways` how far to the left of straight ahead it ended, in cm.
    What is `kept_out` is not fitted, and tests what was. `place` is its place in the sheet, from 0.
    """

    move: str
    by: str
    power: float
    asked: float
    measured: float | None
    sideways: float | None
    kept_out: bool
    place: int


@dataclass(frozen=True)
class Sheet:
    """Measurements on one surface, at one level of the battery (%, None where nobody looked)."""

    surface: str
    battery: float | None
    rows: tuple[Measurement, ...]


def sheet_from_json(source: Any) -> Sheet:
    """The sheet in a JSON value. Raises InputError with the path to what is wrong."""
    if not isinstance(source, dict) or source.get("geduld") != MARK:
        remedy = f'Start it with {{"geduld": "{MARK}", "surface": "tiles", "rows": [{_EXAMPLE}]}}.'
        raise _READ.wrong("geduld", "This JSON does not say that it is a sheet of measurements.", remedy)
    _READ.known_keys(source, ("geduld", "surface", "battery", "rows", "note"), "")
    surface = source.get("surface", "")
    if not isinstance(surface, str) or len(surface) > 100:
        raise _READ.wrong("surface", "The surface is a name.", 'For example: "tiles"')
    battery = source.get("battery")
    level = None if battery is None else _READ.within(battery, RATIO, "battery", "90 %", 0.0, 100.0)
    rows = source.get("rows", [])
    if not isinstance(rows, list) or len(rows) > MOST_ROWS:
        raise _READ.wrong("rows", f"A list of at most {MOST_ROWS} measurements belongs here.", f"[{_EXAMPLE}]")
    return Sheet(surface, level, tuple(_row(row, place) for place, row in enumerate(rows)))


def _row(row: Any, place: int) -> Measurement:
    path = f"rows[{place}]"
    table: Mapping[str, Any] = _READ.table(row, path, _ROW_KEYS, _EXAMPLE)
    move, by = table.get("move", STRAIGHT), table.get("by", BY_ENCODER)
    if move not in MOVES or not isinstance(move, str):
        raise _READ.wrong(f"{path}.move", "This is no move.", f"Write {listed(MOVES)}.")
    if by not in (BY_TIME, BY_ENCODER) or not isinstance(by, str):
        raise _READ.wrong(f"{path}.by", "A move ends by time or by encoder.", f"Write {listed((BY_TIME, BY_ENCODER))}.")
    power = _READ.within(table.get("power", "40 %"), RATIO, f"{path}.power", "40 %", 0.1, 100.0)
    length = move == STRAIGHT
    dimension, example = (LENGTH, "100 cm") if length else (ANGLE, "90 deg")
    most = 100_000.0
    if by == BY_TIME:
        asked = _READ.within(table.get("time"), TIME, f"{path}.time", "2 s", 0.01, 600.0)
    else:
        asked = _READ.within(table.get("amount"), dimension, f"{path}.amount", example, 0.1, most)
    measured = table.get("measured")
    found = None if measured is None else _READ.within(measured, dimension, f"{path}.measured", example, 0.0, most)
    sideways = table.get("sideways")
    aside = None
    if sideways is not None:
        if not length:
            raise _READ.wrong(f"{path}.sideways", "Only a straight move ends sideways.", "Leave it out.")
        aside = _READ.within(sideways, LENGTH, f"{path}.sideways", "-2 cm", -10_000.0, 10_000.0)
    kept_out = table.get("kept_out", False)
    if not isinstance(kept_out, bool):
        raise _READ.wrong(f"{path}.kept_out", "A yes or no belongs here.", "Write true or false.")
    return Measurement(move, by, power, asked, found, aside, kept_out, place)
