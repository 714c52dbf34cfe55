"""What sets outputs in a translated program: words that set just these, and words that stop them."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.binding import terms
from geduld.translation.page import Page
from geduld.translation.values import NoWord, Values
from geduld.translation.vocabulary import Sets, factor_of, plain_number


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
        for item in chosen:
            asked = [settings[name] for name, _ in item.places]
            there = self.values.all_there(asked)
            if there and len({*map(id, asked)}) > 1 and len(asked) > 1 and asked[0] != asked[1]:
                raise NoWord("two values at once of which one may be absent")
            if there:
                self.page.opened(f"if {there}")
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
                told.append(self.scaled(value, factor_of(given)))
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
        word = self.values.vocabulary.halting(set(step.parts), step.style)
        if word is not None:
            self.page.do(f"{self.values.name(word)}()")
        elif step.style:
            raise NoWord(f"stopping {' and '.join(step.parts)} by {step.style.removesuffix('e')}ing")
        else:
            self.stop(step.parts)
