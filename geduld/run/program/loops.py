"""Loops that only look and command.

A `repeat` whose body sets outputs and decides, but keeps no values and never waits, does in each pass what the
readings of that pass say: all its passes can be made at once.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from geduld.binding import terms
from geduld.run.program.trees import Loop
from geduld.run.search.columns import Evaluator, evaluator


def is_stateless(step: terms.Repeat) -> bool:
    """Whether each pass depends on its own instant alone."""
    if step.form == "times" or not step.body or not all(_is_stateless(inner) for inner in step.body):
        return False
    return not any(isinstance(item, terms.Just | terms.Encoder) for term in terms_of(step) for item in term.walk())


def terms_of(step: terms.Repeat) -> Iterator[terms.Term]:
    """Every expression in a loop without state."""
    for inner, _ in terms.walk_steps((step,)):
        if isinstance(inner, terms.Command):
            yield from (value for _, value in inner.settings)
        elif isinstance(inner, terms.Branches):
            yield from (condition for condition, _ in inner.arms if condition is not None)
        elif isinstance(inner, terms.Bands | terms.Repeat) and inner.value is not None:
            yield inner.value


def _is_stateless(step: terms.Step) -> bool:
    if isinstance(step, terms.Command):
        return step.ending is None
    if isinstance(step, terms.Branches):
        return all(_is_stateless(inner) for _, body in step.arms for inner in body)
    if isinstance(step, terms.Bands):
        return step.slack == 0 and all(_is_stateless(inner) for body in terms.bodies(step) for inner in body)
    return isinstance(step, terms.Halt)


def commanded(step: terms.Step) -> Iterator[str]:
    """The outputs a stateless loop may set."""
    for inner, _ in terms.walk_steps((step,)):
        if isinstance(inner, terms.Command):
            yield from (part for part, _ in inner.settings)
        elif isinstance(inner, terms.Halt):
            yield from inner.parts


@dataclass
class Poll:
    """A stateless loop, ready to be run: its body as trees, and when it is left."""

    loop: Loop
    form: str
    value: Evaluator | None

    @classmethod
    def of(cls, step: terms.Repeat) -> Poll:
        """The loop of a repeat without state."""
        return cls(Loop.of(step.body), step.form, None if step.value is None else evaluator(step.value))
