"""Answers what a program waits for: when the wait ends, why, and what it sets."""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property
from typing import Any

from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled
from geduld.run.program.effects import Effects
from geduld.run.program.requests import FOLLOW, RAMP, SLEEP, TRAVEL, Kept, Op, Request
from geduld.run.record.journal import Journal
from geduld.run.recorded.moved import Motion, Moving
from geduld.run.recorded.odometry import Odometer, split
from geduld.run.search import travel
from geduld.run.search.search import Searching
from geduld.run.search.turns import SteadyTurn
from geduld.worlds.trace import NEVER, Trace

MOST_SEARCHES = 256
_FIRST_SPAN = 1_000_000
_SLEEPING = Op(SLEEP, 0)


class Waits(Effects):
    """The waits of one run on a trace."""

    def __init__(self, compiled: Compiled, rig: Rig, trace: Trace, end: int, journal: Journal) -> None:
        self.compiled = compiled
        self.rig = rig
        self.trace = trace
        self.end = end
        super().__init__(journal)
        self.times = trace.times_view
        self.searches: dict[Any, Searching] = {}

    @cached_property
    def odometer(self) -> Odometer:
        """What the encoders say; most programs never ask."""
        return Odometer(self.rig, self.trace, self.journal)

    @cached_property
    def moving(self) -> Moving:
        """What follows and ramps set."""
        return Moving(self.compiled, self.rig, self.trace, self.journal, self.odometer)

    def encoder(self, name: str, now: int, place: int) -> float:
        """An encoder's value at `now`."""
        return self.odometer.value(name, now, place)

    def plain(self, op: Op, now: int, place: int) -> tuple[int, int, int]:
        """Makes a whole step of which all is known beforehand: when it ends, the sample that holds then, and why.

        What `begin`, `ends` and `finish` do for other steps, for the commonest ones; `place` is the sample at `now`.
        """
        journal, came = self.journal, 1
        self.set_known(op, now)
        if op.kind == SLEEP:
            stop = now + op.amount
        else:
            held, patience = op.amount
            limit = self.end if patience is None else now + patience
            simple = self.compiled.conditions[op.index].simple
            stop = -1 if simple is None else simple.first(self.trace, place, now, held)
            if stop < 0:
                stop = self._search(op.index, ()).first(now, held, limit)
            if stop > limit and patience is not None:
                stop, came = limit, 0
        if stop > now:
            place = bisect_right(self.times, stop) - 1
            journal.bars.append((op.line, now, stop, "waiting", "begin", ()))
        if stop <= self.end:
            if op.stops and op.rests:
                self.rest(op.stops, op, stop)
            elif op.stops:
                journal.put_fixed(op.stops, stop, op.line)
            if not came:
                journal.event(stop, "patience", op.line, -1)
        return stop, place, came

    def begin(self, request: Request) -> Request:
        """Sets the outputs that a step sets when it starts; the request, knowing how the encoders turn from here on."""
        request = super().begin(request)
        op, now = request.op, request.now
        if op.kind == FOLLOW:
            self.moving.moved_to.pop(id(op), None)
        if not self.compiled.asks_encoders:
            return request
        guards = tuple((number, condition, self._turning(kept, now)) for number, condition, kept in request.guards)
        kept, followed = self._turning(request.kept, now), self._turning(request.followed, now)
        return request._replace(guards=guards, kept=kept, followed=followed)

    def _turning(self, kept: Kept, now: int) -> Kept:
        turn = self.odometer.turn
        return tuple((key, turn(key, now) if isinstance(key, str) else value) for key, value in kept)

    def write_down(self, request: Request, stop: int, lane: str, order: tuple[int, ...]) -> None:
        """Notes a wait up to `stop`, with what it kept moving."""
        if request.op.kind in (FOLLOW, RAMP):
            self.moving.move(request, min(stop, self.end + 1))
        super().write_down(request, stop, lane, order)

    def ends(self, request: Request, now: int) -> tuple[int, int]:
        """When a wait ends, looked at from `now`, and why.

        Why is 1 for its own reason, 0 when its patience ran out, 2 + n for guard n. Of a guard and the wait's own
        end at one instant the guard counts; of two guards the outer one.
        """
        op = request.op
        if op.kind in (FOLLOW, RAMP):
            span = _FIRST_SPAN
            while True:
                limit = min(request.now + span, self.end + 1)
                moved = self._in_motion(request, limit)
                if moved is request:
                    break
                stop, came = self._ends(moved, now)
                if stop < limit or limit > self.end:
                    return stop, came
                span *= 8
        return self._ends(request, now) if request.guards else self._own_end(request, now)

    def _ends(self, request: Request, now: int) -> tuple[int, int]:
        limit, why = NEVER, 1
        for number, condition, kept in request.guards:
            holds = self._search(condition, kept).first(now, 0, self.end)
            if holds < limit:
                limit, why = holds, 2 + number
        stop, came = self._own_end(request, now)
        return (limit, why) if limit <= stop else (stop, came)

    def _own_end(self, request: Request, now: int) -> tuple[int, int]:
        op, start, amount = request.op, request.now, request.measure
        if op.ending == SLEEP:
            return start + amount, 1
        if op.ending == TRAVEL:
            return self._travelled(request, amount), 1
        held, patience = amount
        limit = self.end if patience is None else start + patience
        found = self._search(op.index, request.kept).first(now, held, limit)
        if patience is not None and found > limit:
            return limit, 0
        return found, 1

    def _search(self, condition: int, kept: Kept) -> Searching:
        key = (condition, kept) if kept else condition
        search = self.searches.get(key)
        if search is None:
            if len(self.searches) >= MOST_SEARCHES:
                self.searches.clear()
            search = self.compiled.conditions[condition].search(self.trace, dict(kept))
            self.searches[key] = search
        return search

    def _travelled(self, request: Request, amount: float, motion: Motion | None = None) -> int:
        """When a way is made: by what was recorded, or by the motion model."""
        line, start = request.op.line, request.now
        move = self.compiled.travels[request.op.index]
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
        op, start, guards, kept = request.op, request.now, request.guards, request.kept
        asked = [pair for _, _, kept in guards for pair in kept] + list(kept)
        turns = {name for name, turn in asked if isinstance(turn, SteadyTurn)}
        if not turns and op.ending != TRAVEL:
            return request
        motion = {name: moved for name, moved in self.moving.motion(request, limit).items() if len(moved[0])}
        changing = {
            name: self.odometer.changing(name, self.moving.begins(request), *motion[split(name)[0]])
            for name in turns
            if split(name)[0] in motion
        }

        def moved(kept: Kept) -> Kept:
            return tuple((name, changing.get(name, turn)) for name, turn in kept)

        guards = tuple((number, condition, moved(kept)) for number, condition, kept in guards)
        amount = request.amount
        if op.ending == TRAVEL:
            way = op.amount if amount is None else amount
            op, amount = _SLEEPING, self._travelled(request, way, motion) - start
        return request._replace(op=op, guards=guards, kept=moved(kept), amount=amount)
