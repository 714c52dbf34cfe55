"""Why an output is as it is in a run of the bench, and why a line of its program did not run."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any

from rest_framework import serializers

from geduld.errors import InputError
from geduld.readers.notation import NotationProgram
from geduld.readers.script import ScriptProgram
from geduld.rig.model import Rig as CoreRig
from geduld.run.program.program import BoundProgram, Program
from geduld.run.record.record import Record
from geduld.run.runner import Runner
from geduld.run.together import TogetherWorld
from geduld.run.world import World
from geduld.why.line import WhyNot, why_not
from geduld.why.output import why_output
from geduld.why.places import Block
from geduld.why.script import why_not_script
from server.shelf.bench_run import program_of, with_rows, world_of
from server.shelf.services import core_rig, library_texts


def why_answer(teacher: int, asked: Mapping[str, Any]) -> dict[str, Any]:
    """Why the output `part` is as it is at the instant `at` (s). Raises ValidationError where nothing runs."""
    rig, program, world = _ran(teacher, asked)
    if asked["part"] not in rig.output_parts:
        raise serializers.ValidationError({"part": [f'"{asked["part"]}" is not an output of this rig.']})
    text = asked["text"]

    def up_to(tick: int) -> Record:
        return _until(world, tick).run(Runner(program), text)[0]

    record, _ = world.run(Runner(program), text)
    steps = program.bound.steps if isinstance(program, NotationProgram) else ()
    compared: dict[int, dict[str, None]] = {}
    for item in program.thresholds:
        compared.setdefault(item.span.line, {})[item.part] = None
    tick = min(max(0, round(asked["at"] * 1e6)), record.lasted)
    why = why_output(record, up_to, text, steps, compared, asked["part"], tick)
    waited = why.waited and {"line": why.waited.line, "from": why.waited.start / 1e6, "to": why.waited.stop / 1e6}
    return {
        "part": why.part,
        "at": why.tick / 1e6,
        "line": why.line,
        "waited": waited,
        "readings": [asdict(item) for item in why.readings],
        "because": why.because,
    }


def why_not_answer(teacher: int, asked: Mapping[str, Any]) -> dict[str, Any]:
    """Why the line `line` did not run, or when it did. Raises ValidationError where nothing runs."""
    rig, program, world = _ran(teacher, asked)
    if not isinstance(program, NotationProgram):
        assert isinstance(program, ScriptProgram)
        way = program.way_to(asked["line"])
        return _told(why_not_script(lambda: world.run(Runner(program), asked["text"])[0], way, asked["line"]))
    bound = program.bound

    def run_of(steps: Block) -> Record:
        return world.run(Runner(BoundProgram(replace(bound, steps=steps), rig)), asked["text"])[0]

    return _told(why_not(run_of, asked["text"], bound.steps, asked["line"]))


def _told(told: WhyNot) -> dict[str, Any]:
    return {"ran": told.ran, "line": told.line, "at": told.tick / 1e6, "because": told.because}


def _ran(teacher: int, asked: Mapping[str, Any]) -> tuple[CoreRig, Program, World]:
    """The rig, the program and the world that are asked about."""
    values = with_rows(teacher, asked)
    rig = core_rig(values["rig"])
    program = program_of(values, rig, library_texts(values["rig"]))
    try:
        world = world_of(values, rig)
    except InputError as problem:
        raise serializers.ValidationError({"world": [f"{problem.message} {problem.remedy}".strip()]}) from None
    if world is None or not program.good:
        raise serializers.ValidationError({"text": ["Nothing ran: mend the errors, and choose where it is to run."]})
    return rig, program, world


def _until(world: World, tick: int) -> World:
    """The same world, which ends at an instant."""
    if isinstance(world, TogetherWorld):
        return replace(world, main=replace(world.main, limit_us=tick))
    return replace(world, limit_us=tick)  # type: ignore[type-var]
