"""Values of a recording that cannot be: past what a sensor can read, or numbers of a converter in a column of %."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from geduld.language.quantities import RATIO, TEXT, TRUTH, show
from geduld.rig.model import Part, Rig
from geduld.worlds.trace import Floats, Trace

CONVERTERS = (255, 1023, 4095)
RAW_SHARE = 0.02  # of the values: so many past the end are not single mistakes


@dataclass(frozen=True)
class Doubt:
    """Values of one channel that cannot be: how `many` of how many, and what they are, as a sentence."""

    channel: str
    many: int
    of: int
    sentence: str


def doubts(trace: Trace, rig: Rig) -> list[Doubt]:
    """What cannot be in a recording, channel by channel."""
    found = []
    for name, values in trace.channels.items():
        part = rig.channels.get(name)
        if part is not None and (doubt := _doubt(part, values, trace)):
            found.append(doubt)
    return found


def without_doubtful(trace: Trace, rig: Rig) -> Trace:
    """The same recording; what cannot be is absent."""
    channels = dict(trace.channels)
    for doubt in doubts(trace, rig):
        part, values = rig.channels[doubt.channel], channels[doubt.channel]
        channels[doubt.channel] = np.where(_outside(part, values), np.nan, values)
    return Trace(trace.times, channels, trace.texts)


def possible(part: Part) -> tuple[float, float]:
    """The least and the greatest value that a channel can have, in base units."""
    if part.is_output:
        return part.bounds
    low = part.kind.low if part.low is None or part.kind.axes else min(part.low, part.kind.low)
    greatest = 100.0 if part.dimension == RATIO else math.inf
    return low, greatest if part.high is None or part.kind.axes else part.high


def _outside(part: Part, values: Floats) -> NDArray[np.bool_]:
    low, high = possible(part)
    spare = 1e-9 * max(1.0, abs(high) if math.isfinite(high) else 1.0)
    outside: NDArray[np.bool_] = (values < low - spare) | (values > high + spare)
    return outside


def _doubt(part: Part, values: Floats, trace: Trace) -> Doubt | None:
    if part.dimension in (TEXT, TRUTH):
        return None
    outside = _outside(part, values)
    many, of = int(outside.sum()), int((~np.isnan(values)).sum())
    if not many:
        return None
    low, high = possible(part)
    place = int(outside.argmax())
    first = f"the first, {_shown(part, float(values[place]))}, at {show(trace.times[place] / 1e6, 's')}"
    ends = f"{_shown(part, low)} to {_shown(part, high)}" if math.isfinite(high) else f"{_shown(part, low)} or more"
    if math.isinf(low):
        ends = f"at most {_shown(part, high)}"
    sentence = f"{part.name}: {many:,} of {of:,} values cannot be ({first}); it reads {ends}."
    most = _converter(part, values, many)
    if most:
        sentence += f" They look like a converter's whole numbers, 0 to {most}, not like %."
        sentence += (
            f' Head the column "{part.name}.raw", and give the part "raw": [0, {most}].' if not part.is_output else ""
        )
    return Doubt(part.name, many, of, sentence)


def _converter(part: Part, values: Floats, many: int) -> int:
    """The greatest number of the converter that a column of % probably comes from; 0 where it is none."""
    known = values[~np.isnan(values)]
    if part.dimension != RATIO or part.scaled or many < RAW_SHARE * len(known) or (known != np.round(known)).any():
        return 0
    return next((most for most in CONVERTERS if float(known.max()) <= most), 0) if float(known.min()) >= 0 else 0


def _shown(part: Part, value: float) -> str:
    return show(part.unit.from_base(value), part.unit.word, 1) if part.unit else show(value)
