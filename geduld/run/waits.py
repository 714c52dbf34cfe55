"""Answers what a program waits for: when the wait ends, why, and what moves meanwhile."""

from __future__ import annotations

from typing import Any

import numpy as np

from geduld.rig.model import Rig
from geduld.run import travel
from geduld.run.compiler import AWAIT, FOLLOW, RAMP, SLEEP, TRAVEL, Compiled
from geduld.run.journal import Journal
from geduld.run.odometry import Odometer, SteadyTurn, split
from geduld.run.polling import chunks
from geduld.run.search import Search, columns
from geduld.run.vector import as_array, values
from geduld.worlds.trace import NEVER, Floats, Ticks, Trace

MOST_SEARCHES = 256
_FIRST_SPAN = 1_000_000
Request = tuple[Any, ...]
Kept = tuple[tuple[Any, Any], ...]
Motion = dict[str, tuple[Ticks, Floats]]


class Waits:
    """The waits of one run on a trace. A request is kind, line, start, guards, and what the kind needs."""

    def __init__(self, compiled: Compiled, rig: Rig, trace: Trace, end: int, journal: Journal) -> None:
        self.compiled = compiled
        self.rig = rig
        self.trace = trace
        self.end = end
        self.journal = journal
        self.odometer = Odometer(rig, trace, journal)
        self.searches: dict[Any, Search] = {}

    def ends(self, request: Request, now: int) -> tuple[int, int]:
        """When a wait ends, looked at from `now`, and why.

        Why is 1 for its own reason, 0 when its patience ran out, 2 + n for guard n. Of a guard and the wait's own
        end at one instant the guard counts; of two guards the outer one.
        """
        span = _FIRST_SPAN
        while request[0] in (FOLLOW, RAMP):
            limit = min(request[2] + span, self.end + 1)
            moving = self._in_motion(request, limit)
            if moving is request:
                break
            stop, came = self._ends(moving, now)
            if stop < limit or limit > self.end:
                return stop, came
            span *= 8
        return self._ends(request, now)

    def _ends(self, request: Request, now: int) -> tuple[int, int]:
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
        if request[0] == TRAVEL:
            return self._travelled(request), 1
        if request[0] != AWAIT:
            return request[4], 1
        start, condition, kept, held, patience = request[2], *request[4:]
        found = self._search(condition, kept).first(now, held)
        if patience is not None and found > start + patience:
            return start + patience, 0
        return found, 1

    def _travelled(self, request: Request, motion: Motion | None = None) -> int:
        """When a way is made: by what was recorded, or by the motion model."""
        line, start, index, amount = request[1], request[2], request[4], request[5]
        move = self.compiled.travels[index]
        columns = [self.trace.column(f"{name}.angle") for name, _, _ in move.wheels]
        if move.by == "encoder" and all(column is not None for column in columns):
            ways = [(column, way) for column, (_, way, _) in zip(columns, move.wheels, strict=True)]
            self.journal.move_measured(start, line, travel.RECORDED)
            return travel.recorded(self.trace.times, ways, start, amount)  # type: ignore[arg-type]
        wheels = [(self.journal.levels[name][-1], (motion or {}).get(name), timed) for name, _, timed in move.wheels]
        stop = travel.modelled(wheels, start, amount)
        self.journal.move_measured(start, line, travel.said(move, stop - start if stop < NEVER else None))
        return stop

    def _in_motion(self, request: Request, limit: int) -> Request:
        """A wait during which outputs move: what its conditions know of their angles moves with them, up to `limit`.

        The request itself when none of its conditions asks for such an angle.
        """
        kind, line, start, guards = request[:4]
        inner = request[4] if kind == FOLLOW else None
        asked = [pair for _, _, kept in guards for pair in kept]
        asked += inner[5] if inner and inner[0] == AWAIT else ()
        turns = {name for name, turn in asked if isinstance(turn, SteadyTurn)}
        if not turns and not (inner and inner[0] == TRAVEL):
            return request
        motion = {name: moved for name, moved in self._motion(request, limit).items() if len(moved[0])}
        changing = {
            name: self.odometer.changing(name, start, *motion[split(name)[0]])
            for name in turns
            if split(name)[0] in motion
        }

        def moved(kept: Kept) -> Kept:
            return tuple((name, changing.get(name, turn)) for name, turn in kept)

        guards = tuple((number, condition, moved(kept)) for number, condition, kept in guards)
        if inner and inner[0] == AWAIT:
            inner = (*inner[:5], moved(inner[5]), *inner[6:])
        elif inner and inner[0] == TRAVEL:
            inner = (SLEEP, line, start, (), self._travelled(inner, motion))
        return (kind, line, start, guards, inner, *request[5:]) if inner else (kind, line, start, guards, *request[4:])

    def _motion(self, request: Request, limit: int) -> Motion:
        """What a wait sets its outputs to from behind its start to before `limit`, unless it ends earlier."""
        if request[0] == RAMP:
            ticks, levels = self._ramp(request, min(request[4], limit))
            return {name: (ticks, np.clip(levels, *self.journal.parts[name].bounds)) for name in request[5]}
        ticks, moves = self._follow(request, limit)
        return {
            name: (ticks[~np.isnan(values)], np.clip(values[~np.isnan(values)], *self.journal.parts[name].bounds))
            for name, values in moves
        }

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
        if request[0] == FOLLOW:
            ticks, moves = self._follow(request, stop)
            self.journal.move(request[1], ticks, moves)
        elif request[0] == RAMP:
            ticks, levels = self._ramp(request, stop)
            self.journal.move(request[1], ticks, [(name, levels) for name in request[5]])

    def _ramp(self, request: Request, stop: int) -> tuple[Ticks, Floats]:
        start, over, first, last = request[2], request[4], request[6], request[7]
        ticks = np.arange(start + self.rig.loop_us, stop, self.rig.loop_us, dtype=np.int64)
        return ticks, first + (last - first) * ((ticks - start) / max(1, over - start))

    def _follow(self, request: Request, stop: int) -> tuple[Ticks, list[tuple[str, Floats]]]:
        followers, kept = request[5], dict(request[6])
        first = int(self.trace.times.searchsorted(request[2], "right"))
        last = int(self.trace.times.searchsorted(stop, "left"))
        ticks = self.trace.times[first:last]
        if not len(ticks):
            return ticks, []
        terms = self.compiled.follows
        if any(isinstance(turn, SteadyTurn) for turn in kept.values()):
            return ticks, self._follow_angles(request, first, ticks)
        lookup = columns(self.trace, slice(first, last), ticks, kept)
        return ticks, [(name, as_array(values(terms[index], lookup), len(ticks))) for name, index in followers]

    def _follow_angles(self, request: Request, first: int, ticks: Ticks) -> list[tuple[str, Floats]]:
        """Outputs that follow what they themselves have turned: each sample's value moves the next one's angle."""
        followers, kept = request[5], dict(request[6])
        moves: list[tuple[str, Floats]] = [(name, np.empty(len(ticks))) for name, _ in followers]
        turns = [name for name, turn in kept.items() if isinstance(turn, SteadyTurn)]
        for row, tick in enumerate(ticks.tolist()):
            lookup = columns(self.trace, slice(first + row, first + row + 1), ticks[row : row + 1], kept)
            for (name, level), (_, index) in zip(moves, followers, strict=True):
                level[row] = as_array(values(self.compiled.follows[index], lookup), 1)[0]
                speed = self.journal.parts[name].clamp(level[row]) * self.odometer.rate(name)
                for turned in turns:
                    motor, is_angle = split(turned)
                    if motor == name and level[row] == level[row]:
                        angle = float(kept[turned].at(tick))
                        kept[turned] = SteadyTurn(tick, angle, speed) if is_angle else SteadyTurn(tick, speed, 0.0)
        return moves

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
