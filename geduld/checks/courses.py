"""Truths over a run, each on the instants at which it can change, and how they are laid over each other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from geduld.worlds.signal import Signal
from geduld.worlds.trace import NEVER, Floats, Ticks

T = TypeVar("T", bound=np.generic)
Index = NDArray[np.intp]
Truths = NDArray[np.bool_]
Spans = tuple[Ticks, Ticks]  # stretches of a run in order: their first ticks, and the first ones behind them


_TAIL = np.array((NEVER, NEVER))


class Course:
    """A truth over a run: `true[k]` holds from `ticks[k]` until the next tick; the last one to the run's end.

    `ticks` rise from 0. The margin is in `unit`; it is worked out by `measure` when it is asked for, and endless where
    there is no `measure`: a truth that has no distance from where it would change.
    """

    __slots__ = ("_edges", "_margin", "_measure", "lasted", "ticks", "true", "unit")

    def __init__(
        self, ticks: Ticks, true: Truths, unit: str, lasted: int, measure: Callable[[], Floats] | None
    ) -> None:
        self.ticks = ticks
        self.true = true
        self.unit = unit
        self.lasted = lasted
        self._measure = measure
        self._margin: Floats | None = None
        self._edges: Ticks | None = None

    @property
    def margin(self) -> Floats:
        """The margin at each tick; infinite where the truth depends on contacts alone or on mixed units."""
        if self._margin is None:
            self._margin = sure(self.true) if self._measure is None else self._measure()
        return self._margin

    @property
    def has_distance(self) -> bool:
        """Whether its margin says more than whether it is true."""
        return self._measure is not None

    def known_until(self, tick: int, then: bool) -> Course:
        """The same up to an instant; behind it the truth is as said, with no distance from where it would change."""
        count = self.place(tick) + 1
        ticks, true = np.append(self.ticks[:count], tick + 1), np.append(self.true[:count], then)
        end = np.inf if then else -np.inf
        measure = (lambda: np.append(self.margin[:count], end)) if self.has_distance else None
        return Course(ticks, true, self.unit, self.lasted, measure)

    @property
    def spans(self) -> Spans:
        """The stretches of the truth; one that is open at the run's end stops behind it."""
        edges = self._edged()
        return edges[:-2:2], edges[1:-2:2]

    def _edged(self) -> Ticks:
        """The edges of all stretches, and of one that begins when the run is long over."""
        if self._edges is None:
            true, behind = self.true, self.lasted + 1
            edges = self.ticks[(true[1:] != true[:-1]).nonzero()[0] + 1]
            tail = np.array((behind, NEVER, NEVER)) if true[-1] else _TAIL
            self._edges = np.concatenate((self.ticks[:1], edges, tail) if true[0] else (edges, tail))
        return self._edges

    def place(self, tick: int) -> int:
        """The index of what holds at an instant."""
        return int(self.ticks.searchsorted(tick, "right")) - 1

    def first(self, since: int = 0) -> int | None:
        """The first tick from `since` on at which the truth holds."""
        if not since:
            return int(self.ticks[self.true.argmax()]) if self.true.any() else None
        starts, stops = self.spans
        index = int(stops.searchsorted(since, "right"))
        return max(int(starts[index]), since) if index < len(starts) else None

    def parted(self, wanted: bool, spans: Spans) -> Ticks:
        """For each stretch the first tick in it at which the truth is not as wanted; the one behind it if none."""
        begins, behinds = spans
        edges = self._edged()
        index = edges[1::2].searchsorted(begins, "right")
        starts = edges[::2][index]
        if wanted:
            return np.where(starts <= begins, np.minimum(edges[1::2][index], behinds), begins)
        return np.minimum(np.maximum(starts, begins), behinds)

    def worst(self, wanted: bool, spans: Spans) -> Floats:
        """For each stretch the least margin of the truth, or of its opposite where that is wanted."""
        begins, behinds = spans
        margin, count = self.margin, len(begins)
        bounds = np.empty(2 * count, np.intp)
        bounds[::2] = self.ticks.searchsorted(begins, "right") - 1
        bounds[1::2] = self.ticks.searchsorted(behinds, "left")
        if count > 1 and bounds[-3] == len(margin):  # a stretch must end before the margins do
            margin = np.append(margin, 0.0)
        elif bounds[-1] == len(margin):
            bounds = bounds[:-1]
        return np.minimum.reduceat(margin, bounds)[::2] if wanted else -np.maximum.reduceat(margin, bounds)[::2]

    def nearest(self, wanted: bool, begin: int, behind: int) -> tuple[float, int]:
        """The least margin in a stretch, and its tick, the first one if there are several."""
        start, stop = self.place(begin), int(self.ticks.searchsorted(behind, "left"))
        inside = self.margin[start:stop]
        place = int(inside.argmin() if wanted else inside.argmax())
        margin = float(inside[place])
        return margin if wanted else -margin, max(int(self.ticks[start + place]), begin)


def sure(true: Any) -> Any:
    """The margin of a truth that has no distance from where it would change."""
    margin = np.full(np.shape(true), -np.inf)
    np.copyto(margin, np.inf, where=true)  # many times quicker than np.where
    return margin


def from_zero(signal: Signal, lasted: int) -> tuple[Ticks, Floats]:
    """A signal's instants and values from 0 to the end of a run; absent before the first."""
    times, values = signal.times, signal.values
    if len(times) and times[-1] > lasted:
        last = int(times.searchsorted(lasted, "right"))
        times, values = times[:last], values[:last]
    if len(times) and times[0] < 0:
        first = max(int(times.searchsorted(0, "right")) - 1, 0)
        times, values = np.maximum(times[first:], 0), values[first:]
    if not len(times) or times[0] > 0:
        times, values = np.concatenate(([0], times)), np.concatenate(([np.nan], values))
    return times, values


def on_one_axis(axes: Sequence[Ticks]) -> tuple[Ticks, list[Index | None]]:
    """All instants of several axes that rise from 0, and for each axis which of its places holds at each of them.

    None stands for an axis that is all of it.
    """
    ticks, places = axes[0], [None]  # type: tuple[Ticks, list[Index | None]]
    for axis in axes[1:]:
        if axis is ticks or (len(axis) == len(ticks) and bool((axis == ticks).all())):
            places.append(None)
            continue
        ticks, of_one, of_other = _two(ticks, axis)
        places = [_then(place, of_one) for place in places]
        places.append(of_other)
    return ticks, places


def _two(one: Ticks, other: Ticks) -> tuple[Ticks, Index | None, Index | None]:
    if len(one) < len(other):
        ticks, of_other, of_one = _two(other, one)
        return ticks, of_one, of_other
    behind = one.searchsorted(other, "right")
    new = one[behind - 1] != other
    at = behind[new]
    if not len(at):
        return one, None, _held(behind - 1, len(one))
    ticks = np.insert(one, at, other[new])
    first = np.arange(len(one))
    return ticks, np.insert(first, at, at - 1), _held(behind - 1 + new.cumsum(), len(ticks))


def _held(starts: Index, count: int) -> Index:
    """For each of `count` instants the number of the last start at or before it."""
    lengths = np.empty(len(starts), np.intp)
    lengths[:-1] = starts[1:] - starts[:-1]
    lengths[-1] = count - starts[-1]
    return np.arange(len(starts)).repeat(lengths)


def _then(place: Index | None, then: Index | None) -> Index | None:
    if place is None or then is None:
        return then if place is None else place
    return place[then]


def taken(values: NDArray[T], place: Index | None) -> NDArray[T]:
    """Values on an axis, as they hold on a finer one."""
    return values if place is None else values[place]
