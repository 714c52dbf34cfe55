"""A program in Python: its text, what it means with the class's words, and how it is run."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterable
from functools import cached_property

from geduld.binding.terms import Setting, Threshold
from geduld.hints.scripts import WaitingLoop
from geduld.language.messages import Hint, ordered
from geduld.readers.files import SourceFile
from geduld.readers.python.builtins import FUNCTIONS, RANDOM
from geduld.readers.python.expressions import METHODS_OF_MACHINE
from geduld.readers.python.hints import PythonHints
from geduld.readers.python.imports import FIRST, Imports
from geduld.readers.python.joining import FIRST_FILE, imported_names, join, module_name
from geduld.readers.python.meanings import Names
from geduld.readers.python.mistakes import misplaced, parsed, syntax_errors
from geduld.readers.python.names import every
from geduld.readers.python.rewriting import rewritten
from geduld.readers.python.statements import Statements
from geduld.readers.python.tools import MACHINE_METHODS, TOOLS, PythonMachine
from geduld.readers.python.unread import CODE, unread
from geduld.readers.python.ways import way_in
from geduld.readers.script import ScriptProgram
from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled
from geduld.run.program.program import Facts
from geduld.script.lane import compile_script
from geduld.script.ways import Way
from geduld.script.words import Words

_USED = re.compile(r"\b(b|random)_(\w+)\(?")


class PythonProgram(ScriptProgram):
    """A text in Python, with the wordbooks of its class, for a rig."""

    def __init__(self, text: str | bytes, rig: Rig, wordbooks: Iterable[str] = ()) -> None:
        super().__init__(text, rig, wordbooks, "python", FIRST)
        self.module = ast.Module([], [])
        self.imports = Imports(self.books)
        if not self.found:
            self._parse()
        self.names: Names | None = None
        if not self.found:
            self._read()

    def _parse(self) -> None:
        try:
            if len(self.files) == 1:
                self.module = self._parsed(self.files[0]) or self.module
            else:
                self._join()
        except (RecursionError, MemoryError):
            self.too_deep()

    def _parsed(self, file: SourceFile) -> ast.Module | None:
        """One file's tree, its lines those of the whole text; what is wrong with it is kept."""
        text = "\n" * (file.first - 1) + file.text
        try:
            module = parsed(text)
        except (SyntaxError, ValueError):
            self.found += syntax_errors(text)
            return None
        self.found += misplaced(module)
        return module

    def _join(self) -> None:
        """One module of the file that begins and of those that it imports, and they again. What the class's library has
        is taken from there, also where a copy of the library lies beside the program.
        """
        first, *others = self.files
        files = {module_name(file): file for file in others}
        files = {name: file for name, file in files.items() if name not in self.imports.modules} | {FIRST_FILE: first}
        waiting, trees = [FIRST_FILE], dict[str, ast.Module]()
        while waiting:
            name = waiting.pop()
            module = self._parsed(files[name]) if name in files and name not in trees else None
            if module is not None:
                trees[name] = module
                waiting += imported_names(module, name)
        if not self.found:
            self.module, wrong = join(list(trees.items()), self.imports.names_in)
            self.found += wrong

    def _read(self) -> None:
        try:
            nodes = rewritten(self.module, every(self.module))
            self.found += unread(self.module, nodes)
            imports = self.imports
            for node in nodes:
                if isinstance(node, ast.Import | ast.ImportFrom):
                    imports.read(node)
            self.found += imports.hints
            if not self.found:
                self.names = Names(self.module, nodes, imports, self.books)
                # All that is wrong is found by writing it once; the lane that comes of it is the one for recordings.
                self.recorded  # noqa: B018
        except ProgramUnreadError:
            self.names = None
        except (RecursionError, MemoryError, SyntaxError):
            # a limit of Python's own compiler, on the lane that this program becomes
            self.names = None
            self.too_deep()

    @cached_property
    def hints(self) -> tuple[Hint, ...]:
        """Every message about it that needs no world."""
        risky = PythonHints(self.names).all() if self.names is not None and self.good else ()
        return ordered((*self.found, *risky))

    @property
    def not_read(self) -> tuple[Hint, ...]:
        """What Geduld does not read in it: no mistake of the student's."""
        return tuple(hint for hint in self.errors if hint.code in (CODE, "too-deep"))

    @cached_property
    def thresholds(self) -> tuple[Threshold, ...]:
        """The numbers in it that readings are compared with."""
        return tuple(dict.fromkeys(PythonHints(self.names).thresholds())) if self.names else ()

    def way_to(self, line: int) -> Way:
        """The blocks that a line stands in; empty where no statement begins there, or the program has errors."""
        file = next((item for item in reversed(self.files) if item.first <= line), None)
        if not self.good or file is None:
            return ()
        return way_in(ast.parse("\n" * (file.first - 1) + file.text), line)  # as it is written, match and all

    @cached_property
    def settings(self) -> tuple[Setting, ...]:
        """The numbers in it that set something."""
        return tuple(dict.fromkeys(PythonHints(self.names).settings())) if self.names and self.good else ()

    @cached_property
    def waiting_loops(self) -> tuple[WaitingLoop, ...]:
        """The loops in it whose end is asked of readings."""
        return tuple(PythonHints(self.names).waiting_loops()) if self.names else ()

    @cached_property
    def facts(self) -> Facts:
        """Its names, its statements, and the codes of its hints."""
        nodes = list(ast.walk(self.module))
        words = {node.id for node in nodes if isinstance(node, ast.Name)}
        words |= {node.attr for node in nodes if isinstance(node, ast.Attribute)}
        steps = sum(isinstance(node, ast.stmt) for node in nodes)
        return Facts(frozenset(words), steps, frozenset(hint.code for hint in self.hints))

    def _compiled(self, closed: bool) -> Compiled:
        names = self.names
        if names is None:
            raise ValueError("a program with errors cannot be run")
        every = [word for book in self.books for word in book.words.values()]
        every += [word for thing in names.things for word in thing.words.values()]
        words = Words(self.rig, every, closed, "None", names.timing.watched)
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
