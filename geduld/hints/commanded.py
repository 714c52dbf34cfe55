"""What a call of a class's word sets: which outputs, and whether always to the same."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Generic

from geduld.binding import terms
from geduld.hints.bands import Place, Told
from geduld.hints.counters import takes_time
from geduld.wordbook.bound import PART, BoundWord


def commanded(word: BoundWord, called: str, given: Sequence[tuple[str, float | None]]) -> dict[str, object]:
    """The outputs that a call sets, each with the call that it is set by; None where a given value is not fixed.

    `called` is how the program calls the word, `given` the text of each value with its number. What a word does with
    the part that it is told, or that its object has, counts as an output of its own.
    """
    fixed = None if any(number is None for _, number in given) else (word.name, *(number for _, number in given))
    if len(word.variants) != 1:
        told = [text for (text, _), asked in zip(given, word.given or (), strict=False) if asked.what == PART]
        return {" ".join([called, *told]): fixed}
    found: dict[str, object] = {}
    for step, _ in terms.walk_steps(next(iter(word.variants.values())).steps):
        if isinstance(step, terms.Command):
            found |= {name: fixed for name, _ in step.settings}
        elif isinstance(step, terms.Halt):
            found |= dict.fromkeys(step.parts, fixed)
    return found


def lasts(word: BoundWord) -> bool:
    """Whether time may pass in a call of it."""
    return bool(word.takes) or takes_time(step for kind in word.variants.values() for step in kind.steps)


@dataclass(frozen=True)
class Call(Generic[Place]):
    """A statement that calls a word and does nothing else, with the outputs that it sets."""

    place: Place
    line: int
    word: BoundWord
    sets: Mapping[str, object]


def set_twice(calls: Iterable[Call[Place] | None]) -> Iterator[Told[Place]]:
    """Calls in a block that set anew, at the same instant, all that one before them set; None: another statement."""
    before: Call[Place] | None = None
    for call in calls:
        if before is not None and call is not None and set(before.sets) <= set(call.sets):
            alike = all(value is not None and call.sets[name] == value for name, value in before.sets.items())
            if not alike:
                what = f"{' and '.join(before.sets)} {'is' if len(before.sets) == 1 else 'are'}"
                message = (
                    f"{what} set in line {before.line} and again here at the same instant: the first is never seen."
                )
                yield Told("set-twice", call.place, message, f"Wait behind line {before.line}, or delete it.")
        if call is None or lasts(call.word):
            before = None
        elif call.sets:
            before = None if _rests(call) else call


def _rests(call: Call[Place]) -> bool:
    """Whether it only stops something: to stop before one goes on otherwise is a good habit, and no mistake."""
    steps = [step for kind in call.word.variants.values() for step, _ in terms.walk_steps(kind.steps)]
    numbers = {
        number for value in call.sets.values() for number in (value[1:] if isinstance(value, tuple) else (None,))
    }
    return numbers == {0.0} or not any(isinstance(step, terms.Command) for step in steps)
