"""The phases of a figure as a check writes them: read, written, and bound to a rig."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.binding.asked_by_checks import is_still
from geduld.binding.scope import Scope
from geduld.checks.lengths import TO_THE_END, BoundLength, bind_length, length_text, read_length
from geduld.checks.sheet import Length, Phase, Turns
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.formatter import Printer, expression_text
from geduld.language.lexer import Line
from geduld.language.messages import Problem, Span, error
from geduld.language.quantities import TIME, microseconds
from geduld.run.record.record import Record
from geduld.worlds.trace import Ticks

MOST_PHASES = 100
_EXAMPLE = "Write for example: in turn, 4 times, gaps up to 0.5 s:"
_EXAMPLE_OF_ONE = "Write for example: drive > 0 % for 2 s +- 0.1 s"


@dataclass(frozen=True)
class BoundPhase:
    """A phase as it is looked for: which of the check's conditions it is, and how it joins the one before.

    `gap` is the most ticks between the two, None for any; `anything` allows other phases of the figure in between;
    `round` counts the rounds of the innermost group that is repeated, 0 where none is. A `pause` is standing still: it
    never counts as another phase in between.
    """

    condition: int
    length: BoundLength | None
    gap: int | None
    anything: bool
    round: int
    pause: bool

    def ends(self, record: Record, starts: Ticks, behinds: Ticks) -> tuple[Ticks, NDArray[np.bool_]]:
        """Where stretches of it end, and which of them the run's end leaves open.

        A robot goes on standing still when its program is over: that makes no pause too long.
        """
        stops, cut = np.minimum(behinds, record.lasted), behinds > record.lasted
        length = self.length
        if self.pause and length and length.what == "time" and length.form != TO_THE_END and record.why == "finished":
            enough = np.maximum(record.ended_at, starts + int(length.wanted))
            longer = (behinds > record.ended_at) & (enough < stops)
            stops, cut = np.where(longer, enough, stops), cut & ~longer
        return stops, cut


def read_turns(line: Line, cursor: Cursor, before: tuple[str, ...]) -> Turns:
    """A line behind `in turn`, with the phases under it. Raises Problem."""
    times, gap, anything = "1", None, False
    while cursor.take(","):
        if cursor.take("gaps", "up", "to"):
            gap = arithmetic(cursor)
        elif cursor.take("anything", "between"):
            anything = True
        elif cursor.token.kind == "number" and times == "1":
            times = _times(cursor)
        else:
            raise cursor.unexpected("how often, gaps up to, or anything between", _EXAMPLE)
    cursor.expect(":", "at the end of the line", _EXAMPLE)
    cursor.expect_end()
    if not line.children:
        message = "This has no phases under it."
        raise Problem(error("no-phases", _whole(line), message, _EXAMPLE_OF_ONE))
    phases = tuple(read_phase(child, Cursor(child)) for child in line.children)
    return Turns(times, gap, anything, phases, before, line.comment, _behind(line), span=_whole(line))


def _behind(line: Line) -> tuple[str, ...]:
    """The comments that close the block under a line."""
    last = line.children[-1]
    return last.trailing if not last.children else ()


def _times(cursor: Cursor) -> str:
    token = cursor.next()
    if not token.text.isdigit() or not 0 < int(token.text) <= MOST_PHASES:
        message = f"A group of phases is repeated 1 to {MOST_PHASES} times."
        raise Problem(error("phase-count", token.span, message, _EXAMPLE))
    if not (cursor.take("times") or cursor.take("time")):
        raise cursor.unexpected('"times"', _EXAMPLE)
    return token.text


def read_phase(line: Line, cursor: Cursor) -> Phase | Turns:
    """A phase, or a group of them. Raises Problem."""
    if cursor.take("in", "turn"):
        return read_turns(line, cursor, line.before)
    start = cursor.token.span
    condition, length = expression(cursor), None
    if cursor.take("for"):
        length = read_length(cursor)
    elif cursor.take("to", "the", "end"):
        cursor.take("of", "the", "run")
        length = Length(TO_THE_END)
    cursor.expect_end()
    if line.children:
        message = "Nothing stands under a phase."
        raise Problem(error("phase", _whole(line.children[0]), message, "Indent it as much as the phases beside it."))
    return Phase(condition, length, line.before, line.comment, span=cursor.since(start))


def _whole(line: Line) -> Span:
    return line.tokens[0].span.to(line.tokens[-1].span)


def write_phase(out: Printer, level: int, phase: Phase | Turns, lead: str = "") -> None:
    """A phase or a group of them in its standard form; `lead` stands in front of it."""
    if isinstance(phase, Phase):
        length = "" if phase.length is None else f" {_for(phase.length)}"
        out.line(level, f"{lead}{expression_text(phase.condition)}{length}", phase.before, phase.comment)
        return
    times = "" if phase.times == "1" else f", {phase.times} times"
    gap = f", gaps up to {expression_text(phase.gap)}" if phase.gap else ""
    anything = ", anything between" if phase.anything else ""
    out.line(level, f"{lead}in turn{times}{gap}{anything}:", phase.before, phase.comment)
    for inner in phase.phases:
        write_phase(out, level + 1, inner)
    out.comments(level + 1, phase.trailing)


def _for(length: Length) -> str:
    return length_text(length) if length.form == TO_THE_END else f"for {length_text(length)}"


def conditions_of(phases: tuple[Phase | Turns, ...]) -> Iterator[Phase]:
    """Every phase as it is written, groups taken apart but not repeated."""
    for phase in phases:
        if isinstance(phase, Turns):
            yield from conditions_of(phase.phases)
        else:
            yield phase


def bind_phases(
    phases: tuple[Phase | Turns, ...], found: tuple[terms.Term, ...], scope: Scope
) -> tuple[BoundPhase, ...]:
    """All phases in their order, groups repeated; `found` are the conditions of the check. Raises Problem."""
    head = phases[0]
    assert isinstance(head, Turns)
    binding = _Binding(scope, found)
    bound = binding.all(phases, _gap(head, scope), head.anything)
    if len(bound) > MOST_PHASES:
        message = f"These are {len(bound)} phases; a figure has at most {MOST_PHASES}."
        raise Problem(error("phase-count", head.span, message, "Check a part of it, or each round by itself."))
    return tuple(bound)


class _Binding:
    def __init__(self, scope: Scope, found: tuple[terms.Term, ...]) -> None:
        self.scope = scope
        self.found = found

    def all(self, phases: tuple[Phase | Turns, ...], gap: int | None, anything: bool) -> list[BoundPhase]:
        """Some phases in a row, with what their group says of joining."""
        bound: list[BoundPhase] = []
        for phase in phases:
            if isinstance(phase, Turns):
                bound += self._group(phase, gap, anything)
                continue
            length = None if phase.length is None else bind_length(phase.length, self.scope)
            condition = self.scope.condition(phase.condition)
            pause = is_still(self.scope.rig, condition)
            bound.append(BoundPhase(self.found.index(condition), length, gap, anything, 0, pause))
        return bound

    def _group(self, turns: Turns, gap: int | None, anything: bool) -> list[BoundPhase]:
        own = _gap(turns, self.scope)
        once = self.all(turns.phases, gap if own is None else own, anything or turns.anything)
        times = int(turns.times)
        if times == 1 or len(once) * times > 10 * MOST_PHASES:
            return once * times
        return [replace(phase, round=phase.round or count) for count in range(1, times + 1) for phase in once]


def _gap(turns: Turns, scope: Scope) -> int | None:
    if turns.gap is None:
        return None
    term = scope.value(turns.gap, TIME, "A gap")
    if not isinstance(term, terms.Const) or not 0 <= term.value < 1e6:
        message = "A gap is a fixed time, not less than nothing."
        raise Problem(error("check-time", turns.gap.span, message, _EXAMPLE))
    return microseconds(term.value)
