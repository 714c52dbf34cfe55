"""Steps of a behaviour, written out one after another."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from itertools import count

from geduld.binding import terms
from geduld.language.messages import Hint, Span, error
from geduld.translation.languages import Language
from geduld.translation.outputs import Outputs
from geduld.translation.page import Page
from geduld.translation.passes import always_waits, is_noticed, never_waits
from geduld.translation.values import NoWord, Values, bare
from geduld.translation.waits import Waits

NOT_SAID = "no-word"


@dataclass
class Steps:
    """Writes steps on a page. `pass_us` is what a pass of a loop costs; `hints` say what is left out; `first` are
    variables that are set before all steps, with
    their values.
    """

    language: Language
    values: Values
    page: Page
    pass_us: int
    hints: list[Hint] = field(default_factory=list)
    first: dict[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._counted = count(1)
        self._outputs = Outputs(self.values, self.page)
        self._waits = Waits(
            self.language, self.values, self.page, self._outputs, self.block, self._counted, self.pass_us
        )

    def say(self, code: str, line: int, message: str, remedy: str) -> None:
        """A warning about a line of the behaviour."""
        self.hints.append(replace(error(code, Span(line, 1, line, 2), message, remedy), level="warning"))

    def block(self, steps: tuple[terms.Step, ...]) -> None:
        """Steps one after another; what cannot be said is left out, and said."""
        page, first = self.page, len(self.page.lines)
        for step in steps:
            place = page.place()
            try:
                self._step(step)
            except NoWord as missing:
                page.back(place)
                page.add(f"{self.language.comment}not said: line {step.line} of the behaviour")
                message = f"The wordbook has no word that could say this: {missing}."
                self.say(NOT_SAID, step.line, message, "Add such a word, or write it by hand.")
            if isinstance(step, terms.Finish | terms.Leave):
                break
        if not self.language.closes and page.level and not page.says_something(first):
            page.add("pass")

    def _step(self, step: terms.Step) -> None:
        match step:
            case terms.Command():
                self._outputs.set(dict(step.settings), step.regulated)
                if step.ending is not None:
                    self._waits.wait(step.ending, step.settings)
                    self._outputs.stop(step.stops)
            case terms.Follow():
                self._waits.follow(step)
            case terms.Wait():
                self._waits.wait(step.ending)
            case terms.Halt():
                self._outputs.halt(step)
            case terms.Repeat():
                self._repeat(step)
            case terms.Branches():
                self._branches(step)
            case terms.Bands():
                self._bands(step)
            case terms.Assign():
                self._assign(step)
            case terms.Leave():
                self.page.do("break")
            case terms.Send() if isinstance(step.text, str):
                word = self.values.vocabulary.sends
                if word is None:
                    raise NoWord("sending a message")
                self.page.do(f"{self.values.name(word)}({self.language.text(step.text)})")
            case terms.Note() if isinstance(step.text, str):
                self.page.do(f"{self.language.says}({self.language.text(step.text)})")
            case terms.Finish():
                self.page.do(self.language.ends)
            case _:
                raise NoWord(_WHAT.get(type(step), "this step"))

    def _assign(self, step: terms.Assign) -> None:
        name, flag = self.values.names[step.index], f"{self.values.names[step.index]}_there"
        self._outputs.look(step.value)
        there = self.values.all_there((step.value,))
        told = self.values.clock() if isinstance(step.value, terms.Now) else bare(self.values.value(step.value))
        if step.index not in self.values.unknown:
            self.page.do(f"{name} = {told}")
        elif self.language.nothing:
            if not there:
                self.page.do(f"{name} = {told}")
                return
            self.page.opened(f"if {there}")
            self.page.do(f"{name} = {told}")
            self.page.closed()
            self.page.opened("else")
            self.page.do(f"{name} = {self.language.nothing}")
            self.page.closed()
        elif not there:
            self.page.do(f"{name} = {told}")
            self.page.do(f"{flag} = 1")
        else:
            self.page.opened(f"if {there}")
            self.page.do(f"{name} = {told}")
            self.page.do(f"{flag} = 1")
            self.page.closed()
            self.page.opened("else")
            self.page.do(f"{flag} = 0")
            self.page.closed()

    def _repeat(self, step: terms.Repeat) -> None:
        page = self.page
        if step.form == "times" and step.value is not None:
            self._times(step, step.value)
            return
        page.forever()
        if step.value is not None:
            self._outputs.look(step.value)
            told = self.values.condition(step.value)
            page.opened(f"if {told if step.form == 'until' else self.language.opposite + f'({told})'}")
            page.do("break")
            page.closed()
        self.block(step.body)
        if not always_waits(step.body) and not is_noticed(step.value, step.body):
            self._waits.one_pass(never_waits(step.body))
        page.closed()

    def _times(self, step: terms.Repeat, times: terms.Term) -> None:
        page, number = self.page, next(self._counted)
        passes, wanted = f"passes_{number}", f"wanted_{number}"
        surely = always_waits(step.body)
        if isinstance(times, terms.Const) and (surely or never_waits(step.body)):
            page.opened(self.language.counts.format(passes, math.ceil(max(0.0, times.value))))
            self.block(step.body)
            if not surely:
                self._waits.one_pass(True)
            page.closed()
            return
        self._outputs.look(times)
        there = self.values.all_there((times,))
        page.declare(passes, "0")
        page.declare(wanted, "0" if there else self.values.value(times))
        if there:
            page.opened(f"if {there}")
            page.do(f"{wanted} = {self.values.value(times)}")
            page.closed()
        page.opened(f"while {passes} < {wanted}")
        page.do(f"{passes} = {passes} + 1")
        self.block(step.body)
        if not surely and not is_noticed(None, step.body):
            self._waits.one_pass(never_waits(step.body))
        page.closed()

    def _branches(self, step: terms.Branches) -> None:
        self._outputs.look(*(condition for condition, _ in step.arms if condition is not None))
        for number, (condition, body) in enumerate(step.arms):
            self.page.branch(number, "" if condition is None else self.values.condition(condition))
            self.block(body)
            self.page.closed()

    def _bands(self, step: terms.Bands) -> None:
        """The band that a value is in, kept until the value is past its edge by the slack."""
        page, band = self.page, f"band_{next(self._counted)}"
        self._outputs.look(step.value)
        there, value = self.values.all_there((step.value,)), self.values.value(step.value)
        if there:
            page.opened(f"if {there}")
        last = ""
        if step.slack:
            self.first[band] = "-1"
            last = f"last{band.removeprefix('band')}"
            page.declare(last, band)
            page.do(f"{band} = {len(step.edges)}")
        else:
            page.declare(band, str(len(step.edges)))
        for number in reversed(range(len(step.edges))):
            page.opened(f"if {value} < {self.language.fraction(step.edges[number])}")
            page.do(f"{band} = {number}")
            page.closed()
        if step.slack:
            for number in range(len(step.edges) + 1):
                self._kept(band, last, number, value, step)
        for number, body in enumerate(step.bodies):
            page.branch(number, f"{band} == {number}" if not number or number + 1 < len(step.bodies) else "")
            self.block(body)
            page.closed()
        if there:
            page.closed()
            page.opened("else")
            self.block(step.absent)
            page.closed()

    def _kept(self, band: str, last: str, number: int, value: str, step: terms.Bands) -> None:
        held = [f"{last} == {number}"]
        if number:
            held.append(f"{value} >= {self.language.fraction(step.edges[number - 1] - step.slack)}")
        if number < len(step.edges):
            held.append(f"{value} < {self.language.fraction(step.edges[number] + step.slack)}")
        self.page.opened(f"if {f' {self.language.both} '.join(held)}")
        self.page.do(f"{band} = {number}")
        self.page.closed()


_WHAT = {
    terms.Ramp: "going evenly from one value to another",
    terms.Guarded: "do and unless",
    terms.Side: "lanes side by side",
    terms.Send: "a message",
}
