"""Outputs that a wait keeps moving: those that follow a value, and ramps."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.journal import Journal
from geduld.run.odometry import Odometer, SteadyTurn, split
from geduld.run.ops import FOLLOW, Request
from geduld.run.vector import Evaluator, as_array, evaluator
from geduld.run.view import View
from geduld.worlds.trace import Floats, Ticks, Trace

Motion = dict[str, tuple[Ticks, Floats]]


class Moving:
    """What the moving steps of one run set their outputs to."""

    def __init__(
        self, follows: Sequence[terms.Term], rig: Rig, trace: Trace, journal: Journal, odometer: Odometer
    ) -> None:
        self.follows = follows
        self.evaluators: dict[int, Evaluator] = {}
        self.rig = rig
        self.trace = trace
        self.journal = journal
        self.odometer = odometer

    def move(self, request: Request, stop: int) -> None:
        """Moves the outputs of a wait, from behind its start to before `stop`."""
        op = request[0]
        if op.kind == FOLLOW:
            ticks, moves = self._follow(request, stop)
            self.journal.move(op.line, ticks, moves)
        else:
            ticks, levels = self._ramp(request, stop)
            self.journal.move(op.line, ticks, [(name, levels) for name in op.sets])

    def motion(self, request: Request, limit: int) -> Motion:
        """What a wait sets its outputs to from behind its start to before `limit`, unless it ends earlier."""
        op, bounds = request[0], {name: part.bounds for name, part in self.journal.parts.items()}
        if op.kind != FOLLOW:
            over = request[1] + (op.amount if request[5] is None else request[5])
            ticks, levels = self._ramp(request, min(over, limit))
            return {name: (ticks, np.clip(levels, *bounds[name])) for name in op.sets}
        ticks, moves = self._follow(request, limit)
        return {
            name: (ticks[~np.isnan(values)], np.clip(values[~np.isnan(values)], *bounds[name]))
            for name, values in moves
        }

    def _ramp(self, request: Request, stop: int) -> tuple[Ticks, Floats]:
        start, (first, last) = request[1], request[4]
        over = request[0].amount if request[5] is None else request[5]
        ticks = np.arange(start + self.rig.loop_us, stop, self.rig.loop_us, dtype=np.int64)
        return ticks, first + (last - first) * ((ticks - start) / max(1, over))

    def _follow(self, request: Request, stop: int) -> tuple[Ticks, list[tuple[str, Floats]]]:
        op, kept = request[0], dict(request[6])
        first = int(self.trace.times.searchsorted(request[1], "right"))
        last = int(self.trace.times.searchsorted(stop, "left"))
        ticks = self.trace.times[first:last]
        if not len(ticks):
            return ticks, []
        followers = [(name, self._evaluator(index)) for name, index in zip(op.sets, op.follows, strict=True)]
        if any(isinstance(turn, SteadyTurn) for turn in kept.values()):
            return ticks, self._follow_angles(followers, kept, first, ticks)
        look = View(self.trace, slice(first, last), ticks, kept)
        return ticks, [(name, as_array(value(look), len(ticks))) for name, value in followers]

    def _evaluator(self, index: int) -> Evaluator:
        if index not in self.evaluators:
            self.evaluators[index] = evaluator(self.follows[index])
        return self.evaluators[index]

    def _follow_angles(
        self, followers: list[tuple[str, Evaluator]], kept: dict[str, SteadyTurn], first: int, ticks: Ticks
    ) -> list[tuple[str, Floats]]:
        """Outputs that follow what they themselves have turned: each sample's value moves the next one's angle."""
        moves: list[tuple[str, Floats]] = [(name, np.empty(len(ticks))) for name, _ in followers]
        turns = [name for name, turn in kept.items() if isinstance(turn, SteadyTurn)]
        look = View(self.trace, slice(0), ticks, kept)
        for row, tick in enumerate(ticks.tolist()):
            look.places, look.ticks = slice(first + row, first + row + 1), ticks[row : row + 1]
            for (name, level), (_, value) in zip(moves, followers, strict=True):
                level[row] = as_array(value(look), 1)[0]
                speed = self.journal.parts[name].clamp(level[row]) * self.odometer.rate(name)
                for turned in turns:
                    motor, is_angle = split(turned)
                    if motor == name and level[row] == level[row]:
                        angle = float(kept[turned].at(tick))
                        kept[turned] = SteadyTurn(tick, angle, speed) if is_angle else SteadyTurn(tick, speed, 0.0)
        return moves
