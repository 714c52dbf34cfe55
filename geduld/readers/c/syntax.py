"""A C text as a tree, with every place that breaks the language's rules."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

import tree_sitter_cpp
from tree_sitter import Language, Node, Parser, Tree

from geduld.language.messages import Hint, Problem, Span, error

MOST_ERRORS, MOST_DEPTH = 12, 300
_LESS = re.compile(rb"\"(?:\\.|[^\"\\\n])*\"|'(?:\\.|[^'\\\n])*'|static_cast\s*<|<<=?|<=|(<)")
# `!(f()) && x`: the grammar takes `(f()) &&x` for a cast. The brackets around a call, or a name, say nothing there.
_INNER = rb"(?:[^()\n]|\((?:[^()\n]|\([^()\n]*\))*\))*"
_CALL = rb"[ \t]*[A-Za-z_][\w.]*[ \t]*(?:\(" + _INNER + rb"\))?[ \t]*"
_IN_BRACKETS = re.compile(rb"(?<=[!~-])([ \t]*)\((" + _CALL + rb")\)(?=[ \t]*&)")
NOT_READ = "not-read"
# Statements behind which the next one is not reached.
LEAVES = ("break_statement", "continue_statement", "return_statement", "goto_statement")


@lru_cache(maxsize=1)
def _parser() -> Parser:
    return Parser(Language(tree_sitter_cpp.language()))


def parse(text: str) -> tuple[Tree, frozenset[int]]:
    """The tree of a text, and the bytes at which it says `<` where the tree has `>`. Never raises on any text.

    Templates are not read, but the grammar has them, and takes `a < b || c > (d)` for one. Both signs bind alike, so
    that the tree is the right one when it is made of a text in which every `<` is a `>`.
    """
    source = bytearray(_IN_BRACKETS.sub(rb"\1 \2 ", text.encode()))
    less = []
    for match in _LESS.finditer(bytes(source)):
        if match[1]:
            less.append(match.start(1))
            source[match.start(1)] = ord(">")
    return _parser().parse(bytes(source)), frozenset(less)


def line_of(node: Node) -> int:
    """The line that a node begins in."""
    return int(node.start_point[0]) + 1


def span_of(node: Node) -> Span:
    """Where a node stands, within its first line."""
    first, last = node.start_point, node.end_point
    end = last[1] + 1 if last[0] == first[0] else first[1] + 2
    return Span(first[0] + 1, first[1] + 1, first[0] + 1, max(end, first[1] + 2))


def text_of(node: Node) -> str:
    """The text of a node."""
    return (node.text or b"").decode("utf-8", "replace")


def not_read(node: Node, what: str, remedy: str) -> Problem:
    """The message for something that Geduld does not read."""
    return Problem(error(NOT_READ, span_of(node), f"Geduld does not read {what}.", remedy))


def named(node: Node) -> list[Node]:
    """The parts of a node that have a meaning."""
    return [child for child in node.named_children if child.type != "comment"]


def first_in(node: Node) -> Node:
    """The first part of a node that has a meaning. Raises Problem when there is none."""
    found = named(node)
    if not found:
        raise not_read(node, "this", "Something is missing in it.")
    return found[0]


def part(node: Node, name: str) -> Node:
    """A part of a node by its name. Raises Problem when it is missing."""
    found = node.child_by_field_name(name)
    if found is None:
        raise not_read(node, "this", f"Its {name} is missing.")
    return found


def walk(node: Node) -> Iterator[Node]:
    """A node and all in it that has a name in the grammar, in the order of the text: no brackets, signs or keywords."""
    waiting = [node]
    while waiting:
        item = waiting.pop()
        yield item
        waiting += reversed(item.named_children)


def _every_node(node: Node) -> Iterator[Node]:
    waiting = [node]
    while waiting:
        item = waiting.pop()
        yield item
        waiting += reversed(item.children)


def depth_of(node: Node) -> int:
    """How deep nodes stand in each other."""
    deepest, waiting = 0, [(node, 0)]
    while waiting:
        item, depth = waiting.pop()
        deepest = max(deepest, depth)
        waiting += [(child, depth + 1) for child in item.named_children]
    return deepest


def syntax_errors(tree: Tree, text: str) -> list[Hint]:
    """What breaks the rules, each place once, at most so many."""
    if not tree.root_node.has_error:
        return []
    found: list[Hint] = []
    lines = text.split("\n")
    seen: set[int] = set()
    for node in _every_node(tree.root_node):
        if len(found) >= MOST_ERRORS:
            break
        if node.is_missing:
            hint = _missing(node, lines)
        elif node.type == "ERROR":
            hint = _odd(node, lines)
        else:
            continue
        if hint.line not in seen:
            seen.add(hint.line)
            found.append(hint)
    return found


def _end_before(node: Node, lines: list[str]) -> Span:
    """Behind the last thing before a node: the end of the line that lacks something."""
    row, column = node.start_point
    while row >= 0:
        before = lines[row][:column].rstrip() if row < len(lines) else ""
        if before:
            return Span(row + 1, len(before) + 1, row + 1, len(before) + 2)
        row -= 1
        column = len(lines[row]) if row >= 0 else 0
    return Span(1, 1, 1, 2)


def _missing(node: Node, lines: list[str]) -> Hint:
    what = node.type
    span = _end_before(node, lines)
    if what == ";":
        return error("syntax", span, "A semicolon is missing at the end of this line.", "Put a ; there.", ";")
    if what in (")", "}", "]"):
        return error("syntax", span, f'A closing "{what}" is missing here.', f"Put a {what} there.", what)
    return error("syntax", span, f'Something is missing here: "{what}".', "Compare it with a line that works.")


def _odd(node: Node, lines: list[str]) -> Hint:
    piece = text_of(node).strip().split("\n")[0][:40]
    span = span_of(node)
    if node.parent is not None and node.parent.type in ("translation_unit", "compound_statement") and not piece:
        span = _end_before(node, lines)
    row = node.start_point[0]
    before = lines[row][: node.start_point[1]].strip() if row < len(lines) else ""
    if not before and row > 0:
        above = _end_before(node, lines)
        last = lines[above.line - 1].rstrip()
        if last and last[-1] not in "{};:,(#>" and not last.endswith(("else", "do")):
            return error("syntax", above, "A semicolon is missing at the end of this line.", "Put a ; there.", ";")
    message = f'"{piece}" cannot stand here.' if piece else "Something is wrong here."
    return error("syntax", span, message, "Look for a missing bracket, semicolon or quotation mark here or just above.")


_TRUTHS = ("condition_clause", "do_statement", "expression_statement", "comma_expression")


def asks_only_whether(node: Node) -> bool:
    """Whether nothing counts of a value but that it is something: in a condition, behind `!`, or thrown away.

    There C takes the name of a function without brackets for its address, which is never nothing.
    """
    around = node.parent
    while around is not None and around.type == "parenthesized_expression":
        node, around = around, around.parent
    if around is None:
        return False
    if around.type == "conditional_expression":
        return bool(around.child_by_field_name("condition") == node)
    if around.type in ("for_statement", "while_statement", "if_statement"):
        return bool(around.child_by_field_name("condition") == node)
    sign = around.child_by_field_name("operator")
    if around.type in ("unary_expression", "binary_expression") and sign is not None:
        return text_of(sign) in ("!", "&&", "||", "not", "and", "or")
    return around.type in _TRUTHS
