"""The record: everything a run did."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Protocol

import numpy as np

from geduld.rig.model import Rig
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Floats, Ticks, Trace


class Readings(Mapping[str, Signal]):
    """What a program could see, by name, with what those who look at it often have worked out about it.

    `kept` is theirs. The records of one trace share their readings, and so what is kept with them.
    """

    def __init__(self, signals: Mapping[str, Signal]) -> None:
        self.signals = signals
        self.kept: dict[Any, Any] = {}

    def __getitem__(self, name: str) -> Signal:
        return self.signals[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self.signals)

    def __len__(self) -> int:
        return len(self.signals)

    def __reduce__(self) -> tuple[Any, ...]:
        return Readings, (self.signals,)  # what is kept stays behind: it can be worked out again


@dataclass(frozen=True)
class Bar:
    """A stretch in which a line waited, or a loop went round. `state` is `waiting` or `looping`."""

    line: int
    start: int
    stop: int
    state: str
    lane: str = "begin"


@dataclass(frozen=True)
class Event:
    """Something that happened at one instant.

    `kind` is note, send, patience, absent, bare (a line on which nothing hangs was set), move (how a way is measured),
    finish, stop, limit, error (the program broke off), and on a floor contact, stall, end (pressed against an end
    stop), missed (steps), gripped, placed or dropped; `at` is where on a floor, in m; `what` the motor or the load.
    """

    tick: int
    kind: str
    line: int
    text: str = ""
    at: tuple[float, float] | None = None
    what: str = ""


@dataclass(frozen=True, eq=False)
class Poses:
    """Where the robot was on a floor: n instants in ticks, with x and y in m and the heading in deg, shape (n, 3).

    The heading counts on past a full turn. `things` are the middles of what was moved, shape (n, 2), in m; `angles` are
    where servos and steppers stood, and `turned` how far each motor had really turned at each instant, shape (n,), in
    deg. `loads` says of what motors lift whether it was `held`, and for each motor the angle at which it lay, shape
    (n,), in deg; `floor` is the description of the place.
    """

    times: Ticks
    values: Floats
    things: Mapping[str, Floats] = field(default_factory=dict)
    floor: Mapping[str, Any] = field(default_factory=dict)
    angles: Mapping[str, Signal] = field(default_factory=dict)
    turned: Mapping[str, Floats] = field(default_factory=dict)
    loads: Mapping[str, Mapping[str, Floats]] = field(default_factory=dict)


class Details(Protocol):
    """What a record tells when it is asked: of many runs most of this is never asked for."""

    def commands(self) -> Mapping[str, Signal]:
        """Every output's changes."""

    def controls(self) -> Mapping[str, Signal]:
        """How motors were controlled, of those that were ever controlled otherwise than by power."""

    def program(self) -> tuple[Bar, ...]:
        """Which line waited when."""

    def readings(self) -> Readings:
        """What the program could see."""

    def trust(self, commands: Mapping[str, Signal]) -> Mapping[str, int]:
        """For each channel that parts from the recording, the tick past which it is not to be trusted."""

    def made_from(self) -> Mapping[str, Any]:
        """Hashes of what the run was made from."""

    def poses(self) -> Poses | None:
        """Where the robot was; None where nothing says it."""

    def set_by(self) -> Mapping[str, int]:
        """The line that commanded each output last."""

    def lines(self) -> Mapping[str, Signal]:
        """The levels of the controller's lines that were ever set, in %."""


@dataclass
class Record:
    """Everything a run did.

    `ended_at` is when the program ended and `lasted` when the world did, in ticks. `why` is `finished`
    (the program came to its end), `time` (the world ended first), `stopped` (a hand stopped everything), `idle` (it
    goes round for ever and touches nothing any more), `error` (it broke off), or `steps`, `events` or `memory` (a
    limit).
    `at_once` are the lines whose waiting ended at the instant at which it began, with the first such instant. `texts`
    are the messages that readings stand for. `is_recording` when it is what a real robot did: then nobody knows what
    its program sent, waited for, or how it stopped its motors. `partner` is what the other
    device did, where there was one, and `unheard` what was sent and is nowhere asked for there.
    """

    rig: Rig
    ended_at: int
    lasted: int
    why: str
    said: str
    events: tuple[Event, ...]
    details: Details
    at_once: Mapping[int, int] = field(default_factory=dict)
    texts: Mapping[float, str] = field(default_factory=dict)
    is_recording: bool = False
    partner: Record | None = None
    unheard: tuple[str, ...] = ()

    @cached_property
    def commands(self) -> Mapping[str, Signal]:
        """Every output's changes, in base units."""
        return self.details.commands()

    @cached_property
    def controls(self) -> Mapping[str, Signal]:
        """How motors were controlled, of those that were ever controlled otherwise than by power.

        0 by power, 1 at a kept speed, 2 braked, 3 coasting.
        """
        return self.details.controls()

    @cached_property
    def program(self) -> tuple[Bar, ...]:
        """Which line waited when, in the order of the starts and of the lanes."""
        return self.details.program()

    @cached_property
    def readings(self) -> Readings:
        """What the program could see, in base units."""
        return self.details.readings()

    @cached_property
    def trust(self) -> Mapping[str, int]:
        """For each channel that parts from the recording, the tick past which it is not to be trusted."""
        return self.details.trust(self.commands)

    @cached_property
    def pose(self) -> Poses | None:
        """Where the robot was; None where nothing says it."""
        return self.details.poses()

    @cached_property
    def kept(self) -> dict[Any, Any]:
        """What those who look at it often have worked out about it, and want to keep as long as it is there."""
        return {}

    @cached_property
    def made_from(self) -> Mapping[str, Any]:
        """Hashes of program, rig and world, and the engine's version."""
        return self.details.made_from()

    @cached_property
    def lines(self) -> Mapping[str, Signal]:
        """The levels of the controller's lines that were ever set, in %: of programs that set lines."""
        return self.details.lines()

    @cached_property
    def set_by(self) -> Mapping[str, int]:
        """The line that commanded each output last. Not exported."""
        return self.details.set_by()

    def written(self) -> Record:
        """The same record with all its details told: it no longer needs the run, and can go to another process."""
        details = Written(
            self.commands, self.readings, self.program, self.controls, self.trust, self.made_from, self.pose, self.lines
        )
        return replace(self, details=details)

    @property
    def hit_limit(self) -> bool:
        """Whether a bound of the engine ended the run."""
        return self.why in ("steps", "events", "memory")


def recorded(trace: Trace, rig: Rig) -> Record:
    """What a real robot did, as a record: motor channels are commands, the others readings.

    An output that was not recorded is absent.
    """
    signals = {name: Signal(trace.times, values) for name, values in trace.channels.items()}
    outputs = {name: signals.get(name, _UNKNOWN) for name in rig.output_parts}
    details = Written(outputs, {name: signal for name, signal in signals.items() if name not in outputs})
    end = trace.duration_us
    return Record(rig, end, end, "time", "", (), details, texts=trace.texts, is_recording=True)


_UNKNOWN = Signal(np.zeros(1, np.int64), np.full(1, np.nan))


@dataclass(frozen=True)
class Written:
    """The details of a record that was written down before, or by hand."""

    of_commands: Mapping[str, Signal]
    of_readings: Mapping[str, Signal] = field(default_factory=dict)
    of_program: tuple[Bar, ...] = ()
    of_controls: Mapping[str, Signal] = field(default_factory=dict)
    of_trust: Mapping[str, int] = field(default_factory=dict)
    of_sources: Mapping[str, Any] = field(default_factory=dict)
    of_poses: Poses | None = None
    of_lines: Mapping[str, Signal] = field(default_factory=dict)

    def commands(self) -> Mapping[str, Signal]:
        """As written."""
        return self.of_commands

    def controls(self) -> Mapping[str, Signal]:
        """As written."""
        return self.of_controls

    def program(self) -> tuple[Bar, ...]:
        """As written."""
        return self.of_program

    def readings(self) -> Readings:
        """As written."""
        return Readings(self.of_readings)

    def trust(self, commands: Mapping[str, Signal]) -> Mapping[str, int]:
        """As written."""
        return self.of_trust

    def poses(self) -> Poses | None:
        """As written."""
        return self.of_poses

    def made_from(self) -> Mapping[str, Any]:
        """As written."""
        return self.of_sources

    def lines(self) -> Mapping[str, Signal]:
        """As written."""
        return self.of_lines

    def set_by(self) -> Mapping[str, int]:
        """Not written."""
        return {}
