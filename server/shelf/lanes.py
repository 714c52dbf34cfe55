"""Lanes: signals as points to draw, never more than a screen can show."""

from __future__ import annotations

from typing import Any

import numpy as np

from geduld.rig.model import Part
from geduld.run.record import Signal
from geduld.worlds.trace import Trace

MOST_COLUMNS = 4_000
MOST_TEXTS = 500


def lane(signal: Signal, part: Part, start: int, stop: int, columns: int) -> dict[str, Any]:
    """A signal between two ticks, in the part's unit, as `times` (s) and `values` (null where absent).

    Up to two values a column are kept as they are; more become each column's least and greatest value,
    so that no spike is lost. The value that holds at the start comes first.
    """
    first = max(0, int(np.searchsorted(signal.times, start, "right")) - 1)
    last = int(np.searchsorted(signal.times, stop, "right"))
    times, values = signal.times[first:last], signal.values[first:last]
    if len(times) > 2 * columns:
        times, values = _thinned(times, values, columns)
    shown = part.unit.from_base(1.0) * values if part.unit and part.unit.factor != 1 else values
    return {
        "part": part.name,
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
    edges = np.linspace(0, len(times), columns + 1).astype(np.int64)
    keep: list[int] = [0]
    for start, stop in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
        piece = values[start:stop]
        absent = np.isnan(piece)
        if absent.all():
            keep.append(start)
            continue
        ends = {start + int(np.nanargmin(piece)), start + int(np.nanargmax(piece))}
        if absent.any():
            ends.add(start + int(absent.argmax()))
        keep.extend(sorted(ends))
    keep = sorted(set(keep))
    return times[keep], values[keep]
