"""Ifs of a C program that ask for one reading: edges left out, values in two of them, thresholds swapped."""

from __future__ import annotations

from collections.abc import Iterator

from tree_sitter import Node

from geduld.hints.bands import Arm, Told, Tongue, told_of_block
from geduld.hints.intervals import TURNED, Interval, both, compared
from geduld.readers.c.readings import Readings
from geduld.readers.c.syntax import LEAVES, line_of, named, text_of, walk

_TONGUE = Tongue("Use else for the last one", "Write else if, so that one of them runs.")
_SIGNS = {"<": "<", "<=": "<=", ">": ">", ">=": ">=", "==": "="}
_MOST_DEPTH = 40


def band_hints(statements: list[Node], readings: Readings) -> Iterator[Told[Node]]:
    """What is wrong with the ifs of one block."""
    code = [item for item in statements if item.type != "comment"]
    return told_of_block((_arms(item, readings) for item in code), _TONGUE, between=True)


def _arms(node: Node, readings: Readings) -> list[Arm[Node]]:
    """The arms of an if and its else ifs; none where there is an else, or where one of them is about something else."""
    found: list[Arm[Node]] = []
    arm: Node | None = node if node.type == "if_statement" else None
    while arm is not None:
        test, body = arm.child_by_field_name("condition"), arm.child_by_field_name("consequence")
        values = _interval(test, readings) if test is not None else None
        if values is None or body is None or any(item.type in LEAVES for item in walk(body)):
            return []
        if found and values.part != found[0].values.part:
            return []
        found.append(Arm(arm, line_of(arm), values, _sets(body, readings)))
        otherwise = arm.child_by_field_name("alternative")
        inner = named(otherwise) if otherwise is not None else []
        arm = inner[0] if len(inner) == 1 and inner[0].type == "if_statement" else None
        if otherwise is not None and arm is None:
            return []
    return found


def _interval(test: Node, readings: Readings, depth: int = 0) -> Interval | None:
    """The values of a reading for which a condition holds; None where it is about anything else."""
    while test.type in ("condition_clause", "parenthesized_expression") and len(named(test)) == 1:
        test = named(test)[0]
    left, right = test.child_by_field_name("left"), test.child_by_field_name("right")
    if test.type != "binary_expression" or left is None or right is None or depth > _MOST_DEPTH:
        return None
    sign = readings.sign(test)
    if sign == "&&":
        one, other = _interval(left, readings, depth + 1), _interval(right, readings, depth + 1)
        return both(one, other) if one is not None and other is not None and one.part == other.part else None
    if sign not in _SIGNS:
        return None
    for reading, number, turned in ((left, right, False), (right, left, True)):
        word, value = readings.reading(reading), readings.value(number)
        if word is not None and value is not None:
            sign = TURNED[_SIGNS[sign]] if turned else _SIGNS[sign]
            return compared(text_of(reading), sign, value, word.whole)
    return None


def _sets(body: Node, readings: Readings) -> dict[str, object]:
    """The outputs and the names that a body sets, each with what it is set to last; None for what is worked out."""
    found: dict[str, object] = {}
    for item in walk(body):
        call = readings.called(item)
        found |= call.sets if call is not None else {}
        if item.type == "assignment_expression":
            target, value = item.child_by_field_name("left"), item.child_by_field_name("right")
            if target is not None and value is not None:
                found[f"={text_of(target)}"] = readings.value(value)
    return found
