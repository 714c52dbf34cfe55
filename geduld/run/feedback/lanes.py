"""Runs a compiled program in a closed world: what it does changes what it reads, so time only goes forward.

At every sample, and at every instant at which a time that is waited for has come, all lanes are looked at in the order
in which they are written.
"""

from __future__ import annotations

from collections import deque
from typing import Any

from geduld.rig.model import Rig
from geduld.run.feedback.waiting import Asked, Kept, Strand, Way, kept_in, timed
from geduld.run.program.compiler import Compiled
from geduld.run.program.effects import Acts
from geduld.run.program.functions import Abandoned, Finished, StepsExhausted
from geduld.run.program.requests import (
    AWAIT,
    FOLLOW,
    LOOKING,
    OVER,
    PASS,
    POWER,
    RAMP,
    SIDE,
    TRAVEL,
    WAKING,
    Request,
    full,
)
from geduld.run.record.journal import Journal
from geduld.run.search import travel
from geduld.worlds.trace import NEVER

COUNTED = "The way of this move is counted by the encoders."
TIMED = "This move is timed by the rig's motion model."


class Closed:
    """One run in a world that answers what the program does, up to `end`.

    `values` are those that `set` keeps; `budget` is what looking at its lanes and waking them may cost, in steps.
    """

    def __init__(
        self,
        compiled: Compiled,
        rig: Rig,
        world: Any,
        end: int,
        journal: Journal,
        values: list[float],
        at_once: dict[int, int],
        budget: int,
    ) -> None:
        self.budget = budget
        self.compiled = compiled
        self.rig = rig
        self.world = world
        self.end = end
        self.journal = journal
        self.values = values
        self.kept = Kept(values)
        self.at_once = at_once
        self.acts = Acts(journal)
        self.views: dict[str, memoryview] = {}
        self.strands: list[Strand] = []
        self.ready: deque[tuple[Strand, int, int]] = deque()
        self.asked: dict[int, Asked] = {}
        self.told: dict[str, tuple[float, int]] = {}
        self.motors = [(name, journal.levels[name]) for name in world.motors]

    def channel(self, name: str) -> memoryview:
        """A channel's values at each sample, also those still to come."""
        if name not in self.views:
            self.views[name] = self.world.column(name).data
        return self.views[name]

    def encoder(self, name: str, now: int, place: int) -> float:
        """An encoder's value at a sample."""
        return float(self.channel(name)[place])

    def reach(self, now: int) -> int:
        """Lets the world go on to `now` under the commands that hold: the sample that holds then."""
        self._command()
        place: int = self.world.go(now)
        return place

    def _command(self) -> None:
        """Tells the world what has been commanded by now since it was told last."""
        for name, levels in self.motors:
            entries = self.journal.controls.get(name)
            setting = levels[-1], (entries[-1][1] if entries else POWER)
            if self.told.get(name) != setting:
                self.told[name] = setting
                self.world.command(name, *setting)

    def run(self, lane: Any) -> None:
        """Runs the program. Returns when the world ends first; raises Finished when the program does."""
        try:
            self._start(Strand(lane, "begin", ()), 0)
            self._go_on()
            while True:
                now = self._wake_all(self.world.now)
                if now >= self.end:
                    break
                due = min((strand.next_due(now, self.kept) for strand in self.strands), default=NEVER)
                self._command()
                now = min(due, self.world.next_sample(), self.end)
                self.world.go(now)
            self._cut(self.end + 1)
        except Finished as done:
            self._cut(done.args[0])
            raise

    def _wake_all(self, now: int) -> int:
        """Wakes every lane whose wait is over, the first in order first, and moves the outputs of the others.

        A lane that runs in passes lets the world go on by itself: returns the instant reached.
        """
        while True:
            place = self.world.place
            self.budget -= WAKING + LOOKING * len(self.strands)
            if self.budget < 0:
                raise StepsExhausted(now)
            for strand in self.strands:
                came = strand.ends(now, place, self.values)
                if came is not None:
                    break
            else:
                break
            self._wake(strand, now, came)
            now = self.world.now
        for strand in self.strands:
            self._move(strand, now)
        return now

    def _start(self, strand: Strand, now: int) -> None:
        try:
            self._ask(strand, full(next(strand.lane)))
        except StopIteration as done:
            self._over(strand, done.value, 1)
        except Abandoned as gone:
            self._over(strand, self.world.now, 2 + gone.args[0])

    def _wake(self, strand: Strand, now: int, came: int) -> None:
        """A wait is over: its lane goes on."""
        op = strand.request[0]
        if came == 1 and strand.request[1] == now:
            self.at_once.setdefault(op.line, now)
        self.strands.remove(strand)
        self.acts.finish(strand.request, now, came, strand.name, strand.order)
        self._resume(strand, now, came)
        self._go_on()

    def _go_on(self) -> None:
        """Lets the lanes go on around which the last lane has just ended: one after another, not inside each other."""
        while self.ready:
            self._resume(*self.ready.popleft())

    def _resume(self, strand: Strand, now: int, came: int) -> None:
        try:
            request = strand.lane.send((now, self.world.place, came))
        except StopIteration as done:
            self._over(strand, done.value, 1)
        except Abandoned as gone:
            self._over(strand, self.world.now, 2 + gone.args[0])
        else:
            self._ask(strand, full(request))

    def _over(self, strand: Strand, now: int, why: int) -> None:
        """A lane has ended; when it was the last of its side by side, the lane around goes on."""
        parent = strand.parent
        if parent is None:
            raise Finished(now)
        parent.inside.remove(strand)
        parent.called = max(parent.called, why)
        if not parent.inside:
            self.ready.append((parent, now, parent.called))

    def _ask(self, strand: Strand, request: Request) -> None:
        """Takes what a lane waits for."""
        op, now = request[0], request[1]
        strand.request = request
        if op.kind == SIDE:
            strand.called = 1
            strand.inside = [
                Strand(lane, name, (*strand.order, index), strand)
                for index, (lane, name) in enumerate(zip(request[5], op.lanes, strict=True))
            ]
            for inner in list(strand.inside):
                self._start(inner, now)
            return
        if op.kind != OVER:
            self.acts.begin(request)
            self._prepare(strand, request)
            self.strands.append(strand)
            self.strands.sort(key=lambda strand: strand.order)

    def _prepare(self, strand: Strand, request: Request) -> None:
        """Works out once what is asked for again and again while it waits."""
        op, now = request[0], request[1]
        amount = op.amount if request[5] is None else request[5]
        strand.guards = [(number, self._condition(index)) for number, index, _ in request[2]]
        strand.until = strand.way = strand.values = strand.since = None
        strand.patience = strand.due = strand.next_step = NEVER
        strand.sampled = self.world.place
        if op.ending == AWAIT and op.kind != PASS:
            strand.until = self._condition(op.index)
            strand.held, patience = amount
            strand.patience = NEVER if patience is None else now + patience
        elif op.ending == TRAVEL:
            strand.way = self._way(op, now, amount)
        else:
            strand.due = now + amount
        if op.kind == FOLLOW:
            sampler = self.compiled.samplers[op.sampler]
            assert sampler is not None
            strand.values = sampler(self.channel, self.encoder, self.values)
        elif op.kind == RAMP:
            strand.over, strand.next_step = amount, now + self.rig.loop_us

    def _condition(self, index: int) -> Asked:
        found = self.asked.get(index)
        if found is None:
            holds = self.compiled.tellers[index](self.channel, self.encoder, self.values)
            term = self.compiled.conditions[index].term
            found = self.asked[index] = Asked(holds, timed(term), kept_in(term))
        return found

    def _way(self, op: Any, now: int, amount: float) -> Way:
        move = self.compiled.travels[op.index]
        by_encoder = move.by == "encoder" and all(f"{name}.angle" in self.world.columns for name, _, _ in move.wheels)
        columns = [self.channel(f"{name}.angle") for name, _, _ in move.wheels] if by_encoder else []
        way = Way(amount, by_encoder, tuple(move.wheels), columns, self.world.place, since=now)
        if not by_encoder:
            self._drive(way, now)
        said = COUNTED if by_encoder else TIMED
        if not by_encoder and op.kind not in (FOLLOW, RAMP):
            due = way.due()
            said = travel.said(move, due - now if due < NEVER else None)
        self.journal.move_measured(now, op.line, said)
        return way

    def _drive(self, way: Way, now: int) -> None:
        way.drive(now, [self.journal.levels[name][-1] for name, _, _ in way.wheels])

    def _move(self, strand: Strand, now: int) -> None:
        """Sets the outputs that a wait keeps moving."""
        request, place = strand.request, self.world.place
        op = request[0]
        if op.kind == FOLLOW and strand.values is not None and place != strand.sampled:
            strand.sampled = place
            for part, value in zip(op.sets, strand.values(now, place), strict=True):
                self.journal.put(part, value, now, op.line)
        elif op.kind == RAMP and now >= strand.next_step:
            strand.next_step = now + self.rig.loop_us
            first, last = request[4]
            for part in op.sets:
                self.journal.put(
                    part, first + (last - first) * ((now - request[1]) / max(1, strand.over)), now, op.line
                )
        else:
            return
        if strand.way is not None and not strand.way.by_encoder:
            self._drive(strand.way, now)

    def _cut(self, stop: int) -> None:
        """Writes down the waits that the end of the run, or of the program, cuts short."""
        for strand in self.strands:
            self.acts.write_down(strand.request, stop, strand.name, strand.order)
