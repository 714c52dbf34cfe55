"""Loops that only wait for readings: many of their passes can be looked at together."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from typing import TYPE_CHECKING

from geduld.readers.python import kinds
from geduld.readers.python.names import Scope
from geduld.run.program.functions import as_ticks
from geduld.script.words import Used
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundWord

if TYPE_CHECKING:
    from geduld.readers.python.translate import Expressions

_SIGNS: dict[type[ast.cmpop], str] = {
    ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=",
}  # fmt: skip


@dataclass(frozen=True)
class Waiting:
    """A loop that only waits: at which samples it surely goes on, as source over `at`.

    A pass lasts `period` ticks (0: one pass of the rig's loop), and it looks `takes` ticks after it has begun.
    """

    goes_on: str
    period: int
    takes: int


class _NotSoSimpleError(Exception):
    """The loop does more than wait for readings."""


def waiting_loop(node: ast.While, scope: Scope, writer: Expressions) -> Waiting | None:
    """The loop as one that only waits; None when it does more."""
    try:
        period = sum(_sleep(statement, scope, writer) for statement in node.body)
        looks = _Looks(node, scope, writer)
        goes_on = looks.truth(node.test)
    except _NotSoSimpleError:
        return None
    there = "".join(f" & ({column}[at] == {column}[at])" for column in sorted(looks.columns))
    if looks.takes and not period + looks.takes:
        return None
    return Waiting(f"({goes_on}){there}", period + looks.takes, looks.takes)


def _sleep(node: ast.stmt, scope: Scope, writer: Expressions) -> int:
    """How long a statement sleeps that does nothing else, in ticks."""
    if isinstance(node, ast.Pass) or (isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)):
        return 0
    if not isinstance(node, ast.Expr) or not isinstance(node.value, ast.Call) or len(node.value.args) != 1:
        raise _NotSoSimpleError
    call = node.value
    value = call.args[0]
    if call.keywords or not isinstance(value, ast.Constant) or not isinstance(value.value, int | float):
        raise _NotSoSimpleError
    meaning = writer.names.meaning(call.func, scope)
    if isinstance(meaning, BoundWord) and len(meaning.variants) == 1:
        used = writer.words.use(meaning, next(iter(meaning.variants)))
        if used.sleeps is not None and not used.takes and used.sleeps.scale is None:
            unit = used.sleeps.unit
            return as_ticks(unit.to_base(float(value.value)) if unit else float(value.value))
    raise _NotSoSimpleError


class _Looks:
    """The condition of a loop over samples. `columns` are those in which a reading must be there for it to be sure."""

    def __init__(self, node: ast.While, scope: Scope, writer: Expressions) -> None:
        self.scope = scope
        self.writer = writer
        self.columns: set[str] = set()
        self.takes = 0
        self.looked = 0

    def truth(self, node: ast.expr) -> str:
        if isinstance(node, ast.BoolOp):
            sign = " & " if isinstance(node.op, ast.And) else " | "
            return f"({sign.join(self.truth(value) for value in node.values)})"
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            return f"(~{self.truth(node.operand)})"
        if isinstance(node, ast.Call):
            used = self._used(node, bound.TRUTH)
            return used.vector
        if isinstance(node, ast.Compare):
            operands = [self._number(item) for item in (node.left, *node.comparators)]
            signs = [_SIGNS.get(type(op), "") for op in node.ops]
            if not all(signs) or not any("[at]" in item for item in operands):
                raise _NotSoSimpleError
            pairs = zip(operands, signs, operands[1:], strict=False)
            return f"({' & '.join(f'({left} {sign} {right})' for left, sign, right in pairs)})"
        raise _NotSoSimpleError

    def _used(self, node: ast.Call, what: str) -> Used:
        meaning = self.writer.names.meaning(node.func, self.scope)
        if node.args or node.keywords or not isinstance(meaning, BoundWord) or meaning.what != what:
            raise _NotSoSimpleError
        if meaning.parts or not meaning.variants:
            raise _NotSoSimpleError
        used = self.writer.words.use(meaning, next(iter(meaning.variants)))
        # Of words whose call takes time only one may be asked, and first: then each pass looks at one instant.
        if not used.vector or (self.looked and (used.takes or self.takes)):
            raise _NotSoSimpleError
        self.looked += 1
        self.takes = used.takes
        if not used.always_there:
            self.columns |= used.columns
        return used

    def _number(self, node: ast.expr) -> str:
        if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
            return repr(float(node.value))
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
            return f"(-{self._number(node.operand)})"
        if isinstance(node, ast.Call):
            return self._used(node, bound.NUMBER).vector
        if isinstance(node, ast.Name):
            # The body only sleeps, so that no variable changes while the loop goes round.
            kind = self.writer.names.kind(node, self.scope)
            if kinds.is_number(kind):
                return self.writer.expression(node, self.scope)
        raise _NotSoSimpleError
