"""What a run is, in whatever world: it drives the program, writes down what it does, and then tells of it."""

from __future__ import annotations

import hashlib
from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from typing import Any

from geduld.rig.model import Rig
from geduld.run.program.calls import Calls
from geduld.run.program.compiler import Compiled, Lane
from geduld.run.program.functions import Finished, StepsExhausted, Stuck
from geduld.run.program.requests import POWER
from geduld.run.record.journal import EventsExhausted, Journal
from geduld.run.record.record import Bar, Event, Poses, Readings, Record
from geduld.worlds.signal import Signal

ENGINE = "geduld 0.1.0"
LEAST_STEPS, MOST_STEPS = 15_000_000, 20_000_000
LEAST_LANE_STEPS, MOST_LANE_STEPS, LANE_STEPS_A_LOOP = 30_000_000, 60_000_000, 100


class Run(ABC):
    """The mutable state of one run, and then the details of its record.

    `lasts` is the last tick of its world, and `stop_us` the tick at which a hand stops everything, if one does. `end`
    is the last tick of the program.
    """

    def __init__(self, compiled: Compiled, rig: Rig, lasts: int, text: str, stop_us: int | None = None) -> None:
        self.compiled = compiled
        self.rig = rig
        self.text = text
        self.lasts = lasts
        self.end = lasts if stop_us is None else min(stop_us, lasts)
        self.journal = Journal(rig, lasts, compiled.texts)
        self.values = [float("nan")] * compiled.variables
        self.at_once: dict[int, int] = {}
        self.calls = Calls()

    @property
    def seed(self) -> int:
        """What numbers drawn by chance begin from."""
        return 0

    @property
    def lane_budget(self) -> int:
        """What waking lanes may cost in steps: enough for some lanes that are looked at in every loop of the rig."""
        return min(LEAST_LANE_STEPS + LANE_STEPS_A_LOOP * self.lasts // self.rig.loop_us, MOST_LANE_STEPS)

    def record(self) -> Record:
        """Runs the program and gathers what it did."""
        why, ended_at = self._drive()
        journal = self.journal
        if why == "time" and self.end < self.lasts:
            why = "stopped"
            journal.events.append(Event(ended_at, "stop", 0, "A hand stopped everything."))
        if why == "stopped" or (why == "finished" and self.rig.stops_at_end):
            self._rest(ended_at)
        if why in _LIMITS:
            journal.events.append(Event(ended_at, "limit", 0, _LIMITS[why]))
        self._go_on()
        events = journal.events
        if len(events) > 1:
            events = sorted(events, key=lambda event: event.tick)
        said = next((event.text for event in reversed(events) if event.kind == "finish"), "") if events else ""
        return Record(self.rig, ended_at, self.lasts, why, said, tuple(events), self, self.at_once, self._texts())

    def _rest(self, now: int) -> None:
        """Stops every output that can stand still, motors by their power."""
        for name, part in self.journal.parts.items():
            if part.kind.stops:
                self.journal.put(name, 0.0, now, 0)
                if name in self.journal.controls:
                    self.journal.control(name, POWER, now)

    def _drive(self) -> tuple[str, int]:
        """Runs the program; says why it ended, and when."""
        lane = self._lane()
        try:
            ended = self._execute(lane)
            if ended is not None:
                return "finished", ended
        except Finished as done:
            return "finished", done.args[0]
        except Stuck as stuck:
            return stuck.args[1], stuck.args[0]
        except StepsExhausted as problem:
            return "steps", problem.args[0]
        except EventsExhausted as problem:
            return "events", problem.args[0]
        finally:
            lane.close()
        return "time", self.end

    def _begin(
        self,
        set_known: Callable[..., Any],
        channel: Callable[..., Any],
        encoder: Callable[..., Any],
        ahead: Any,
    ) -> Lane:
        """The program as a lane that has not begun. `ahead` is how it looks at what comes next."""
        journal = self.journal
        return self.compiled.lane(
            journal.put,
            set_known,
            channel,
            journal.event,
            journal.looped,
            journal.control,
            encoder,
            ahead,
            self.end,
            self.rig.loop_us,
            min(LEAST_STEPS + 10 * self.lasts // self.rig.loop_us, MOST_STEPS),
            self.values,
            self._texts(),
            journal.line_at,
            self.seed,
            self.calls,
        )

    @abstractmethod
    def _lane(self) -> Lane:
        """The program, not begun."""

    @abstractmethod
    def _execute(self, lane: Lane) -> int | None:
        """Runs the lane: when it ended; None when the world ended first."""

    @abstractmethod
    def _go_on(self) -> None:
        """Behind the program's end the world goes on."""

    @abstractmethod
    def _texts(self) -> Mapping[float, str]:
        """The messages of the world, by their codes."""

    def commands(self) -> Mapping[str, Signal]:
        """Every output's changes."""
        return self.journal.commands()

    def controls(self) -> Mapping[str, Signal]:
        """How motors were controlled, of those that were ever controlled otherwise than by power."""
        return self.journal.control_signals()

    def program(self) -> tuple[Bar, ...]:
        """Which line waited when."""
        return self.journal.program(self.end)

    def lines(self) -> Mapping[str, Signal]:
        """The levels of the controller's lines that were ever set, in %."""
        return self.journal.line_signals()

    def set_by(self) -> Mapping[str, int]:
        """The line that commanded each output last."""
        return self.journal.lines()

    @abstractmethod
    def readings(self) -> Readings:
        """What the program could see."""

    def trust(self, commands: Mapping[str, Signal]) -> Mapping[str, int]:
        """Nothing parts from a recording where there is none."""
        return {}

    def poses(self) -> Poses | None:
        """Where the robot was; None where nothing says it."""
        return None

    def made_from(self) -> Mapping[str, Any]:
        """Hashes of what the run was made from."""
        return {
            "engine": ENGINE,
            "program": hashlib.sha256(self.text.encode()).hexdigest(),
            "rig": self.rig.fingerprint,
        }


_LIMITS = {
    "steps": "The program took more steps than a run may, so the run was ended here. Let its loops wait longer.",
    "events": "The program made more events than a run may, so the run was ended here. Note less often.",
}
