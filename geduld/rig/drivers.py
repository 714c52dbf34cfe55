"""Reads what hangs on the lines of the controller: motor drivers, with their switching tables."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from geduld.errors import RigError
from geduld.language.messages import listed
from geduld.rig.model import Driver, Part
from geduld.rig.values import Values

_READ = Values(RigError, "rig")
_EXAMPLE = (
    '{"motor": "left", "lines": {"a": "7", "b": "8", "enable": "5"}, "duty": "enable", '
    '"table": [{"a": 1, "b": 0, "does": "forward"}]}'
)
DOES = ("forward", "backward", "brake", "coast")
DRIVER_KEYS = ("motor", "lines", "duty", "table", "note")


def read_drivers(source: Any, parts: Mapping[str, Part]) -> tuple[Driver, ...]:
    """The drivers of a rig. Raises RigError with the path to what is wrong."""
    if not isinstance(source, dict):
        raise _READ.wrong("drivers", "A table of drivers belongs here.", f'{{"left driver": {_EXAMPLE}}}')
    found: list[Driver] = []
    lines: dict[str, str] = {}
    for name, table in source.items():
        driver = _driver(name, table, parts)
        for line in driver.lines.values():
            if line in lines:
                message = f'The line "{line}" hangs on two drivers, "{lines[line]}" and "{name}".'
                raise _READ.wrong(f"drivers.{name}.lines", message, "Give each driver its own lines.")
            lines[line] = name
        if any(other.motor == driver.motor for other in found):
            message = f'"{driver.motor}" has two drivers.'
            raise _READ.wrong(f"drivers.{name}.motor", message, "Describe one driver for each motor.")
        found.append(driver)
    return tuple(found)


def _driver(name: str, value: Any, parts: Mapping[str, Part]) -> Driver:
    path = f"drivers.{name}"
    table = _READ.table(value, path, DRIVER_KEYS, _EXAMPLE)
    motor = table.get("motor")
    if not isinstance(motor, str) or motor not in parts or not parts[motor].kind.spins:
        motors = listed(part.name for part in parts.values() if part.kind.spins)
        raise _READ.wrong(f"{path}.motor", "A driver drives a motor of the rig.", f"The motors are {motors or 'none'}.")
    lines = table.get("lines")
    named = isinstance(lines, dict) and all(isinstance(line, str) and line.strip() for line in lines.values())
    if not named or not lines:
        raise _READ.wrong(f"{path}.lines", "A driver has lines, each with a name of its own.", '{"a": "7", "b": "8"}')
    duty = table.get("duty", "")
    if duty and duty not in lines:
        raise _READ.wrong(f"{path}.duty", "The duty line is one of the driver's lines.", listed(lines))
    rows = table.get("table")
    if not isinstance(rows, list) or not rows:
        raise _READ.wrong(f"{path}.table", "A driver has a table of what the motor does at which levels.", _EXAMPLE)
    read = tuple(_row(row, f"{path}.table[{index}]", lines, duty) for index, row in enumerate(rows))
    return Driver(name, motor, dict(lines), duty, read)


def _row(value: Any, path: str, lines: Mapping[str, str], duty: str) -> tuple[Mapping[str, bool], str]:
    known = tuple(role for role in lines if role != duty)
    row = _READ.table(value, path, (*known, "does"), '{"a": 1, "b": 0, "does": "forward"}')
    if row.get("does") not in DOES:
        raise _READ.wrong(f"{path}.does", f"A motor does {listed(DOES)}.", 'Write for example "forward".')
    levels = {role: level for role, level in row.items() if role != "does"}
    for role, level in levels.items():
        if level not in (0, 1):
            raise _READ.wrong(f"{path}.{role}", "A level is 0 or 1.", "Leave a line out that does not matter.")
    return {role: bool(level) for role, level in levels.items()}, row["does"]
