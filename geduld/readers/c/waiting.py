"""Loops that only wait for readings: many of their passes can be looked at together."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tree_sitter import Node

from geduld.readers.c import types
from geduld.readers.c.syntax import named, text_of
from geduld.run.program.functions import as_ticks
from geduld.script.waiting import NotSoSimpleError, Waiting, waiting
from geduld.script.words import Used
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundWord

if TYPE_CHECKING:
    from geduld.readers.c.expressions import Expressions


def waiting_loop(test: Node | None, body: Node, writer: Expressions) -> Waiting | None:
    """The loop as one that only waits; None when it does more."""
    if test is None:
        return None
    try:
        statements = named(body) if body.type == "compound_statement" else [body]
        period = sum(_sleep(statement, writer) for statement in statements)
        looks = _Looks(writer)
        goes_on = looks.truth(test)
    except NotSoSimpleError:
        return None
    return waiting(goes_on, (), period, looks.takes, writer.words, tuple(looks.variables))


def _sleep(node: Node, writer: Expressions) -> int:
    """How long a statement sleeps that does nothing else, in ticks."""
    if node.type != "expression_statement":
        raise NotSoSimpleError
    inside = named(node)
    if not inside:
        return 0
    word, given = _called(inside[0], writer)
    value = writer.expression(given[0]) if len(given) == 1 and given[0].type == "number_literal" else None
    if word is None or value is None or not isinstance(value.constant, int | float) or len(word.variants) != 1:
        raise NotSoSimpleError
    used = writer.words.use(word, next(iter(word.variants)))
    if used.sleeps is None or used.takes or used.sleeps.scale is not None:
        raise NotSoSimpleError
    unit = used.sleeps.unit
    return as_ticks(unit.to_base(float(value.constant)) if unit else float(value.constant))


def _called(node: Node, writer: Expressions) -> tuple[BoundWord | None, list[Node]]:
    callee, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
    if node.type != "call_expression" or callee is None or callee.type != "identifier" or arguments is None:
        return None, []
    name = text_of(callee)
    if writer.variable(name) is not None or name in writer.names.functions:
        return None, []
    return writer.names.word(name), named(arguments)


class _Looks:
    """The condition of a loop over samples."""

    def __init__(self, writer: Expressions) -> None:
        self.writer = writer
        self.variables: dict[str, None] = {}
        self.takes = 0
        self.looked = 0

    def truth(self, node: Node) -> str:
        if node.type in ("parenthesized_expression", "condition_clause") and len(named(node)) == 1:
            return self.truth(named(node)[0])
        if node.type == "unary_expression" and text_of(node.children[0]) == "!":
            return f"(~{self.truth(node.children[-1])})"
        if node.type == "call_expression":
            return self._used(node, bound.TRUTH)[0].vector
        if node.type != "binary_expression":
            raise NotSoSimpleError
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        operator = node.child_by_field_name("operator")
        if left is None or right is None or operator is None:
            raise NotSoSimpleError
        sign = "<" if operator.start_byte in self.writer.less else text_of(operator)
        if sign in ("&&", "||"):
            return f"({self.truth(left)} {sign[0]} {self.truth(right)})"
        if sign not in ("<", ">", "<=", ">=", "==", "!="):
            raise NotSoSimpleError
        one, other = self._number(left), self._number(right)
        if "[at]" not in one + other:
            raise NotSoSimpleError
        return f"({one} {sign} {other})"

    def _used(self, node: Node, what: str) -> tuple[Used, BoundWord]:
        word, given = _called(node, self.writer)
        if word is None or given or word.what != what or word.parts or not word.variants:
            raise NotSoSimpleError
        used = self.writer.words.use(word, next(iter(word.variants)))
        # Of words whose call takes time only one may be asked, and first: then each pass looks at one instant.
        if not used.vector or (self.looked and (used.takes or self.takes)):
            raise NotSoSimpleError
        self.looked += 1
        self.takes = used.takes
        return used, word

    def _number(self, node: Node) -> str:
        if node.type == "parenthesized_expression" and len(named(node)) == 1:
            return self._number(named(node)[0])
        if node.type == "call_expression":
            used, word = self._used(node, bound.NUMBER)
            kind = self.writer.kind_of(word)
            if isinstance(kind, types.Int):
                if not word.whole:
                    raise NotSoSimpleError
                half = float(1 << (kind.bits - 1)) if kind.signed else 0.0
                return f"((({used.vector}) + {half}) % {float(1 << kind.bits)} - {half})"
            if kind != types.DOUBLE:
                raise NotSoSimpleError
            return used.vector
        value = self.writer.expression(node)
        if isinstance(value.constant, int | float) and types.is_number(value.kind):
            return repr(float(value.constant))
        # The body only sleeps, so that no variable changes while the loop goes round.
        if isinstance(value.place, str) and value.kind in (self.writer.int, types.DOUBLE, types.FLOAT):
            self.variables[value.text] = None
            return value.text
        raise NotSoSimpleError
