"""Loops that only wait for readings: many of their passes can be looked at together."""

from __future__ import annotations

import ast
from typing import TYPE_CHECKING

from geduld.readers.python import kinds
from geduld.readers.python.names import Scope
from geduld.run.program.functions import as_ticks
from geduld.script.waiting import NotSoSimpleError, Waiting, waiting
from geduld.script.words import Used
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundWord

if TYPE_CHECKING:
    from geduld.readers.python.expressions import Expressions

_SIGNS: dict[type[ast.cmpop], str] = {
    ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=",
}  # fmt: skip


def waiting_loop(node: ast.While, scope: Scope, writer: Expressions) -> Waiting | None:
    """The loop as one that only waits; None when it does more."""
    try:
        period = sum(_sleep(statement, scope, writer) for statement in node.body)
        looks = _Looks(node, scope, writer)
        goes_on = looks.truth(node.test)
    except NotSoSimpleError:
        return None
    return waiting(goes_on, looks.columns, period, looks.takes, writer.words, tuple(looks.variables))


def _sleep(node: ast.stmt, scope: Scope, writer: Expressions) -> int:
    """How long a statement sleeps that does nothing else, in ticks."""
    if isinstance(node, ast.Pass) or (isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)):
        return 0
    if not isinstance(node, ast.Expr) or not isinstance(node.value, ast.Call) or len(node.value.args) != 1:
        raise NotSoSimpleError
    call = node.value
    value = call.args[0]
    if call.keywords or not isinstance(value, ast.Constant) or not isinstance(value.value, int | float):
        raise NotSoSimpleError
    meaning = writer.names.meaning(call.func, scope)
    if isinstance(meaning, BoundWord) and len(meaning.variants) == 1:
        used = writer.words.use(meaning, next(iter(meaning.variants)))
        if used.sleeps is not None and not used.takes and used.sleeps.scale is None:
            unit = used.sleeps.unit
            return as_ticks(unit.to_base(float(value.value)) if unit else float(value.value))
    raise NotSoSimpleError


class _Looks:
    """The condition of a loop over samples. `columns` are those in which a reading must be there for it to be sure."""

    def __init__(self, node: ast.While, scope: Scope, writer: Expressions) -> None:
        self.scope = scope
        self.writer = writer
        self.columns: set[str] = set()
        self.variables: dict[str, None] = {}
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
                raise NotSoSimpleError
            pairs = zip(operands, signs, operands[1:], strict=False)
            return f"({' & '.join(f'({left} {sign} {right})' for left, sign, right in pairs)})"
        raise NotSoSimpleError

    def _used(self, node: ast.Call, what: str) -> Used:
        meaning = self.writer.names.meaning(node.func, self.scope)
        if node.args or node.keywords or not isinstance(meaning, BoundWord) or meaning.what != what:
            raise NotSoSimpleError
        if meaning.parts or not meaning.variants:
            raise NotSoSimpleError
        used = self.writer.words.use(meaning, next(iter(meaning.variants)))
        # Of words whose call takes time only one may be asked, and first: then each pass looks at one instant.
        if not used.vector or (self.looked and (used.takes or self.takes)):
            raise NotSoSimpleError
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
                name = self.writer.expression(node, self.scope)
                self.variables[name] = None
                return name
        raise NotSoSimpleError
