"""Numbers in a script that readings are compared with: handles on the lanes of those sensors."""

from __future__ import annotations

from geduld.binding import terms
from geduld.binding.terms import Threshold
from geduld.language.messages import Span
from geduld.wordbook.bound import NUMBER, BoundWord


def threshold(word: BoundWord, number: float, span: Span) -> Threshold | None:
    """A plain number that a word's value is compared with, as a handle; None where the word is no plain reading."""
    if word.what != NUMBER or len(word.variants) != 1 or number <= 0:
        return None  # what is compared with nothing, or with less, asks whether there is a reading
    variant = next(iter(word.variants.values()))
    if not isinstance(variant.term, terms.Reading):
        return None
    factor, zero = 1.0, 0.0
    if variant.scale is not None:
        scale = variant.scale
        if scale.start == scale.stop:
            return None
        factor = (scale.high - scale.low) / (scale.stop - scale.start)
        zero = scale.low - scale.start * factor
    elif word.unit is not None:
        factor = word.unit.from_base(1.0)
    return Threshold(variant.term.part, (number - zero) / factor, span, "", factor, zero)


def parts_read(word: BoundWord) -> tuple[str, ...]:
    """The parts that a word's value is a reading of, where it reads the same ones however it is called."""
    found = [
        tuple(item.part for item in variant.term.walk() if isinstance(item, terms.Reading))
        for variant in word.variants.values()
        if variant.term is not None
    ]
    return found[0] if len(found) == 1 else ()


def commands(word: BoundWord) -> bool:
    """Whether a word does more than to wait and to read."""
    return any(not isinstance(step, terms.Wait) for variant in word.variants.values() for step in variant.steps)
