"""Readings as lines, in the forms that boards print."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator

import numpy as np

from geduld.language.quantities import TEXT
from geduld.rig.model import Rig
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import COUNTS

FORMS: dict[str, Callable[[dict[str, float | str | None]], str]] = {
    "json": json.dumps,
    "pairs": lambda values: " ".join(f"{n}={v if v is None else _shown(v)}" for n, v in values.items() if v != ""),
    "csv": lambda values: ",".join("" if value is None else _shown(value) for value in values.values()),
}


def _shown(value: float | str) -> str:
    return value if isinstance(value, str) else f"{value:.6g}"


def lines_of(trace: Trace, rig: Rig, rate: float, form: str) -> Iterator[tuple[float, str]]:
    """A trace's readings at so many lines a second: each instant in s, and its line. A heading comes first in csv."""
    names = [name for name in trace.channels if name in rig.channels and not name.endswith(COUNTS)]
    count = int(trace.duration_us * rate / 1e6) + 1
    if form == "csv":
        yield 0.0, ",".join(["ms", *names])
    for number in range(count):
        tick = round(number * 1e6 / rate)
        row = max(0, int(np.searchsorted(trace.times, tick, "right")) - 1)
        values: dict[str, float | str | None] = {"ms" if form == "csv" else "t_ms": float(round(tick / 1000))}
        values |= {name: _value(name, float(trace.channels[name][row]), trace, rig) for name in names}
        yield tick / 1e6, FORMS[form](values)


def _value(name: str, value: float, trace: Trace, rig: Rig) -> float | str | None:
    """A reading in the part's unit; None where there is none, and a text of a radio, empty before the first."""
    part = rig.channels[name]
    if part.dimension == TEXT:
        return trace.texts.get(value, "")
    if value != value:
        return None
    return float(f"{part.unit.from_base(value) if part.unit else value:.6g}")
