"""Why an output is as it is at an instant: which line set it, what that line had waited for, and what let it go on."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.quantities import show
from geduld.run.record.record import Bar, Record
from geduld.why.places import Place, condition_of, guard_of, places_of
from geduld.why.readings import Seen, condition_words, parts_in, seen_at, were

# The record of the same run up to an instant.
UpTo = Callable[[int], Record]


@dataclass(frozen=True)
class Why:
    """Why an output is as it is.

    `tick` is when it became so, `line` the line that set it (0 for none), `waited` the wait that ended then, and
    `readings` what the readings were that let it go on. `because` says it in a sentence or two.
    """

    part: str
    tick: int
    line: int
    waited: Bar | None
    readings: tuple[Seen, ...]
    because: str


def why_output(
    record: Record,
    up_to: UpTo,
    text: str,
    steps: tuple[terms.Step, ...],
    asked: Mapping[int, Iterable[str]],
    part: str,
    tick: int,
) -> Why:
    """Why the output `part` is as it is at an instant of a run.

    `steps` are the program's bound steps, none for a language that has none; `asked` then says which parts a line
    compares with a number. Raises KeyError for a part that is no output.
    """
    signal = record.commands[part]
    index = int(np.searchsorted(signal.times, tick, "right")) - 1
    value = float(signal.values[index]) if index >= 0 else float("nan")
    unit = record.rig.parts[part]
    shown = "not set" if value != value else show(unit.unit.from_base(value) if unit.unit else value, unit.unit_word, 2)
    since = int(signal.times[index]) if index >= 0 else 0
    line = up_to(since + 1).set_by.get(part, 0)
    if not line:
        return Why(part, 0, 0, None, (), f"{part} is {shown} from the start: no line has set it.")
    head = f"{part} is {shown} since {_at(since)}: line {line} set it."
    told = _Cause(record, Lines(text), steps, asked, since, line)
    waited, readings, tail = told.found()
    return Why(part, since, line, waited, readings, f"{head} {tail}".strip())


def _at(tick: int) -> str:
    return show(tick / 1e6, "s", 2)


class _Cause:
    """What let a line go on at an instant."""

    def __init__(
        self,
        record: Record,
        lines: Lines,
        steps: tuple[terms.Step, ...],
        asked: Mapping[int, Iterable[str]],
        tick: int,
        line: int,
    ) -> None:
        self.record = record
        self.lines = lines
        self.steps = steps
        self.asked = asked
        self.tick = tick
        self.line = line

    def found(self) -> tuple[Bar | None, tuple[Seen, ...], str]:
        """The wait that ended, the readings that ended it, and both in words."""
        bar = self._ended()
        if bar is None:
            going = next(
                (b for b in self.record.program if b.line == self.line and b.start <= self.tick < b.stop), None
            )
            if going is not None and (going.start < self.tick or going.state == "looping"):
                names = self._names(self.line) or tuple(self.asked.get(self.line, ()))
                seen = seen_at(self.record, names, self.tick)
                return going, seen, f"It goes on with what it reads: {were(seen)}." if seen else ""
            return None, (), "Nothing was waited for." if self.tick else "That is where the program begins."
        waits = places_of(bar.line, self.steps)
        since = f"Line {bar.line} had waited since {_at(bar.start)}"
        if any(e.kind == "patience" and e.tick == self.tick and e.line == bar.line for e in self.record.events):
            return bar, self._seen(waits), f"{since}, and its patience ran out: {self._words(bar.line)} had not come."
        guard = self._guard(waits)
        if guard is not None:
            seen = seen_at(self.record, parts_in(guard.condition), self.tick)
            words = self._handler_words(guard)
            return bar, seen, f"{since} when {words or 'what abandons it'} came true; {were(seen)}."
        if bar.state == "looping":
            seen = seen_at(self.record, self.asked.get(bar.line, ()) or self._names(bar.line), self.tick)
            return bar, seen, f"Line {bar.line} had looked again and again since {_at(bar.start)}{_then(seen)}."
        condition = next((c for place in waits if (c := condition_of(place.step)) is not None), None)
        if condition is not None:
            seen = seen_at(self.record, parts_in(condition), self.tick)
            held = self._held(waits)
            return bar, seen, f"{since} until {self._words(bar.line)}{held}{_then(seen)}."
        seen = seen_at(self.record, self.asked.get(bar.line, ()), self.tick) if not waits else ()
        lasted = show((bar.stop - bar.start) / 1e6, "s", 3)
        return (
            bar,
            seen,
            f"Line {bar.line} had gone on since {_at(bar.start)}; it was over after {lasted}{_then(seen)}.",
        )

    def _ended(self) -> Bar | None:
        """The wait that ended at this instant: the line's own one, or that of its lane, rather than another's."""
        ended = [bar for bar in self.record.program if bar.stop == self.tick and bar.start < bar.stop]
        lanes = {
            bar.lane for bar in self.record.program if bar.line == self.line and bar.start <= self.tick <= bar.stop
        }
        ranked = sorted(ended, key=lambda bar: (bar.line == self.line, bar.lane in lanes, bar.start))
        return ranked[-1] if ranked else None

    def _guard(self, waits: list[Place]) -> terms.Guarded | None:
        for place in places_of(self.line, self.steps):
            for inside in waits:
                if (guard := guard_of(place, inside)) is not None:
                    return guard
        return None

    def _handler_words(self, guard: terms.Guarded) -> str:
        """The condition behind `unless`, which stands below the body."""
        last = max((step.line for step, _ in terms.walk_steps(guard.body)), default=guard.line)
        below = range(last, len(self.lines.lines) + 1)
        line = next((n for n in below if self.lines.text(n).startswith("unless")), 0)
        return condition_words(self.lines.text(line))

    def _names(self, line: int) -> tuple[str, ...]:
        """The sensors that the steps of a line read."""
        found: dict[str, None] = {}
        for place in places_of(line, self.steps):
            condition = condition_of(place.step)
            values = [value for _, value in place.step.settings] if isinstance(place.step, terms.Follow) else []
            for term in [*values, *([condition] if condition is not None else [])]:
                found |= dict.fromkeys(parts_in(term))
        return tuple(found)

    def _seen(self, waits: list[Place]) -> tuple[Seen, ...]:
        names = [name for place in waits if (c := condition_of(place.step)) is not None for name in parts_in(c)]
        return seen_at(self.record, dict.fromkeys(names), self.tick)

    def _held(self, waits: list[Place]) -> str:
        for place in waits:
            ending = getattr(place.step, "ending", None)
            if isinstance(ending, terms.Until) and isinstance(ending.held, terms.Const):
                return f", held {show(ending.held.value, 's', 3)}"
        return ""

    def _words(self, line: int) -> str:
        return condition_words(self.lines.text(line)) or "what it waits for"


def _then(seen: tuple[Seen, ...]) -> str:
    return f"; then {were(seen)}" if seen else ""
