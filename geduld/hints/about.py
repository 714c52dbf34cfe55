"""All hints about a program, in the order of its text."""

from __future__ import annotations

from dataclasses import replace

from geduld.binding.binder import bind
from geduld.binding.library import Library
from geduld.binding.terms import Bound
from geduld.hints.absent import absent_hints
from geduld.hints.floor import floor_hints
from geduld.hints.lines import Lines
from geduld.hints.program import hints_of_program
from geduld.hints.runs import run_hints
from geduld.hints.world import world_hints
from geduld.language.messages import Hint
from geduld.language.parser import parse
from geduld.language.source import decode
from geduld.rig.model import Rig
from geduld.run.executor import Runner
from geduld.run.record import Record
from geduld.run.world import World
from geduld.worlds.trace import Trace


def program_hints(text: str | bytes, rig: Rig, library: Library | None = None) -> tuple[Bound, tuple[Hint, ...]]:
    """A program bound to a rig, and every message about it that needs no trace.

    `library` holds what it may include. Hints beyond errors are given only when there is no error: half a program
    says nothing for sure.
    """
    parsed = parse(text)
    bound = bind(parsed.tree, rig, library)
    hints = [replace(h, level="advice") if h.code == "library-alone" else h for h in (*parsed.hints, *bound.hints)]
    if not any(hint.level == "error" for hint in hints):
        hints += hints_of_program(bound, rig, _lines(text))
    return bound, _ordered(hints)


def hints_in_a_run(bound: Bound, rig: Rig, text: str | bytes, trace: Trace, record: Record) -> tuple[Hint, ...]:
    """What a run shows about its program; `trace` is what it could see."""
    lines = _lines(text)
    found = [*world_hints(bound, rig, lines, trace, record), *run_hints(bound, lines, record)]
    found += absent_hints(bound, lines, trace, record)
    if record.pose is not None:
        found += floor_hints(rig, lines, record, record.pose)
    return _ordered(found)


def hints_in_a_world(text: str | bytes, rig: Rig, world: World, library: Library | None = None) -> tuple[Hint, ...]:
    """Every message about a program in a world: the program is run once to see."""
    bound, hints = program_hints(text, rig, library)
    if not bound.good or any(hint.level == "error" for hint in hints):
        return hints
    record, seen = world.run(Runner.of(bound, rig))
    return _ordered([*hints, *hints_in_a_run(bound, rig, text, seen, record)])


def _lines(text: str | bytes) -> Lines:
    return Lines(decode(text)[0] if isinstance(text, bytes) else text)


def _ordered(hints: list[Hint]) -> tuple[Hint, ...]:
    return tuple(sorted(dict.fromkeys(hints), key=lambda hint: hint.order))
