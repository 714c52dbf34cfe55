"""Changes one place of a plan and leaves the rest as it is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields
from typing import Any

from geduld.language import tree
from geduld.language.nodes import changed

Path = tuple[str | int, ...]


def nodes(plan: tree.Plan) -> Iterator[tuple[Path, tree.Node]]:
    """Every node of a plan with the way to it, in the order of the text."""
    yield from _inside((), plan)


def _inside(path: Path, value: Any) -> Iterator[tuple[Path, tree.Node]]:
    if isinstance(value, tuple):
        for index, item in enumerate(value):
            yield from _inside((*path, index), item)
    elif isinstance(value, tree.Node):
        yield path, value
        for item in fields(value):
            if item.name != "span":
                yield from _inside((*path, item.name), getattr(value, item.name))


def at(plan: tree.Plan, path: Path) -> Any:
    """What is at the end of a way."""
    found: Any = plan
    for step in path:
        found = found[step] if isinstance(step, int) else getattr(found, step)
    return found


def put(plan: tree.Plan, path: Path, value: Any) -> tree.Plan:
    """The plan with another value at the end of a way."""
    found: tree.Plan = _put(plan, path, value)
    return found


def _put(found: Any, path: Path, value: Any) -> Any:
    if not path:
        return value
    step, rest = path[0], path[1:]
    if isinstance(step, int):
        return (*found[:step], _put(found[step], rest, value), *found[step + 1 :])
    return changed(found, **{step: _put(getattr(found, step), rest, value)})


def spliced(plan: tree.Plan, path: Path, steps: tuple[tree.Step, ...]) -> tree.Plan | None:
    """The plan with a step replaced by others, or by none; None where its block would be empty."""
    block, index = at(plan, path[:-1]), path[-1]
    assert isinstance(index, int)
    kept = (*block[:index], *steps, *block[index + 1 :])
    return put(plan, path[:-1], kept) if kept else None


def line_of(plan: tree.Plan, path: Path) -> int:
    """The line on which a place stands."""
    for length in range(len(path), -1, -1):
        found = at(plan, path[:length])
        if isinstance(found, tree.Node) and found.span.line:
            return found.span.line
    return 1
