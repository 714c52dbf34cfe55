"""Runs in worlds with feedback: on a simulated floor, and on a trace by travel."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Any

import numpy as np

from geduld.language.quantities import show
from geduld.rig.model import Rig
from geduld.run.feedback.lanes import Lanes
from geduld.run.feedback.world import FeedbackWorld
from geduld.run.program.compiler import Compiled, Lane
from geduld.run.program.run import Run
from geduld.run.record.positions import positions
from geduld.run.record.record import Event, Poses, Readings
from geduld.worlds.floor.simulation import Simulation
from geduld.worlds.retraced import Retraced
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Trace

_SAID = {
    "end": 'Motor "{}" went on pressing against its end stop.',
    "gripped": '"{}" is held.',
    "placed": '"{}" was put down.',
    "dropped": '"{}" was let go in the air, and fell.',
}
FRICTION = 6.0  # %: so much more than its own friction a motor may need on a level floor


class FeedbackRun(Run):
    """A run in a world in which what the program does changes what it reads."""

    world: FeedbackWorld

    def __init__(self, compiled: Compiled, rig: Rig, world: FeedbackWorld, text: str) -> None:
        super().__init__(compiled, rig, world.end, text, world.inputs.stop_us)
        self.world = world
        self.lanes = Lanes(
            compiled, rig, world, self.end, self.journal, self.values, self.at_once, self.lane_budget, self.calls
        )

    def _lane(self) -> Lane:
        lanes = self.lanes
        return self._begin(lanes.effects.set_known, lanes.channel, lanes.encoder, lanes.reach)

    def _execute(self, lane: Lane) -> int | None:
        self.lanes.run(lane)
        return None

    def _go_on(self) -> None:
        self.lanes.reach(self.lasts)

    def _texts(self) -> Mapping[float, str]:
        return self.world.inputs.texts

    def readings(self) -> Readings:
        """The samples of every sensor and encoder."""
        trace = self.world.trace()
        return Readings({name: Signal(trace.times, values) for name, values in trace.channels.items()})


class FloorRun(FeedbackRun):
    """A run on a floor: its record has the pose, and what happened there."""

    world: Simulation

    @property
    def seed(self) -> int:
        """That of the floor's noise."""
        return self.world.seed or 0

    def _go_on(self) -> None:
        super()._go_on()
        for tick, kind, x, y, motor in self.world.events():
            at = f"{show(x * 100, places=0)} cm, {show(y * 100, places=0)} cm"
            text = f"The robot bumped into something at {at}."
            if kind == "stall":
                text = self._stalled(motor, tick)
            elif kind != "contact":
                text = _SAID[kind].format(motor)
            where = None if self.world.floor.is_worktop else (x, y)
            self.journal.events.append(Event(tick, kind, 0, text, where, motor))
        for name, tick in self._positions[1].items():
            text = f'Stepper "{name}" missed steps: it was told to turn faster than it can, and stays behind.'
            self.journal.events.append(Event(tick, "missed", 0, text))

    def _stalled(self, motor: str, tick: int) -> str:
        power, dead = (
            float(self.journal.commands()[motor].at(np.array([tick]))[0]),
            self.rig.physics.motor(motor).dead_zone,
        )
        if abs(power) <= dead + FRICTION:
            return (
                f'Motor "{motor}" stood still: {show(power, "%", 1)} is hardly more than the {show(dead, "%", 1)} '
                "that its own friction takes."
            )
        return f'Motor "{motor}" stood still although it had power: its load is more than it can move.'

    @cached_property
    def _positions(self) -> tuple[dict[str, Signal], dict[str, int]]:
        return positions(self.rig, self.journal.commands(), self.lasts)

    def poses(self) -> Poses:
        """Where the robot was at each sample."""
        ticks, poses = self.world.poses()
        world = self.world
        return Poses(ticks, poses, world.moved(), world.floor.source, self._positions[0], world.turned(), world.loads())

    def made_from(self) -> Mapping[str, Any]:
        """Hashes of what the run was made from."""
        return {
            **super().made_from(),
            "floor": self.world.floor.fingerprint,
            "inputs": self.world.inputs.fingerprint,
            "seed": self.world.seed,
            **({"faults": [fault.phrase for fault in faults]} if (faults := self.world.faulty.faults) else {}),
            "limit": self.lasts / 1_000_000,
        }


class RetracedRun(FeedbackRun):
    """A run on a trace by travel: past the recorded stretch what follows the place is not to be trusted."""

    world: Retraced

    def __init__(self, compiled: Compiled, rig: Rig, world: Retraced, text: str, recording: Trace) -> None:
        super().__init__(compiled, rig, world, text)
        self.recording = recording

    def _texts(self) -> Mapping[float, str]:
        return {**self.recording.texts, **super()._texts()}

    def readings(self) -> Readings:
        """The samples of every sensor and encoder; what the recording's motors did is none."""
        seen = super().readings().items()
        return Readings({name: signal for name, signal in seen if not self.rig.channels[name].is_output})

    def trust(self, commands: Mapping[str, Signal]) -> Mapping[str, int]:
        """What follows the place, from where the recording has not been on."""
        if self.world.parted is None:
            return {}
        return {name: self.world.parted for name in self.readings() if self.rig.channels[name].follows == "place"}

    def made_from(self) -> Mapping[str, Any]:
        """Hashes of what the run was made from."""
        return {
            **super().made_from(),
            "trace": self.recording.fingerprint,
            "follow": "travel",
            "inputs": self.world.inputs.fingerprint,
        }
