"""Makes one module of a program of several files: each file's names get its own name in front of them."""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from geduld.language.messages import Hint, error, listed, nearest
from geduld.readers.files import SourceFile
from geduld.readers.python.names import Scope, scopes_of
from geduld.readers.python.unread import CODE, span_of
from geduld.script.telling import DOT

FIRST_FILE = "__main__"
_COMPREHENSIONS = (ast.ListComp, ast.SetComp, ast.DictComp, ast.GeneratorExp)


@dataclass(eq=False)
class Part:
    """A file as a module: its name, its tree, its names at the top, and which other files' names it has taken.

    `spaces` are other files by the names that they have here, `taken` names of theirs: file, and name there. `renamed`
    is what each of its own names is called in the whole. `begun` when its statements are already on their way.
    """

    name: str
    module: ast.Module
    scopes: dict[ast.AST, Scope]
    brought: set[str]
    stores: Counter[str]
    renamed: dict[str, str] = field(default_factory=dict)
    spaces: dict[str, str] = field(default_factory=dict)
    taken: dict[str, tuple[str, str]] = field(default_factory=dict)
    begun: bool = False

    @property
    def top(self) -> Scope:
        """Its module scope."""
        return self.scopes[self.module]


def module_name(file: SourceFile) -> str:
    """What a file is imported as."""
    return file.stem.removesuffix("/__init__").replace("/", ".")


def imported_names(module: ast.Module, name: str) -> list[str]:
    """Every module that the import lines of a file may mean; `name` is what the file itself is imported as."""
    found: list[str] = []
    for node in ast.walk(module):
        if isinstance(node, ast.Import):
            found += [alias.name for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            base = _base(node, name)
            found += [base, *(f"{base}.{alias.name}".removeprefix(".") for alias in node.names)]
    return found


def _base(node: ast.ImportFrom, name: str) -> str:
    """The module that a `from … import` line names, seen from the file `name`."""
    if not node.level:
        return node.module or ""
    return ".".join([*name.split(".")[: -node.level], *([node.module] if node.module else [])])


def join(
    trees: list[tuple[str, ast.Module]], names_in: Callable[[str], Iterable[str]]
) -> tuple[ast.Module, list[Hint]]:
    """One module of several, which begins with FIRST_FILE, and what is wrong with how they import each other.

    `names_in` says what a module of the class has in it, for `from … import *`.
    """
    joiner = _Joiner(trees, names_in)
    joiner.include(FIRST_FILE)
    return ast.Module(joiner.body, []), joiner.hints


class _Joiner:
    def __init__(self, trees: list[tuple[str, ast.Module]], names_in: Callable[[str], Iterable[str]]) -> None:
        self.names_in = names_in
        self.hints: list[Hint] = []
        self.body: list[ast.stmt] = []
        self.lines: dict[tuple[str, str], ast.AST] = {}
        self.parts = {name: self._part(name, module) for name, module in trees}
        # What * brings in is known when all else is.
        for star in (False, True):
            for part in self.parts.values():
                for node in ast.walk(part.module):
                    if isinstance(node, ast.Import | ast.ImportFrom) and (node.names[0].name == "*") == star:
                        self._read(node, part)
        for part in self.parts.values():
            self._check(part)

    def _part(self, name: str, module: ast.Module) -> Part:
        scopes = scopes_of(module)
        stores: Counter[str] = Counter()
        for node in ast.walk(module):
            if isinstance(node, ast.Name) and not isinstance(node.ctx, ast.Load):
                stores[node.id] += 1
            elif isinstance(node, ast.FunctionDef | ast.ClassDef):
                stores[node.name] += 1
            elif isinstance(node, ast.Global):
                stores.update(node.names * 2)
        part = Part(name, module, scopes, set(), stores)
        part.renamed = {own: self._name(part, own) for own in scopes[module].assigned}
        return part

    def _name(self, part: Part, name: str) -> str:
        return name if part.name == FIRST_FILE else f"{part.name.replace('.', DOT)}{DOT}{name}"

    def _own(self, node: ast.ImportFrom, part: Part) -> str | None:
        """The file that an import line takes names from; None where it is none of the program's."""
        name = _base(node, part.name)
        return name if name in self.parts else None

    # What the import lines of a file say

    def _read(self, node: ast.Import | ast.ImportFrom, part: Part) -> None:
        if isinstance(node, ast.Import):
            for alias in node.names:
                if alias.name in self.parts:
                    part.spaces[alias.asname or alias.name] = alias.name
                elif alias.asname or "." not in alias.name:
                    self._bring(part, alias.asname or alias.name)
            return
        own = self._own(node, part)
        for alias in node.names:
            inside = f"{_base(node, part.name)}.{alias.name}".removeprefix(".")
            if alias.name == "*":
                names = self._public(own) if own else self.names_in(node.module or "")
                for name in names:
                    self._take(node, part, own, name, name)
            elif inside in self.parts:
                part.spaces[alias.asname or alias.name] = inside
            else:
                self._take(node, part, own, alias.name, alias.asname or alias.name)

    def _take(self, node: ast.ImportFrom, part: Part, own: str | None, name: str, local: str) -> None:
        if own is None:
            self._bring(part, local)
            return
        part.taken[local] = own, name
        self.lines[part.name, local] = node

    def _check(self, part: Part) -> None:
        for local, (own, name) in part.taken.items():
            if not self.has(own, name):
                self.unknown(self.lines[part.name, local], own, name)

    def has(self, own: str, name: str) -> bool:
        """Whether a file has a name that others can use."""
        return name in self.parts[own].renamed or name in self.parts[own].taken

    def unknown(self, node: ast.AST, own: str, name: str) -> None:
        """Says that a file has no such name."""
        known = self.parts[own].renamed
        like = nearest(name, known)
        remedy = f"Did you mean {like}?" if like else f"It has {listed(sorted(known)[:12]) or 'nothing'}."
        self.hints.append(error("unknown-import", span_of(node), f'"{own}" has nothing called "{name}".', remedy))

    def _bring(self, part: Part, name: str) -> None:
        """A name of the class's library, or of Python's own."""
        part.brought.add(name)
        part.renamed.setdefault(name, self._name(part, name))

    def _public(self, own: str) -> list[str]:
        part = self.parts[own]
        return [name for name in [*part.renamed, *part.taken] if not name.startswith("_")]

    def final(self, own: str, name: str) -> str:
        """What a name of a file is called in the whole."""
        part, seen = self.parts[own], 0
        while name not in part.renamed and name in part.taken and seen < len(self.parts):
            own, name = part.taken[name]
            part, seen = self.parts[own], seen + 1
        return part.renamed.get(name, name)

    def _keeps(self, own: str, name: str) -> bool:
        """Whether a name of a file means one thing for ever."""
        part = self.parts[own]
        return name in part.brought or name in part.taken or part.stores[name] <= 1

    def stands_for(self, part: Part, local: str) -> str | None:
        """What a name that was taken from another file is, where it always is the same; None where it is a copy."""
        own, name = part.taken[local]
        if local in part.top.assigned or part.stores[local] or not self._keeps(own, name):
            return None
        return self.final(own, name)

    # One body of all

    def include(self, name: str) -> None:
        """The statements of a file, and at each import of another one those of that, the first time."""
        part = self.parts[name]
        if part.begun:
            return
        part.begun = True
        renamer = _Renamer(self, part)
        for node in part.module.body:
            if isinstance(node, ast.Import | ast.ImportFrom):
                self.body += self._imported(node, part)
            else:
                self.body.append(renamer.visit(node))

    def _imported(self, node: ast.Import | ast.ImportFrom, part: Part) -> list[ast.stmt]:
        """What is left of an import line: what the class's modules bring in, and copies of names that may change."""
        if isinstance(node, ast.Import):
            rest = [alias for alias in node.names if alias.name not in self.parts]
            for alias in node.names:
                if alias.name in self.parts:
                    self.include(alias.name)
            for alias in rest:
                if part.name != FIRST_FILE and (alias.asname or "." not in alias.name):
                    alias.asname = part.renamed[alias.asname or alias.name]
            return [ast.copy_location(ast.Import(rest), node)] if rest else []
        own = self._own(node, part)
        if own is not None:
            self.include(own)
        modules = [alias for alias in node.names if part.spaces.get(alias.asname or alias.name) and alias.name != "*"]
        for alias in modules:
            self.include(part.spaces[alias.asname or alias.name])
        if own is not None:
            return self._copies(node, own, part)
        rest = [alias for alias in node.names if alias not in modules]
        if rest and rest[0].name == "*" and part.name != FIRST_FILE:
            rest = [ast.alias(name, part.renamed[name]) for name in self.names_in(node.module or "")]
        elif part.name != FIRST_FILE:
            for alias in rest:
                alias.asname = part.renamed[alias.asname or alias.name]
        for alias in rest:
            ast.copy_location(alias, node)
        return [ast.copy_location(ast.ImportFrom(node.module, rest, node.level), node)] if rest else []

    def _copies(self, node: ast.ImportFrom, own: str, part: Part) -> list[ast.stmt]:
        copies: list[ast.stmt] = []
        locals_ = [local for local, (other, _) in part.taken.items() if other == own]
        for local in locals_:
            named = any(alias.name == "*" or (alias.asname or alias.name) == local for alias in node.names)
            if not named or self.stands_for(part, local) is not None:
                continue
            part.renamed.setdefault(local, self._name(part, local))
            target = ast.Name(part.renamed[local], ast.Store())
            value = ast.Name(self.final(own, part.taken[local][1]), ast.Load())
            copies.append(ast.Assign([target], value))
        for copy in copies:
            for inner in ast.walk(copy):
                ast.copy_location(inner, node)
        return copies


class _Renamer(ast.NodeTransformer):
    """Gives the names of one file the names that they have in the whole."""

    def __init__(self, joiner: _Joiner, part: Part) -> None:
        self.joiner = joiner
        self.part = part
        self.scope = part.top
        self.shared: list[set[str]] = [set()]

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        """A function: its name, its defaults around it, and its body."""
        node.name = self._named(node.name)
        given = node.args
        node.decorator_list = [self.visit(item) for item in node.decorator_list]
        given.defaults = [self.visit(item) for item in given.defaults]
        given.kw_defaults = [item and self.visit(item) for item in given.kw_defaults]
        self.shared.append(set())
        before, self.scope = self.scope, self.part.scopes[node]
        node.body = [self.visit(item) for item in node.body]
        self.scope = before
        names = sorted(self.shared.pop())
        if names:
            node.body.insert(0, ast.copy_location(ast.Global(names), node.body[0]))
        return node

    def visit_Lambda(self, node: ast.Lambda) -> ast.AST:
        """A lambda: its defaults around it, and its body."""
        node.args.defaults = [self.visit(item) for item in node.args.defaults]
        before, self.scope = self.scope, self.part.scopes[node]
        node.body = self.visit(node.body)
        self.scope = before
        return node

    def visit_ClassDef(self, node: ast.ClassDef) -> ast.AST:
        """A class: its name, its bases around it, and its body."""
        node.name = self._named(node.name)
        node.bases = [self.visit(item) for item in node.bases]
        node.decorator_list = [self.visit(item) for item in node.decorator_list]
        before, self.scope = self.scope, self.part.scopes[node]
        node.body = [self.visit(item) for item in node.body]
        self.scope = before
        return node

    def generic_visit(self, node: ast.AST) -> ast.AST:
        """A comprehension's first source is worked out around it; all else of it, and all others, as they stand."""
        if not isinstance(node, _COMPREHENSIONS):
            return super().generic_visit(node)
        first = node.generators[0]
        first.iter = self.visit(first.iter)
        source, first.iter = first.iter, ast.Constant(None)
        before, self.scope = self.scope, self.part.scopes[node]
        super().generic_visit(node)
        self.scope = before
        first.iter = source
        return node

    def visit_Name(self, node: ast.Name) -> ast.AST:
        """A name, as it is called in the whole."""
        if self._space(node) is not None:
            self._refuse(node, "a file as a value", "Use what is in it, behind a point.")
        if node.id == "__name__" and self.part.name != FIRST_FILE:
            return ast.copy_location(ast.Constant(self.part.name), node)
        node.id = self._named(node.id)
        return node

    def visit_Global(self, node: ast.Global) -> ast.AST:
        """Names of the module that a function sets."""
        node.names = [self.part.renamed.get(name, name) for name in node.names]
        return node

    def visit_ExceptHandler(self, node: ast.ExceptHandler) -> ast.AST:
        """What an error is called."""
        if node.name:
            node.name = self._named(node.name)
        return super().generic_visit(node)

    def visit_Attribute(self, node: ast.Attribute) -> ast.AST:
        """What stands in another file becomes a name of the whole."""
        own = self._space(node.value)
        if own is None:
            if self._space(node) is not None:
                return node  # the beginning of a longer name
            return super().generic_visit(node)
        if not self.joiner.has(own, node.attr):
            self.joiner.unknown(node, own, node.attr)
            return node
        name = self.joiner.final(own, node.attr)
        if not isinstance(node.ctx, ast.Load) and self.scope.kind == "function":
            self.shared[-1].add(name)
        return ast.copy_location(ast.Name(name, node.ctx), node)

    def visit_Import(self, node: ast.Import | ast.ImportFrom) -> ast.AST:
        """Imports inside of something: only those of the class and of Python itself."""
        own = isinstance(node, ast.ImportFrom) and self.joiner._own(node, self.part) is not None
        if own or any(alias.name in self.joiner.parts for alias in node.names if isinstance(node, ast.Import)):
            self._refuse(node, "an import of an own file here", "Import it at the top of the file.")
        elif self.part.name != FIRST_FILE:
            for alias in node.names:
                if alias.name != "*" and (alias.asname or "." not in alias.name):
                    alias.asname = self.part.renamed[alias.asname or alias.name]
        return node

    visit_ImportFrom = visit_Import  # noqa: N815

    def _named(self, name: str) -> str:
        holder = self.scope.holder(name)
        if holder is not None:
            return self.part.renamed.get(name, name) if holder is self.part.top else name
        if name in self.part.taken:
            return self.joiner.stands_for(self.part, name) or self.part.renamed.get(name, name)
        return self.part.renamed.get(name, name)

    def _space(self, node: ast.expr) -> str | None:
        """The file that a name, or a dotted name, means."""
        told = _dotted(node)
        if told is None or self.scope.holder(told.partition(".")[0]) is not None:
            return None
        return self.part.spaces.get(told)

    def _refuse(self, node: ast.stmt | ast.expr, what: str, remedy: str) -> None:
        self.joiner.hints.append(error(CODE, span_of(node), f"Geduld does not read {what}.", remedy))


def _dotted(node: ast.expr) -> str | None:
    if isinstance(node, ast.Name):
        return node.id
    if isinstance(node, ast.Attribute):
        before = _dotted(node.value)
        return None if before is None else f"{before}.{node.attr}"
    return None
