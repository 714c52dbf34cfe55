"""The way to a line of a Python program."""

from __future__ import annotations

import ast
from collections.abc import Iterator, Sequence

from geduld.script.ways import Opened, Way, way_to


def way_in(module: ast.Module, line: int) -> Way:
    """The blocks that a line stands in; empty where no statement begins there."""
    return way_to(line, module.body, _lines, _inside)


def _lines(node: ast.stmt) -> tuple[int, int]:
    return node.lineno, node.end_lineno or node.lineno


def _inside(node: ast.stmt) -> Iterator[tuple[Opened, Sequence[ast.stmt]]]:
    line = node.lineno
    if isinstance(node, ast.FunctionDef):
        yield Opened("call", line, node.name), node.body
    elif isinstance(node, ast.If | ast.While):
        words = ast.unparse(node.test)
        yield Opened("if" if isinstance(node, ast.If) else "loop", node.test.lineno, words), node.body
        yield Opened("else", node.test.lineno, words), node.orelse
    elif isinstance(node, ast.For):
        yield Opened("loop", line, ast.unparse(node.iter)), node.body
        yield Opened("plain", line), node.orelse
    elif isinstance(node, ast.Try):
        yield Opened("plain", line), node.body
        for handler in node.handlers:
            yield Opened("handler", handler.lineno), handler.body
        yield Opened("plain", line), node.orelse
        yield Opened("plain", line), node.finalbody
    elif isinstance(node, ast.Match):
        for case in node.cases:
            yield Opened("if", case.pattern.lineno, f"it is {ast.unparse(case.pattern)}"), case.body
    elif isinstance(node, ast.With | ast.ClassDef):
        yield Opened("plain", line), node.body
