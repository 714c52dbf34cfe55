"""Runs a program's lanes in a world with feedback: what it does changes what it reads, so time only goes forward.

At every sample, and at every instant at which a time that is waited for has come, all lanes are looked at in the order
in which they are written.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass

from geduld.rig.model import Rig
from geduld.run.feedback.ahead import Ahead
from geduld.run.feedback.waiting import Awaited, Now, WaitingTask, Way, depends_on_time, kept_in, timed
from geduld.run.feedback.world import FeedbackWorld
from geduld.run.program.calls import Calls
from geduld.run.program.compiler import Compiled, Lane
from geduld.run.program.effects import Effects
from geduld.run.program.functions import Finished, Stuck
from geduld.run.program.requests import (
    AWAIT,
    CALLED,
    FOLLOW,
    LOOKING,
    OVER,
    PASS,
    POWER,
    RAMP,
    TRAVEL,
    WAKING,
    Op,
    Request,
)
from geduld.run.program.tasks import Tasks
from geduld.run.record.journal import Journal
from geduld.run.search import travel
from geduld.run.search.columns import as_array
from geduld.worlds.trace import NEVER

COUNTED = "The way of this move is counted by the encoders."
TIMED = "This move is timed by the rig's motion model."


@dataclass(slots=True)
class Told:
    """A motor: what is commanded, and what of it the world was told last."""

    name: str
    levels: Sequence[float]
    power: float | None = None
    control: int = POWER


class Lanes(Tasks[WaitingTask]):
    """One run in a world that answers what the program does, up to `end`. `values` are those that `set` keeps."""

    kind = WaitingTask

    def __init__(
        self,
        compiled: Compiled,
        rig: Rig,
        world: FeedbackWorld,
        end: int,
        journal: Journal,
        values: list[float],
        at_once: dict[int, int],
        budget: int,
        calls: Calls,
    ) -> None:
        super().__init__(budget, calls)
        self.compiled = compiled
        self.rig = rig
        self.world = world
        self.end = end
        self.journal = journal
        self.values = values
        self.kept = Now(values, lambda name: float(self.channel(name)[self.world.place]))
        self.at_once = at_once
        self.effects = Effects(journal)
        self.views: dict[str, memoryview] = {}
        self.waiting: list[WaitingTask] = []
        self.ready: deque[tuple[WaitingTask, int, int]] = deque()
        self.asked: dict[int, Awaited] = {}
        self.motors = [Told(name, journal.levels[name]) for name in world.motors]

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
        controls = self.journal.controls
        for motor in self.motors:
            power, entries = motor.levels[-1], controls.get(motor.name) if controls else None
            control = entries[-1][1] if entries else POWER
            if power != motor.power or control != motor.control:
                motor.power, motor.control = power, control
                self.world.command(motor.name, power, control)

    def run(self, lane: Lane) -> None:
        """Runs the program. Returns when the world ends first; raises Finished when the program does."""
        try:
            self.begin(lane)
            self._go_on()
            self.begin_calls(0)
            while True:
                now = self._wake_all(self.world.now)
                if now >= self.end:
                    break
                going = [task for task in self.waiting if not self.stands_still(task)]
                due = min((task.next_due(now, self.kept) for task in going), default=NEVER)
                self._command()
                self.world.go(min(due, self._next_sample(due), self.end))
            self._cut(self.end + 1)
        except (Finished, Stuck) as done:
            self._cut(done.args[0])
            raise

    def _next_sample(self, due: int) -> int:
        """The next sample at which a lane may go on.

        While all lanes are calm and no command changes, the samples that the world has ahead are looked at together.
        """
        world = self.world
        following, first, last = world.next_sample(), world.place + 1, world.filled
        if due <= following or last <= first or not all(task.calm for task in self.waiting):
            return following
        look = Ahead(world, slice(first, last + 1), self.values)
        found = last
        for task in self.waiting:
            asked = [item for _, item in task.guards]
            for item in asked if task.until is None else [*asked, task.until]:
                assert item.over is not None  # who is calm asks nothing else
                holds = as_array(item.over(look), last + 1 - first)
                place = int(holds.argmax())
                if holds[place]:
                    found = min(found, first + place)
        return world.tick(found)

    def _wake_all(self, now: int) -> int:
        """Wakes every lane whose wait is over, the first in order first, and moves the outputs of the others.

        A lane that runs in passes lets the world go on by itself: returns the instant reached.
        """
        while True:
            place = self.world.place
            self.charge(WAKING + LOOKING * len(self.waiting), now)
            for task in self.waiting:
                came = None if self.stands_still(task) else task.ends(now, place, self.values)
                if came is not None:
                    break
            else:
                break
            self._wake(task, now, came)
            now = self.world.now
        for task in self.waiting:
            self._move(task, now)
        return now

    def _wake(self, task: WaitingTask, now: int, came: int) -> None:
        """A wait is over: its lane goes on."""
        request = task.request
        if came == 1 and request.now == now and task.call is None:
            self.at_once.setdefault(request.op.line, now)
        self.waiting.remove(task)
        if not task.notices:
            self.effects.finish(request, now, came, task.name, task.order)
        self.go_on(task, now, self.world.place, came)
        self._go_on()
        self.begin_calls(self.world.now)

    def forget(self, task: WaitingTask) -> None:
        """It is no longer looked at."""
        if task in self.waiting:
            self.waiting.remove(task)

    def unpark(self, task: WaitingTask, now: int) -> None:
        """It goes on now."""
        task.due = now

    def _go_on(self) -> None:
        """Lets the lanes go on around which the last lane has just ended: one after another, not inside each other."""
        while self.ready:
            task, now, came = self.ready.popleft()
            self.go_on(task, now, self.world.place, came)

    def joined(self, task: WaitingTask, now: int, why: int) -> None:
        """Behind the lane that has just ended."""
        self.ready.append((task, now, why))

    def clock(self, now: int) -> int:
        """Passes may have let the world go on since the lane was looked at."""
        return self.world.now

    def wait(self, task: WaitingTask) -> None:
        """Looks at a wait from now on."""
        if task.request.op.kind != OVER:
            task.request = self.effects.begin(task.request)
            self._prepare(task, task.request)
            self.waiting.append(task)
            # at one instant what interrupts comes first
            self.waiting.sort(key=lambda task: (task.call is None, task.order))

    def _prepare(self, task: WaitingTask, request: Request) -> None:
        """Works out once what is asked for again and again while it waits."""
        op, now, amount = request.op, request.now, request.measure
        task.guards = [(number, self._condition(index)) for number, index, _ in request.guards]
        task.until = task.way = task.values = task.since = None
        task.patience = task.due = task.next_step = NEVER
        task.sampled = self.world.place
        if op.ending == AWAIT and op.kind != PASS:
            task.until = self._condition(op.index)
            task.held, patience = amount
            task.patience = NEVER if patience is None else now + patience
        elif op.ending == TRAVEL:
            task.way = self._way(op, now, amount)
        elif op.kind != CALLED:
            task.due = now + amount
        if op.kind == FOLLOW:
            sampler = self.compiled.samplers[op.sampler]
            assert sampler is not None
            task.values = sampler(self.channel, self.encoder, self.values)
        elif op.kind == RAMP:
            task.over, task.next_step = amount, now + self.rig.loop_us

    def _condition(self, index: int) -> Awaited:
        found = self.asked.get(index)
        if found is None:
            holds = self.compiled.tellers[index](self.channel, self.encoder, self.values)
            term = self.compiled.conditions[index].term
            over = None if depends_on_time(term) else self.compiled.conditions[index].holds
            found = self.asked[index] = Awaited(holds, over, timed(term), kept_in(term))
        return found

    def _way(self, op: Op, now: int, amount: float) -> Way:
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

    def _move(self, task: WaitingTask, now: int) -> None:
        """Sets the outputs that a wait keeps moving."""
        request, place = task.request, self.world.place
        op = request.op
        if op.kind == FOLLOW and task.values is not None and place != task.sampled:
            task.sampled = place
            for part, value in zip(op.sets, task.values(now, place), strict=True):
                self.journal.put(part, value, now, op.line)
        elif op.kind == RAMP and now >= task.next_step:
            task.next_step = now + self.rig.loop_us
            first, last = request.values
            for part in op.sets:
                self.journal.put(part, first + (last - first) * ((now - request.now) / max(1, task.over)), now, op.line)
        else:
            return
        if task.way is not None and not task.way.by_encoder:
            self._drive(task.way, now)

    def _cut(self, stop: int) -> None:
        """Writes down the waits that the end of the run, or of the program, cuts short."""
        for task in self.waiting:
            if not task.notices:
                self.effects.write_down(task.request, stop, task.name, task.order)
