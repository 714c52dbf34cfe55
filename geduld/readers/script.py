"""What a student's program is in either language: its text, its wordbooks, what is wrong with it, and its two lanes."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence

from geduld.binding.terms import Setting, Threshold
from geduld.hints.scripts import WaitingLoop, script_hints
from geduld.language.messages import Hint, Span, error, listed, ordered
from geduld.language.source import decode, split_lines
from geduld.readers.files import SourceFile, begins_unclear, files_in, may_begin, why_no_program
from geduld.rig.model import Rig
from geduld.run.program.program import CompiledTwice
from geduld.run.record.record import Record
from geduld.script.ways import Way
from geduld.wordbook.binder import read_wordbook
from geduld.wordbook.bound import BoundBook
from geduld.worlds.trace import Trace


class ScriptProgram(CompiledTwice):
    """A text in `language`, with the wordbooks of its class for that language, on a rig. `first` is the number of the
    first value that the words may keep; `found` is all that is known to be wrong.
    """

    def __init__(self, text: str | bytes, rig: Rig, wordbooks: Iterable[str], language: str, first: int) -> None:
        self.rig = rig
        plain, wrong = decode(text) if isinstance(text, bytes) else (text, [])
        if not wrong:
            wrong = [hint for hint in split_lines(plain)[1] if hint.code != "invisible-character"]
        self.text = "" if wrong else plain
        self.files = files_in(self.text)
        self.found: list[Hint] = [*wrong, *_no_beginning(self.text, self.files)]
        self.books = tuple(_books(wordbooks, rig, language, first))

    def too_deep(self) -> None:
        """Says that it is nested too deep to be read."""
        message = "This program nests its expressions or blocks deeper than Geduld reads."
        self.found.append(error("too-deep", Span(1, 1, 1, 2), message, "Work it out in several lines."))

    @property
    def good(self) -> bool:
        """Whether it can be run."""
        return not self.errors

    @property
    def errors(self) -> tuple[Hint, ...]:
        """Why it cannot be run."""
        return ordered(hint for hint in self.found if hint.level == "error")

    def hints_in(self, seen: Trace, record: Record) -> tuple[Hint, ...]:
        """What a run of it shows about it."""
        return script_hints(self.text, self.rig, seen, record, self.thresholds, self.waiting_loops)

    @property
    @abstractmethod
    def thresholds(self) -> tuple[Threshold, ...]:
        """The numbers in it that readings are compared with."""

    @property
    @abstractmethod
    def settings(self) -> tuple[Setting, ...]:
        """The numbers in it that set something."""

    @abstractmethod
    def way_to(self, line: int) -> Way:
        """The blocks that a line stands in; empty where no statement begins there, or the program has errors."""

    @property
    @abstractmethod
    def waiting_loops(self) -> tuple[WaitingLoop, ...]:
        """The loops in it whose end is asked of readings."""


def _no_beginning(text: str, files: Sequence[SourceFile]) -> Iterator[Hint]:
    """Why there is nothing with which a program of several files could begin."""
    why = why_no_program(text)
    if why:
        yield error("no-program", Span(1, 1, 1, 2), why, "Ask for the program as a file, a folder or a zip.")
    elif begins_unclear(text):
        names = listed(may_begin(files))
        message = f"Nothing says with which of these files the program begins: {names}."
        yield error("begins-unclear", Span(1, 1, 1, 2), message, "Choose one.")


def _books(wordbooks: Iterable[str], rig: Rig, language: str, first: int) -> Iterator[BoundBook]:
    """The wordbooks for a language, one after another."""
    for text in wordbooks:
        book = read_wordbook(text, rig, first)
        if book.book.language == language:
            first = book.variables
            yield book
