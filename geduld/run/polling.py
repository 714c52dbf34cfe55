"""Loops that only look and command: all their passes at once.

A `repeat` whose body sets outputs and decides, but keeps no values and never waits, does in each pass what the
readings of that pass say. Its passes can be worked out as whole columns, with the record that going round one
by one would make.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.run.journal import Journal
from geduld.run.passes import Column, Loop, Passes
from geduld.run.vector import Evaluator, as_array, evaluator
from geduld.run.view import View
from geduld.worlds.trace import Floats, Ticks, Trace

_FIRST_CHUNK = 8_192


def is_stateless(step: terms.Repeat) -> bool:
    """Whether each pass depends on its own instant alone."""
    if step.form == "times" or not step.body or not all(_is_stateless(inner) for inner in step.body):
        return False
    return not any(isinstance(item, terms.Just | terms.Encoder) for term in terms_of(step) for item in term.walk())


def terms_of(step: terms.Repeat) -> Iterator[terms.Term]:
    """Every expression in a loop without state."""
    for inner, _ in terms.walk_steps((step,)):
        if isinstance(inner, terms.Command):
            yield from (value for _, value in inner.settings)
        elif isinstance(inner, terms.Branches):
            yield from (condition for condition, _ in inner.arms if condition is not None)
        elif isinstance(inner, terms.Bands | terms.Repeat) and inner.value is not None:
            yield inner.value


def _is_stateless(step: terms.Step) -> bool:
    if isinstance(step, terms.Command):
        return step.ending is None
    if isinstance(step, terms.Branches):
        return all(_is_stateless(inner) for _, body in step.arms for inner in body)
    if isinstance(step, terms.Bands):
        return step.slack == 0 and all(_is_stateless(inner) for body in terms.bodies(step) for inner in body)
    return isinstance(step, terms.Halt)


def commanded(step: terms.Step) -> Iterator[str]:
    """The outputs a stateless loop may set."""
    for inner, _ in terms.walk_steps((step,)):
        if isinstance(inner, terms.Command):
            yield from (part for part, _ in inner.settings)
        elif isinstance(inner, terms.Halt):
            yield from inner.parts


@dataclass
class Poll:
    """A stateless loop, ready to be run: its body as trees, and when it is left."""

    loop: Loop
    form: str
    value: Evaluator | None

    @classmethod
    def of(cls, step: terms.Repeat) -> Poll:
        """The loop of a repeat without state."""
        return cls(Loop.of(step.body), step.form, None if step.value is None else evaluator(step.value))


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
            look = View(self.trace, places, ticks, self.kept)
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

    def _left_at(self, look: View, count: int) -> int | None:
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
