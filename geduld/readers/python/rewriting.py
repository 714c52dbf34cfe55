"""What Python has two ways to write, in the plainer one, before anything else looks at it: `map` and `filter` as
comprehensions, `match` as `if`, `elif` and `else`, and a `@dataclass` with the `__init__` that it stands for.
"""

from __future__ import annotations

import ast

from geduld.readers.python.names import every
from geduld.script.telling import DOT

# What the items are called that no name of the program stands for.
_ITEM = f"item{DOT}"
_MATCHED = f"matched{DOT}"
_SHORT = ("map", "filter", "dataclass")


def rewritten(module: ast.Module, nodes: list[ast.AST]) -> list[ast.AST]:
    """Writes a program more plainly, in its place. `nodes` are all that it has; given back are those that it has then.

    What cannot be written so stays as it is.
    """
    if not any(isinstance(node, ast.Match) or getattr(node, "id", "") in _SHORT for node in nodes):
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
        self.matches = 0

    def visit_Match(self, node: ast.Match) -> ast.AST | list[ast.stmt]:
        """A `match` whose patterns are values, several of them, names and `_`."""
        self.generic_visit(node)
        self.matches += 1
        held = f"{_MATCHED}{self.matches}"
        first: list[ast.stmt] = [ast.Assign([ast.Name(held, ast.Store())], node.subject)]
        rest: list[ast.stmt] = []
        for case in reversed(node.cases):
            test = _matches(case.pattern, held)
            if test is None:
                return node
            guard = case.guard
            if isinstance(case.pattern, ast.MatchAs) and case.pattern.name is not None:
                # the name is given its value before the guard is looked at
                given = ast.NamedExpr(ast.Name(case.pattern.name, ast.Store()), ast.Name(held, ast.Load()))
                test = ast.BoolOp(ast.Or(), [ast.Compare(given, [ast.Is()], [ast.Name(held, ast.Load())]), test])
            if guard is not None:
                test = ast.BoolOp(ast.And(), [test, guard])
            always = isinstance(test, ast.Constant) and test.value is True
            rest = list(case.body) if always else [ast.copy_location(ast.If(test, case.body, rest), case.pattern)]
        for statement in (first := [ast.copy_location(item, node) for item in first]) + rest:
            for inner in ast.walk(statement):
                if isinstance(inner, ast.expr | ast.stmt) and not hasattr(inner, "lineno"):
                    ast.copy_location(inner, node)
        return first + rest

    def visit_ClassDef(self, node: ast.ClassDef) -> ast.AST:
        """A class; one that is a `@dataclass` gets its `__init__`."""
        self.generic_visit(node)
        plain = [item for item in node.decorator_list if not (isinstance(item, ast.Name) and item.id == "dataclass")]
        has_init = any(isinstance(item, ast.FunctionDef) and item.name == "__init__" for item in node.body)
        fields = [item for item in node.body if isinstance(item, ast.AnnAssign) and isinstance(item.target, ast.Name)]
        if len(plain) == len(node.decorator_list) or plain or node.bases or has_init or not fields:
            return node
        values = [item.value for item in fields]
        # a value that is made anew for each object (`field(default_factory=list)`) is more than is read here
        if any(value is not None and not isinstance(value, ast.Constant | ast.UnaryOp | ast.Name) for value in values):
            return node
        names = [item.target.id for item in fields if isinstance(item.target, ast.Name)]
        node.decorator_list, node.fields = [], names  # type: ignore[attr-defined]  # by these objects are compared and told
        given = ast.arguments(
            [], [ast.arg("self"), *(ast.arg(name) for name in names)], None, [], [], None,
            [value for value in values if value is not None],
        )  # fmt: skip
        body: list[ast.stmt] = [
            ast.Assign([ast.Attribute(ast.Name("self", ast.Load()), name, ast.Store())], ast.Name(name, ast.Load()))
            for name in names
        ]
        node.body = [ast.FunctionDef("__init__", given, body, []), *(item for item in node.body if item not in fields)]
        for inner in ast.walk(node.body[0]):
            if isinstance(inner, ast.expr | ast.stmt | ast.arg) and not hasattr(inner, "lineno"):
                ast.copy_location(inner, fields[0])
        return node

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


def _matches(pattern: ast.pattern, held: str) -> ast.expr | None:
    """Whether a value matches a pattern, as an expression; None for patterns that are not read."""
    value = ast.Name(held, ast.Load())
    if isinstance(pattern, ast.MatchValue):
        return ast.Compare(value, [ast.Eq()], [pattern.value])
    if isinstance(pattern, ast.MatchSingleton):
        return ast.Compare(value, [ast.Is()], [ast.Constant(pattern.value)])
    if isinstance(pattern, ast.MatchAs) and pattern.pattern is None:
        return ast.Constant(True)
    if isinstance(pattern, ast.MatchOr):
        tests = [_matches(item, held) for item in pattern.patterns]
        known = [test for test in tests if test is not None]
        return ast.BoolOp(ast.Or(), known) if len(known) == len(tests) else None
    return None


def _placed(made: ast.expr, node: ast.expr) -> ast.expr:
    """With the place of what it stands for, and all in it that has none."""
    for inner in ast.walk(made):
        if isinstance(inner, ast.expr) and not hasattr(inner, "lineno"):
            ast.copy_location(inner, node)
    return made
