"""What a call of a class's word sets: which outputs, and whether always to the same."""

from __future__ import annotations

from collections.abc import Sequence

from geduld.binding import terms
from geduld.wordbook.bound import BoundWord


def commanded(word: BoundWord, given: Sequence[float | None]) -> dict[str, object]:
    """The outputs that a call sets, each with the call that it is set by; None where a given value (None) is not fixed.

    A word that is told the part is taken for an output of its own.
    """
    fixed = None if None in given else (word.name, *given)
    if len(word.variants) != 1:
        return {word.name: fixed}
    found: dict[str, object] = {}
    for step, _ in terms.walk_steps(next(iter(word.variants.values())).steps):
        if isinstance(step, terms.Command):
            found |= {name: fixed for name, _ in step.settings}
        elif isinstance(step, terms.Halt):
            found |= dict.fromkeys(step.parts, fixed)
    return found
