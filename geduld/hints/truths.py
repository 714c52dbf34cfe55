"""The conditions of a step."""

from __future__ import annotations

from collections.abc import Iterator

from geduld.binding import terms


def truths(step: terms.Step) -> Iterator[terms.Term]:
    """The conditions of a step."""
    ending = getattr(step, "ending", None)
    if isinstance(ending, terms.Until):
        yield ending.condition
    if isinstance(step, terms.Repeat) and step.form in ("while", "until") and step.value:
        yield step.value
    if isinstance(step, terms.Guarded):
        yield step.condition
    if isinstance(step, terms.Branches):
        yield from (condition for condition, _ in step.arms if condition is not None)
