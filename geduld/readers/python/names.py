"""Which names of a Python program belong to which scope, as Python itself decides it."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from dataclasses import dataclass, field

Function = ast.FunctionDef | ast.Lambda
_INNER = (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef, ast.Lambda)
_COMPREHENSIONS = (ast.ListComp, ast.SetComp, ast.DictComp, ast.GeneratorExp)


@dataclass(eq=False)
class Scope:
    """A module, a function, a class or a comprehension: what is assigned in it, and what stands around it."""

    kind: str
    node: ast.AST
    parent: Scope | None = None
    assigned: set[str] = field(default_factory=set)
    outer: dict[str, str] = field(default_factory=dict)

    def holder(self, name: str) -> Scope | None:
        """The scope whose variable a name is here; None when no scope assigns it."""
        said = self.outer.get(name)
        scope: Scope | None = self
        if said == "global":
            while scope is not None and scope.kind != "module":
                scope = scope.parent
            return scope
        if said != "nonlocal" and name in self.assigned:
            return self
        scope = self.parent
        while scope is not None:
            if scope.kind != "class" and name in scope.assigned and scope.outer.get(name) is None:
                return scope
            scope = scope.parent
        return None

    @property
    def depth(self) -> int:
        """How many scopes stand around it."""
        return 0 if self.parent is None else 1 + self.parent.depth

    @property
    def function(self) -> Scope:
        """The function, class or module around it, or itself."""
        scope = self
        while scope.kind == "comprehension" and scope.parent is not None:
            scope = scope.parent
        return scope


def scopes_of(module: ast.Module) -> dict[ast.AST, Scope]:
    """The scope of the module, and of each function, class and comprehension in it, by its node."""
    found: dict[ast.AST, Scope] = {}
    top = Scope("module", module)
    _fill(module.body, top, found)
    found[module] = top
    for scope in list(found.values()):
        for name, said in scope.outer.items():
            if said == "global":
                top.assigned.add(name)
    return found


def _fill(nodes: list[ast.stmt] | list[ast.expr], scope: Scope, found: dict[ast.AST, Scope]) -> None:
    for node in nodes:
        _visit(node, scope, found)


def _visit(node: ast.AST, scope: Scope, found: dict[ast.AST, Scope]) -> None:
    if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
        scope.assigned.add(node.name)
        for item in node.decorator_list:
            _visit(item, scope, found)
        inner = Scope("class" if isinstance(node, ast.ClassDef) else "function", node, scope)
        found[node] = inner
        if isinstance(node, ast.ClassDef):
            for base in node.bases:
                _visit(base, scope, found)
        else:
            _arguments(node.args, scope, inner, found)
        _fill(node.body, inner, found)
        return
    if isinstance(node, ast.Lambda):
        inner = Scope("function", node, scope)
        found[node] = inner
        _arguments(node.args, scope, inner, found)
        _visit(node.body, inner, found)
        return
    if isinstance(node, _COMPREHENSIONS):
        inner = Scope("comprehension", node, scope)
        found[node] = inner
        for index, part in enumerate(node.generators):
            _visit(part.iter, inner if index else scope, found)
            _visit(part.target, inner, found)
            for condition in part.ifs:
                _visit(condition, inner, found)
        for value in [node.key, node.value] if isinstance(node, ast.DictComp) else [node.elt]:
            _visit(value, inner, found)
        return
    if isinstance(node, ast.Name):
        if not isinstance(node.ctx, ast.Load):
            scope.assigned.add(node.id)
        return
    if isinstance(node, ast.NamedExpr):
        holder = scope.function
        holder.assigned.add(node.target.id)
        _visit(node.value, scope, found)
        return
    if isinstance(node, ast.Global | ast.Nonlocal):
        said = "global" if isinstance(node, ast.Global) else "nonlocal"
        if scope.kind != "module":
            scope.outer |= dict.fromkeys(node.names, said)
        return
    if isinstance(node, ast.ExceptHandler) and node.name:
        scope.assigned.add(node.name)
    if isinstance(node, ast.Import | ast.ImportFrom):
        return  # what imports mean is known beforehand
    for child in ast.iter_child_nodes(node):
        _visit(child, scope, found)


def _arguments(given: ast.arguments, outside: Scope, inside: Scope, found: dict[ast.AST, Scope]) -> None:
    for value in [*given.defaults, *(value for value in given.kw_defaults if value is not None)]:
        _visit(value, outside, found)
    every = [*given.posonlyargs, *given.args, *given.kwonlyargs]
    inside.assigned |= {item.arg for item in every}
    inside.assigned |= {item.arg for item in (given.vararg, given.kwarg) if item is not None}


def every(node: ast.AST) -> list[ast.AST]:
    """A node and all in it, but for what only says whether a name is read or set; the outer ones first."""
    found = [node]
    for item in found:
        for name in item._fields:
            value = getattr(item, name, None)
            if type(value) is list:
                found += [inner for inner in value if isinstance(inner, ast.AST)]
            elif isinstance(value, ast.AST) and name != "ctx":
                found.append(value)
    return found


def inside(node: ast.AST) -> Iterator[ast.AST]:
    """A node and all in it, but not what stands in functions and classes that are only defined there."""
    waiting = [node]
    while waiting:
        item = waiting.pop()
        yield item
        for child in ast.iter_child_nodes(item):
            if not isinstance(child, _INNER):
                waiting.append(child)
