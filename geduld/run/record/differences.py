"""Where two runs command outputs differently."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from geduld.language.quantities import ROUNDING, show
from geduld.rig.model import Part
from geduld.run.record.record import Record

MOST = 200


@dataclass(frozen=True)
class Difference:
    """A stretch, from one tick up to another, in which an output differs: its value here and there, in base units.

    Where the two runs last differently, what follows the shorter one's end is no difference.
    """

    part: str
    start: int
    stop: int
    here: float
    there: float


def differences(record: Record, other: Record, most: int = MOST) -> tuple[Difference, ...]:
    """Where `other` commands outputs otherwise than `record`, by their starts: `most` at most, the first ones."""
    end = min(record.lasted, other.lasted)
    found = [item for name in record.commands if name in other.commands for item in _of(record, other, name, end)]
    return tuple(sorted(found, key=lambda item: (item.start, item.part))[:most])


def _of(record: Record, other: Record, name: str, end: int) -> list[Difference]:
    here, there = record.commands[name], other.commands[name]
    ticks = np.union1d(np.union1d(here.times, there.times), [0])
    ticks = ticks[ticks < end]
    a, b = here.at(ticks), there.at(ticks)
    differs = ~((np.abs(a - b) <= ROUNDING) | (np.isnan(a) & np.isnan(b)))
    edges = np.flatnonzero(np.diff(differs.astype(np.int8), prepend=0, append=0))
    stops = np.append(ticks, end)
    # one stretch for as long as they differ, with the values at its start
    return [
        Difference(name, int(ticks[first]), int(stops[last]), float(a[first]), float(b[first]))
        for first, last in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True)
    ]


def difference_words(item: Difference, part: Part) -> str:
    """A difference as a sentence: `From 11.85 s to 12.3 s left is 20 %, there 45 %.`"""

    def value(base: float) -> str:
        if math.isnan(base):
            return "not set"
        return show(part.unit.from_base(base) if part.unit else base, part.unit_word, 2)

    stretch = f"From {show(item.start / 1e6, 's', 2)} to {show(item.stop / 1e6, 's', 2)}"
    return f"{stretch} {item.part} is {value(item.here)}, there {value(item.there)}."
