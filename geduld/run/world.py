"""A world to run programs in, ready to be run in again and again: a trace or a floor, with inputs on top."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, Protocol

import numpy as np

from geduld.rig.model import Rig
from geduld.run.record.record import Record
from geduld.run.runner import Runner
from geduld.worlds.inputs import Inputs
from geduld.worlds.trace import Trace

# A command starts sooner when it loads only the worlds that it is asked for.
if TYPE_CHECKING:
    from geduld.worlds.floor.faults import Fault
    from geduld.worlds.floor.model import Floor
    from geduld.worlds.floor.simulation import Simulation
    from geduld.worlds.retraced import Retraced

FLOOR_LIMIT_US = 60_000_000
LONGEST_US = 600_000_000


@dataclass(frozen=True)
class TraceWorld:
    """A recording by time. It lasts to its end, or to `limit_us` where that comes first."""

    trace: Trace
    rig: Rig
    inputs: Inputs = field(default_factory=Inputs)
    limit_us: int | None = None

    @cached_property
    def seen(self) -> Trace:
        """The recording with the inputs on top."""
        return self.inputs.over(self.trace, self.rig)

    def run(self, runner: Runner, program: str = "") -> tuple[Record, Trace]:
        """A run of a program, and the readings that it could see."""
        return runner.run(self.seen, self.limit_us, program, self.inputs.stop_us), self.seen

    @property
    def fingerprint(self) -> str:
        """A hash of all that a run in it depends on, beside program and rig."""
        return _hashed("trace", self.trace.fingerprint, self.inputs, None, self.limit_us)


def bare(rig: Rig, lasts_us: int) -> Trace:
    """Nothing but time: what hands move is untouched, contacts are released, and all else is absent."""
    channels = {}
    for part in rig.reads.values():
        value = 0.0 if part.kind.is_contact else part.kind.untouched
        if value is not None:
            channels[part.name] = np.full(2, value)
    return Trace(np.array([0, lasts_us], np.int64), channels)


@dataclass(frozen=True)
class TravelWorld:
    """A recording by travel. It lasts to its end, or `limit_us`, which may be later: 10 min at most."""

    trace: Trace
    rig: Rig
    inputs: Inputs = field(default_factory=Inputs)
    limit_us: int | None = None

    def run(self, runner: Runner, program: str = "") -> tuple[Record, Trace]:
        """A run of a program, and the readings that it could see. Raises TraceError without any recorded travel."""
        world = self._retraced()
        record = runner.run_through(world, self.trace, program)
        return record, world.trace()

    def tried(self) -> TravelWorld:
        """Itself, when the recording says how far it had travelled. Raises TraceError when not."""
        self._retraced()
        return self

    def _retraced(self) -> Retraced:
        from geduld.worlds.retraced import Retraced

        return Retraced(self.trace, self.rig, self.inputs, min(self.limit_us or self.trace.duration_us, LONGEST_US))

    @property
    def fingerprint(self) -> str:
        """A hash of all that a run in it depends on, beside program and rig."""
        return _hashed("travel", self.trace.fingerprint, self.inputs, None, self.limit_us)


@dataclass(frozen=True)
class FloorWorld:
    """A floor with its noise's seed (None: no noise) and the robot's faults.

    It lasts `limit_us`: 60 s unless said, 10 min at most.
    """

    floor: Floor
    rig: Rig
    inputs: Inputs = field(default_factory=Inputs)
    seed: int | None = None
    limit_us: int | None = None
    faults: tuple[Fault, ...] = ()

    def run(self, runner: Runner, program: str = "") -> tuple[Record, Trace]:
        """A run of a program, and the readings that it could see. Raises FloorError when the start is not free."""
        simulation = self._simulation(min(self.limit_us or FLOOR_LIMIT_US, LONGEST_US))
        record = runner.run_on(simulation, program)
        return record, simulation.trace()

    def tried(self) -> FloorWorld:
        """Itself, when a robot can start there. Raises FloorError when not."""
        self._simulation(1)
        return self

    def _simulation(self, end: int) -> Simulation:
        # The kernel takes a while to load, and only floors need it.
        from geduld.worlds.floor.simulation import Simulation

        return Simulation(self.rig, self.floor, self.inputs, self.seed, end, faults=self.faults)

    @property
    def fingerprint(self) -> str:
        """A hash of all that a run in it depends on, beside program and rig."""
        kind = "|".join(("floor", *(fault.phrase for fault in self.faults)))
        return _hashed(kind, self.floor.fingerprint, self.inputs, self.seed, self.limit_us)


def _hashed(kind: str, place: str, inputs: Inputs, seed: int | None, limit_us: int | None) -> str:
    source = json.dumps([kind, place, inputs.fingerprint, seed, limit_us])
    return hashlib.sha256(source.encode()).hexdigest()


class World(Protocol):
    """Any place in which a program can be run, as often as one likes."""

    @property
    def rig(self) -> Rig:
        """The rig of the device that runs the program."""

    @property
    def fingerprint(self) -> str:
        """A hash of all that a run in it depends on, beside program and rig."""

    def run(self, runner: Runner, program: str = "") -> tuple[Record, Trace]:
        """A run of a program, and the readings that it could see."""
