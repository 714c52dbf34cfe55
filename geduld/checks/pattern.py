"""What a check pattern is: everything about one kind of sentence, in one place."""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import ClassVar

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.bound import BoundCheck
from geduld.checks.conditions import Condition
from geduld.checks.evidence import quoted, uncertain
from geduld.checks.sheet import Check, Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.formatter import Printer, expression_text
from geduld.language.lexer import Line
from geduld.language.messages import Problem, error
from geduld.language.quantities import LENGTH
from geduld.language.tree import Expression
from geduld.run.program.program import Facts
from geduld.run.record.record import Record


@dataclass(frozen=True)
class Form:
    """A sentence as "New check" offers it.

    `insert` has slots `${...}`; what stands in `<...>` is filled from the rig and the floors: `<touch>` and `<near>`
    are conditions that come true, `<between>` one that holds for a stretch, `<moves>` and `<rests>` tell what the
    wheels do, `<motor>`, `<mark>`, `<corridor>` and `<thing>` are names. `needs` is the name without which the form
    means nothing; of marks, corridors and things there is one form for each.
    """

    label: str
    detail: str
    insert: str
    needs: str = ""

    @property
    def example(self) -> str:
        """The sentence without its slots, where it has no names to fill in."""
        return re.sub(r"\$\{(.*?)\}", r"\1", self.insert)


class Pattern(ABC):
    """One kind of sentence: its words, how it is read, written, bound and judged, and its forms.

    `start` are the words that it begins with, `behind` those that come behind a first condition or value. `words` are
    those of its words that the notation does not have otherwise. `all_or_none`: one failure fails the whole; else it is
    worth the share of the times that passed. `block`: it stands on several lines. `about_program`: it asks the
    program's text, not what it did.
    """

    kind: ClassVar[str]
    words: ClassVar[tuple[str, ...]] = ()
    start: ClassVar[tuple[str, ...]] = ()
    behind: ClassVar[tuple[str, ...]] = ()
    forms: ClassVar[tuple[Form, ...]] = ()
    all_or_none: ClassVar[bool] = False
    block: ClassVar[bool] = False
    about_program: ClassVar[bool] = False

    @abstractmethod
    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """The sentence behind its first words; `first` is what stood in front of `behind`. Raises Problem."""

    def read_block(self, cursor: Cursor, lines: list[Line]) -> Sentence:
        """A sentence of several lines, of which the first one's first words are read. Raises Problem."""
        raise NotImplementedError(self.kind)

    def write(self, out: Printer, check: Check) -> None:
        """The sentence of a check in its standard form, with its comments."""
        out.line(1, self.written(check.sentence), check.sentence_before, check.sentence_comment)
        out.comments(1, check.sentence_trailing)

    @abstractmethod
    def written(self, sentence: Sentence) -> str:
        """The sentence in its standard form."""

    def bind(self, sentence: Sentence, scope: Scope) -> tuple[tuple[terms.Term, ...], tuple[str, ...]]:
        """The truths that it asks for, and their words. Raises Problem, after all its errors are told."""
        found = tuple(scope.each(*(partial(scope.condition, item) for item in sentence.conditions)))
        return found, tuple(map(expression_text, sentence.conditions))

    def readings(self, check: BoundCheck) -> list[tuple[BoundCheck, str]]:
        """Other ways in which the same check may be meant, with the words that say so."""
        return []

    @abstractmethod
    def findings(
        self, check: BoundCheck, record: Record, reference: Record | None, program: Facts | None
    ) -> tuple[Findings, str]:
        """How every occurrence went, and the sentence for when there is none."""


class OverTime(Pattern):
    """A sentence about what holds when: it is judged on the courses of its conditions over the run."""

    def findings(
        self, check: BoundCheck, record: Record, reference: Record | None, program: Facts | None
    ) -> tuple[Findings, str]:
        """How every occurrence went, where the run and the reference's can tell."""
        timeline = Timeline(record, check.looks, reference, check.times)
        unknown = timeline.unknown or self.untold(check, record)
        if unknown:
            return Findings.of([]), unknown
        found = self.judge(check, timeline)
        if not found.windows and timeline.horizon_of(self.opens(check)) < record.lasted:
            start = min(timeline.horizon + 1, record.lasted)
            found = Findings.of([uncertain(start, record.lasted, timeline.horizon, start)])
        return found, "" if found.windows else self.nothing(check)

    def opens(self, check: BoundCheck) -> Sequence[Condition]:
        """The conditions without which there is no occurrence."""
        return check.looks[:1]

    @abstractmethod
    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """How every occurrence went."""

    def untold(self, check: BoundCheck, record: Record) -> str:
        """Why the run cannot tell what the sentence asks besides its conditions; empty when it can."""
        return ""

    def nothing(self, check: BoundCheck) -> str:
        """The sentence for when there was no occurrence."""
        return f"{quoted(check.words[0])} was never so in this run."


def times(sentence: Sentence) -> list[str]:
    """Its times as written."""
    return [expression_text(time) for time in sentence.times]


def parts(sentence: Sentence) -> list[str]:
    """Its conditions as written."""
    return [expression_text(condition) for condition in sentence.conditions]


def around(sentence: Sentence) -> str:
    """Its tolerance as written."""
    return expression_text(sentence.tolerance) if sentence.tolerance else ""


def often(sentence: Sentence) -> str:
    """`at most 3 times`."""
    return f"{sentence.bound} {sentence.count} {'time' if sentence.count == '1' else 'times'}".lstrip()


def read_often(cursor: Cursor, example: str) -> tuple[str, str]:
    """`3 times`, `at least 3 times`, `at most 3 times`: the bound and the count."""
    bound = "at least" if cursor.take("at", "least") else "at most" if cursor.take("at", "most") else ""
    count = read_count(cursor, example)
    if not (cursor.take("times") or cursor.take("time")):
        raise cursor.unexpected('"times"', example)
    return bound, count


def read_count(cursor: Cursor, example: str) -> str:
    """A whole number."""
    token = cursor.take_kind("number")
    if token is None or not token.text.isdigit() or len(token.text) > 6:
        raise cursor.unexpected("a whole number", example)
    return token.text


def read_name(cursor: Cursor, what: str, example: str) -> str:
    """A name in quotation marks."""
    token = cursor.take_kind("text")
    if token is None:
        raise cursor.unexpected(f"{what} in quotation marks", example)
    return token.text[1:-1]


def read_word(cursor: Cursor, example: str) -> str:
    """A word of the notation, or a name."""
    token = cursor.take_kind("word")
    if token is None:
        raise cursor.unexpected("a word of the notation or a name", example)
    return token.text


def tolerance_of(sentence: Sentence, conditions: tuple[terms.Term, ...], scope: Scope) -> float:
    """Its tolerance in base units: of what is compared, or a way. Raises Problem."""
    if sentence.tolerance is None:
        return 0.0
    wanted = conditions[0].dimension if conditions and sentence.conditions else LENGTH
    term = scope.value(sentence.tolerance, wanted, "The tolerance", conditions[0] if conditions else None)
    if not isinstance(term, terms.Const) or not term.value >= 0:
        message = "A check's tolerance is a fixed value, not less than nothing."
        raise Problem(error("check-time", sentence.tolerance.span, message, "Write for example: 5 %"))
    return term.value
