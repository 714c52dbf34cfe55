"""Harmless rewrites of a program: they do the same and must get the same marks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal

from geduld.grading.exercise import Exercise
from geduld.grading.surgery import nodes, put
from geduld.language import tree
from geduld.language.formatter import format_plan
from geduld.language.nodes import changed
from geduld.readers.reading import NOTATION
from geduld.translation.steps import NOT_SAID
from geduld.translation.translate import translate
from geduld.wordbook.binder import good_wordbook

_MIRRORED = {"<": ">", ">": "<", "<=": ">=", ">=": "<="}
_SMALLER = {"cm": ("mm", "10"), "s": ("ms", "1000"), "m": ("cm", "100"), "rev": ("deg", "360")}


@dataclass(frozen=True)
class Rewrite:
    """A program that does the same in other words, in the notation or in another `language`."""

    what: str
    text: str
    language: str = NOTATION


def rewrite(plan: tree.Plan) -> list[Rewrite]:
    """The harmless rewrites that change a program's text."""
    own = format_plan(plan)
    found = [Rewrite(what, format_plan(work(plan))) for what, work in _WORKS.items()]
    return [item for item in found if item.text != own]


def in_class_words(exercise: Exercise) -> list[Rewrite]:
    """The reference in the languages of the exercise's wordbooks, where their words can say all of it."""
    found = []
    for text in exercise.words:
        book = good_wordbook(text, exercise.rig)
        written = translate(exercise.reference, exercise.rig, book, exercise.library)
        if not any(hint.code == NOT_SAID for hint in written.left_out):
            found.append(Rewrite(f'in the words of "{book.book.title}"', written.text, book.book.language))
    return found


def _mirrored(plan: tree.Plan) -> tree.Plan:
    for path, node in list(nodes(plan)):
        if isinstance(node, tree.Binary) and node.sign in _MIRRORED and not _is_drive(node):
            plan = put(plan, path, changed(node, sign=_MIRRORED[node.sign], left=node.right, right=node.left))
    return plan


def _is_drive(node: tree.Binary) -> bool:
    return isinstance(node.left, tree.Name) and node.left.name == "drive"


def _smaller_units(plan: tree.Plan) -> tree.Plan:
    for path, node in list(nodes(plan)):
        if isinstance(node, tree.Number) and node.unit in _SMALLER:
            unit, factor = _SMALLER[node.unit]
            value = (Decimal(node.text) * Decimal(factor)).normalize()
            plan = put(plan, path, changed(node, text=f"{value:f}", unit=unit))
    return plan


def _other_names(plan: tree.Plan) -> tree.Plan:
    """Every value, routine and timer of the program's own gets another name."""
    names: set[str] = set()
    for _, node in nodes(plan):
        if isinstance(node, tree.Let | tree.Routine | tree.Set | tree.StartTimer):
            names.add(node.name)
        if isinstance(node, tree.Let | tree.Routine):
            names.update(node.parameters)
    for path, node in list(nodes(plan)):
        new: dict[str, object] = {}
        for key in ("name", "function", "target"):
            word = getattr(node, key, None)
            if isinstance(word, str) and word in names and not isinstance(node, tree.Include):
                new[key] = f"{word}_too"
        if isinstance(node, tree.Let | tree.Routine):
            new["parameters"] = tuple(f"{word}_too" for word in node.parameters)
        if new:
            plan = put(plan, path, changed(_now(plan, path), **new))
    return plan


def _now(plan: tree.Plan, path: tuple[str | int, ...]) -> tree.Node:
    found: object = plan
    for step in path:
        found = found[step] if isinstance(step, int) else getattr(found, step)  # type: ignore[index]
    assert isinstance(found, tree.Node)
    return found


def _in_a_routine(plan: tree.Plan) -> tree.Plan:
    """All of the program moves into a routine that it performs."""
    body = changed(plan.begin, trailing=())
    routine = tree.Routine("whole_program", (), body)
    begin = changed(plan.begin, steps=(tree.Perform("whole_program"),))
    return changed(plan, routines=(*plan.routines, routine), begin=begin)


def _both_sides(plan: tree.Plan) -> tree.Plan:
    """`drive at 40 %` becomes `drive at 40 %, 40 %`."""
    for path, node in list(nodes(plan)):
        if isinstance(node, tree.Action) and node.target == "drive" and len(node.values) == 1 and not node.turn:
            plan = put(plan, path, changed(_now(plan, path), values=node.values * 2))
    return plan


_WORKS: dict[str, Callable[[tree.Plan], tree.Plan]] = {
    "comparisons the other way round": _mirrored,
    "smaller units": _smaller_units,
    "other names": _other_names,
    "all in a routine": _in_a_routine,
    "both sides said": _both_sides,
}
