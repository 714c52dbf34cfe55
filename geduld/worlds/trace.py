"""A trace: recorded readings over time, one channel a sensor, and motors where recorded."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from geduld.worlds.counting import COUNTED, counted

Floats = NDArray[np.float64]
Ticks = NDArray[np.int64]
NEVER = 1 << 62
BLOCK = 4_096


@dataclass(frozen=True)
class Trace:
    """Samples of a recording.

    `times` are n rising instants in microseconds since the start of the run. `channels` maps a part's
    name to its n values in base units (contacts 0.0 or 1.0); NaN is an absent reading. Of a channel of messages
    each value stands for a text: `texts` has them.
    """

    times: Ticks
    channels: Mapping[str, Floats]
    texts: Mapping[float, str] = field(default_factory=dict)

    def __getstate__(self) -> dict[str, Any]:
        """What goes to another process: the samples, without what has been worked out from them."""
        return {"times": self.times, "channels": self.channels, "texts": self.texts}

    @cached_property
    def duration_us(self) -> int:
        """The instant of the last sample, in microseconds."""
        return int(self.times[-1])

    @cached_property
    def samples(self) -> int:
        """How many samples there are."""
        return len(self.times)

    @cached_property
    def fingerprint(self) -> str:
        """A hash of all times and values."""
        digest = hashlib.sha256(self.times.tobytes())
        for name in sorted(self.channels):
            digest.update(name.encode() + b"\0" + self.channels[name].tobytes())
        digest.update(repr(sorted(self.texts.items())).encode() if self.texts else b"")
        return digest.hexdigest()

    @cached_property
    def ticks(self) -> Ticks:
        """The times, with a last one that is never reached."""
        return np.append(self.times, NEVER)

    @cached_property
    def period(self) -> int | None:
        """The ticks from each sample to the next, where they are all the same."""
        gaps = np.diff(self.times)
        return int(gaps[0]) if len(gaps) and (gaps == gaps[0]).all() else None

    @cached_property
    def times_view(self) -> memoryview:
        """The times, quick to look at one by one."""
        return self.times.data

    @cached_property
    def ticks_view(self) -> memoryview:
        """The ticks, quick to look at one by one."""
        return self.ticks.data

    @cached_property
    def looked_up(self) -> dict[Any, Any]:
        """What those who look at it often have looked up in it, by all that it depends on."""
        return {}

    @cached_property
    def derived(self) -> dict[str, Floats | None]:
        """Channels that follow from recorded ones, worked out when they are asked for."""
        return {}

    def column(self, name: str) -> Floats | None:
        """A channel's values, recorded or derived: `nose.presses` from `nose`, `left.speed` from `left.angle`."""
        if name in self.channels or "." not in name:
            return self.channels.get(name)
        if name not in self.derived:
            self.derived[name] = derived(name, self.times, self.channels)
        return self.derived[name]

    def values_view(self, name: str) -> memoryview:
        """A channel's values, quick to look at one by one; absent all along when it was not recorded."""
        values = self.column(name)
        if values is None:
            values = np.full(self.samples, np.nan)
        return np.ascontiguousarray(values).data

    @cached_property
    def _extremes(self) -> dict[str, tuple[Floats, Floats]]:
        return {}

    def extremes(self, name: str) -> tuple[Floats, Floats]:
        """A channel's least and greatest value in each block of `BLOCK` samples; NaN where all are absent."""
        if name not in self._extremes:
            values = self.column(name)
            starts = np.arange(0, self.samples, BLOCK)
            found = np.full(self.samples, np.nan) if values is None else values
            self._extremes[name] = np.fmin.reduceat(found, starts), np.fmax.reduceat(found, starts)
        return self._extremes[name]

    @cached_property
    def tables(self) -> dict[Any, Any]:
        """What those who look at it often have worked out about it, and want to keep as long as it is there."""
        return {}

    @cached_property
    def asked(self) -> set[Any]:
        """What has been asked about it once."""
        return set()

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

    @cached_property
    def shown(self) -> dict[Any, Any]:
        """The readings as the records of its runs show them, which are the same for all that last as long."""
        return {}

    @cached_property
    def from_the_start(self) -> Trace:
        """The same trace with a sample at time 0: absent readings, when the recording starts later."""
        if self.times_view[0] == 0:
            return self
        times = np.concatenate((np.zeros(1, np.int64), self.times))
        absent = np.full(1, np.nan)
        channels = {name: np.concatenate((absent, values)) for name, values in self.channels.items()}
        return Trace(times, channels, self.texts)


def derived(name: str, times: Ticks, channels: Mapping[str, Floats]) -> Floats | None:
    """A channel that follows from another one, or None when that was not recorded."""
    part, _, word = name.partition(".")
    if word in COUNTED:
        return counted(word, channels[part]) if part in channels else None
    angle = channels.get(f"{part}.angle")
    if word != "speed" or angle is None:
        return None
    speed = np.zeros(len(times))
    speed[1:] = np.diff(angle) / (np.diff(times) / 1_000_000)
    return speed
