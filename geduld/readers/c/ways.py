"""The way to a line of a C program."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tree_sitter import Node

from geduld.readers.c.syntax import line_of, named
from geduld.script.ways import Opened, Way, way_to

_LOOPS = {"while_statement", "do_statement", "for_statement", "for_range_loop"}


def way_in(root: Node, text: str, line: int) -> Way:
    """The blocks that a line stands in; empty where no statement begins there. `text` is what the tree was made of."""
    said = text.encode()
    return way_to(line, _plain(root), _lines, lambda node: _inside(node, said))


def _lines(node: Node) -> tuple[int, int]:
    return line_of(node), int(node.end_point[0]) + 1


def _plain(node: Node) -> list[Node]:
    """The statements of a block, or a single one."""
    return named(node) if node.type in ("compound_statement", "translation_unit") else [node]


def _words(node: Node | None, said: bytes) -> str:
    """What stands in the text where a node stands: in the tree, some signs are others."""
    return said[node.start_byte : node.end_byte].decode("utf-8", "replace") if node else ""


def _inside(node: Node, said: bytes) -> Iterator[tuple[Opened, Sequence[Node]]]:
    line, body = line_of(node), node.child_by_field_name("body")
    condition = node.child_by_field_name("condition")
    words = _words(condition, said)
    if condition is not None and condition.type in ("parenthesized_expression", "condition_clause"):
        words = words[1:-1]
    if node.type == "function_definition" and body is not None:
        declarator = node.child_by_field_name("declarator")
        name = _words(declarator, said).partition("(")[0].strip()
        yield Opened("call", line, name), _plain(body)
    elif node.type == "if_statement":
        first, other = node.child_by_field_name("consequence"), node.child_by_field_name("alternative")
        if first is not None:
            yield Opened("if", line, words), _plain(first)
        if other is not None:
            inner = named(other)[0] if other.type == "else_clause" and named(other) else other
            yield Opened("else", line, words), _plain(inner)
    elif node.type in _LOOPS and body is not None:
        yield Opened("loop", line, words), _plain(body)
    elif node.type == "switch_statement" and body is not None:
        for case in named(body):
            value = case.child_by_field_name("value")
            told = f"{words} is {_words(value, said)}" if value else "nothing else fits"
            yield Opened("if", line_of(case), told), [item for item in named(case) if item != value]
    elif node.type == "compound_statement":
        yield Opened("plain", line), named(node)
