"""The record: everything a run did."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from geduld.rig.model import Rig
from geduld.worlds.trace import Floats, Ticks


@dataclass(frozen=True)
class Signal:
    """Values that hold from their instant until the next. `times` in ticks (us), `values` in base units."""

    times: Ticks
    values: Floats

    def at(self, ticks: Ticks) -> Floats:
        """The values that hold at these instants; NaN before the first."""
        index = np.searchsorted(self.times, ticks, "right") - 1
        return np.where(index < 0, np.nan, self.values[np.maximum(index, 0)])


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

    `kind` is note, send, patience, absent, move (how a way is measured), finish or limit.
    """

    tick: int
    kind: str
    line: int
    text: str = ""


@dataclass(frozen=True)
class Record:
    """Everything a run did.

    `ended_at` is when the program ended and `lasted` when the world did, in ticks. `why` is `finished`
    (the program came to its end), `time` (the world ended first), or `steps` or `events` (a limit).
    `set_by` gives the line that commanded an output last; `no_wait` the lines whose condition held already
    when they were reached at the very start. Neither is exported. `controls` says of the motors that were ever
    controlled otherwise than by power how they were: 0 by power, 1 at a kept speed, 2 braked, 3 coasting. `texts`
    are the messages that readings stand for.
    """

    rig: Rig
    ended_at: int
    lasted: int
    why: str
    said: str
    commands: Mapping[str, Signal]
    program: tuple[Bar, ...]
    events: tuple[Event, ...]
    readings: Mapping[str, Signal]
    trust_of: Callable[[], Mapping[str, int]] = dict
    made_from: Mapping[str, Any] = field(default_factory=dict)
    set_by: Mapping[str, int] = field(default_factory=dict)
    no_wait: tuple[int, ...] = ()
    controls: Mapping[str, Signal] = field(default_factory=dict)
    texts: Mapping[float, str] = field(default_factory=dict)

    @cached_property
    def trust(self) -> Mapping[str, int]:
        """For each channel that parts from the recording, the tick past which it is not to be trusted.

        Worked out when it is first asked for: many runs are never judged.
        """
        return self.trust_of()

    @property
    def hit_limit(self) -> bool:
        """Whether a bound of the engine ended the run."""
        return self.why in ("steps", "events")
