"""All hints about a program, in the order of its text."""

from __future__ import annotations

from geduld.binding.terms import Bound
from geduld.hints.absent import absent_hints
from geduld.hints.floor import floor_hints
from geduld.hints.lines import Lines
from geduld.hints.program import hints_of_program
from geduld.hints.runs import run_hints
from geduld.hints.wiring import wiring_hints
from geduld.hints.world import world_hints
from geduld.language.messages import Hint, ordered
from geduld.language.source import decode
from geduld.rig.model import Rig
from geduld.run.program.program import Program
from geduld.run.record.record import Record
from geduld.run.runner import Runner
from geduld.run.world import World
from geduld.worlds.trace import Trace


def hints_in_a_run(bound: Bound, rig: Rig, text: str | bytes, trace: Trace, record: Record) -> tuple[Hint, ...]:
    """What a run shows about its program; `trace` is what it could see."""
    lines = _lines(text)
    found = [*world_hints(bound, rig, lines, trace, record), *run_hints(bound, lines, record)]
    found += absent_hints(bound, lines, trace, record)
    found += wiring_hints(rig, lines, trace, record)
    if record.pose is not None:
        found += floor_hints(bound, rig, lines, record, record.pose)
    return ordered(found)


def hints_before_a_run(bound: Bound, rig: Rig, text: str | bytes) -> list[Hint]:
    """What a program without errors shows about itself."""
    return hints_of_program(bound, rig, _lines(text))


def hints_in_a_world(program: Program, world: World) -> tuple[Hint, ...]:
    """Every message about a program in a world: the program is run once to see."""
    if not program.good:
        return program.hints
    record, seen = world.run(Runner(program))
    return ordered((*program.hints, *program.hints_in(seen, record)))


def _lines(text: str | bytes) -> Lines:
    return Lines(decode(text)[0] if isinstance(text, bytes) else text)
