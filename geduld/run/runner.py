"""Runs a program, again and again, in whatever world."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from geduld.run.program.program import Runnable
from geduld.run.record.record import Record
from geduld.worlds.trace import Trace

if TYPE_CHECKING:
    from geduld.worlds.floor.simulation import Simulation
    from geduld.worlds.retraced import Retraced


@dataclass
class Runner:
    """A program ready to run in any world for its rig. It must have no errors."""

    program: Runnable

    def run(self, trace: Trace, limit_us: int | None = None, text: str = "", stop_us: int | None = None) -> Record:
        """The record of a run on a trace by time.

        It lasts to the end of the trace, or to `limit_us` if that comes first. `text` is what the program was made
        from, for the record's fingerprints. A program that takes more steps or makes more events than a run may is
        ended there, and the record's `why` says which limit it was. `stop_us` is the tick at which a hand stops
        everything.
        """
        from geduld.run.recorded.run import TraceRun

        return TraceRun(self.program.recorded, self.program.rig, trace, limit_us, text, stop_us).record()

    # The kernel takes a while to load, and only these need it.

    def run_on(self, world: Simulation, text: str = "") -> Record:
        """The record of a run on a floor that stands at its start. It lasts to the end of the simulation.

        `text` and the limits of a run are as for `run`.
        """
        from geduld.run.feedback.runs import FloorRun

        return FloorRun(self.program.feedback, self.program.rig, world, text).record()

    def run_through(self, world: Retraced, recording: Trace, text: str = "") -> Record:
        """The record of a run on a trace by travel. `text` and the limits of a run are as for `run`."""
        from geduld.run.feedback.runs import RetracedRun

        return RetracedRun(self.program.feedback, self.program.rig, world, text, recording).record()
