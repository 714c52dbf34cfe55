"""Sentences about the program itself: what it uses, how long it is, what hints it gets."""

from __future__ import annotations

import math
from abc import abstractmethod
from typing import ClassVar

from geduld.checks.bound import BoundCheck
from geduld.checks.pattern import Form, Pattern, read_count, read_name, read_word
from geduld.checks.sheet import Sentence
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.tree import Expression
from geduld.run.program.program import Facts
from geduld.run.record.record import Record


class AboutProgram(Pattern):
    """A sentence about the program's text: true or not, whatever it does."""

    all_or_none = True
    about_program = True

    @abstractmethod
    def told(self, check: BoundCheck, facts: Facts) -> tuple[bool, float, str]:
        """Whether it is so, its margin, and why."""

    def findings(
        self, check: BoundCheck, record: Record, reference: Record | None, program: Facts | None
    ) -> tuple[Findings, str]:
        """What the facts say."""
        if program is None:
            return Findings.of([]), "The program is not at hand, only what it did."
        good, margin, because = self.told(check, program)
        return Findings.of([Finding(Window(0, record.lasted, PASS if good else FAIL), margin, "", 0, because)]), ""


class Uses(AboutProgram):
    """`program uses W`: the word stands in it, outside of texts and comments."""

    kind = "uses"
    words: ClassVar[tuple[str, ...]] = ("program", "uses")
    start: ClassVar[tuple[str, ...]] = ("program", "uses")
    forms = (Form("program uses …", "a word of the notation", "program uses ${repeat}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`W`."""
        return Sentence(self.kind, name=read_word(cursor, "Write for example: program uses repeat"))

    def written(self, sentence: Sentence) -> str:
        """`program uses W`."""
        return f"program {self.kind} {sentence.name}"

    def told(self, check: BoundCheck, facts: Facts) -> tuple[bool, float, str]:
        """Whether the word is used, or not."""
        used = check.name in facts.words
        good = used == (self.kind == "uses")
        because = f'The program {"uses" if used else "does not use"} "{check.name}".'
        return good, math.inf if good else -math.inf, because


class DoesNotUse(Uses):
    """`program does not use W`."""

    kind = "does not use"
    words = ("program", "does", "use")
    start = ("program", "does", "not", "use")
    forms = (Form("program does not use …", "a word of the notation", "program does not use ${drive}"),)


class Steps(AboutProgram):
    """`program has at most N steps`: those of routines once."""

    kind = "steps"
    words = ("program", "has", "most", "steps", "step")
    start = ("program", "has", "at", "most")
    forms = (Form("program has at most … steps", "how long it is", "program has at most ${12} steps"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`N steps`."""
        example = "Write for example: program has at most 12 steps"
        count = read_count(cursor, example)
        if not (cursor.take("steps") or cursor.take("step")):
            raise cursor.unexpected('"steps"', example)
        return Sentence(self.kind, count=count)

    def written(self, sentence: Sentence) -> str:
        """`program has at most N steps`."""
        return f"program has at most {sentence.count} {'step' if sentence.count == '1' else 'steps'}"

    def told(self, check: BoundCheck, facts: Facts) -> tuple[bool, float, str]:
        """How many there are; the margin is a count."""
        because = f"The program has {facts.steps} steps; at most {check.count} were wanted."
        return facts.steps <= check.count, float(check.count - facts.steps), because


class NoHint(AboutProgram):
    """`program has no hint "H"`."""

    kind = "hint"
    words = ("program", "has", "no", "hint")
    start = ("program", "has", "no", "hint")
    forms = (Form("program has no hint …", "no such risk", 'program has no hint "${chatter}"'),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`"H"`."""
        example = 'Write for example: program has no hint "chatter"'
        return Sentence(self.kind, name=read_name(cursor, "the hint's name", example))

    def written(self, sentence: Sentence) -> str:
        """`program has no hint "H"`."""
        return f'program has no hint "{sentence.name}"'

    def told(self, check: BoundCheck, facts: Facts) -> tuple[bool, float, str]:
        """Whether the program has it."""
        good = check.name not in facts.hints
        because = f'The program has {"no" if good else "the"} hint "{check.name}".'
        return good, math.inf if good else -math.inf, because
