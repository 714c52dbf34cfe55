"""Numbers that a call gives to a word of the class: handles on the outputs that they set, and on the time they take."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from geduld.binding import terms
from geduld.binding.terms import Setting
from geduld.language.messages import Span
from geduld.script.words import in_base
from geduld.wordbook.bound import NUMBER, PART, BoundWord, Given

# A number with its sign, and where it stands; None for what is no fixed number.
Written = tuple[float, Span] | None


def settings_of(word: BoundWord, parts: tuple[str, ...], line: int, given: Sequence[Written]) -> Iterator[Setting]:
    """What the numbers in a call set. `parts` are those for which the word is called.

    A number that the word does not hand on as it is has no handle.
    """
    variant = word.variants.get(parts)
    if variant is None:
        return
    numbers = [one for one, asked in zip(given, variant.given, strict=False) if asked.what != PART]
    asked = [one for one in variant.given if one.what != PART]
    for number, one, index in zip(numbers, asked, variant.kept, strict=False):
        if number is None or one.what != NUMBER or not _proportional(one):
            continue
        value = in_base(number[0], one)
        for what, part, sign in _sets(variant.steps, index):
            base = sign * value
            factor = number[0] / base if base else 0.0
            if factor:
                yield Setting(what, part, line, base, number[1], "", factor)


def _sets(steps: tuple[terms.Step, ...], index: int) -> Iterator[tuple[str, str, float]]:
    """What a parameter sets: an output, with the sign it is turned round by, or a time."""
    for step, _ in terms.walk_steps(steps):
        if isinstance(step, terms.Command):
            for part, value in step.settings:
                if _is(value, index):
                    yield "output", part, 1.0
                elif isinstance(value, terms.Arithmetic) and _turned_round(value) and _is(value.right, index):
                    yield "output", part, -1.0
        ending = step.ending if isinstance(step, terms.Command | terms.Wait) else None
        if isinstance(ending, terms.Variable) and ending.index == index:
            yield "time", "", 1.0
        elif isinstance(ending, terms.Travel) and _is(ending.amount, index):
            yield "way", "", 1.0


def _proportional(one: Given) -> bool:
    """Whether nothing is nothing on the scale of a parameter too: else a number is moved by more than a factor."""
    scale = one.scale
    return scale is None or scale.low * scale.stop == scale.start * scale.high


def _is(term: terms.Term, index: int) -> bool:
    return isinstance(term, terms.Variable) and term.index == index


def _turned_round(term: terms.Arithmetic) -> bool:
    return term.sign == "-" and isinstance(term.left, terms.Const) and term.left.value == 0
