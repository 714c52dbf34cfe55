"""Answers what a program waits for: when the wait ends, why, and what moves meanwhile."""

from __future__ import annotations

from typing import Any

import numpy as np

from geduld.rig.model import Rig
from geduld.run.compiler import AWAIT, FOLLOW, RAMP, Compiled
from geduld.run.journal import Journal
from geduld.run.polling import chunks
from geduld.run.search import Search, columns
from geduld.run.vector import as_array, values
from geduld.worlds.trace import NEVER, Floats, Ticks, Trace

MOST_SEARCHES = 256
Request = tuple[Any, ...]
Kept = tuple[tuple[int, float], ...]


class Waits:
    """The waits of one run on a trace. A request is kind, line, start, guards, and what the kind needs."""

    def __init__(self, compiled: Compiled, rig: Rig, trace: Trace, end: int, journal: Journal) -> None:
        self.compiled = compiled
        self.rig = rig
        self.trace = trace
        self.end = end
        self.journal = journal
        self.searches: dict[Any, Search] = {}

    def ends(self, request: Request, now: int) -> tuple[int, int]:
        """When a wait ends, looked at from `now`, and why.

        Why is 1 for its own reason, 0 when its patience ran out, 2 + n for guard n. Of a guard and the wait's own
        end at one instant the guard counts; of two guards the outer one.
        """
        if not request[3]:
            return self._own_end(request, now)
        limit, why = NEVER, 1
        for number, condition, kept in request[3]:
            holds = self._search(condition, kept).first(now, 0)
            if holds < limit:
                limit, why = holds, 2 + number
        stop, came = self._own_end(request, now)
        return (limit, why) if limit <= stop else (stop, came)

    def _own_end(self, request: Request, now: int) -> tuple[int, int]:
        if request[0] == FOLLOW:
            return self._own_end(request[4], now)
        if request[0] != AWAIT:
            return request[4], 1
        start, condition, kept, held, patience = request[2], *request[4:]
        found = self._search(condition, kept).first(now, held)
        if patience is not None and found > start + patience:
            return start + patience, 0
        return found, 1

    def _search(self, condition: int, kept: Kept) -> Search:
        key = (condition, kept)
        search = self.searches.get(key)
        if search is None:
            if len(self.searches) >= MOST_SEARCHES:
                self.searches.clear()
            search = Search(self.compiled.conditions[condition], self.trace, dict(kept))
            self.searches[key] = search
        return search

    def move(self, request: Request, stop: int) -> None:
        """Moves the outputs that a wait keeps moving, from behind its start to before `stop`."""
        kind, line, start = request[:3]
        if kind == FOLLOW:
            self._follow(line, start, stop, request[5], dict(request[6]))
        elif kind == RAMP:
            over, parts, first, last = request[4:]
            ticks = np.arange(start + self.rig.loop_us, stop, self.rig.loop_us, dtype=np.int64)
            levels = first + (last - first) * ((ticks - start) / max(1, over - start))
            self.journal.move(line, ticks, [(name, levels) for name in parts])

    def _follow(
        self, line: int, start: int, stop: int, followers: tuple[tuple[str, int], ...], kept: dict[int, float]
    ) -> None:
        first = int(self.trace.times.searchsorted(start, "right"))
        last = int(self.trace.times.searchsorted(stop, "left"))
        ticks = self.trace.times[first:last]
        if len(ticks):
            lookup = columns(self.trace, slice(first, last), ticks, kept)
            terms = self.compiled.follows
            moves = [(name, as_array(values(terms[index], lookup), len(ticks))) for name, index in followers]
            self.journal.move(line, ticks, moves)

    def poll(self, request: Request) -> tuple[int, int]:
        """Goes round a loop without state: when it is left, and how many steps it took; -1 past the budget."""
        now, index, kept, cost, budget = request[2], *request[4:]
        loop, affordable = self.rig.loop_us, budget // cost
        possible = (self.end - now) // loop + 1
        done = 0
        step = self.compiled.polls[index]
        for passes, left in chunks(step, self.trace, now, min(possible, affordable), loop, dict(kept)):
            done += len(passes.ticks)
            for part, touched in passes.touched.items():
                self._command_passes(part, passes.ticks[touched], passes.values[part][touched], now)
            self.journal.set_by.update(passes.lines)
            for tick, line, part in sorted(passes.absent, key=lambda item: item[0]):
                self.journal.absent(tick, line, part)
            if left:
                return now + done * loop, done * cost
        return now + done * loop, done * cost if possible <= affordable else -1

    def _command_passes(self, part: str, ticks: Ticks, levels: Floats, now: int) -> None:
        """Commands an output at the instants of passes, of which the first may be this very instant."""
        if len(ticks) and ticks[0] == now:
            self.journal.put(part, float(levels[0]), now, 0)
            ticks, levels = ticks[1:], levels[1:]
        self.journal.put_many(part, ticks, levels)
