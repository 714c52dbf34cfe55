"""`X matches reference.X within tolerance, shifted by at most T`."""

from __future__ import annotations

import math

import numpy as np

from geduld.checks.binder import BoundCheck
from geduld.checks.evidence import seconds, span, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Window
from geduld.language.quantities import show
from geduld.run.record import Signal
from geduld.worlds.trace import Floats, Ticks


def matches(check: BoundCheck, timeline: Timeline) -> list[Finding]:
    """At every instant of either run, the other had nearly that value at some instant at most T earlier or later.

    Both ways, so that neither a pulse that is missing nor one that is too much can hide. Past the end of a run its last
    value holds. The margin is what the tolerance leaves at the worst instant. Absent matches absent alone.
    """
    value, other = check.looks
    shift = check.times[0] if check.times else 0
    lasted = timeline.record.lasted
    ours, theirs = timeline.signal(value.term), timeline.signal(other.term)
    until = min(timeline.horizon, lasted)
    apart = [_apart(ours, theirs, shift, lasted, until), _apart(theirs, ours, shift, lasted, until)]
    broken = [int(ticks[gaps > check.tolerance][0]) for ticks, gaps in apart if (gaps > check.tolerance).any()]
    if not broken and until < lasted:
        return [uncertain(0, lasted, timeline.horizon, 0)]
    worst = [(float(gaps.max()), int(ticks[gaps.argmax()])) for ticks, gaps in apart if len(ticks)]
    distance, at = max(worst, key=lambda item: item[0])
    unit = value.term.dimension.unit
    margin = check.tolerance - distance
    where = min(broken, default=at)
    was = timeline.values_at(value, where)
    wanted = timeline.values_at(other, where)
    moved = f", {span(shift)} earlier and later too" if shift else ""
    if broken:
        because = f"At {seconds(where)} {was}, and {wanted}{moved}: not within {show(check.tolerance, unit)}."
        return [Finding(Window(0, lasted, FAIL), margin if math.isfinite(margin) else -math.inf, unit, where, because)]
    because = f"Farthest apart at {seconds(where)}, by {show(distance, unit, 2)}: {was}, and {wanted}."
    return [Finding(Window(0, lasted, PASS), margin, unit, where, because)]


def _apart(ours: Signal, theirs: Signal, shift: int, lasted: int, until: int) -> tuple[Ticks, Floats]:
    """How far our values are from all that theirs are within the shift, wherever that is known by `until`."""
    ticks = _instants(ours, theirs, shift, lasted)
    ticks = ticks[np.minimum(ticks + shift, lasted) <= until]
    values = ours.at(ticks)
    first = np.searchsorted(theirs.times, np.maximum(ticks - shift, 0), "right") - 1
    last = np.searchsorted(theirs.times, np.minimum(ticks + shift, lasted), "right")
    gaps = [
        _nearest(value, theirs.values[max(0, start) : stop], start < 0)
        for value, start, stop in zip(values.tolist(), first.tolist(), last.tolist(), strict=True)
    ]
    return ticks, np.array(gaps, np.float64)


def _instants(ours: Signal, theirs: Signal, shift: int, lasted: int) -> Ticks:
    """Every tick from which on our value or what theirs may be is another."""
    ticks = np.unique(np.concatenate(([0, lasted], ours.times, theirs.times - shift, theirs.times + shift)))
    return ticks[(ticks >= 0) & (ticks <= lasted)]


def _nearest(value: float, candidates: Floats, or_absent: bool) -> float:
    if value != value:
        return 0.0 if or_absent or not len(candidates) or bool(np.isnan(candidates).any()) else math.inf
    gaps = np.abs(candidates - value)
    gaps = gaps[~np.isnan(gaps)]
    return float(gaps.min()) if len(gaps) else math.inf
