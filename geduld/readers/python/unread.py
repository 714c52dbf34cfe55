"""What Geduld does not read in a Python program, and what to write instead."""

from __future__ import annotations

import ast
import builtins
from collections.abc import Iterator

from geduld.language.messages import Hint, Span, error
from geduld.readers.python.builtins import FUNCTIONS, KINDS
from geduld.readers.python.rewriting import named_in
from geduld.script.ends import CAUGHT

CODE = "not-read"
_STATEMENTS: dict[type[ast.AST], tuple[str, str]] = {
    ast.AsyncFunctionDef: ("async functions", "Write a plain function, and wait with the class's words."),
    ast.AsyncFor: ("async loops", "Write a plain loop."),
    ast.AsyncWith: ("async with", "Write the steps one after another."),
    ast.Await: ("await", "Call the function as it is."),
    ast.With: ("with", "Write the steps one after another; the robot has no files."),
    ast.Yield: ("generators", "Collect the values in a list and return that."),
    ast.YieldFrom: ("generators", "Collect the values in a list and return that."),
    ast.Match: ("match", "Write if and elif."),
    ast.TryStar: ("except*", "Write except."),
}
_DUNDER = frozenset(("__init__", "__str__", "__repr__"))
# Those of Python's own names that are read where they are called, and those that are as decorators and bases.
_CALLED, _ABOVE = {"print", "exit", "quit", "super"}, {"property", "staticmethod", "classmethod", "object"}
# Python's own names that are not read everywhere.
_PYTHONS = frozenset(
    name
    for name in dir(builtins)
    if name not in FUNCTIONS and name not in KINDS and name not in CAUGHT and not name.startswith("__")
)


def span_of(node: ast.AST) -> Span:
    """Where a node stands, by its first line."""
    line = getattr(node, "lineno", 1)
    column = getattr(node, "col_offset", 0) + 1
    last, end = getattr(node, "end_lineno", line) or line, (getattr(node, "end_col_offset", column) or column) + 1
    if isinstance(node, ast.stmt) and last > line:
        return Span(line, column, line, column + 1)
    return Span(line, column, last, max(end, column + 1) if last == line else end)


def unread(module: ast.Module, nodes: list[ast.AST]) -> Iterator[Hint]:
    """Everything in a program that is not read; `nodes` are all that it has."""
    alone = {id(node.value) for node in nodes if isinstance(node, ast.Expr)}
    pythons = [node for node in nodes if isinstance(node, ast.Name) and node.id in _PYTHONS]
    unread_names = _unread_names(nodes, pythons) if pythons else set()
    for node in nodes:
        found = _STATEMENTS.get(type(node))
        if found:
            yield not_read(node, found[0], found[1])
        elif isinstance(node, ast.FunctionDef):
            yield from _function(node)
        elif isinstance(node, ast.ClassDef):
            yield from _class(node)
        elif id(node) in unread_names:
            yield not_read(node, f"Python's {ast.unparse(node)}", "Leave it out, or write it in simpler steps.")
        elif isinstance(node, ast.Attribute) and node.attr.startswith("__") and not _well_known(node):
            yield not_read(node, f'names like "{node.attr}"', "Leave it out.")
        elif isinstance(node, ast.Name) and node.id.startswith("__") and node.id != "__name__":
            yield not_read(node, f'names like "{node.id}"', "Leave it out.")
        elif isinstance(node, ast.Constant) and isinstance(node.value, bytes | complex):
            kind = "bytes" if isinstance(node.value, bytes) else "complex numbers"
            yield not_read(node, kind, "Write a text, or a plain number.")
        elif isinstance(node, ast.Constant) and node.value is ... and id(node) not in alone:
            yield not_read(node, "...", "Write pass.")
        elif isinstance(node, ast.MatMult):
            yield not_read(module, "the sign @", "Write * instead.")
        elif (isinstance(node, ast.comprehension) and node.is_async) or isinstance(node, ast.Set):
            yield from ()


def _unread_names(nodes: list[ast.AST], pythons: list[ast.Name]) -> set[int]:
    """The names of Python's own that are none of the program, and stand where they are not read."""
    own, fine = named_in(nodes), _well_placed(nodes)
    return {id(node) for node in pythons if node.id not in own and id(node) not in fine}


def _well_placed(nodes: list[ast.AST]) -> set[int]:
    """The names of Python's own that stand where they are read."""
    found: set[int] = set()
    for node in nodes:
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") in _CALLED:
            found.add(id(node.func))
        elif isinstance(node, ast.FunctionDef | ast.ClassDef):
            above = [*node.decorator_list, *(node.bases if isinstance(node, ast.ClassDef) else [])]
            found |= {id(item) for item in above if getattr(item, "id", "") in _ABOVE}
    return found


def _well_known(node: ast.Attribute) -> bool:
    """`__init__`, and `type(x).__name__`: what kind a value is, as a text."""
    return node.attr == "__init__" or names_a_kind(node)


def names_a_kind(node: ast.Attribute) -> bool:
    """Whether it is `type(x).__name__`."""
    inner = node.value
    called = isinstance(inner, ast.Call) and getattr(inner.func, "id", "") == "type" and len(inner.args) == 1
    return node.attr == "__name__" and called


def _function(node: ast.FunctionDef) -> Iterator[Hint]:
    for item in node.decorator_list:
        if not (isinstance(item, ast.Name) and item.id in ("staticmethod", "classmethod", "property")):
            yield not_read(item, "decorators", "Write the function without the line that begins with @.")
    if node.args.kwarg is not None:
        yield not_read(node.args.kwarg, "parameters with **", "Name the parameters one by one.")


def _class(node: ast.ClassDef) -> Iterator[Hint]:
    for item in (*node.decorator_list, *(keyword.value for keyword in node.keywords)):
        yield not_read(item, "classes with @, or with more than their base in brackets", "Write a plain class.")
    if len(node.bases) > 1:
        yield not_read(node, "classes with two bases", "Let the class have one base.")
    for base in node.bases:
        if not isinstance(base, ast.Name | ast.Attribute):
            yield not_read(base, "this base of a class", "Name a class of the program.")
    for statement in node.body:
        simple = isinstance(statement, ast.FunctionDef | ast.Pass | ast.Assign | ast.AnnAssign)
        if (not simple and not (isinstance(statement, ast.Expr) and isinstance(statement.value, ast.Constant))) or (
            isinstance(statement, ast.Assign) and not all(map(_is_names, statement.targets))
        ):
            yield not_read(statement, "this in a class", "In a class stand functions, and values by name = value.")
        elif _is_special(statement):
            yield not_read(statement, "functions that Python calls by itself", "Give the function a plain name.")


def _is_names(target: ast.expr) -> bool:
    """Whether it is a name, or several."""
    every = target.elts if isinstance(target, ast.Tuple) else [target]
    return all(isinstance(item, ast.Name) for item in every)


def _is_special(node: ast.stmt) -> bool:
    """Whether it is a function that Python would call by itself, and Geduld does not."""
    return isinstance(node, ast.FunctionDef) and node.name.startswith("__") and node.name not in _DUNDER


def not_read(node: ast.AST, what: str, remedy: str) -> Hint:
    """The message for something that is not read."""
    return error(CODE, span_of(node), f"Geduld does not read {what}.", remedy)
