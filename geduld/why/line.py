"""Why a line did not run: what stood in front of it, and how near that came to letting it run."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.quantities import show
from geduld.run.record.record import Record
from geduld.why.places import Block, Place, condition_of, places_of
from geduld.why.probing import came_to, probed
from geduld.why.readings import condition_words, nearest

# The record of the same program in the same world with other steps: notes in front of some.
RunOf = Callable[[Block], Record]


@dataclass(frozen=True)
class WhyNot:
    """Whether a line ran, or why not: `line` is the one that kept it from that (0 for none), from `tick` on."""

    ran: bool
    line: int
    tick: int
    because: str


def why_not(run_of: RunOf, text: str, steps: Block, line: int) -> WhyNot:
    """Why a line of a program in the notation did not run; when it ran first, where it did."""
    lines = Lines(text)
    places = places_of(line, steps)
    if not places:
        return WhyNot(False, 0, 0, f"Line {line} is no step, so it is not run by itself.")
    found = [_asked(run_of, lines, place) for place in places]
    return next((one for one in found if one.ran), found[0])


def _at(tick: int) -> str:
    return show(tick / 1e6, "s", 2)


def _asked(run_of: RunOf, lines: Lines, place: Place) -> WhyNot:
    record, line = run_of(probed(place)), place.step.line
    came = came_to(record)
    kept = _Kept(record, lines, line)
    for depth, (owner, block, last) in enumerate(place.path):
        if (depth, 0) not in came:
            return kept.not_entered(owner, block)
        if (depth, last) not in came:
            index = max(index for index in range(last) if (depth, index) in came)
            return kept.behind(block[index], came[depth, index])
    tick = came[len(place.path) - 1, place.path[-1][2]]
    return WhyNot(True, line, tick, f"Line {line} ran, first at {_at(tick)}.")


class _Kept:
    """What kept a line from running."""

    def __init__(self, record: Record, lines: Lines, line: int) -> None:
        self.record = record
        self.lines = lines
        self.line = line

    def behind(self, step: terms.Step, since: int) -> WhyNot:
        """A step in front of the line, at which the program stayed."""
        inside = {inner.line for inner, _ in terms.walk_steps((step,))}
        finish = next((event for event in self.record.events if event.kind == "finish" and event.line in inside), None)
        if finish is not None or isinstance(step, terms.Finish):
            line, tick = (finish.line, finish.tick) if finish is not None else (step.line, since)
            return self._not(line, tick, f"Line {line} ended the program at {_at(tick)}, before line {self.line}.")
        bars = [bar for bar in self.record.program if bar.line in inside and bar.start >= since]
        if not bars:
            return self._not(
                step.line, since, f"The run was at line {step.line} when it ended, before line {self.line}."
            )
        bar = max(bars, key=lambda one: (one.stop, one.start))
        waits = next(inner for inner, _ in terms.walk_steps((step,)) if inner.line == bar.line)
        condition = condition_of(waits)
        if condition is None or isinstance(waits, terms.Repeat):
            line = step.line if isinstance(step, terms.Repeat) else bar.line
            told = "still repeats" if isinstance(step, terms.Repeat) else "was not over"
            return self._not(line, since, f"Line {line} {told} when the run ends, and line {self.line} comes after it.")
        near = nearest(self.record, condition, bar.start, bar.stop)
        words = condition_words(self.lines.text(bar.line)) or "what it waits for"
        because = f"Line {bar.line} waits from {_at(bar.start)} on until {words}, and that did not come. {near}"
        return self._not(bar.line, bar.start, because)

    def not_entered(self, owner: terms.Step | None, block: Block) -> WhyNot:
        """A block that the program did not come to, of a step that it came to."""
        assert owner is not None  # the outermost block begins with the program
        ended, opened = self.record.ended_at, self._opened_by(block)
        words = condition_words(self.lines.text(opened)) or "its condition"
        if isinstance(owner, terms.Branches):
            condition = next(condition for condition, body in owner.arms if body is block)
            if condition is None:
                return self._not(
                    opened, 0, f"Line {opened} is for when nothing above it is true, and each time something was."
                )
            near = nearest(self.record, condition, 0, ended)
            return self._not(opened, 0, f"Line {opened} asks whether {words}, and no time it asked was that so. {near}")
        if isinstance(owner, terms.Guarded) and block is owner.handler:
            near = nearest(self.record, owner.condition, 0, ended)
            return self._not(
                opened,
                0,
                f"Line {opened} waits for {words} while the steps above it go on, and it did not come. {near}",
            )
        if isinstance(owner, terms.Guarded):
            return self._not(
                owner.line, 0, f"What abandons the steps of line {owner.line} held already when it began them."
            )
        if isinstance(owner, terms.Bands):
            return self._not(
                opened, 0, f"The value was in another band than that of line {opened} each time it was asked."
            )
        if isinstance(owner, terms.Repeat):
            return self._not(owner.line, 0, f"Line {owner.line} repeated its steps not once.")
        because = (
            f"It is for when the patience of line {owner.line} runs out, and what that line waits for came before."
        )
        return self._not(owner.line, 0, because)

    def _not(self, line: int, tick: int, because: str) -> WhyNot:
        return WhyNot(False, line, tick, because.strip())

    def _opened_by(self, block: Block) -> int:
        """The line that opens a block: the next one above it with less indentation."""
        first = min(step.line for step in block)
        if ": " in self.lines.text(first):  # a band with its steps behind its colon
            return first
        inner = len(self.lines.indent(first))
        above = (n for n in range(first - 1, 0, -1) if self.lines.text(n) and len(self.lines.indent(n)) < inner)
        return next(above, first)
