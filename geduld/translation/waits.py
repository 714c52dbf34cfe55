"""Waits of a translated program: times, conditions, values that are followed, measured ways."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import count

from geduld.binding import terms
from geduld.language.quantities import ANGLE, TIME, TRUTH
from geduld.translation.languages import Language
from geduld.translation.outputs import Outputs
from geduld.translation.page import Page
from geduld.translation.values import NoWord, Values
from geduld.translation.vocabulary import factor_of, plain_number

_HALF_MS = 0.0005  # what is reckoned by the clock in seconds is not exact to the last bit

Settings = Sequence[tuple[str, terms.Term]]


@dataclass
class Waits:
    """Writes waits. `block` writes what is done when patience ends; `counted` numbers the variables that
    waits need; `pass_us` is what a pass of a loop costs."""

    language: Language
    values: Values
    page: Page
    outputs: Outputs
    block: Callable[[tuple[terms.Step, ...]], None]
    counted: count[int]
    pass_us: int

    def wait(self, ending: terms.Ending, settings: Settings = ()) -> None:
        """A wait; `settings` are what was set for it. Raises NoWord."""
        if isinstance(ending, terms.Until):
            self._until(ending, {})
        elif isinstance(ending, terms.Travel):
            self._travel(ending, dict(settings))
        else:
            self._time(ending)

    def one_pass(self, waits: bool) -> None:
        """Gives a pass of a loop the time that it costs: by a wait, or by looking at the clock. Raises NoWord."""
        if waits:
            self._time(terms.Const(self.pass_us / 1e6, dimension=TIME))
        else:
            self.page.do(self._clock())

    def _time(self, ending: terms.Term) -> None:
        if self.values.vocabulary.waits is None:
            raise NoWord("waiting a time")
        word, given = self.values.vocabulary.waits
        if isinstance(ending, terms.Const):
            told = self.language.number(round(plain_number(ending.value, given), 9))
        else:
            self.outputs.look(ending)
            if self.values.all_there((ending,)):
                raise NoWord("waiting a time that may be absent")
            told = self.outputs.scaled(ending, factor_of(given))
        self.page.do(f"{self.values.name(word)}({told})")

    def _travel(self, travel: terms.Travel, settings: dict[str, terms.Term]) -> None:
        """A measured way: by the angles of the wheels where words read them, or by the time that the model says."""
        number = next(self.counted)
        angles = [terms.Encoder(f"{name}.angle", name, dimension=ANGLE) for name, _, _ in travel.wheels]
        amount = self.values.value(travel.amount)
        self.outputs.look(travel.amount)
        if self.values.all_there((travel.amount,)):
            raise NoWord("a measured way that may be absent")
        if travel.by == "encoder" and all(self.values.vocabulary.reading(angle) for angle in angles):
            self._turned(number, angles, travel, amount)
            return
        rate = 0.0
        for name, _, timed in travel.wheels:
            power = settings.get(name)
            rate += power.value * timed if isinstance(power, terms.Const) else math.nan
        if not (math.isfinite(rate) and rate) or not isinstance(travel.amount, terms.Const):
            raise NoWord("a measured way")
        self._time(terms.Const(max(0.0, round(travel.amount.value / abs(rate), 6)), dimension=TIME))

    def _turned(self, number: int, angles: list[terms.Encoder], travel: terms.Travel, amount: str) -> None:
        page, made = self.page, []
        for angle, (name, each, _) in zip(angles, travel.wheels, strict=True):
            start = f"{name}_{number}_start"
            page.declare(start, self.values.call(self.values.read(angle)))
            scale = self.language.fraction(each / self.values.read(angle).factor)
            made.append(f"({self.values.seen(angle.part)} - {start}) * {scale}")
        page.forever()
        self.outputs.look(*angles)
        way = f"way_{number}"
        page.declare(way, f"{self.language.absolute}({' + '.join(made)})")
        page.opened(f"if {way} >= {amount}")
        page.do("break")
        page.closed()
        page.closed()

    def follow(self, step: terms.Follow) -> None:
        """Outputs that are set again and again until the ending. Raises NoWord."""
        if isinstance(step.ending, terms.Travel):
            raise NoWord("a measured way while a value is followed")
        settings = dict(step.settings)
        if step.regulated:
            raise NoWord("a kept speed")
        if isinstance(step.ending, terms.Until):
            self._until(step.ending, settings)
        else:
            began = f"began_{next(self.counted)}"
            self.page.declare(began, self._clock())
            self.page.forever()
            self.outputs.set(settings)
            self.outputs.look(step.ending)
            self.page.opened(f"if {self._lasted(began, step.ending)}")
            self.page.do("break")
            self.page.closed()
            self.page.closed()
        self.outputs.stop(step.stops)

    def _clock(self) -> str:
        """The clock as its word gives it. Raises NoWord."""
        clock = self.values.vocabulary.clock
        if clock is None:
            raise NoWord("the time since the start")
        return self.values.call(clock)

    def _lasted(self, since: str, time: terms.Term) -> str:
        """Whether a time has passed since the clock was looked at. Raises NoWord."""
        passed = f"{self._clock()} - {since}"
        clock = self.values.vocabulary.clock
        assert clock is not None
        half = _HALF_MS * clock.factor
        if not isinstance(time, terms.Const):
            return f"{passed} > {self.outputs.scaled(time, clock.factor)} - {self.language.number(half)}"
        wanted = round(time.value * clock.factor, 9)
        if clock.word.whole and wanted == int(wanted):
            return f"{passed} >= {self.language.number(wanted)}"
        return f"{passed} > {self.language.number(round(wanted - half, 9))}"

    def _until(self, ending: terms.Until, follows: dict[str, terms.Term]) -> None:
        """A loop that is left when the condition holds; `follows` is set again at every pass."""
        page, values = self.page, self.values
        held = ending.held if not isinstance(ending.held, terms.Const) or ending.held.value else None
        just = ending.condition if isinstance(ending.condition, terms.Just) else None
        if not (just or follows or held or ending.patience is not None or values.look(ending.condition)):
            page.opened(f"while {self.language.opposite}{_whole(values.condition(ending.condition))}")
            if self.language.does_nothing:
                page.add(self.language.does_nothing)
            page.closed()
            return
        number = next(self.counted)
        since, began = f"since_{number}", f"began_{number}"
        if ending.patience is not None:
            page.declare(began, self._clock())
        if held is not None:
            page.declare(since, "-1")
        if just is not None:
            page.declare(*self._contact(just, "before"))
        page.forever()
        if follows:
            self.outputs.set(follows)
        if just is not None:
            page.declare(*self._contact(just, "now"))
        self.outputs.look(ending.condition)
        page.opened(f"if {self._changed(just) if just is not None else values.condition(ending.condition)}")
        if held is not None:
            page.opened(f"if {since} < 0")
            page.do(f"{since} = {self._clock()}")
            page.closed()
            page.opened(f"if {self._lasted(since, held)}")
            page.do("break")
            page.closed()
            page.closed()
            page.opened("else")
            page.do(f"{since} = -1")
        else:
            page.do("break")
        page.closed()
        if ending.patience is not None:
            page.opened(f"if {self._lasted(began, ending.patience)}")
            self.block(ending.otherwise)
            if page.runs_on():
                page.do("break")
            page.closed()
        if just is not None:
            page.do(f"{self._contact(just, 'before')[0]} = {self._contact(just, 'now')[0]}")
        page.closed()

    def _contact(self, just: terms.Just, when: str) -> tuple[str, str]:
        """The variable in which a contact's state is kept, and the call that reads it. Raises NoWord."""
        part = just.counter.partition(".")[0]
        pressed = terms.Compare("=", terms.Reading(part, dimension=TRUTH), terms.Const(1.0, dimension=TRUTH))
        return f"{part}_{when}", self.values.condition(pressed)

    def _changed(self, just: terms.Just) -> str:
        before, now = self._contact(just, "before")[0], self._contact(just, "now")[0]
        pressed = just.counter.endswith("presses")
        is_so, was_so = (now, before) if pressed else (before, now)
        return f"{is_so} {self.language.both} {self.language.opposite}{was_so}"


def _whole(condition: str) -> str:
    """A condition as one value, that `not` can stand before."""
    return condition if condition.endswith("()") and " " not in condition else f"({condition})"
