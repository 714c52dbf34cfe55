"""All hints about a program, in the order of its text."""

from __future__ import annotations

from dataclasses import replace

from geduld.binding.binder import bind
from geduld.binding.library import Library
from geduld.binding.terms import Bound
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
    """What a run on a trace shows about its program."""
    lines = _lines(text)
    return _ordered([*world_hints(bound, rig, lines, trace, record), *run_hints(bound, lines, record)])


def hints_on_a_trace(text: str | bytes, rig: Rig, trace: Trace, library: Library | None = None) -> tuple[Hint, ...]:
    """Every message about a program on a trace: the program is run once to see."""
    bound, hints = program_hints(text, rig, library)
    if not bound.good or any(hint.level == "error" for hint in hints):
        return hints
    record = Runner.of(bound, rig).run(trace)
    return _ordered([*hints, *hints_in_a_run(bound, rig, text, trace, record)])


def _lines(text: str | bytes) -> Lines:
    return Lines(decode(text)[0] if isinstance(text, bytes) else text)


def _ordered(hints: list[Hint]) -> tuple[Hint, ...]:
    return tuple(sorted(dict.fromkeys(hints), key=lambda hint: hint.order))
