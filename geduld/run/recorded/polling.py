"""All passes of a loop that only looks and commands at once, with the record that going round would make."""

from __future__ import annotations

from bisect import bisect_right
from functools import partial
from typing import Any

import numpy as np

from geduld.run.program.loops import Poll
from geduld.run.record.journal import Journal
from geduld.run.recorded.passes import Column, Passes
from geduld.run.search.columns import as_array
from geduld.run.search.samples import Samples
from geduld.worlds.trace import Floats, Ticks, Trace

_FIRST_CHUNK = 8_192


class Polling:
    """One stateless loop from an instant on."""

    def __init__(self, poll: Poll, trace: Trace, journal: Journal, kept: dict[Any, Any], period: int) -> None:
        self.poll = poll
        self.trace = trace
        self.journal = journal
        self.kept = kept
        self.period = period

    def run(self, now: int, count: int) -> tuple[int, bool]:
        """Goes round at most `count` times: says how often, and whether the loop was left."""
        done, size = 0, _FIRST_CHUNK
        while done < count:
            ticks, places = self._passes(now + done * self.period, min(count - done, size))
            look = Samples(self.trace, places, ticks, self.kept)
            left = self._left_at(look, len(ticks))
            if left is not None:
                look.ticks = ticks[:left]
                look.places = slice(places.start, places.start + left) if isinstance(places, slice) else places[:left]
            if len(look.ticks):
                self._command(Passes(self.poll.loop, look), now)
            done += len(look.ticks)
            if left is not None:
                return done, True
            size *= 4
        return done, False

    def _passes(self, start: int, count: int) -> tuple[Ticks, slice | Ticks]:
        """The instants of some passes, and the samples that hold then: a slice where they are the samples' own."""
        times = self.trace.times
        first = bisect_right(self.trace.times_view, start) - 1
        if self.trace.period == self.period and times[first] == start and first + count <= len(times):
            return times[first : first + count], slice(first, first + count)
        ticks = start + np.arange(count, dtype=np.int64) * self.period
        return ticks, times.searchsorted(ticks, "right") - 1

    def _left_at(self, look: Samples, count: int) -> int | None:
        """The pass at which the loop is left; it is not made."""
        if self.poll.value is None:
            return None
        holds = as_array(self.poll.value(look), count)
        leaves = np.logical_not(holds) if self.poll.form == "while" else holds
        first = int(leaves.argmax())
        return first if leaves[first] else None

    def _command(self, passes: Passes, now: int) -> None:
        """Commands the outputs at the instants of the passes, of which the first may be this very instant."""
        journal = self.journal
        made: dict[Any, tuple[Ticks, Floats]] = {}
        for part, tree in passes.loop.trees.items():
            bounds = journal.parts[part].bounds
            key = (id(tree), bounds)
            if key not in made:
                made[key] = _changes(passes.column(tree), passes.look.ticks, bounds)
            ticks, levels = made[key]
            if not len(ticks):
                continue
            first = float(levels[0])
            if ticks[0] == now:
                journal.put(part, first, now, 0)
            skip = int(ticks[0] == now or first == journal.levels[part][-1])
            journal.put_changes(part, ticks[skip:], levels[skip:])
            journal.polled(part, partial(passes.set_by, part))
        if passes.loop.worked:
            for tick, line, part in passes.absent():
                journal.absent(tick, line, part)


def _changes(column: Column, ticks: Ticks, bounds: tuple[float, float]) -> tuple[Ticks, Floats]:
    """The first pass in which a column sets its output, and those in which it changes it, with what it is then."""
    levels = as_array(column.values, len(ticks))
    if column.table is not None:
        ticks, places = _changed(ticks, levels)
        levels = column.table.values.take(places)
        if column.table.differ and bounds[0] <= column.table.least and column.table.greatest <= bounds[1]:
            return ticks, levels
    if column.touched is not True:
        touched = as_array(column.touched, len(ticks))
        ticks, levels = ticks[touched], levels[touched]
    if not len(levels):
        return ticks, levels
    ticks, levels = _changed(ticks, levels)
    if levels.min() < bounds[0] or levels.max() > bounds[1]:
        ticks, levels = _changed(ticks, np.minimum(np.maximum(levels, bounds[0]), bounds[1]))
    return ticks, levels


def _changed(ticks: Ticks, levels: Any) -> tuple[Ticks, Any]:
    """The first level, and each that is not the one before."""
    differs = np.empty(len(levels), np.bool_)
    differs[0] = True
    np.not_equal(levels[1:], levels[:-1], out=differs[1:])
    places = differs.nonzero()[0]
    return ticks[places], levels[places]
