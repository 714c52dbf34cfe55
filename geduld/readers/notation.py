"""Reads programs in Geduld's own notation."""

from __future__ import annotations

from dataclasses import fields, replace
from functools import cached_property
from typing import Any

from geduld.binding.binder import bind
from geduld.binding.library import Library
from geduld.binding.terms import Setting, Threshold
from geduld.errors import ProgramError
from geduld.language import tree
from geduld.language.lexer import read_lines
from geduld.language.messages import Hint, ordered
from geduld.language.parser import parse
from geduld.language.source import decode
from geduld.readers.devices import for_device
from geduld.rig.model import Rig
from geduld.run.program.program import BoundProgram, Facts
from geduld.run.record.record import Record
from geduld.run.runner import Runner
from geduld.worlds.trace import Trace

# Hints are loaded by those who ask for them: a command that only runs a program starts sooner.


class NotationProgram(BoundProgram):
    """A text in the notation, bound to a rig; `library` holds what it may include. Of several, the one for this rig.

    Hints beyond errors are given only when there is no error: half a program says nothing for sure.
    """

    def __init__(self, text: str | bytes, rig: Rig, library: Library | None = None) -> None:
        if b"==== file:" in text if isinstance(text, bytes) else "==== file:" in text:
            text = for_device(decode(text)[0] if isinstance(text, bytes) else text, rig)
        self.text = text
        self.parsed = parse(text)
        super().__init__(bind(self.parsed.tree, rig, library), rig)

    @cached_property
    def errors(self) -> tuple[Hint, ...]:
        """Why it cannot be run."""
        return ordered(hint for hint in (*self.parsed.hints, *self.bound.hints) if hint.level == "error")

    @property
    def good(self) -> bool:
        """Whether it can be run."""
        return not self.errors

    @cached_property
    def hints(self) -> tuple[Hint, ...]:
        """Every message about it that needs no world. That a library does nothing by itself is only advice."""
        from geduld.hints.about import hints_before_a_run

        found = [
            replace(hint, level="advice") if hint.code == "library-alone" else hint
            for hint in (*self.parsed.hints, *self.bound.hints)
        ]
        if not any(hint.level == "error" for hint in found):
            found += hints_before_a_run(self.bound, self.rig, self.text)
        return ordered(found)

    @property
    def thresholds(self) -> tuple[Threshold, ...]:
        """The numbers in it that readings are compared with."""
        return self.bound.thresholds

    @property
    def settings(self) -> tuple[Setting, ...]:
        """The numbers in it that set something."""
        return self.bound.settings

    @cached_property
    def facts(self) -> Facts:
        """Its words without texts and comments, its steps, those of routines once, and the codes of its hints."""
        text = self.text.decode("utf-8-sig", "replace") if isinstance(self.text, bytes) else self.text
        lines, _, _ = read_lines(text.split("\n"))
        words: set[str] = set()
        while lines:
            line = lines.pop()
            words.update(token.text for token in line.tokens if token.kind == "word")
            lines += line.children
        plan = self.parsed.tree
        steps = sum(_steps(item) for item in (plan.begin, *(routine.body for routine in plan.routines)))
        return Facts(frozenset(words), steps, frozenset(hint.code for hint in self.hints))

    def hints_in(self, seen: Trace, record: Record) -> tuple[Hint, ...]:
        """What a run of it shows about it."""
        from geduld.hints.about import hints_in_a_run

        return hints_in_a_run(self.bound, self.rig, self.text, seen, record)


def _steps(item: Any) -> int:
    """The steps in a block, with those in the blocks under them."""
    if isinstance(item, tuple):
        return sum(_steps(inner) for inner in item)
    if not isinstance(item, tree.Node):
        return 0
    own = int(isinstance(item, tree.Step))
    return own + sum(_steps(getattr(item, found.name)) for found in fields(item) if found.name != "span")


def good_program(text: str | bytes, rig: Rig, library: Library | None = None) -> NotationProgram:
    """A program that can be run. Raises ProgramError with every error when it cannot."""
    program = NotationProgram(text, rig, library)
    if not program.good:
        raise ProgramError(list(program.errors))
    return program


def runner_for(text: str | bytes, rig: Rig, library: Library | None = None) -> Runner:
    """A program ready to run. Raises ProgramError with every error when it has some."""
    return Runner(good_program(text, rig, library))
