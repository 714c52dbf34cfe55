"""A program in Python: its text, what it means with the class's words, and how it is run."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterable
from functools import cached_property

from geduld.binding.terms import Threshold
from geduld.hints.scripts import script_hints
from geduld.language.messages import Hint, Span, error, ordered
from geduld.language.source import decode, split_lines
from geduld.readers.python.builtins import FUNCTIONS, RANDOM
from geduld.readers.python.hints import PythonHints
from geduld.readers.python.imports import FIRST, Imports
from geduld.readers.python.mistakes import misplaced, parsed, syntax_errors
from geduld.readers.python.statements import Statements
from geduld.readers.python.tools import MACHINE_METHODS, TOOLS, PythonMachine
from geduld.readers.python.translate import METHODS_OF_MACHINE, Names
from geduld.readers.python.unread import CODE, unread
from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled
from geduld.run.program.program import Facts
from geduld.run.record.record import Record
from geduld.script.lane import compile_script
from geduld.script.words import Words
from geduld.wordbook.binder import read_wordbook
from geduld.wordbook.bound import BoundBook
from geduld.worlds.trace import Trace

_USED = re.compile(r"\b(b|random)_(\w+)\(?")
_TOO_DEEP = "This program nests its expressions or blocks deeper than Geduld reads."


class PythonProgram:
    """A text in Python, with the wordbooks of its class, for a rig."""

    def __init__(self, text: str | bytes, rig: Rig, wordbooks: Iterable[str] = ()) -> None:
        self.rig = rig
        self.found: list[Hint] = []
        plain, wrong = decode(text) if isinstance(text, bytes) else (text, [])
        if not wrong:
            wrong = [hint for hint in split_lines(plain)[1] if hint.code != "invisible-character"]
        self.text = "" if wrong else plain
        self.found += wrong
        self.books = tuple(_books(wordbooks, rig))
        self.module = ast.Module([], [])
        self._parse()
        self._names: Names | None = None
        if not self.found:
            self._read()

    def _parse(self) -> None:
        try:
            self.module = parsed(self.text)
            self.found += misplaced(self.module)
        except (SyntaxError, ValueError):
            self.found += syntax_errors(self.text)
        except (RecursionError, MemoryError):
            self.found.append(error("too-deep", Span(1, 1, 1, 2), _TOO_DEEP, "Work it out in several lines."))

    def _read(self) -> None:
        try:
            self.found += unread(self.module)
            imports = Imports(self.books)
            for node in ast.walk(self.module):
                if isinstance(node, ast.Import | ast.ImportFrom):
                    imports.read(node)
            self.found += imports.hints
            if not self.found:
                self._names = Names(self.module, imports, self.books)
                # All that is wrong is found by writing it once; the lane that comes of it is the one for recordings.
                self.recorded  # noqa: B018
        except ProgramUnreadError:
            self._names = None
        except (RecursionError, MemoryError, SyntaxError):
            # a limit of Python's own compiler, on the lane that this program becomes
            self._names = None
            self.found.append(error("too-deep", Span(1, 1, 1, 2), _TOO_DEEP, "Work it out in several lines."))

    @property
    def good(self) -> bool:
        """Whether it can be run."""
        return not self.errors

    @property
    def errors(self) -> tuple[Hint, ...]:
        """Why it cannot be run."""
        return ordered(hint for hint in self.found if hint.level == "error")

    @cached_property
    def hints(self) -> tuple[Hint, ...]:
        """Every message about it that needs no world."""
        risky = PythonHints(self._names).all() if self._names is not None and self.good else ()
        return ordered((*self.found, *risky))

    @property
    def not_read(self) -> tuple[Hint, ...]:
        """What Geduld does not read in it: no mistake of the student's."""
        return tuple(hint for hint in self.errors if hint.code in (CODE, "too-deep"))

    @cached_property
    def thresholds(self) -> tuple[Threshold, ...]:
        """The numbers in it that readings are compared with."""
        return tuple(dict.fromkeys(PythonHints(self._names).thresholds())) if self._names else ()

    @cached_property
    def facts(self) -> Facts:
        """Its names, its statements, and the codes of its hints."""
        nodes = list(ast.walk(self.module))
        words = {node.id for node in nodes if isinstance(node, ast.Name)}
        words |= {node.attr for node in nodes if isinstance(node, ast.Attribute)}
        steps = sum(isinstance(node, ast.stmt) for node in nodes)
        return Facts(frozenset(words), steps, frozenset(hint.code for hint in self.hints))

    def hints_in(self, seen: Trace, record: Record) -> tuple[Hint, ...]:
        """What a run of it shows about it."""
        return script_hints(self.text, record)

    @cached_property
    def recorded(self) -> Compiled:
        """Compiled for recordings."""
        return self._compiled(False)

    @cached_property
    def feedback(self) -> Compiled:
        """Compiled for worlds in which what it does changes what it reads."""
        return self._compiled(True)

    def _compiled(self, closed: bool) -> Compiled:
        names = self._names
        if names is None:
            raise ValueError("a program with errors cannot be run")
        every = [word for book in self.books for word in book.words.values()]
        every += [word for thing in names.things for word in thing.words.values()]
        words = Words(self.rig, every, closed, "None")
        writer = Statements(names, words)
        writer.loops = []
        for statement in self.module.body:
            writer.statement(statement, names.top)
        if writer.hints:
            self.found += writer.hints
            raise ProgramUnreadError
        source, before = writer.source, [f"{'    ' * level}{text}" for level, text in writer.before]
        text = "\n".join([*before, *source.lines])
        methods = METHODS_OF_MACHINE | MACHINE_METHODS
        for kind, name in set(_USED.findall(text)):
            if kind == "b" and name in FUNCTIONS:
                methods[f"b_{name}"] = f"builtins.{name}"
            elif kind == "random" and name in RANDOM:
                methods[f"random_{name}"] = f"drawing.{name}"
        used = {name: method for name, method in methods.items() if name in text}
        words.functions += before
        ports = names.ports
        machine = type("Machine", (PythonMachine,), {"ports": ports})
        start = tuple(step for book in self.books for step in book.start)
        kept = max([FIRST, *(book.variables for book in self.books)])
        variables = sorted(f"g_{name}" for name in names.top.assigned)
        return compile_script(words, start, source, TOOLS, machine, used, kept, variables)


class ProgramUnreadError(Exception):
    """Something in the program is not read; its hints say what."""


def _books(wordbooks: Iterable[str], rig: Rig) -> Iterable[BoundBook]:
    """The wordbooks for Python, one after another."""
    first = FIRST
    for text in wordbooks:
        book = read_wordbook(text, rig, first)
        if book.book.language == "python":
            first = book.variables
            yield book
