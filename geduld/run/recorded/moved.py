"""Outputs that a wait keeps moving: those that follow a value, and ramps."""

from __future__ import annotations

from typing import Any

import numpy as np

from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled
from geduld.run.program.requests import FOLLOW, Request
from geduld.run.record.journal import Journal
from geduld.run.recorded.odometry import Odometer, split
from geduld.run.search.columns import Evaluator, as_array, evaluator
from geduld.run.search.samples import Samples
from geduld.run.search.turns import SteadyTurn
from geduld.worlds.trace import Floats, Ticks, Trace

Motion = dict[str, tuple[Ticks, Floats]]


class Moving:
    """What the moving steps of one run set their outputs to."""

    def __init__(self, compiled: Compiled, rig: Rig, trace: Trace, journal: Journal, odometer: Odometer) -> None:
        self.follows = compiled.follows
        self.samplers = compiled.samplers
        self.evaluators: dict[int, Evaluator] = {}
        self.rig = rig
        self.trace = trace
        self.journal = journal
        self.odometer = odometer
        self.moved_to: dict[int, int] = {}
        self.known: tuple[Request | None, int, Ticks, list[tuple[str, Floats]]] = None, 0, trace.times[:0], []

    def move(self, request: Request, stop: int) -> None:
        """Moves the outputs of a wait, from behind its start to before `stop`."""
        op = request.op
        if op.kind == FOLLOW:
            ticks, moves = self._follow(request, stop)
            self.journal.move(op.line, ticks, moves)
        else:
            ticks, levels = self._ramp(request, stop)
            self.journal.move(op.line, ticks, [(name, levels) for name in op.sets])

    def moved(self, request: Request, now: int) -> None:
        """Moves the outputs of a wait up to before `now`: from there on they follow what another lane has changed."""
        self.move(request, now)
        self.moved_to[id(request.op)] = now

    def begins(self, request: Request) -> int:
        """From when on the outputs of a wait are still to be moved: from its start, or from the last such change."""
        return max(request.now, self.moved_to.get(id(request.op), 0))

    def motion(self, request: Request, limit: int) -> Motion:
        """What a wait sets its outputs to from behind its start to before `limit`, unless it ends earlier."""
        op, bounds = request.op, {name: part.bounds for name, part in self.journal.parts.items()}
        if op.kind != FOLLOW:
            over = request.now + request.measure
            ticks, levels = self._ramp(request, min(over, limit))
            return {name: (ticks, np.clip(levels, *bounds[name])) for name in op.sets}
        ticks, moves = self._follow(request, limit)
        return {
            name: (ticks[~np.isnan(values)], np.clip(values[~np.isnan(values)], *bounds[name]))
            for name, values in moves
        }

    def _ramp(self, request: Request, stop: int) -> tuple[Ticks, Floats]:
        start, (first, last), over = request.now, request.values, request.measure
        ticks = np.arange(start + self.rig.loop_us, stop, self.rig.loop_us, dtype=np.int64)
        return ticks, first + (last - first) * ((ticks - start) / max(1, over))

    def _follow(self, request: Request, stop: int) -> tuple[Ticks, list[tuple[str, Floats]]]:
        """The samples behind a wait's start and before `stop`, and what its outputs are set to there."""
        known, until, ticks, moves = self.known
        if request is not known or stop > until:
            ticks, moves = self._worked_out(request, stop)
            self.known = request, stop, ticks, moves
        count = int(ticks.searchsorted(stop, "left"))
        return ticks[:count], [(name, levels[:count]) for name, levels in moves]

    def _worked_out(self, request: Request, stop: int) -> tuple[Ticks, list[tuple[str, Floats]]]:
        op, kept = request.op, dict(request.followed)
        first = int(self.trace.times.searchsorted(request.now, "right"))
        if id(op) in self.moved_to:
            first = max(first, int(self.trace.times.searchsorted(self.moved_to[id(op)], "left")))
        last = int(self.trace.times.searchsorted(stop, "left"))
        ticks = self.trace.times[first:last]
        if not len(ticks):
            return ticks, []
        if any(isinstance(turn, SteadyTurn) for turn in kept.values()):
            return ticks, self._follow_angles(request, kept, first, ticks)
        followers = [(name, self._evaluator(index)) for name, index in zip(op.sets, op.follows, strict=True)]
        look = Samples(self.trace, slice(first, last), ticks, kept)
        return ticks, [(name, as_array(value(look), len(ticks))) for name, value in followers]

    def channel(self, name: str) -> memoryview:
        """A channel's values at each sample."""
        return self.trace.values_view(name)

    def _evaluator(self, index: int) -> Evaluator:
        if index not in self.evaluators:
            self.evaluators[index] = evaluator(self.follows[index])
        return self.evaluators[index]

    def _follow_angles(
        self, request: Request, kept: dict[Any, Any], first: int, ticks: Ticks
    ) -> list[tuple[str, Floats]]:
        """Outputs that follow what they themselves have turned: each sample's value moves the next one's angle."""
        op, parts = request.op, self.journal.parts
        turns = {name: turn for name, turn in kept.items() if isinstance(turn, SteadyTurn)}
        starts = {name: (turn.tick, turn.start, turn.slope) for name, turn in turns.items()}

        def encoder(name: str, now: int, place: int) -> float:
            found = starts.get(name)
            if found is None:
                return self.odometer.value(name, now, place)
            tick, start, slope = found
            return start + slope * ((now - tick) / 1_000_000)

        sampler = self.samplers[op.sampler]
        assert sampler is not None
        values = sampler(self.channel, encoder, kept)
        found: list[tuple[float, ...]] = []
        moved = [
            [(name, split(name)[1], self.odometer.rate(part), parts[part]) for name in turns if split(name)[0] == part]
            for part in op.sets
        ]
        for place, tick in enumerate(ticks.tolist(), first):
            levels = values(tick, place)
            found.append(levels)
            for level, turned in zip(levels, moved, strict=True):
                if level == level:
                    for name, is_angle, rate, part in turned:
                        speed = part.clamp(level) * rate
                        start = encoder(name, tick, place) if is_angle else speed
                        starts[name] = (tick, start, speed if is_angle else 0.0)
        columns = np.array(found)
        return [(name, columns[:, index]) for index, name in enumerate(op.sets)]
