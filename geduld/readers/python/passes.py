"""Values of a Python program that are turned over, or counted up, in every pass in which a contact is pressed."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from geduld.hints.commanded import lasts
from geduld.readers.python.names import Scope, inside
from geduld.readers.python.readings import Readings
from geduld.wordbook.bound import TRUTH


def every_pass(loop: ast.While, scope: Scope, readings: Readings) -> Iterator[tuple[ast.If, str]]:
    """The ifs of a loop that do so, each with the contact that it asks for."""
    if any(isinstance(item, ast.While | ast.For) for statement in loop.body for item in inside(statement)):
        return  # a loop in it may wait until it is released
    for statement in loop.body:
        arm: ast.stmt | None = statement
        while isinstance(arm, ast.If):
            pressed = _pressed(arm.test, scope, readings)
            changes = pressed and any(_changes_itself(inner) for inner in arm.body)
            if changes and not any(_waits(i, scope, readings) for inner in arm.body for i in inside(inner)):
                yield arm, pressed
            arm = arm.orelse[0] if len(arm.orelse) == 1 else None


def _pressed(test: ast.expr, scope: Scope, readings: Readings) -> str:
    """The contact that must be pressed for a condition to hold; empty where none must, or what was is asked too."""
    names = [item for item in ast.walk(test) if isinstance(item, ast.Name)]
    if any(readings.names.meaning(name, scope) is None for name in names):
        return ""
    parts = test.values if isinstance(test, ast.BoolOp) and isinstance(test.op, ast.And) else [test]
    for part in parts:
        word = readings.word(part.func, scope) if isinstance(part, ast.Call) else None
        if word is not None and word.what == TRUTH:
            return ast.unparse(part)
    return ""


def _changes_itself(statement: ast.stmt) -> bool:
    """Whether it sets a value from what it was: `n += 1`, `on = not on`, `on = 1 - on`."""
    if isinstance(statement, ast.AugAssign):
        return isinstance(statement.target, ast.Name)
    if not isinstance(statement, ast.Assign) or not isinstance(statement.targets[0], ast.Name):
        return False
    own, value = statement.targets[0].id, statement.value
    sides = [value.operand] if isinstance(value, ast.UnaryOp) else []
    sides += [value.left, value.right] if isinstance(value, ast.BinOp) else []
    return any(isinstance(side, ast.Name) and side.id == own for side in sides)


def _waits(item: ast.AST, scope: Scope, readings: Readings) -> bool:
    """Whether time may pass in it, or the loop is left: by a word that waits, or by what is no word of the class."""
    if isinstance(item, ast.Call):
        word = readings.word(item.func, scope)
        return word is None or lasts(word)
    return isinstance(item, ast.Break | ast.Continue | ast.Return | ast.Raise)
