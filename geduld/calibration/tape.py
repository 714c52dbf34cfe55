"""The floor plays the tape measure: planned moves are driven on it, and what they make is measured."""

from __future__ import annotations

import math
from dataclasses import replace

from geduld.calibration.measurements import BY_ENCODER, BY_TIME, STRAIGHT, TURN, Measurement, Sheet
from geduld.errors import FloorError, Place
from geduld.language.quantities import microseconds, show
from geduld.readers.notation import runner_for
from geduld.rig.model import Rig
from geduld.run.world import FloorWorld
from geduld.worlds.floor.model import Floor

LONGEST_S = 60.0


def program_of(row: Measurement, rig: Rig) -> str:
    """The behaviour that makes a move: it waits until nothing moves any more."""
    amount = show(row.asked, "s", 6)
    if row.by == BY_ENCODER:
        amount = show(row.asked, "cm" if row.move == STRAIGHT else "deg", 6) + " by encoder"
    power = show(row.power, "%", 6)
    if row.move == STRAIGHT:
        step = f"drive at {power} for {amount}"
    elif row.move == TURN:
        step = f"turn left at {power} for {amount}"
    else:
        step = f"turn left at {power} about left wheel for {amount}"
    return f'behaviour "Measured move"\nfor rig "{rig.name}"\n\nbegin:\n    {step}\n    stop drive\n    wait 1 s\n'


def measured_on(floor: Floor, rig: Rig, sheet: Sheet, seed: int | None) -> list[tuple[Measurement, str]]:
    """Every move of a sheet as the floor measures it, and what is to be said of it, mostly nothing.

    With a `seed` each move is made on its own chance, as a class's robot would. Raises FloorError when the start is not
    free, and ProgramError for a move that the rig cannot make.
    """
    if floor.is_worktop:
        message = f'"{floor.name}" is a worktop: nothing drives there.'
        raise FloorError("no-floor", message, "Choose a floor.", Place(path="size"))
    told = []
    for row in sheet.rows:
        text = program_of(row, rig)
        chance = None if seed is None else seed + row.place
        # a move that something stops never counts to its end
        longest = row.asked + 10 if row.by == BY_TIME else LONGEST_S
        world = FloorWorld(floor, rig, seed=chance, limit_us=microseconds(longest))
        record, _ = world.run(runner_for(text, rig), text)
        assert record.pose is not None  # every run on a floor has poses
        pose = record.pose.values
        dx, dy = float(pose[-1, 0] - pose[0, 0]) * 100, float(pose[-1, 1] - pose[0, 1]) * 100
        heading = math.radians(float(pose[0, 2]))
        ahead, left = dx * math.cos(heading) + dy * math.sin(heading), dy * math.cos(heading) - dx * math.sin(heading)
        touched = any(event.kind == "contact" for event in record.events)
        if row.move == STRAIGHT:
            made = replace(row, measured=round(abs(ahead), 2), sideways=round(left, 2))
        else:
            made = replace(row, measured=round(abs(float(pose[-1, 2] - pose[0, 2])), 2))
        told.append((made, "It touched something on the way: this is no measurement." if touched else ""))
    return told
