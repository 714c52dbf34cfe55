"""What the expressions of a C program read: words of the class, values that came from them, and numbers."""

from __future__ import annotations

import re
from functools import cached_property

from tree_sitter import Node

from geduld.hints.commanded import Call, commanded
from geduld.readers.c.names import Names
from geduld.readers.c.syntax import line_of, named, text_of, walk
from geduld.wordbook.bound import BoundWord

NUMBER = re.compile(r"-?(\d+\.?\d*|\.\d+)[fFlLuU]*")


class Readings:
    """What the expressions of one program read. `less` are the bytes at which the tree's `>` is a `<`."""

    def __init__(self, root: Node, names: Names, less: frozenset[int]) -> None:
        self.root = root
        self.names = names
        self.less = less

    def sign(self, node: Node) -> str:
        """The sign between the two sides of an expression, as it was written."""
        operator = node.child_by_field_name("operator")
        if operator is None:
            return ""
        return "<" if operator.start_byte in self.less else text_of(operator)

    def reading(self, node: Node) -> BoundWord | None:
        """The word that a value came from: called here, or the only one that a variable was ever given."""
        return self._readings.get(text_of(node)) if node.type == "identifier" else self._called(node)

    def value(self, node: Node) -> float | None:
        """A number in the text, or that of a name that only ever has one."""
        steady = self.steady_ints.get(text_of(node)) if node.type == "identifier" else None
        return number_in(node) if steady is None else float(steady)

    def called(self, node: Node) -> Call[Node] | None:
        """A call of a word of the class, with what it sets; None for anything else."""
        callee, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        word = self._called(node)
        if word is None or callee is None or arguments is None:
            return None
        given = [(text_of(value), self.value(value)) for value in named(arguments)]
        return Call(node, line_of(node), word, commanded(word, text_of(callee), given))

    def _called(self, node: Node) -> BoundWord | None:
        callee = node.child_by_field_name("function") if node.type == "call_expression" else None
        return self.names.word(text_of(callee)) if callee is not None else None

    @cached_property
    def _readings(self) -> dict[str, BoundWord | None]:
        """Variables that are only ever given what one word reads."""
        found: dict[str, BoundWord | None] = {}
        for node in walk(self.root):
            target = value = None
            if node.type == "init_declarator":
                target, value = node.child_by_field_name("declarator"), node.child_by_field_name("value")
            elif node.type == "assignment_expression":
                target, value = node.child_by_field_name("left"), node.child_by_field_name("right")
            elif node.type == "update_expression":
                target = node.child_by_field_name("argument")
            if target is None or target.type != "identifier":
                continue
            word = self._called(value) if value is not None else None
            name = text_of(target)
            found[name] = word if found.get(name, word) is word else None
        return found

    @cached_property
    def steady_ints(self) -> dict[str, int]:
        """The int variables that are given one number where they are declared, and never another."""
        found: dict[str, int] = {}
        changed: set[str] = set()
        for node in walk(self.root):
            if node.type == "declaration":
                kind = node.child_by_field_name("type")
                for item in node.children_by_field_name("declarator"):
                    name, value = item.child_by_field_name("declarator"), item.child_by_field_name("value")
                    plain = kind is not None and text_of(kind) == "int" and value is not None
                    if name is not None and plain and value is not None and text_of(value).isdigit():
                        changed |= {text_of(name)} & found.keys()
                        found[text_of(name)] = int(text_of(value))
                    elif name is not None:
                        changed.add(text_of(name))
            elif node.type in ("assignment_expression", "update_expression"):
                target = node.child_by_field_name("left") or node.child_by_field_name("argument")
                changed |= {text_of(target)} if target is not None else set()
            elif node.type in ("pointer_expression", "parameter_declaration"):
                changed |= {text_of(item) for item in walk(node) if item.type == "identifier"}
        return {name: value for name, value in found.items() if name not in changed}


def number_in(node: Node) -> float | None:
    """A number in the text."""
    text = text_of(node)
    if node.type != "number_literal" or not NUMBER.fullmatch(text):
        return None
    return float(text.rstrip("fFlLuU"))
