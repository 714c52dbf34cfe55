"""The world that a command's options name."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from geduld.errors import InputError
from geduld.language.quantities import microseconds
from geduld.rig.model import Rig
from geduld.run.world import LONGEST_US, FloorWorld, TraceWorld, TravelWorld, World, bare
from geduld.worlds.doubts import doubts, without_doubtful
from geduld.worlds.inputs import Inputs, read_inputs
from geduld.worlds.recording import read_trace
from geduld.worlds.trace import Trace

if TYPE_CHECKING:
    from geduld.worlds.floor.faults import Fault
    from geduld.worlds.floor.model import Floor

KEEP, DROP = "keep", "drop"
_DONE = {KEEP: "kept (--impossible drop leaves them out)", DROP: "dropped"}
_OF_A_FLOOR, _OF_A_TRACE, _OF_A_WORLD = ("start", "seed", "fault"), ("follow",), ("inputs", "limit")


def world_of(options: argparse.Namespace, rig: Rig) -> World | None:
    """The trace or the floor that the options name, with what hands do; None where they name none.

    Raises InputError for an option that the world named, or none, has no use for.
    """
    wrong: tuple[str, ...] = _OF_A_TRACE if options.floor else _OF_A_FLOOR
    anywhere = options.trace or options.floor or options.lasts
    wrong += _OF_A_TRACE if options.lasts else ()
    wrong += () if anywhere else (*_OF_A_TRACE, *_OF_A_WORLD)
    for name in wrong:
        if getattr(options, name) not in (None, "time", []):
            needed = "--trace" if name == "follow" else "--floor" if name in _OF_A_FLOOR else "--trace or --floor"
            message = f"--{name} has no meaning without {needed}."
            raise InputError("no-such-world", message, "Name one, or leave it out.")
    if not anywhere:
        return None
    limit = microseconds(options.limit) if options.limit else None
    floor = _floor(options.floor) if options.floor else None
    things = [thing.name for thing in floor.movable] if floor else []
    inputs = read_inputs(options.inputs, rig, things) if options.inputs else Inputs()
    if floor:
        floor = floor.started_from(options.start) if options.start else floor
        return FloorWorld(floor, rig, inputs, options.seed, limit, _faults(options.fault, rig))
    if options.lasts:
        lasts = microseconds(options.lasts)
        if lasts > LONGEST_US:
            raise InputError("no-such-world", f"A run lasts at most {LONGEST_US // 1_000_000} s.", "Write less.")
        return TraceWorld(bare(rig, lasts), rig, inputs, limit)
    kind = TravelWorld if options.follow == "travel" else TraceWorld
    return kind(trace_of(options, rig), rig, inputs, limit)


def trace_of(options: argparse.Namespace, rig: Rig) -> Trace:
    """The trace that the options name; what cannot be in it is told, and kept or dropped."""
    trace = read_trace(options.trace, rig)
    for doubt in doubts(trace, rig):
        print(f"{options.trace.name}: {doubt.sentence} They are {_DONE[options.impossible]}.", file=sys.stderr)
    return without_doubtful(trace, rig) if options.impossible == DROP else trace


def _faults(phrases: list[str], rig: Rig) -> tuple[Fault, ...]:
    from geduld.worlds.floor.faults import read_faults

    return read_faults(phrases, rig, "--fault")


def _floor(path: Path) -> Floor:
    from geduld.worlds.floor.reader import read_floor

    return read_floor(path)
