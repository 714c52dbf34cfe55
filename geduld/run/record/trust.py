"""How far a replay can be trusted.

A trace was recorded while some program drove the robot. Where it holds the motors' channels, the run's
commands can be laid beside the recorded ones. From the moment they part, readings that follow the place
or the motors would have been others on a real robot.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from geduld.rig.model import Part, Rig
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Trace

SMALL_DIFFERENCE = 5.0
SHORT_DIFFERENCE_US = 200_000


def trust_horizons(rig: Rig, trace: Trace, commands: Mapping[str, Signal], end: int) -> dict[str, int]:
    """For each channel that follows the place or the motors, the tick past which it is not to be trusted.

    Empty when the trace holds no motor channel, or when the commands never part: a difference of up to
    5 % of power, or one that lasts less than 0.2 s, does not count.
    """
    motors = [part.name for part in rig.outputs if part.kind.spins and part.name in trace.channels]
    parted = [_parted(trace, name, commands[name], end) for name in motors]
    instants = [tick for tick in parted if tick is not None and tick < end]
    if not instants:
        return {}
    follows_place = [name for name, part in rig.channels.items() if name in trace.channels and _follows_commands(part)]
    return {name: min(instants) for name in follows_place}


def _follows_commands(part: Part) -> bool:
    """Whether a reading would have been another one had the motors been commanded otherwise."""
    return not part.is_output and part.follows in ("place", "motors")


def _parted(trace: Trace, name: str, command: Signal, end: int) -> int | None:
    """The first tick from which command and recording differ for long enough. Both are steps."""
    recorded = Signal(*trace.steps(name))
    ticks = np.union1d(command.times, recorded.times)
    differs = np.abs(command.at(ticks) - recorded.at(ticks)) > SMALL_DIFFERENCE
    edges = np.flatnonzero(np.diff(np.concatenate(([0], differs.astype(np.int8), [0]))))
    for start, stop in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        until = int(ticks[stop]) if stop < len(ticks) else end
        if until - int(ticks[start]) >= SHORT_DIFFERENCE_US:
            return int(ticks[start])
    return None
