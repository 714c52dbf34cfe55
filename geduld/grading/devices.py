"""What is handed in for two devices: the partner's program in it takes the place of the exercise's own."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from geduld.readers.devices import for_device, is_for_device
from geduld.readers.notation import good_program, runner_for
from geduld.run.together import TogetherWorld
from geduld.run.world import World


def with_handed_in(world: World, handed_in: str) -> World:
    """A world in which the partner runs what was handed in for it, where that holds a program for it.

    Raises ProgramError when that program has errors.
    """
    if not isinstance(world, TogetherWorld):
        return world
    rig = world.partner.world.rig
    if not is_for_device(handed_in, rig):
        return world
    text = for_device(handed_in, rig)
    good_program(text, rig)
    return replace(world, partner=replace(world.partner, text=text, make=partial(runner_for, text, rig)))
