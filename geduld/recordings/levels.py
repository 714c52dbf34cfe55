"""Suggests a threshold between the two levels of a reading, and the slack that its noise needs.

The levels are told apart by the split of the readings' histogram that leaves the least variance on both of its sides
(N. Otsu, "A threshold selection method from gray-level histograms", IEEE Trans. SMC 9 (1979), 62-66).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from geduld.errors import TraceError
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.rig.model import Part
from geduld.worlds.noise import noise_of
from geduld.worlds.trace import Floats

BINS = 80
_FINE = 512
# The share of the variance that lies between the two sides: even readings, as of a steady approach, have 0.75 there.
_TWO_LEVELS = 0.82
_SPREADS_APART = 6.0


@dataclass(frozen=True)
class Levels:
    """What a channel's readings tell about a threshold; all values in the part's unit.

    `edges` of shape (BINS + 1,) and `counts` of shape (BINS,) are their histogram. `low` and `high` are the two levels,
    `threshold` lies between them, `slack` is how far apart on and off should be: None where there is one level alone.
    `noise` is one sample's standard deviation. `because` says why.
    """

    edges: tuple[float, ...]
    counts: tuple[int, ...]
    noise: float
    low: float | None
    high: float | None
    threshold: float | None
    slack: float | None
    because: str


def levels_of(values: Floats, part: Part) -> Levels:
    """The levels in some readings of a part. Raises TraceError for a channel that has none."""
    if part.dimension in (TEXT, TRUTH):
        message = f'"{part.name}" has no numbers: a threshold has no meaning for it.'
        raise TraceError("no-levels", message, "Ask whether it is pressed, or what it says.")
    known = values[np.isfinite(values)]
    if not len(known):
        raise TraceError("no-levels", f'"{part.name}" has no reading here.', "Choose a longer stretch.")
    shown = part.unit.from_base(known) if part.unit else known
    unit = part.unit_word
    counts, edges = np.histogram(shown, BINS)
    noise = noise_of(shown)
    plain = (tuple(edges.tolist()), tuple(counts.tolist()), noise)
    least, greatest = float(shown.min()), float(shown.max())
    if least == greatest:
        return Levels(*plain, None, None, None, None, f"It reads {show(least, unit)} all along: there is one level.")
    split, between = _split(shown)
    below, above = shown[shown <= split], shown[shown > split]
    low, high = float(np.median(below)), float(np.median(above))
    spread = max(_spread(below, low), _spread(above, high), noise)
    if between < _TWO_LEVELS or high - low < _SPREADS_APART * spread:
        why = f"Its readings lie between {show(least, unit)} and {show(greatest, unit)}, not on two levels."
        return Levels(
            *plain, None, None, None, None, why + " Choose a stretch that has both, or set the value by hand."
        )
    step = nice((high - low) / 50)
    weights = max(_spread(below, low), 0.1 * spread, 1e-12), max(_spread(above, high), 0.1 * spread, 1e-12)
    middle = (low * weights[1] + high * weights[0]) / (weights[0] + weights[1])
    middle = min(max(middle, low + 0.3 * (high - low)), low + 0.7 * (high - low))
    threshold = round(round(middle / step) * step, 9)
    needed = max(8 * noise, 2 * step)
    slack_step = nice(needed / 5)
    slack = round(min(math.ceil(needed / slack_step) * slack_step, 0.4 * (high - low)), 9)
    share = 100 * len(below) / len(shown)
    why = (
        f"It reads about {show(low, unit, 1)} for {show(share, '%', 0)} of the time, else about {show(high, unit, 1)};"
        f" {show(threshold, unit)} lies between. It trembles by {show(noise, unit, 2)}, so on and off should be"
        f" {show(slack, unit)} apart."
    )
    return Levels(*plain, low, high, threshold, slack, why)


def _split(shown: Floats) -> tuple[float, float]:
    """Where the readings fall into two, and the share of their variance that lies between the two sides."""
    counts, edges = np.histogram(shown, _FINE)
    middles = (edges[1:] + edges[:-1]) / 2
    weight = np.cumsum(counts) / counts.sum()
    moment = np.cumsum(counts * middles) / counts.sum()
    mean = moment[-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        between = (mean * weight - moment) ** 2 / (weight * (1 - weight))
    between[~np.isfinite(between)] = 0.0
    best = np.flatnonzero(between >= between.max() * (1 - 1e-9))
    # where nothing lies between the levels every split is as good: the middle one is taken
    place = int(best[len(best) // 2])
    variance = float((counts * (middles - mean) ** 2).sum() / counts.sum())
    return float(edges[place + 1]), float(between[place] / variance) if variance else 0.0


def _spread(values: Floats, middle: float) -> float:
    """A robust deviation: 1.4826 times the median distance from the middle."""
    return float(1.4826 * np.median(np.abs(values - middle)))


def nice(size: float) -> float:
    """The least of 1, 2 and 5 times a power of ten that is not smaller."""
    power: float = 10.0 ** math.floor(math.log10(size)) if size > 0 else 1.0
    return next(factor * power for factor in (1, 2, 5, 10) if factor * power >= size * (1 - 1e-9))
