"""Which expressions of a Python program are surely numbers: with those Python's own signs can be used as they are."""

from __future__ import annotations

import ast
from collections.abc import Callable

from geduld.readers.python.names import Scope

# Surely a float; surely a number that is not large; surely a number; anything.
FLOAT, SMALL, NUMBER, ANY = "float", "small", "number", "any"
_NUMBERS = (FLOAT, SMALL, NUMBER)


def is_number(kind: str) -> bool:
    """Whether a kind is surely a number."""
    return kind in _NUMBERS


def joined(one: str, other: str) -> str:
    """The kind of what may be of either kind."""
    if one == other:
        return one
    return NUMBER if is_number(one) and is_number(other) else ANY


def of_sign(sign: ast.operator, left: str, right: str) -> str:
    """The kind of `left sign right`."""
    if not (is_number(left) and is_number(right)):
        return ANY
    if isinstance(sign, ast.Div) or (FLOAT in (left, right) and not isinstance(sign, ast.Pow)):
        return FLOAT
    return NUMBER


class Kinds:
    """The kinds of a program's variables, found by assuming the best and giving up what does not hold.

    `of` says of an expression in a scope what kind it is, given those of the variables.
    """

    def __init__(self, of: Callable[[ast.expr, Scope], str]) -> None:
        self.of = of
        self.variables: dict[tuple[Scope, str], str] = {}
        self.assigned: dict[tuple[Scope, str], list[tuple[ast.expr | None, Scope]]] = {}

    def variable(self, holder: Scope, name: str) -> str:
        """The kind of a variable."""
        return self.variables.get((holder, name), ANY)

    def gather(self, scopes: dict[ast.AST, Scope]) -> None:
        """Looks at every assignment of a program."""
        for node, scope in scopes.items():
            if isinstance(node, ast.Module | ast.FunctionDef):
                for statement in node.body:
                    self._visit(statement, scope)
                if isinstance(node, ast.FunctionDef):
                    self._unknown(scope, *_parameters(node.args))
            elif isinstance(node, ast.Lambda):
                self._unknown(scope, *_parameters(node.args))
                self._visit(node.body, scope)
            elif isinstance(node, ast.ClassDef) or scope.kind == "comprehension":
                self._unknown(scope, *scope.assigned)
        self._settle()

    def _settle(self) -> None:
        best = dict.fromkeys(self.assigned, "")
        self.variables = dict.fromkeys(self.assigned, SMALL)
        for _ in range(40):
            for key, values in self.assigned.items():
                kinds = [ANY if value is None else self.of(value, scope) for value, scope in values]
                found = kinds[0]
                for kind in kinds[1:]:
                    found = joined(found, kind)
                best[key] = found
            # what was given up is not taken up again, so that this ends
            new = {key: _less(self.variables[key], best[key]) for key in best}
            if new == self.variables:
                return
            self.variables = new
        self.variables = {}

    def _note(self, scope: Scope, name: str, value: ast.expr | None) -> None:
        holder = scope.holder(name)
        if holder is not None:
            self.assigned.setdefault((holder, name), []).append((value, scope))

    def _unknown(self, scope: Scope, *names: str) -> None:
        for name in names:
            self._note(scope, name, None)

    def _target(self, target: ast.expr, value: ast.expr | None, scope: Scope) -> None:
        if isinstance(target, ast.Name):
            self._note(scope, target.id, value)
        elif isinstance(target, ast.Tuple | ast.List):
            same = isinstance(value, ast.Tuple | ast.List) and len(value.elts) == len(target.elts)
            for index, item in enumerate(target.elts):
                inner = item.value if isinstance(item, ast.Starred) else item
                known = value.elts[index] if same and not isinstance(item, ast.Starred) else None  # type: ignore[union-attr]
                self._target(inner, known, scope)

    def _visit(self, node: ast.AST, scope: Scope) -> None:
        if isinstance(node, ast.FunctionDef | ast.ClassDef):
            self._unknown(scope, node.name)
            return
        if isinstance(node, ast.Lambda | ast.ListComp | ast.SetComp | ast.DictComp | ast.GeneratorExp):
            for inner in ast.walk(node):
                if isinstance(inner, ast.NamedExpr):
                    self._unknown(scope, inner.target.id)
            return
        if isinstance(node, ast.Assign):
            for target in node.targets:
                self._target(target, node.value, scope)
        elif isinstance(node, ast.AugAssign) and isinstance(node.target, ast.Name):
            left = ast.copy_location(ast.Name(node.target.id, ast.Load()), node)
            self._note(scope, node.target.id, ast.copy_location(ast.BinOp(left, node.op, node.value), node))
        elif isinstance(node, ast.AnnAssign) and node.value is not None:
            self._target(node.target, node.value, scope)
        elif isinstance(node, ast.NamedExpr):
            self._note(scope, node.target.id, node.value)
        elif isinstance(node, ast.For):
            ranged = isinstance(node.iter, ast.Call) and isinstance(node.iter.func, ast.Name)
            ranged = ranged and node.iter.func.id == "range"  # type: ignore[attr-defined]
            number = ast.copy_location(ast.Constant(0), node) if ranged else None
            if number is not None and scope.holder("range") is not None:
                number = None
            self._target(node.target, number, scope)
        elif isinstance(node, ast.ExceptHandler) and node.name:
            self._unknown(scope, node.name)
        for child in ast.iter_child_nodes(node):
            self._visit(child, scope)


_ORDER = {SMALL: 0, FLOAT: 1, NUMBER: 2, ANY: 3}


def _less(old: str, new: str) -> str:
    """The kind that claims less of the two."""
    if old == new:
        return old
    if old == SMALL and new == FLOAT:
        return FLOAT
    return joined(old, new) if old != SMALL else new


def _parameters(given: ast.arguments) -> list[str]:
    every = [*given.posonlyargs, *given.args, *given.kwonlyargs]
    return [item.arg for item in every] + [item.arg for item in (given.vararg, given.kwarg) if item is not None]
