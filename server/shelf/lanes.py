"""Lanes: signals as points to draw, never more than a screen can show."""

from __future__ import annotations

from typing import Any

import numpy as np
from drf_spectacular.utils import OpenApiParameter
from rest_framework.exceptions import ValidationError

from geduld.language.quantities import TEXT, Unit
from geduld.rig.model import Part, Rig
from geduld.run.record.record import Poses
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import COUNTS

MOST_COLUMNS = 4_000
STRETCH = [
    OpenApiParameter("from", float, description="start in seconds (default 0)"),
    OpenApiParameter("to", float, description="end in seconds (default the end)"),
    OpenApiParameter("columns", int, description="how many columns the screen has (default 1200)"),
]
MOST_TEXTS = 500
MOST_POSES = 2_500


def lanes(trace: Trace, rig: Rig, start: int, stop: int, columns: int) -> list[dict[str, Any]]:
    """Every reading between two ticks, as lanes to draw."""
    return [
        texts(trace, rig.channels[name], start, stop)
        if rig.channels[name].dimension == TEXT
        else lane(Signal(trace.times, values), name, rig.channels[name].unit, start, stop, columns)
        for name, values in trace.channels.items()
        if not name.endswith(COUNTS) and name in rig.channels
    ]


def ride(pose: Poses) -> dict[str, Any]:
    """Where the robot and the things were, to be drawn: times in s, places in cm, headings in deg.

    Standing still takes two points, and a ride at most a few thousand.
    """
    things = {name: where for name, where in pose.things.items() if not np.isnan(where).all()}
    values = np.column_stack([pose.values, *things.values()])
    values = np.concatenate([values[:, :2] * 100, values[:, 2:3], values[:, 3:] * 100], axis=1)
    rows = np.arange(len(values))
    rows = rows[:: max(1, len(rows) // MOST_POSES)]
    rows = np.append(rows, len(values) - 1) if rows[-1] != len(values) - 1 else rows
    shown = np.round(values[rows], 3)
    same = (shown[1:] == shown[:-1]) | (np.isnan(shown[1:]) & np.isnan(shown[:-1]))
    still = same.all(axis=1)
    keep = np.ones(len(rows), np.bool_)
    keep[1:-1] = ~(still[:-1] & still[1:])
    shown, seconds = shown[keep], pose.times[rows][keep] / 1e6
    columns = [[None if value != value else value for value in column] for column in shown.T.tolist()]
    return {
        "times": seconds.tolist(),
        "x": columns[0],
        "y": columns[1],
        "heading": columns[2],
        "things": {name: {"x": columns[3 + 2 * k], "y": columns[4 + 2 * k]} for k, name in enumerate(things)},
    }


def lane(signal: Signal, name: str, unit: Unit | None, start: int, stop: int, columns: int) -> dict[str, Any]:
    """A signal between two ticks, in its unit, as `times` (s) and `values` (null where absent).

    What only repeats is left out. Up to two values a column are kept as they are; more become each column's least and
    greatest value, so that no spike is lost. The value that holds at the start comes first.
    """
    first = max(0, int(np.searchsorted(signal.times, start, "right")) - 1)
    last = int(np.searchsorted(signal.times, stop, "right"))
    times, values = signal.times[first:last], signal.values[first:last]
    new = np.ones(len(values), np.bool_)
    new[1:] = (values[1:] != values[:-1]) & ~(np.isnan(values[1:]) & np.isnan(values[:-1]))
    times, values = times[new], values[new]
    if len(times) > 2 * columns:
        times, values = _thinned(times, values, columns)
    shown = unit.from_base(1.0) * values if unit and unit.factor != 1 else values
    return {
        "part": name,
        "times": (np.maximum(times, start) / 1e6).tolist(),
        "values": [None if value != value else round(value, 4) for value in shown.tolist()],
    }


def texts(trace: Trace, part: Part, start: int, stop: int) -> dict[str, Any]:
    """A radio's messages between two ticks: when each comes, also one like the last, and its text."""
    first = max(0, int(np.searchsorted(trace.times, start, "right")) - 1)
    last = int(np.searchsorted(trace.times, stop, "right"))
    times, codes = trace.times[first:last], trace.channels[part.name][first:last]
    count = trace.column(f"{part.name}.messages")
    assert count is not None
    new = np.ones(len(codes), np.bool_)
    new[1:] = np.diff(count[first:last]) != 0
    return {
        "part": part.name,
        "times": (np.maximum(times[new], start) / 1e6).tolist()[:MOST_TEXTS],
        "values": [],
        "texts": [trace.texts.get(code) for code in codes[new].tolist()][:MOST_TEXTS],
    }


def _thinned(times: Any, values: Any, columns: int) -> tuple[Any, Any]:
    """Of each of so many stretches the least and the greatest value, and the first absent one."""
    width = -(-len(values) // columns)
    padded = np.append(values, np.full(-len(values) % width, np.nan)).reshape(-1, width)
    absent = np.isnan(padded)
    starts = np.arange(len(padded)) * width
    least = starts + np.where(absent, np.inf, padded).argmin(axis=1)
    greatest = starts + np.where(absent, -np.inf, padded).argmax(axis=1)
    gaps = starts + absent.argmax(axis=1)
    keep = np.unique(np.concatenate(([0], least, greatest, gaps[absent.any(axis=1)])))
    keep = keep[keep < len(values)]
    return times[keep], values[keep]


def window(values: Any, end: int) -> tuple[int, int, int]:
    """The stretch to draw, in ticks, and its columns. Raises ValidationError for what is not a number."""
    try:
        start = round(float(values.get("from") or 0) * 1e6)
        stop = round(float(values["to"]) * 1e6) if values.get("to") else end
        columns = int(values.get("columns") or 1200)
    except (TypeError, ValueError, OverflowError):
        raise ValidationError({"from": ["from, to and columns are numbers."]}) from None
    start = min(max(0, start), end)
    return start, min(max(start + 1, stop), end), min(max(2, columns), MOST_COLUMNS)
