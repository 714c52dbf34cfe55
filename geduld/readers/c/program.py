"""A program in C: its text, what it means with the class's words, and how it is run."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

from tree_sitter import Node

from geduld.binding.terms import Setting, Threshold
from geduld.hints.scripts import WaitingLoop
from geduld.language.messages import Hint, Problem, Span, error, listed, nearest, ordered
from geduld.readers.c.hints import CHints
from geduld.readers.c.names import STANDARD, Function, Names
from geduld.readers.c.preprocess import Preprocessed, preprocess
from geduld.readers.c.statements import Statements
from geduld.readers.c.syntax import MOST_DEPTH, NOT_READ, depth_of, named, parse, span_of, syntax_errors, text_of, walk
from geduld.readers.c.timing import Timing, uses_interrupts
from geduld.readers.c.tools import MACHINE_METHODS, TOOLS, CMachine
from geduld.readers.c.types import Pointer
from geduld.readers.c.ways import way_in
from geduld.readers.script import ScriptProgram
from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled
from geduld.run.program.program import Facts
from geduld.script.lane import compile_script
from geduld.script.loops import advance, quiet_pass
from geduld.script.ways import Way
from geduld.script.words import Words

_DECLARATIONS = ("declaration", "type_definition", "enum_specifier", "struct_specifier")
_FIRST = 1


class CProgram(ScriptProgram):
    """A text in C, with the wordbooks of its class, for a rig."""

    def __init__(self, text: str | bytes, rig: Rig, wordbooks: Iterable[str] = ()) -> None:
        super().__init__(text, rig, wordbooks, "c", _FIRST)
        self.prepared = Preprocessed("")
        self.root: Node | None = None
        self.less: frozenset[int] = frozenset()
        self.names: Names | None = None
        self._ready = False
        if not self.found:
            self._read()

    def _read(self) -> None:
        try:
            self.prepared = preprocess(self.text, self._headers)
            tree, self.less = parse(self.prepared.text)
            self.found += [*self.prepared.hints, *syntax_errors(tree, self.prepared.text), *self._includes()]
            if depth_of(tree.root_node) > MOST_DEPTH:
                self.too_deep()
            if not self.found:
                self.root = tree.root_node
                self._ready = True
                # All that is wrong is found by writing it once; the lane that comes of it is the one for recordings.
                self.recorded  # noqa: B018
        except _Unread:
            self._ready = False
        except RecursionError:
            self._ready = False
            self.too_deep()

    @property
    def _headers(self) -> list[str]:
        """The headers of the class."""
        return [header for book in self.books for header in book.book.headers]

    def _includes(self) -> Iterator[Hint]:
        headers = self._headers
        for name, line in self.prepared.includes:
            if name in STANDARD or name in headers:
                continue
            like = nearest(name, [*STANDARD, *headers])
            remedy = f'Did you mean "{like}"?' if like else f"The class's headers are {listed(headers) or 'none'}."
            message = f'The header "{name}" is not known here.'
            yield error("unknown-module", Span(line, 1, line, 2), message, remedy)

    @cached_property
    def hints(self) -> tuple[Hint, ...]:
        """Every message about it that needs no world."""
        risky = self._risky
        return ordered((*self.found, *(risky.all() if risky is not None else ())))

    @cached_property
    def _risky(self) -> CHints | None:
        if not self.good or self.root is None or self.names is None:
            return None
        timing = Timing(self.names, self.names.functions, uses_interrupts(self.root, self.names))
        return CHints(self.root, self.names, timing, self.text, self.less, self.prepared.defined)

    @cached_property
    def thresholds(self) -> tuple[Threshold, ...]:
        """The numbers in it that readings are compared with."""
        risky = self._risky
        return tuple(dict.fromkeys(risky.thresholds())) if risky is not None else ()

    def way_to(self, line: int) -> Way:
        """The blocks that a line stands in; empty where no statement begins there, or the program has errors."""
        return way_in(self.root, self.prepared.text, line) if self.root is not None and self.good else ()

    @cached_property
    def settings(self) -> tuple[Setting, ...]:
        """The numbers in it that set something."""
        risky = self._risky
        return tuple(dict.fromkeys(risky.settings())) if risky is not None else ()

    @cached_property
    def waiting_loops(self) -> tuple[WaitingLoop, ...]:
        """The loops in it whose end is asked of readings."""
        risky = self._risky
        return tuple(risky.waiting_loops()) if risky is not None else ()

    @cached_property
    def facts(self) -> Facts:
        """Its names, its statements, and the codes of its hints."""
        nodes = list(walk(self.root)) if self.root is not None else []
        names = {text_of(node) for node in nodes if node.type in ("identifier", "field_identifier", "type_identifier")}
        steps = sum(node.type.endswith("_statement") and node.type != "compound_statement" for node in nodes)
        return Facts(frozenset(names), steps, frozenset(hint.code for hint in self.hints))

    @property
    def _entry(self) -> tuple[str, str] | None:
        return next((book.book.entry for book in self.books if book.book.entry), None)

    def _compiled(self, closed: bool) -> Compiled:
        if not self._ready or self.root is None:
            raise ValueError("a program with errors cannot be run")
        bits = min((book.book.bits for book in self.books), default=32)
        names = Names(self.books, frozenset(name for name, _ in self.prepared.includes), bits)
        self.names = names
        every = [word for book in self.books for word in book.words.values()]
        every += [word for book in self.books for thing in book.things.values() for word in thing.words.values()]
        watched = uses_interrupts(self.root, names)
        words = Words(self.rig, every, closed, "0", watched)
        writer = Statements(names, words, Timing(names, {}, watched))
        writer.around, writer.used_names, writer.statics, writer.less = [], set(), [], self.less
        self._program(writer, names)
        if writer.hints:
            self.found += writer.hints
            raise _Unread
        before = [f"{'    ' * level}{text}" for level, text in writer.before]
        words.functions += before
        text = "\n".join([*before, *writer.source.lines])
        used = {name: method for name, method in MACHINE_METHODS.items() if name in text}
        machine = type("Machine", (CMachine,), {"ports": names.ports})
        start = tuple(step for book in self.books for step in book.start)
        kept = max([_FIRST, *(book.variables for book in self.books)])
        variables = sorted({name for name in writer.used_names if name.startswith("g_")})
        variables += sorted({line.split(" = ")[0] for _, line in writer.statics})
        tools = TOOLS | {"range_": range}
        return compile_script(words, start, writer.source, tools, machine, used, kept, variables)

    def _program(self, writer: Statements, names: Names) -> None:
        """Types and functions are known first; then come functions, what stands at the top, and the start."""
        assert self.root is not None
        tops = sorted(_tops(self.root), key=self._file_of)
        writer.defined = self._variables(tops)
        for node in tops:
            try:
                self._known_first(node, writer, names)
            except Problem as problem:
                writer.hints.append(problem.hint)
        names.boxed = _boxed(self.root, names)
        writer.timing = Timing(names, names.functions, writer.words.watched)
        writer.level = 2
        # What stands at the top is written behind the functions, but its names are known in them.
        functions, writer.source = writer.source, type(writer.source)()
        for node in tops:
            if node.type == "declaration":
                writer.statement(node)
            elif node.type not in (*_DECLARATIONS, "function_definition"):
                hint = error(NOT_READ, span_of(node), "Geduld does not read this here.", "Put it into a function.")
                writer.hints.append(hint)
        starts, writer.source = writer.source, functions
        variables = set(writer.used_names)
        for function in names.functions.values():
            if function.body is not None:
                writer.function(function)
            else:
                self._no_body(function, writer)
        writer.used_names |= variables
        for place, line in zip(starts.places, starts.lines, strict=True):
            writer.source.place = place
            writer.source.add(0, line)
        for place, line in writer.statics:
            writer.source.place = place
            writer.source.add(2, line)
        self._start(writer, names)

    def _file_of(self, node: Node) -> int:
        """The place of a node's file in the order in which a compiler comes by them."""
        line = node.start_point[0] + 1
        begins = [first for first in self.prepared.order if first <= line]
        return self.prepared.order.index(max(begins)) if begins else 0

    def _variables(self, tops: list[Node]) -> set[str]:
        """The variables of the program. Two files that have one of the same name are said: it is two to a compiler."""
        files: dict[str, int] = {}
        for node in tops:
            if node.type != "declaration" or text_of(node).startswith("extern"):
                continue
            for inner in node.children_by_field_name("declarator"):
                while inner.type in ("init_declarator", "array_declarator", "pointer_declarator"):
                    inner = inner.child_by_field_name("declarator") or named(inner)[0]
                if inner.type != "identifier":
                    continue
                if files.setdefault(text_of(inner), self._file_of(node)) != self._file_of(node):
                    message = f'Two files have a variable "{text_of(inner)}" of their own.'
                    self.found.append(error(NOT_READ, span_of(inner), message, "Give one of them another name."))
        return set(files)

    def _no_body(self, function: Function, writer: Statements) -> None:
        called = any(node.type == "identifier" and text_of(node) == function.name for node in walk_calls(self.root))
        if called:
            message = f'"{function.name}" is declared, but nothing says what it does.'
            hint = error("no-body", Span(1, 1, 1, 2), message, "Write the function, or take it away.")
            writer.hints.append(hint)

    def _known_first(self, node: Node, writer: Statements, names: Names) -> None:
        if node.type == "function_definition":
            declarator = node.child_by_field_name("declarator")
            assert declarator is not None
            function = writer.declarations.function(node, declarator, node.child_by_field_name("body"))
            old = names.functions.get(function.name)
            if old is not None and old.body is not None:
                message = f'There are two functions called "{function.name}".'
                code = "name-taken" if self._file_of(node) == self._file_of(old.body) else NOT_READ
                raise Problem(error(code, span_of(node), message, "Rename one of them."))
            if names.word(function.name) is not None:
                message = f'"{function.name}" is a word of the class already.'
                raise Problem(error("name-taken", span_of(declarator), message, "Give the function another name."))
            if old is not None:
                pairs = zip(function.given, old.given, strict=False)
                for mine, theirs in pairs:
                    mine.default = mine.default or theirs.default
            names.functions[function.name] = function
        elif node.type == "declaration":
            for declarator in node.children_by_field_name("declarator"):
                inner = declarator
                while inner.type in ("pointer_declarator", "reference_declarator"):
                    inner = named(inner)[-1]
                if inner.type == "function_declarator" and not _makes_object(node, names):
                    function = writer.declarations.function(node, declarator, None)
                    names.functions.setdefault(function.name, function)
            self._constants(node, writer)
        elif node.type == "type_definition":
            writer._do_type_definition(node)
        elif node.type == "enum_specifier":
            writer.declarations.enum(node)
        elif node.type == "struct_specifier":
            writer.declarations.struct(node)

    def _constants(self, node: Node, writer: Statements) -> None:
        """Types that a declaration names by itself."""
        kind = node.child_by_field_name("type")
        if kind is not None and kind.type in ("enum_specifier", "struct_specifier"):
            writer.declarations.named(kind)

    def _start(self, writer: Statements, names: Names) -> None:
        """Calls what the program begins with."""
        source, entry = writer.source, self._entry
        wanted = ("main",) if entry is None else entry
        for name in wanted:
            if name not in names.functions or names.functions[name].body is None:
                message = f'The program has no function "{name}", with which it would begin.'
                remedy = f"Write: {'int' if name == 'main' else 'void'} {name}() {{ … }}"
                writer.hints.append(error("no-begin", Span(1, 1, 1, 2), message, remedy))
                return
        source.place = 0

        def call(name: str) -> str:
            told = f"g_{name}({', '.join('0' for _ in names.functions[name].given)})"
            return f"(yield from {told})" if name in writer.timing.timed else told

        if entry is None:
            source.add(2, call("main"))
            return
        body = names.functions[entry[1]].body
        assert body is not None
        source.place = body.start_point[0] + 1
        source.add(2, call(entry[0]))
        source.add(2, "u0 = quiet_()")
        source.add(2, "while True:")
        source.add(3, "p0 = now; a0_ = acts")
        source.add(3, "steps += 1")
        source.add(3, "if steps > most: raise StepsExhausted(now)")
        source.add(3, call(entry[1]))
        source.add(3, "if now == p0:")
        source.add(4, "if acts != a0_:")
        advance(source, 5, source.place, "p0", writer.words)
        source.add(4, "else:")
        quiet_pass(source, 5, source.place, 0, writer.words)


class _Unread(Exception):
    """Something in the program is not read; its hints say what."""


def _tops(root: Node) -> Iterator[Node]:
    """What stands at the top of a program; what `extern "C"` only groups is not a level of its own."""
    for node in named(root):
        if node.type == "linkage_specification":
            body = node.child_by_field_name("body")
            yield from named(body) if body is not None and body.type == "declaration_list" else ()
        elif node.type not in ("using_declaration", "expression_statement", ";"):
            yield node


def _makes_object(node: Node, names: Names) -> bool:
    kind = node.child_by_field_name("type")
    return kind is not None and names.thing(text_of(kind)) is not None


def walk_calls(root: Node | None) -> Iterator[Node]:
    """The names of the functions that are called anywhere."""
    for node in walk(root) if root is not None else ():
        if node.type == "call_expression":
            callee = node.child_by_field_name("function")
            if callee is not None:
                yield callee


def _boxed(root: Node, names: Names) -> set[str]:
    """The variables whose place is handed on: by &, or to a parameter that is a reference."""
    found: set[str] = set()
    for node in walk(root):
        if node.type == "pointer_expression" and text_of(node.children[0]) == "&":
            inner = node.child_by_field_name("argument")
            if inner is not None and inner.type == "identifier":
                found.add(text_of(inner))
        elif node.type == "call_expression":
            callee, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
            function = names.functions.get(text_of(callee)) if callee is not None else None
            if function is None or arguments is None:
                continue
            for given, parameter in zip(named(arguments), function.given, strict=False):
                reference = isinstance(parameter.kind, Pointer) and parameter.kind.reference
                if reference and given.type == "identifier":
                    found.add(text_of(given))
    return found
