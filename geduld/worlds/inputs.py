"""Inputs: what a hand does during a run. They lie on top of any world."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np

from geduld.errors import TraceError
from geduld.language.messages import listed, nearest
from geduld.language.quantities import LENGTH, TEXT, TRUTH, text_code, unit_from_text
from geduld.rig.model import Rig
from geduld.rig.values import Values
from geduld.worlds.trace import Floats, Ticks, Trace
from geduld.worlds.trace_csv import (
    HEADING,
    MOST_LETTERS,
    NUMBER,
    channel_column,
    row_place,
    time_column,
    times_in_reach,
    times_rise,
)

MOST_INPUTS_BYTES, MOST_ROWS = 5_000_000, 20_000
GONE = float("inf")
LET_GO = "-"
STOP = "stop"


@dataclass(frozen=True, eq=False)
class Inputs:
    """What hands do, at some instants.

    `times` are n rising instants in ticks. `channels` maps a sensor to n values in its base unit, and `places` the
    coordinates of things that are moved (`crate.x`) to n values in cm. `stop_us` is when everything is
    stopped. NaN: nothing is done at this instant; `GONE`: the hand lets go, and the world's own reading counts again (a
    sensor that only hands move is absent then, and a hand that is held somewhere is taken away).
    """

    times: Ticks = field(default_factory=lambda: np.empty(0, np.int64))
    channels: Mapping[str, Floats] = field(default_factory=dict)
    places: Mapping[str, Floats] = field(default_factory=dict)
    texts: Mapping[float, str] = field(default_factory=dict)
    stop_us: int | None = None

    @cached_property
    def held(self) -> dict[str, Floats]:
        """For each channel what the hand holds it at from each instant on: NaN before it was touched."""
        found = {}
        for name, values in self.channels.items():
            last = np.maximum.accumulate(np.where(np.isnan(values), -1, np.arange(len(values))))
            found[name] = np.where(last < 0, np.nan, values[np.maximum(last, 0)])
        return found

    def over(self, trace: Trace, rig: Rig) -> Trace:
        """A trace with these inputs on top, up to its end."""
        times = self.times[self.times <= trace.duration_us]
        if not len(times):
            return trace
        merged = np.union1d(trace.times, times)
        before = np.searchsorted(trace.times, merged, "right") - 1
        ours = np.searchsorted(times, merged, "right") - 1
        channels: dict[str, Floats] = {}
        for name in {**trace.channels, **self.held}:
            column = trace.channels.get(name)
            base = np.full(len(merged), np.nan) if column is None else column[np.maximum(before, 0)]
            base = np.where(before < 0, np.nan, base)
            if name in self.held:
                hand = np.where(ours < 0, np.nan, self.held[name][np.maximum(ours, 0)])
                base = np.where(np.isnan(hand) | np.isinf(hand), base if column is not None else np.nan, hand)
            channels[name] = base
        for name in self.held:
            if f"{name}.messages" in channels:
                del channels[f"{name}.messages"]
        return Trace(merged, channels, {**trace.texts, **self.texts})

    @property
    def fingerprint(self) -> str:
        """A hash of all that is done; empty when nothing is."""
        columns = {**self.channels, **self.places}
        if self.stop_us is not None:
            columns[STOP] = (self.times == self.stop_us).astype(np.float64)
        return Trace(self.times, columns, self.texts).fingerprint if len(self.times) else ""


def read_inputs(path: Path, rig: Rig, things: Sequence[str] = ()) -> Inputs:
    """The inputs in a CSV file. Raises TraceError with file, row and column."""
    return Values(TraceError, "inputs").file(path, lambda data: inputs_from_csv(data, rig, things))


def inputs_from_csv(data: bytes, rig: Rig, things: Sequence[str] = ()) -> Inputs:
    """The inputs in a CSV text: a header as a trace has, and a row whenever a hand does something.

    An empty cell changes nothing, `-` lets go. Beside sensors of the rig, `NAME.x [cm]` and `NAME.y [cm]` move a thing
    of the floor; `hand.x` and `hand.y` hold a hand there, in front of a range sensor. A 1 under `stop` stops
    everything. Raises TraceError with row and column.
    """
    if len(data) > MOST_INPUTS_BYTES:
        raise TraceError(
            "trace-too-large", f"Inputs have at most {MOST_INPUTS_BYTES:,} bytes.", "Check that these are inputs."
        )
    try:
        rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise TraceError("not-csv", "These inputs are not CSV text.", "Save them as CSV in UTF-8.") from None
    if not rows or not rows[0]:
        raise TraceError("trace-heading", "The inputs have no header.", "Head them: time [s],knob [%]", row_place(1))
    columns = [_column(cell, number, rig, things) for number, cell in enumerate(rows[0], 1)]
    names = [name for name, _, _ in columns]
    if len(set(names)) < len(names):
        raise TraceError("channel-twice", "Two columns have one name.", "Delete one.", row_place(1))
    texts: dict[float, str] = {}
    body = [(number, row) for number, row in enumerate(rows[1:], 2) if row]
    if len(body) > MOST_ROWS:
        raise TraceError(
            "trace-too-large", f"Inputs have at most {MOST_ROWS:,} rows.", "Leave out what changes nothing."
        )
    table = np.array([_cells(row, columns, number, texts) for number, row in body]).reshape(-1, len(columns))
    seconds = columns[0][1].to_base(1.0) * table[:, 0]
    times_in_reach(seconds)
    times = np.rint(seconds * 1e6).astype(np.int64)
    times_rise(times)
    values = {name: table[:, index] for index, name in enumerate(names) if index}
    places = {name: column for name, column in values.items() if _thing(name, things)}
    stopped = np.flatnonzero(values.pop(STOP, np.empty(0)) == 1.0)
    channels = {name: column for name, column in values.items() if name not in places}
    return Inputs(times, channels, places, texts, int(times[stopped[0]]) if len(stopped) else None)


def _thing(name: str, things: Sequence[str]) -> bool:
    thing, _, axis = name.rpartition(".")
    return axis in ("x", "y") and (thing in things or thing == "hand")


def _column(cell: str, number: int, rig: Rig, things: Sequence[str]) -> tuple[str, Any, Any]:
    match = HEADING.fullmatch(cell)
    if match is None:
        message = f'"{cell[:40]}" is not a heading; a name and its unit in brackets belong here.'
        raise TraceError("trace-heading", message, "Write for example: time [s],knob [%]", row_place(1, number))
    name, unit_text = match.group(1), match.group(2)
    if number == 1:
        return time_column(name, unit_text)
    if name == STOP and not unit_text:
        return name, None, None
    if _thing(name, things):
        unit = unit_from_text(unit_text or "cm")
        if unit is None or unit.dimension != LENGTH:
            raise TraceError("channel-unit", "A place is a length.", f"Head it: {name} [cm]", row_place(1, number))
        return name, unit, None
    part = rig.channels.get(name)
    if part is not None and (part.is_output or part.follows == "motors"):
        sensors = list(rig.reads)
        message = f'A hand cannot move "{name}".'
        raise TraceError("channel-without-part", message, f"It moves {listed(sensors)}.", row_place(1, number))
    if part is None and "." in name and nearest(name, [f"{thing}.{axis}" for thing in things for axis in "xy"]):
        message = f'There is nothing on this floor that "{name}" could move.'
        remedy = f"What moves is {listed(things) or 'nothing but a hand'}."
        raise TraceError("channel-without-part", message, remedy, row_place(1, number))
    return channel_column(name, unit_text, rig, number)


def _cells(row: list[str], columns: list[tuple[str, Any, Any]], number: int, texts: dict[float, str]) -> list[float]:
    if len(row) != len(columns):
        message = f"This row has {len(row)} cells, and the header has {len(columns)}."
        raise TraceError("row-length", message, "Fill the row up with empty cells.", row_place(number))
    found = []
    for index, (cell, (name, unit, part)) in enumerate(zip(row, columns, strict=True)):
        text = cell.strip()
        if index and text == "":
            found.append(np.nan)
        elif name == STOP:
            if text != "1":
                message = f'"{cell[:40]}" says nothing here.'
                raise TraceError("bad-cell", message, "Write 1 where everything stops.", row_place(number, index + 1))
            found.append(1.0)
        elif index and text == LET_GO:
            found.append(GONE)
        elif part is not None and part.dimension == TEXT:
            code = text_code(text[:MOST_LETTERS])
            texts[code] = text[:MOST_LETTERS]
            found.append(code)
        elif NUMBER.fullmatch(text) and text != "nan":
            value = float(text)
            if part is not None and part.dimension == TRUTH and value not in (0.0, 1.0):
                message = f'"{name}" is a contact, and {text} is neither 0 nor 1.'
                raise TraceError("bad-contact", message, "Write 1 for pressed.", row_place(number, index + 1))
            found.append(unit.to_base(value) if unit is not None and index else value)
        else:
            message = f'"{cell[:40]}" is not a number; a plain number such as 12.5 was expected for "{name}".'
            remedy = "Leave the cell empty when nothing is done, or write - to let go."
            raise TraceError("bad-cell", message, remedy, row_place(number, index + 1))
    return found


def inputs_to_csv(inputs: Inputs, rig: Rig) -> str:
    """Inputs as CSV text, in the rig's units."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    heads, columns = ["time [s]"], [[f"{tick / 1e6:.6f}".rstrip("0").rstrip(".") for tick in inputs.times.tolist()]]
    for name, values in {**inputs.channels, **inputs.places}.items():
        part = rig.channels.get(name)
        unit = unit_from_text("cm") if part is None else part.unit
        heads.append(f"{name} [{unit.word}]" if unit and unit.word else name)
        is_text = part is not None and part.dimension == TEXT
        columns.append([_shown(value, unit, inputs.texts if is_text else None) for value in values.tolist()])
    if inputs.stop_us is not None:
        heads.append(STOP)
        columns.append(["1" if tick == inputs.stop_us else "" for tick in inputs.times.tolist()])
    writer.writerow(heads)
    writer.writerows(zip(*columns, strict=True))
    return out.getvalue()


def _shown(value: float, unit: Any, texts: Mapping[float, str] | None) -> str:
    if value != value:
        return ""
    if value == GONE:
        return LET_GO
    if texts is not None:
        return texts.get(value, "")
    return f"{unit.from_base(value) if unit else value:.6g}"
