"""When a simple condition rises and falls over a whole trace: a table that the trace keeps.

A class is graded on the same few traces, and most programs compare the same readings with the same values. The first
time a condition is asked about, the next samples are looked at; the second time its table is made.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from geduld.language.nodes import node
from geduld.worlds.trace import NEVER, Trace

MOST_TABLES = 64
MOST_SAMPLES = 250_000
MOST_RISES = 5_000
NEAR = 16_384


@dataclass(frozen=True)
class Edges:
    """The samples from which a condition holds, and those from which it no longer does: `falls[k]` ends `rises[k]`."""

    rises: list[int]
    falls: list[int]

    def first(self, trace: Trace, place: int, start: int, held: int) -> int:
        """The first tick from `start` on at which it holds and has held for `held` ticks; NEVER if none."""
        times, rises, falls = trace.times_view, self.rises, self.falls
        index = bisect_right(falls, place)
        while index < len(rises):
            rise = rises[index]
            since = times[rise] if rise > place else start
            if not held:
                return since
            fall = falls[index]
            if fall >= len(times) or times[fall] > since + held:
                return since + held
            index += 1
        return NEVER


@node
class Simple:
    """A reading compared with a value: the channel, how it is compared, and with what."""

    part: str
    sign: str
    compare: Callable[[Any, Any], Any]
    value: float

    @cached_property
    def key(self) -> tuple[str, str, float]:
        """What it is known by in a trace."""
        return self.part, self.sign, self.value

    @cached_property
    def against(self) -> Any:
        """The value in the form that NumPy compares with soonest."""
        return np.array(self.value)

    def first(self, trace: Trace, place: int, start: int, held: int) -> int:
        """The first tick from `start` on at which it holds and has held for `held` ticks; `place` is the sample then.

        NEVER if none; -1 when it was asked about for the first time and is not near.
        """
        known: Edges | None = trace.tables.get(self.key)
        if known is not None:
            return known.first(trace, place, start, held)
        column = trace.channels.get(self.part)
        if column is None:
            return -1
        if self.key in trace.asked and self.key not in trace.tables and self._may_keep(trace):
            edges = self._table(column)
            trace.tables[self.key] = edges if len(edges.rises) <= MOST_RISES else None
            return edges.first(trace, place, start, held)
        trace.asked.add(self.key)
        return self._near(trace, column, place, start, held)

    def _may_keep(self, trace: Trace) -> bool:
        """Whether there is room for one more table: what a trace keeps stays below some 25 MB."""
        return trace.samples <= MOST_SAMPLES and len(trace.tables) < MOST_TABLES

    def _table(self, column: Any) -> Edges:
        holds = np.zeros(len(column) + 2, np.int8)
        holds[1:-1] = self.compare(column, self.value)
        changes = np.diff(holds)
        return Edges(np.flatnonzero(changes == 1).tolist(), np.flatnonzero(changes == -1).tolist())

    def _near(self, trace: Trace, column: Any, place: int, start: int, held: int) -> int:
        """By one look at the next samples, without more ado; -1 when that does not tell."""
        holds = self.compare(column[place : place + NEAR], self.against)
        times, found = trace.times_view, int(holds.argmax())
        if not held and holds[found]:
            return int(times[place + found]) if found else start
        last = place + len(holds) - 1
        while holds[found]:
            since = max(start, times[place + found])
            found += int(holds[found:].argmin())
            if times[place + found] > since + held or (holds[found] and times[last] >= since + held):
                return since + held
            if holds[found]:
                return since + held if last + 1 == trace.samples else -1
            found += int(holds[found:].argmax())
        return NEVER if last + 1 == trace.samples else -1
