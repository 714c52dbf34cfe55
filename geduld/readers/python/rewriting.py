"""What Python has two ways to write: `map` and `filter` become comprehensions, before anything else looks at them."""

from __future__ import annotations

import ast

from geduld.readers.python.names import every
from geduld.script.telling import DOT

# What the items are called that no name of the program stands for.
_ITEM = f"item{DOT}"


def rewritten(module: ast.Module, nodes: list[ast.AST]) -> list[ast.AST]:
    """Puts comprehensions in the places of `map` and `filter`, where these are Python's own. `nodes` are all of a
    program; given back are those that it has then.
    """
    if not any(isinstance(node, ast.Name) and node.id in ("map", "filter") for node in nodes):
        return nodes
    _Rewriter(named_in(nodes)).visit(module)
    ast.fix_missing_locations(module)
    return every(module)


def named_in(nodes: list[ast.AST]) -> set[str]:
    """Every name that a program gives to something, anywhere."""
    found: set[str] = set()
    for node in nodes:
        if isinstance(node, ast.Name) and not isinstance(node.ctx, ast.Load):
            found.add(node.id)
        elif isinstance(node, ast.FunctionDef | ast.ClassDef):
            found.add(node.name)
        elif isinstance(node, ast.arg):
            found.add(node.arg)
        elif isinstance(node, ast.alias):
            found.add((node.asname or node.name).split(".")[0])
        elif isinstance(node, ast.ExceptHandler) and node.name:
            found.add(node.name)
    return found


class _Rewriter(ast.NodeTransformer):
    def __init__(self, own: set[str]) -> None:
        self.own = own

    def visit_Call(self, node: ast.Call) -> ast.AST:
        """A call, and those in it."""
        self.generic_visit(node)
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        plain = not node.keywords and not any(isinstance(value, ast.Starred) for value in node.args)
        if name in self.own or not plain or name not in ("map", "filter") or len(node.args) < 2:
            return node
        function, *over = node.args
        names = [f"{_ITEM}{number}" for number in range(len(over))]
        items: list[ast.expr] = [ast.Name(item, ast.Load()) for item in names]
        stores: list[ast.expr] = [ast.Name(item, ast.Store()) for item in names]
        if name == "filter":
            if len(over) > 1:
                return node
            nothing = isinstance(function, ast.Constant) and function.value is None
            test = items[0] if nothing else ast.Call(function, items, [])
            part = ast.comprehension(stores[0], over[0], [test], 0)
            return _placed(ast.ListComp(ast.Name(names[0], ast.Load()), [part]), node)
        target = stores[0] if len(over) == 1 else ast.Tuple(stores, ast.Store())
        source = over[0] if len(over) == 1 else ast.Call(ast.Name("zip", ast.Load()), over, [])
        part = ast.comprehension(target, source, [], 0)
        return _placed(ast.ListComp(ast.Call(function, items, []), [part]), node)


def _placed(made: ast.expr, node: ast.expr) -> ast.expr:
    """With the place of what it stands for, and all in it that has none."""
    for inner in ast.walk(made):
        if isinstance(inner, ast.expr) and not hasattr(inner, "lineno"):
            ast.copy_location(inner, node)
    return made
