"""Where servos and steppers really stand: they take their time to get where they are told to be."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from geduld.rig.model import Part, Rig
from geduld.rig.physics import Positioner
from geduld.worlds.signal import Signal

MOST_POINTS = 100_000


def positions(rig: Rig, commands: Mapping[str, Signal], lasts: int) -> tuple[dict[str, Signal], dict[str, int]]:
    """The angle of each servo and stepper that was commanded, and the tick at which a stepper first missed steps.

    A servo turns at its slew rate. A stepper makes whole steps at its greatest rate; when its commands come pass after
    pass, it has only that pass for each, and what does not fit into it is missed: it stays behind by that for good.
    """
    angles: dict[str, Signal] = {}
    missed: dict[str, int] = {}
    for name, part in rig.output_parts.items():
        signal = commands.get(name)
        if signal is None or not part.kind.positions or not (signal.times > 0).any():
            continue
        found = _Course(part, rig.physics.positioner(name), rig.loop_us, lasts)
        for index, (tick, value) in enumerate(zip(signal.times.tolist(), signal.values.tolist(), strict=True)):
            following = signal.times[index + 1] if index + 1 < len(signal.times) else lasts
            found.go(tick, value, int(following))
        angles[name] = Signal(np.array(found.ticks, np.int64), np.array(found.values))
        if found.missed is not None:
            missed[name] = found.missed
    return angles, missed


class _Course:
    """The way of one part from command to command."""

    def __init__(self, part: Part, physics: Positioner, loop_us: int, lasts: int) -> None:
        self.stepper = part.kind.steps
        self.slew = physics.slew
        self.step = physics.step if self.stepper else 0.0
        self.loop_us = loop_us
        self.lasts = lasts
        self.ticks: list[int] = [0]
        self.values: list[float] = [math.nan]
        self.at = math.nan
        self.lost = 0.0
        self.last_command: int | None = None
        self.missed: int | None = None

    def go(self, tick: int, target: float, until: int) -> None:
        """Goes on from `tick` towards a command, as far as it gets until the next one."""
        if self.at != self.at:
            # nobody knows where it stood before: it is taken to be where it is told to be first
            self._put(tick, target)
            return
        streamed = self.last_command is not None and tick - self.last_command <= self.loop_us
        self.last_command = tick
        way, reach = target + self.lost - self.at, self.slew * self.loop_us / 1_000_000
        if self.stepper and streamed and abs(way) > reach + self.step:
            self.missed = tick if self.missed is None else self.missed
            self.lost -= math.copysign(abs(way) - reach, way)
        self._turn(tick, target + self.lost, until)

    def _turn(self, tick: int, aim: float, until: int) -> None:
        at, takes = self.at, round(abs(aim - self.at) / self.slew * 1_000_000)
        self._put(tick, at)
        for now in range(tick + self.loop_us, min(tick + takes, until), self.loop_us):
            self._put(now, at + (aim - at) * (now - tick) / takes)
        if tick + takes <= until:
            self._put(tick + takes, aim)
        else:
            self._put(until, at + (aim - at) * (until - tick) / takes)

    def _put(self, tick: int, angle: float) -> None:
        self.at = angle
        if len(self.ticks) < MOST_POINTS and tick <= self.lasts:
            if self.ticks[-1] == tick:
                self.ticks.pop()
                self.values.pop()
            self.ticks.append(tick)
            self.values.append(round(angle / self.step) * self.step if self.step else angle)
