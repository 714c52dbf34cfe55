"""Values of a C program that are turned over, or counted up, in every pass in which a contact is pressed."""

from __future__ import annotations

from collections.abc import Iterator

from tree_sitter import Node

from geduld.hints.commanded import lasts
from geduld.readers.c.readings import Readings
from geduld.readers.c.syntax import LEAVES, named, text_of, walk
from geduld.readers.c.timing import LOOPS
from geduld.wordbook.bound import TRUTH


def every_pass(loop: Node, readings: Readings) -> Iterator[tuple[Node, str]]:
    """The ifs of a loop that do so, each with the contact that it asks for."""
    body = loop.child_by_field_name("body")
    if body is None or any(item.type in LOOPS for item in walk(body)):
        return  # a loop in it may wait until it is released
    for statement in named(body):
        arm: Node | None = statement
        while arm is not None and arm.type == "if_statement":
            test, then = arm.child_by_field_name("condition"), arm.child_by_field_name("consequence")
            pressed = _pressed(test, readings) if test is not None else ""
            inner = [] if then is None else named(then) if then.type == "compound_statement" else [then]
            changes = pressed and any(map(_changes_itself, inner))
            if changes and then is not None and not any(_waits(item, readings) for item in walk(then)):
                yield arm, pressed
            otherwise = arm.child_by_field_name("alternative")
            rest = named(otherwise) if otherwise is not None else []
            arm = rest[0] if len(rest) == 1 else None


def _pressed(test: Node, readings: Readings) -> str:
    """The contact that must be pressed for a condition to hold; empty where none must, or what was is asked too."""
    for item in walk(test):
        called = item.parent is not None and item.parent.type == "call_expression"
        if item.type == "identifier" and not called:
            return ""
    while test.type in ("condition_clause", "parenthesized_expression") and len(named(test)) == 1:
        test = named(test)[0]
    left = test
    while left.type == "binary_expression" and readings.sign(left) == "&&":
        right = left.child_by_field_name("right")
        if right is not None and _is_contact(right, readings):
            return text_of(right)
        before = left.child_by_field_name("left")
        if before is None:
            return ""
        left = before
    return text_of(left) if _is_contact(left, readings) else ""


def _is_contact(node: Node, readings: Readings) -> bool:
    word = readings.reading(node) if node.type == "call_expression" else None
    return word is not None and word.what == TRUTH


def _changes_itself(statement: Node) -> bool:
    """Whether it sets a value from what it was: `n++`, `n += 1`, `on = !on`, `on = 1 - on`."""
    inner = named(statement)[0] if statement.type == "expression_statement" and named(statement) else None
    if inner is None or inner.type not in ("update_expression", "assignment_expression"):
        return False
    target, value = inner.child_by_field_name("left"), inner.child_by_field_name("right")
    if inner.type == "update_expression" or target is None or value is None:
        return inner.type == "update_expression"
    operator = inner.child_by_field_name("operator")
    if operator is not None and text_of(operator) != "=":
        return True
    sides = [value.child_by_field_name(name) for name in ("argument", "left", "right")]
    return any(side is not None and text_of(side) == text_of(target) for side in sides)


def _waits(item: Node, readings: Readings) -> bool:
    """Whether time may pass in it, or the loop is left: by a word that waits, or by what is no word of the class."""
    if item.type == "call_expression":
        callee = item.child_by_field_name("function")
        word = readings.names.word(text_of(callee)) if callee is not None else None
        return word is None or lasts(word)
    return item.type in LEAVES
