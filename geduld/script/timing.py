"""Whether a word takes time."""

from __future__ import annotations

from geduld.binding import terms
from geduld.wordbook.bound import BoundWord


def word_takes_time(word: BoundWord) -> bool:
    """Whether a word may take time."""
    if word.takes:
        return True
    steps = [step for variant in word.variants.values() for step, _ in terms.walk_steps(variant.steps)]
    return any(
        isinstance(step, terms.Wait | terms.Follow | terms.Ramp | terms.Guarded | terms.Side | terms.Repeat)
        or (isinstance(step, terms.Command) and step.ending is not None)
        for step in steps
    )


def interrupts(word: BoundWord) -> bool:
    """Whether a word asks for something to be performed each time."""
    return any(isinstance(step, terms.EachTime) for variant in word.variants.values() for step in variant.steps)
