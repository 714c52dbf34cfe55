"""A trace: recorded readings over time, one channel a sensor, and motors where recorded."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ticks = NDArray[np.int64]
NEVER = 1 << 62


@dataclass(frozen=True)
class Trace:
    """Samples of a recording.

    `times` are n rising instants in microseconds since the start of the run. `channels` maps a part's
    name to its n values in base units (contacts 0.0 or 1.0); NaN is an absent reading.
    """

    times: Ticks
    channels: Mapping[str, Floats]

    @property
    def duration_us(self) -> int:
        """The instant of the last sample, in microseconds."""
        return int(self.times[-1])

    @property
    def samples(self) -> int:
        """How many samples there are."""
        return len(self.times)

    @cached_property
    def fingerprint(self) -> str:
        """A hash of all times and values."""
        digest = hashlib.sha256(self.times.tobytes())
        for name in sorted(self.channels):
            digest.update(name.encode() + b"\0" + self.channels[name].tobytes())
        return digest.hexdigest()

    @cached_property
    def ticks(self) -> Ticks:
        """The times, with a last one that is never reached."""
        return np.append(self.times, NEVER)

    @cached_property
    def changes(self) -> dict[str, tuple[Ticks, Floats]]:
        """Each channel's first sample and its changes, worked out when it is asked for."""
        return {}

    def steps(self, name: str) -> tuple[Ticks, Floats]:
        """A channel as steps: the times at which its value changes, and the values from there on."""
        if name not in self.changes:
            values = self.channels[name]
            keep = np.flatnonzero(np.concatenate(([True], values[1:] != values[:-1])))
            self.changes[name] = self.times[keep], values[keep]
        return self.changes[name]

    def from_the_start(self) -> Trace:
        """The same trace with a sample at time 0: absent readings, when the recording starts later."""
        if self.times[0] == 0:
            return self
        times = np.concatenate((np.zeros(1, np.int64), self.times))
        absent = np.full(1, np.nan)
        return Trace(times, {name: np.concatenate((absent, values)) for name, values in self.channels.items()})
