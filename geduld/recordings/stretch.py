"""What a stretch of a trace is like: each channel's least, greatest and mean, its noise, what is missing."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from geduld.language.quantities import TEXT, TRUTH
from geduld.rig.model import Part, Rig
from geduld.worlds.noise import noise_of
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import COUNTS


@dataclass(frozen=True)
class Channel:
    """One channel in a stretch; values in the part's unit, None where there is no reading.

    `noise` is one sample's standard deviation. `absent` is the share of samples without a reading, 0 to 1. `changes` is
    how often a contact was pressed, or how many messages came; None for others.
    """

    name: str
    unit: str
    least: float | None
    greatest: float | None
    mean: float | None
    noise: float | None
    absent: float
    changes: int | None


@dataclass(frozen=True)
class Stretch:
    """A stretch of a trace, in s: its samples, their usual rate in Hz, gaps of more than `GAP` usual steps as pairs of
    start and end, how many of those there are, and its channels."""

    start: float
    stop: float
    samples: int
    rate: float | None
    gaps: tuple[tuple[float, float], ...]
    gap_count: int
    channels: tuple[Channel, ...]


GAP, MOST_GAPS = 3.5, 50


def stretch_of(trace: Trace, rig: Rig, start: int, stop: int) -> Stretch:
    """The samples from one tick to another, both included."""
    first, last = np.searchsorted(trace.times, start, "left"), np.searchsorted(trace.times, stop, "right")
    times = trace.times[first:last]
    steps = np.diff(times)
    usual = float(np.median(steps)) if len(steps) else 0.0
    wide = np.flatnonzero(steps > GAP * usual) if usual else np.empty(0, np.int64)
    gaps = tuple((times[at] / 1e6, times[at + 1] / 1e6) for at in wide[:MOST_GAPS].tolist())
    channels = tuple(
        _channel(rig.channels[name], trace, int(first), int(last))
        for name in trace.channels
        if name in rig.channels and not name.endswith(COUNTS)
    )
    rate = 1e6 / usual if usual else None
    return Stretch(start / 1e6, stop / 1e6, len(times), rate, gaps, len(wide), channels)


def _channel(part: Part, trace: Trace, first: int, last: int) -> Channel:
    values = trace.channels[part.name][first:last]
    known = values[~np.isnan(values)]
    absent = 1 - len(known) / len(values) if len(values) else 0.0
    if part.dimension in (TEXT, TRUTH):
        counts = trace.column(f"{part.name}.{'messages' if part.dimension == TEXT else 'presses'}")
        assert counts is not None
        before = counts[first - 1] if first else 0.0
        changes = int(counts[last - 1] - before) if last > first else 0
        share = None if part.dimension == TEXT or not len(known) else float(known.mean())
        return Channel(part.name, "", None, None, share, None, absent, changes)
    if not len(known):
        return Channel(part.name, part.unit_word, None, None, None, None, absent, None)
    shown = part.unit.from_base(known) if part.unit else known
    least, greatest, mean = float(shown.min()), float(shown.max()), float(shown.mean())
    return Channel(part.name, part.unit_word, least, greatest, mean, noise_of(shown), absent, None)
