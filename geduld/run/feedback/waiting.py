"""What a lane waits for in a world with feedback, looked at again whenever something can have changed."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from geduld.binding import terms
from geduld.run.program.requests import AWAIT, SLEEP
from geduld.run.program.tasks import Task
from geduld.run.search.columns import Evaluator
from geduld.run.search.corners import corners
from geduld.worlds.trace import NEVER

Holds = Callable[[int, int], bool]


class Now:
    """What holds until the next sample, as the search for corners asks for it: kept values, readings and encoders."""

    def __init__(self, values: list[float], read: Callable[[str], float]) -> None:
        self.values = values
        self.read = read

    def __getitem__(self, index: int) -> float:
        return self.values[index]

    def get(self, name: Any) -> None:
        """An encoder is read as any sensor is here."""

    def held(self, term: Any) -> float:
        """What a reading is."""
        return self.read(term.part)


@dataclass
class Awaited:
    """A condition that is waited for: how it is told, and the comparisons in it that may change between samples.

    `reads` are the kept values in it, which other lanes may set; `over` tells it for many samples at once;
    None where it depends on the time too.
    """

    holds: Holds
    over: Evaluator | None
    compared: tuple[terms.Compare, ...]
    reads: tuple[int, ...] = ()

    def next_corner(self, now: int, kept: Now) -> int:
        """The next instant after `now` at which it may change though no reading does; NEVER if none."""
        found = NEVER
        for term in self.compared:
            for tick in corners(term, kept, kept.held):
                if now < tick < found:
                    found = tick
        return found


@dataclass
class Way:
    """A measured way as it is made: by encoders from their angles at the start, or by the motion model.

    `wheels` are the motors, what one degree adds to the way, and what one percent of power adds in a second.
    """

    amount: float
    by_encoder: bool
    wheels: tuple[tuple[str, float, float], ...]
    columns: list[Any] = field(default_factory=list)
    first: int = 0
    made: float = 0.0
    rate: float = 0.0
    since: int = 0

    def counted(self, place: int) -> bool:
        """Whether the encoders have counted the way at a sample."""
        if not self.amount > 0:
            return True
        first = self.first
        pairs = zip(self.columns, self.wheels, strict=True)
        return bool(abs(sum((column[place] - column[first]) * way for column, (_, way, _) in pairs)) >= self.amount)

    def due(self) -> int:
        """When the motion model will have made the way, if nothing changes; NEVER when it will not."""
        if not self.amount > 0 or abs(self.made) >= self.amount:
            return self.since
        if not math.isfinite(self.rate) or self.rate == 0.0:
            return NEVER
        seconds = (math.copysign(self.amount, self.rate) - self.made) / self.rate
        return self.since + round(seconds * 1_000_000) if seconds < 1e9 else NEVER

    def drive(self, now: int, levels: list[float]) -> None:
        """The motors have these powers from now on."""
        self.made += self.rate * ((now - self.since) / 1_000_000)
        self.rate = sum(level * timed for level, (_, _, timed) in zip(levels, self.wheels, strict=True))
        self.since = now


@dataclass(eq=False)
class WaitingTask(Task):
    """A lane with all that its wait is looked at for, until it ends."""

    guards: list[tuple[int, Awaited]] = field(default_factory=list)
    until: Awaited | None = None
    since: int | None = None
    read: tuple[float, ...] = ()
    held: int = 0
    patience: int = NEVER
    due: int = NEVER
    way: Way | None = None
    values: Callable[[int, int], tuple[float, ...]] | None = None
    over: int = 0
    next_step: int = NEVER
    sampled: int = -1

    @property
    def calm(self) -> bool:
        """Whether nothing happens while it waits, and it can end only at a sample or when it is due."""
        if self.request.op.kind not in (SLEEP, AWAIT) or self.since is not None:
            return False
        asked = [asked for _, asked in self.guards] + ([self.until] if self.until else [])
        return all(item.over is not None for item in asked)

    def next_due(self, now: int, kept: Now) -> int:
        """The next instant at which it must be looked at, beside the samples."""
        found = min(self.due, self.patience, self.next_step)
        if self.since is not None:
            found = min(found, self.since + self.held)
        if self.way is not None and not self.way.by_encoder:
            found = min(found, self.way.due())
        for _, asked in self.guards:
            if asked.compared:
                found = min(found, asked.next_corner(now, kept))
        if self.until is not None and self.until.compared:
            found = min(found, self.until.next_corner(now, kept))
        return found

    def ends(self, now: int, place: int, values: list[float]) -> int | None:
        """Why its wait ends now: 1 for its own reason, 0 when its patience ran out, 2 + n for guard n; None if not."""
        for number, asked in self.guards:
            if asked.holds(now, place):
                return 2 + number
        ending = self.request.op.ending
        if ending == AWAIT and self.until is not None:
            if self.until.holds(now, place):
                read = tuple(values[index] for index in self.until.reads)
                if self.since is None or read != self.read:
                    self.since, self.read = now, read
                if now - self.since >= self.held:
                    return 1
            else:
                self.since = None
            return 0 if now >= self.patience else None
        if self.way is not None:
            made = self.way.counted(place) if self.way.by_encoder else now >= self.way.due()
            return 1 if made else None
        return 1 if now >= self.due else None


def kept_in(condition: terms.Term) -> tuple[int, ...]:
    """The kept values that a condition reads."""
    return tuple(item.index for item in condition.walk() if isinstance(item, terms.Variable | terms.Timer))


def depends_on_time(condition: terms.Term) -> bool:
    """Whether it reads the clock or a timer."""
    return any(isinstance(item, terms.Clock | terms.Timer) for item in condition.walk())


def timed(condition: terms.Term) -> tuple[terms.Compare, ...]:
    """The comparisons in a condition that may change between samples."""
    if not depends_on_time(condition):
        return ()
    return tuple(item for item in condition.walk() if isinstance(item, terms.Compare))
