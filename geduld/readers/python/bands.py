"""Ifs of a Python program that ask for one reading: edges left out, values in two of them, thresholds swapped."""

from __future__ import annotations

import ast
from collections.abc import Iterator, Sequence
from functools import reduce
from itertools import pairwise

from geduld.hints.bands import Arm, Told, Tongue, told_of_block
from geduld.hints.intervals import TURNED, Interval, both, compared
from geduld.readers.python.names import Scope, inside
from geduld.readers.python.readings import Readings

_TONGUE = Tongue("Use else for the last one", "Write elif, so that one of them runs.")
_SIGNS: dict[type[ast.cmpop], str] = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "="}


def band_hints(body: Sequence[ast.stmt], scope: Scope, readings: Readings) -> Iterator[Told[ast.If]]:
    """What is wrong with the ifs of one block."""
    return told_of_block((_arms(item, scope, readings) for item in body), _TONGUE, between=True)


def _arms(node: ast.stmt, scope: Scope, readings: Readings) -> list[Arm[ast.If]]:
    """The arms of an if and its elifs; none where there is an else, or where one of them is about something else."""
    found: list[Arm[ast.If]] = []
    arm = node if isinstance(node, ast.If) else None
    while arm is not None:
        values = _interval(arm.test, scope, readings)
        leaves = any(
            isinstance(i, ast.Break | ast.Continue | ast.Return | ast.Raise) for s in arm.body for i in inside(s)
        )
        if values is None or leaves or (found and values.part != found[0].values.part):
            return []
        found.append(Arm(arm, arm.lineno, values, _sets(arm.body, scope, readings)))
        rest = arm.orelse
        arm = rest[0] if len(rest) == 1 and isinstance(rest[0], ast.If) else None
        if rest and arm is None:
            return []
    return found


def _interval(test: ast.expr, scope: Scope, readings: Readings) -> Interval | None:
    """The values of a reading for which a condition holds; None where it is about anything else."""
    if isinstance(test, ast.BoolOp) and isinstance(test.op, ast.And):
        return _all([_interval(item, scope, readings) for item in test.values])
    if not isinstance(test, ast.Compare):
        return None
    sides = pairwise([test.left, *test.comparators])
    return _all([_compared(*pair, op, scope, readings) for pair, op in zip(sides, test.ops, strict=True)])


def _all(found: list[Interval | None]) -> Interval | None:
    known = [item for item in found if item is not None]
    same = len(known) == len(found) and len({item.part for item in known}) == 1
    return reduce(both, known) if same else None


def _compared(left: ast.expr, right: ast.expr, op: ast.cmpop, scope: Scope, readings: Readings) -> Interval | None:
    sign = _SIGNS.get(type(op))
    for reading, number, turned in ((left, right, False), (right, left, True)):
        word, literal = readings.reading(reading, scope), readings.literal(number, scope)
        if sign and word is not None and literal is not None:
            sign = TURNED[sign] if turned else sign
            return compared(ast.unparse(reading), sign, float(literal.value), word.whole)  # type: ignore[arg-type]
    return None


def _sets(body: list[ast.stmt], scope: Scope, readings: Readings) -> dict[str, object]:
    """The outputs and the names that a body sets, each with what it is set to last; None for what is worked out."""
    found: dict[str, object] = {}
    for item in (inner for statement in body for inner in inside(statement)):
        call = readings.called(item, scope)
        found |= call.sets if call is not None else {}
        if isinstance(item, ast.Assign):
            fixed = item.value.value if isinstance(item.value, ast.Constant) else None
            found |= {f"={ast.unparse(target)}": fixed for target in item.targets}
    return found
