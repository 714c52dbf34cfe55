"""What the names of a Python program mean: its own, those of the class, and Python's."""

from __future__ import annotations

import ast
from functools import cached_property

from geduld.readers.python import kinds
from geduld.readers.python.imports import Imports, Meaning, Own, Space
from geduld.readers.python.kinds import ANY, FLOAT, NUMBER, SMALL, Kinds
from geduld.readers.python.names import Scope, inside, scopes_of
from geduld.readers.python.timing import Timing
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundBook, BoundThing, BoundWord

# What uses a generator up at once, to its end.
_USING_UP = frozenset(["sum", "min", "max", "list", "tuple", "set", "sorted", "any", "all", "dict", "join", "extend"])


def _used_up(module: ast.Module) -> set[int]:
    """The generator expressions that are used up at once, where they stand."""
    found: set[int] = set()
    for node in ast.walk(module):
        if isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")
            if name in _USING_UP:
                found |= {id(value) for value in node.args}
        elif isinstance(node, ast.Starred):
            found.add(id(node.value))
    return found


def _attributes(module: ast.Module) -> set[str]:
    """What the program's own objects have."""
    found = {
        item.attr for item in ast.walk(module) if isinstance(item, ast.Attribute) and isinstance(item.ctx, ast.Store)
    }
    for node in ast.walk(module):
        for item in node.body if isinstance(node, ast.ClassDef) else ():
            if isinstance(item, ast.FunctionDef):
                found.add(item.name)
            found |= {name.id for name in ast.walk(item) if isinstance(name, ast.Name)}
    return found


class Names:
    """What a program's names are: its scopes, what it imports, and the kinds of its variables."""

    def __init__(
        self, module: ast.Module, nodes: list[ast.AST], imports: Imports, books: tuple[BoundBook, ...]
    ) -> None:
        self.module = module
        self.scopes = scopes_of(module)
        self.top = self.scopes[module]
        self.meanings = {name: meaning for name, meaning in imports.names.items() if name not in self.top.assigned}
        self.written_over = {name: m for name, m in imports.names.items() if name in self.top.assigned}
        self.things = tuple(thing for book in books for thing in book.things.values())
        self.ports = {key: part for book in books for key, part in book.ports.items()}
        self.timing = Timing(nodes, self.meanings | self.written_over, self.things)
        self.kinds = Kinds(self.kind)
        self.kinds.gather(self.scopes)
        self.once = self._defined_once()

    @cached_property
    def scope_of(self) -> dict[ast.AST, Scope]:
        """The scope in which each node stands."""
        found: dict[ast.AST, Scope] = {}
        for node, scope in sorted(self.scopes.items(), key=lambda pair: pair[1].depth):
            body = node.body if isinstance(node, ast.Module | ast.FunctionDef | ast.ClassDef) else [node]
            for item in body if isinstance(body, list) else [body]:
                found |= dict.fromkeys(inside(item), scope)
        return found

    @cached_property
    def used_up(self) -> set[int]:
        """The generator expressions that are used up at once, where they stand."""
        return _used_up(self.module)

    @cached_property
    def attributes(self) -> set[str]:
        """What the program's own objects have."""
        return _attributes(self.module)

    def _defined_once(self) -> dict[str, ast.FunctionDef | ast.ClassDef]:
        """Functions and classes of the module that nothing else is ever assigned to."""
        found: dict[str, ast.FunctionDef | ast.ClassDef] = {}
        for node in self.module.body:
            if isinstance(node, ast.FunctionDef | ast.ClassDef):
                found[node.name] = node
        counts = self.kinds.assigned
        return {name: node for name, node in found.items() if len(counts.get((self.top, name), ())) == 1}

    def meaning(self, node: ast.expr, scope: Scope) -> Meaning | None:
        """What a name or a dotted name means, where it is none of the program's own."""
        if isinstance(node, ast.Name):
            return None if scope.holder(node.id) is not None else self.meanings.get(node.id)
        if isinstance(node, ast.Attribute):
            found = self.meaning(node.value, scope)
            return found.inside.get(node.attr) if isinstance(found, Space) else None
        return None

    def known(self, node: ast.expr | None, scope: Scope) -> object:
        """The value of an expression that is known beforehand: here, or where a name is given its only one; or None."""
        if isinstance(node, ast.Constant):
            return node.value
        meaning = None if node is None else self.meaning(node, scope)
        if isinstance(meaning, BoundWord):
            return meaning.constant
        value = self._only_value(node, scope)
        return value[0].value if value and isinstance(value[0], ast.Constant) else None

    def part(self, node: ast.expr | None, scope: Scope) -> str | None:
        """The part that an expression names, by itself or by its port; None where that is not known beforehand."""
        value = self.known(node, scope)
        return self.ports.get(value) if isinstance(value, str | int) else None

    def object(self, node: ast.expr, scope: Scope) -> tuple[BoundThing, str] | None:
        """The object of the class that an expression is, with its part; None where that is not known beforehand."""
        if isinstance(node, ast.Name):
            value = self._only_value(node, scope)
            return self.object(*value) if value and isinstance(value[0], ast.Call) else None
        thing = self.meaning(node.func, scope) if isinstance(node, ast.Call) else None
        if not isinstance(node, ast.Call) or not isinstance(thing, BoundThing):
            return None
        given = [*node.args, *(keyword.value for keyword in node.keywords)]
        first = given[0] if given else ast.Constant(thing.given[0].default)
        part = self.part(first, scope)
        return None if part is None else (thing, part)

    def _only_value(self, node: ast.expr | None, scope: Scope) -> tuple[ast.expr, Scope] | None:
        """What a name is given, where it is only given one thing, and the scope in which it is."""
        holder = scope.holder(node.id) if isinstance(node, ast.Name) else None
        if holder is None or not isinstance(node, ast.Name):
            return None
        values = self.kinds.assigned.get((holder, node.id), [])
        return (values[0][0], values[0][1]) if len(values) == 1 and values[0][0] is not None else None

    def builtin(self, node: ast.expr, scope: Scope) -> str:
        """The name of one of Python's own functions; empty for anything else."""
        if isinstance(node, ast.Name) and scope.holder(node.id) is None and node.id not in self.meanings:
            return node.id
        return ""

    def kind(self, node: ast.expr, scope: Scope) -> str:
        """What kind an expression is."""
        if isinstance(node, ast.Constant):
            if isinstance(node.value, bool | int):
                return SMALL if node.value.bit_length() < 100 else NUMBER
            return FLOAT if isinstance(node.value, float) else ANY
        if isinstance(node, ast.Name):
            holder = scope.holder(node.id)
            if holder is not None:
                return self.kinds.variable(holder, node.id)
            meaning = self.meanings.get(node.id)
            constant = meaning.constant if isinstance(meaning, BoundWord) else None
            return SMALL if isinstance(constant, int | float) else ANY
        if isinstance(node, ast.BinOp):
            return kinds.of_sign(node.op, self.kind(node.left, scope), self.kind(node.right, scope))
        if isinstance(node, ast.UnaryOp):
            if isinstance(node.op, ast.Not):
                return SMALL
            inner = self.kind(node.operand, scope)
            return inner if kinds.is_number(inner) else ANY
        if isinstance(node, ast.Compare):
            return SMALL
        if isinstance(node, ast.IfExp):
            return kinds.joined(self.kind(node.body, scope), self.kind(node.orelse, scope))
        if isinstance(node, ast.BoolOp):
            found = [self.kind(value, scope) for value in node.values]
            return found[0] if len(set(found)) == 1 else NUMBER if all(map(kinds.is_number, found)) else ANY
        if isinstance(node, ast.Call):
            return self._call_kind(node, scope)
        return ANY

    def _call_kind(self, node: ast.Call, scope: Scope) -> str:
        meaning = self.meaning(node.func, scope)
        if isinstance(meaning, BoundWord):
            if meaning.what == bound.TRUTH:
                return SMALL
            return ANY if meaning.what != bound.NUMBER else SMALL if meaning.whole else FLOAT
        if isinstance(meaning, Own):
            return FLOAT if meaning.name in ("random", "uniform", "sqrt") else ANY
        name = self.builtin(node.func, scope)
        if name in ("len", "ord", "bool"):
            return SMALL
        if name == "float":
            return FLOAT
        if name == "int":
            return NUMBER
        if name in ("abs", "round", "min", "max") and node.args:
            found = [self.kind(value, scope) for value in node.args]
            if all(map(kinds.is_number, found)) and (name != "round" or len(found) == 1):
                return found[0] if len(found) == 1 and name == "abs" else NUMBER
        return ANY
