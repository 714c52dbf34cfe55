"""What sets outputs in a translated program: words that set just these, and words that stop them."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import groupby
from operator import itemgetter

from geduld.binding import terms
from geduld.translation.page import Page
from geduld.translation.values import NoWord, Values, bare
from geduld.translation.vocabulary import Sets, factor_of, plain_number

_SHARED = "level_now"  # what several outputs are set to is worked out once


@dataclass
class Outputs:
    """Writes calls that set and stop outputs."""

    values: Values
    page: Page

    def look(self, *values: terms.Term) -> None:
        """Reads what values need into variables of their own, so that each is asked once."""
        seen = dict(pair for value in values for pair in self.values.look(value))
        for name, call in seen.items():
            self.page.declare(name, call)

    def set(self, settings: dict[str, terms.Term], regulated: bool = False) -> None:
        """Sets outputs; one whose value is absent keeps what it has. Raises NoWord."""
        if regulated:
            raise NoWord("a kept speed")
        chosen = list(self.values.vocabulary.setting(set(settings)))
        if not chosen:
            raise NoWord(f"setting {' and '.join(settings)}")
        self.look(*settings.values())
        conditions = []
        for item in chosen:
            asked = [settings[name] for name, _ in item.places]
            conditions.append(self.values.all_there(asked))
            if conditions[-1] and any(value != asked[0] for value in asked):
                raise NoWord("two values at once of which one may be absent")
        for there, items in groupby(zip(conditions, chosen, strict=True), key=itemgetter(0)):
            if there:
                self.page.opened(f"if {there}")
            for _, item in items:
                self.page.do(self._set_call(item, settings))
            if there:
                self.page.closed()

    def _set_call(self, item: Sets, settings: dict[str, terms.Term]) -> str:
        told = []
        for place, given in enumerate(item.given):
            value = settings[next(name for name, index in item.places if index == place)]
            if isinstance(value, terms.Const):
                told.append(self.values.language.number(plain_number(value.value, given)))
            else:
                told.append(bare(self.scaled(value, factor_of(given))))
        if len(told) > 1 and len(set(told)) == 1 and " " in told[0]:
            self.page.declare(_SHARED, told[0])
            told = [_SHARED] * len(told)
        return f"{self.values.name(item.word, item.object_of, item.part)}({', '.join(told)})"

    def scaled(self, value: terms.Term, factor: float) -> str:
        """A value in base units times a factor."""
        told = self.values.value(value)
        return told if factor == 1 else f"{told} * {self.values.language.fraction(factor)}"

    def stop(self, parts: tuple[str, ...]) -> None:
        """Sets outputs to 0. Raises NoWord."""
        if parts:
            self.set({part: terms.Const(0.0) for part in parts})

    def halt(self, step: terms.Halt) -> None:
        """A stop, braking or coasting where a word says so. Raises NoWord."""
        chosen = self.values.vocabulary.halting(set(step.parts), step.style)
        for item in chosen:
            self.page.do(f"{self.values.name(item.word, item.object_of, item.part)}()")
        if chosen:
            return
        if step.style:
            raise NoWord(f"stopping {' and '.join(step.parts)} by {step.style.removesuffix('e')}ing")
        self.stop(step.parts)
