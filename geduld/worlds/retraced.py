"""A trace by travel: the recording answers with what it read where the robot now is."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from geduld.errors import TraceError
from geduld.rig.model import Part, Rig
from geduld.worlds.counting import COUNTED, Counter
from geduld.worlds.inputs import Inputs
from geduld.worlds.signal import instants
from geduld.worlds.trace import NEVER, Floats, Ticks, Trace

_NEAR = 1e-6  # cm
_SLACK = 0.5  # cm: who stops one sample later than the recording did has not left it


def travelled(trace: Trace, rig: Rig) -> Floats | None:
    """How far the recording had driven at each sample, in cm; None where it does not say.

    From the encoders of both wheels where they were recorded, else from their powers by the rig's motion model.
    """
    if rig.drive is None:
        return None
    wheels = (rig.drive.left, rig.drive.right)
    around = rig.sizes()["wheel.circumference"] / 360
    angles = [trace.channels.get(f"{name}.angle") for name in wheels]
    if all(angle is not None for angle in angles):
        turned = np.mean([_filled(angle) for angle in angles if angle is not None], axis=0)
        return np.asarray((turned - turned[0]) * around)
    powers, rates = [trace.channels.get(name) for name in wheels], [rig.turn_rate(name) for name in wheels]
    if any(power is None for power in powers) or any(rate is None for rate in rates):
        return None
    speed = np.mean([_filled(power) * (rate or 0.0) for power, rate in zip(powers, rates, strict=True)], axis=0)  # type: ignore[arg-type]
    way = np.zeros(len(speed))
    way[1:] = np.cumsum(speed[:-1] * np.diff(trace.times) / 1_000_000) * around
    return way


def _filled(values: Floats) -> Floats:
    """A channel with each gap filled by the value before it; nothing before the first."""
    last = np.maximum.accumulate(np.where(np.isnan(values), -1, np.arange(len(values))))
    return np.where(last < 0, 0.0, values[np.maximum(last, 0)])


class Retraced:
    """A recording as it is driven through again, by other commands, up to `end` ticks.

    Readings that follow the place are those of the latest time at which the recording was where the robot now is, by
    the motion model; those that follow the hand are those of the same time, and what the motors turn is the model's.
    Past the recorded stretch the nearest end of it answers, and `parted` is the first tick at which that happened.
    Raises TraceError when the recording does not say how it was driven.
    """

    def __init__(self, trace: Trace, rig: Rig, inputs: Inputs, end: int) -> None:
        way = travelled(trace, rig)
        if way is None or rig.drive is None:
            message = "This recording does not say how it was driven, so nothing can be looked up by travel."
            remedy = "Record the wheels' angles or powers, give the rig a measured travel, or follow the time."
            raise TraceError("no-travel", message, remedy)
        self.rig = rig
        self.inputs = inputs
        self.end = end
        self.motors = {part.name: 0 for part in rig.outputs if part.kind.spins}
        base = trace.from_the_start
        self._recorded_way = np.concatenate((way[:1], way)) if base is not trace else way
        self._ticks = _ticks(base, inputs, end)
        self._view = self._ticks.data
        recorded = [name for name in base.channels if name.rpartition(".")[2] not in COUNTED]
        self._names = list(dict.fromkeys([*recorded, *inputs.held, *self._modelled()]))
        self.columns = {name: index for index, name in enumerate([*self._names, *self._counts()])}
        self.table = np.full((len(self._ticks), len(self.columns)), np.nan, order="F")
        self._by_place = [name for name in recorded if self._follows(name) == "place"]
        self._place_values = np.array([base.channels[name] for name in self._by_place]).T
        self._place_columns = [self.columns[name] for name in self._by_place]
        self._fill_hands(base)
        self._rates = {name: rig.turn_rate(name) or 0.0 for name in self.motors}
        self._powers = dict.fromkeys(self.motors, 0.0)
        self._angles = dict.fromkeys(self.motors, 0.0)
        self._at = 0
        self.now = self.place = 0
        self._rows = 0
        self.parted: int | None = None
        self._counters = [
            (self.columns[name.rpartition(".")[0]], self.columns[name], Counter(name.rpartition(".")[2]))
            for name in self._counts()
        ]
        self._fill(0)

    def _follows(self, name: str) -> str:
        part: Part | None = self.rig.channels.get(name)
        if part is None or part.is_output:
            return "nothing"
        return part.follows

    def _modelled(self) -> list[str]:
        return [
            f"{name}.{word}"
            for name in self.motors
            for word in ("angle", "speed")
            if f"{name}.{word}" in self.rig.channels
        ]

    def _counts(self) -> list[str]:
        known = self.rig.channels
        return [f"{name}.{word}" for name in self._names for word in COUNTED if f"{name}.{word}" in known]

    def _fill_hands(self, base: Trace) -> None:
        """What follows the time is known beforehand."""
        rows = np.searchsorted(base.times, self._ticks, "right") - 1
        for name, values in base.channels.items():
            if name in self.columns and self._follows(name) == "hand":
                self.table[:, self.columns[name]] = values[rows]
        self._held: dict[str, Floats] = {}
        if len(self.inputs.times):
            ours = np.searchsorted(self.inputs.times, self._ticks, "right") - 1
            for name, values in self.inputs.held.items():
                held = np.where(ours < 0, np.nan, values[np.maximum(ours, 0)])
                self._held[name] = np.where(np.isinf(held), np.nan, held)

    def _move_to(self, tick: int) -> None:
        """The motors turn on to an instant."""
        seconds = (tick - self._at) / 1_000_000
        for name, power in self._powers.items():
            self._angles[name] += power * self._rates[name] * seconds
        self._at = tick

    def _way(self) -> float:
        drive = self.rig.drive
        assert drive is not None
        turned = (self._angles[drive.left] + self._angles[drive.right]) / 2
        return turned * self.rig.sizes()["wheel.circumference"] / 360

    def _row_there(self, way: float) -> int:
        """The latest sample at which the recording was at this way; the nearest end of it past the recorded stretch."""
        recorded = self._recorded_way
        ahead = recorded[1:] + _NEAR >= way
        behind = recorded[:-1] - _NEAR <= way
        crossed = np.flatnonzero((ahead & behind) | ((recorded[1:] - _NEAR <= way) & (recorded[:-1] + _NEAR >= way)))
        if len(crossed):
            last = int(crossed[-1])
            return last + 1 if abs(recorded[last + 1] - way) <= _NEAR else last
        nearest = int(np.abs(recorded - way).argmin())
        if abs(recorded[nearest] - way) > _SLACK and self.parted is None:
            self.parted = self._at
        return nearest

    def _fill(self, now: int) -> None:
        """Fills the samples up to an instant, under the commands that hold."""
        while self._rows < len(self._ticks) and self._view[self._rows] <= now:
            row, tick = self._rows, self._view[self._rows]
            self._move_to(tick)
            if self._by_place:
                self.table[row, self._place_columns] = self._place_values[self._row_there(self._way())]
            for name in self.motors:
                if f"{name}.angle" in self.columns:
                    self.table[row, self.columns[f"{name}.angle"]] = self._angles[name]
                if f"{name}.speed" in self.columns:
                    self.table[row, self.columns[f"{name}.speed"]] = self._powers[name] * self._rates[name]
            for name, held in self._held.items():
                if held[row] == held[row]:
                    self.table[row, self.columns[name]] = held[row]
            self._count(row)
            self._rows += 1

    def _count(self, row: int) -> None:
        for source, target, counter in self._counters:
            self.table[row, target] = counter.next(float(self.table[row, source]))

    def go(self, now: int) -> int:
        """Goes to an instant: the row of the sample that holds then."""
        self._fill(now)
        self._move_to(max(now, self._at))
        while self.place + 1 < self._rows and self._view[self.place + 1] <= now:
            self.place += 1
        self.now = now
        return self.place

    def next_sample(self) -> int:
        """The instant of the next sample, or of the end."""
        return int(self._view[self.place + 1]) if self.place + 1 < len(self._ticks) else self.end

    @property
    def filled(self) -> int:
        """The last sample that is known: what comes depends on how far it is driven until then."""
        return self.place

    def tick(self, place: int) -> int:
        """The instant of a sample that is known."""
        return int(self._view[place])

    def command(self, motor: str, power: float, control: int) -> None:
        """Sets a motor from now on; by the motion model it turns at once, however it is controlled."""
        if motor in self._powers:
            self._powers[motor] = power

    def column(self, name: str) -> Floats:
        """A channel's values at each row; absent all along when there is none."""
        index = self.columns.get(name)
        return self._absent if index is None else self.table[:, index]

    @cached_property
    def _absent(self) -> Floats:
        return np.full(len(self._ticks), np.nan)

    def trace(self) -> Trace:
        """The samples so far."""
        rows = self.place + 1
        channels = {name: np.ascontiguousarray(self.table[:rows, self.columns[name]]) for name in self._names}
        return Trace(self._ticks[:rows].copy(), channels, self.inputs.texts)


def _ticks(base: Trace, inputs: Inputs, end: int) -> Ticks:
    """The instants of the samples: the recording's, those of the inputs, and on at the recording's pace to the end."""
    times = base.times[base.times <= end]
    pace = int(np.median(np.diff(base.times))) if len(base.times) > 1 else 10_000
    more = np.arange(int(times[-1]) + pace, min(end, NEVER) + 1, max(pace, 1_000), dtype=np.int64)
    return instants(times, inputs.times[inputs.times <= end], more)
