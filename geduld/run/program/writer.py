"""Writes the source of a lane, line by line."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.program.requests import POWER, Op
from geduld.run.program.scalar import Names

_KEEPING = (terms.Variable, terms.Timer, terms.Just, terms.Encoder)


@dataclass
class Writer:
    """The source of a lane as it grows, with the tables that go with it, and what stands around the place it is at.

    `controlled` are the motors that are ever controlled otherwise than by power; `inline` the outputs that the source
    itself sets; `block` writes the steps of a block; `closed` when what the program does changes what it reads;
    `has_lanes` when whoever drives it wakes lanes one by one; `left` is the name under which a loop whose passes may be
    cut short notes that it is left.
    """

    rig: Rig
    names: Names
    controlled: frozenset[str]
    inline: frozenset[str]
    block: Callable[[Writer, int, tuple[terms.Step, ...]], None]
    closed: bool = False
    has_lanes: bool = False
    lines: list[str] = field(default_factory=list)
    ops: list[Op] = field(default_factory=list)
    conditions: list[terms.Term] = field(default_factory=list)
    follows: list[terms.Term] = field(default_factory=list)
    polls: list[terms.Repeat] = field(default_factory=list)
    travels: list[terms.Travel] = field(default_factory=list)
    texts: list[str] = field(default_factory=list)
    outputs: list[str] = field(default_factory=list)
    loops: int = 0
    depth: int = 0
    in_lane: bool = False
    left: str = ""
    guards: list[tuple[int, int, terms.Term]] = field(default_factory=list)
    guard_count: int = 0
    lane_count: int = 0
    samplers: list[tuple[Names, str] | None] = field(default_factory=list)
    asks_encoders: bool = False
    at_rest: dict[tuple[str, ...], tuple[tuple[str, float], ...]] = field(default_factory=dict)

    def add(self, level: int, text: str) -> None:
        """A line of source."""
        self.lines.append("    " * level + text)

    def set_line(self, level: int, step: terms.SetLine) -> None:
        """Sets a line of the controller. Raises TypeError: only words do that."""
        raise TypeError("a behaviour sets no lines")

    def each_time(self, level: int, step: terms.EachTime) -> None:
        """Asks for something to be performed each time. Raises TypeError: only words do that."""
        raise TypeError("a behaviour asks for no interrupts")

    def line(self, step: terms.Step) -> str:
        """The line that a step stands in, as source."""
        return str(step.line)

    def text(self, text: str | int) -> str:
        """A text as source: its place in the table, or the variable that holds it."""
        if isinstance(text, int):
            return self.names.variable(text)
        self.texts.append(text)
        return str(len(self.texts) - 1)

    def condition(self, term: terms.Term) -> int:
        """A condition's place in the table."""
        self.conditions.append(term)
        return len(self.conditions) - 1

    def op(self, op: Op) -> str:
        """An op under the name that the generated source has for it."""
        self.ops.append(op)
        return f"k{len(self.ops) - 1}"

    def kept(self, *used: terms.Term) -> str:
        """What some terms keep: their variables with their values now; the executor fills in the encoders."""
        items = [item for term in used for item in keeping(term)]
        if not items:
            return "()"
        indices = sorted({item.index for item in items if isinstance(item, terms.Variable | terms.Timer | terms.Just)})
        encoders = sorted({item.part for item in items if isinstance(item, terms.Encoder)})
        kept = [f"({index}, {self.names.variable(index)}), " for index in indices]
        self.asks_encoders |= bool(encoders)
        kept += [f"({name!r}, None), " for name in encoders]
        return "(" + "".join(kept) + ")"

    def look(self, level: int, *conditions: terms.Term) -> None:
        """Before conditions are asked: what has just become so is what was not there when they were asked last."""
        for just in _justs(*conditions):
            seen = self.names.variable(just.index)
            self.add(level, f"j{just.index} = {seen}")
            self.add(level, f"{seen} = {self.names.channel(just.counter)}")

    def look_afresh(self, level: int, *conditions: terms.Term) -> None:
        """Before a wait: only what becomes so from now on counts."""
        for just in _justs(*conditions):
            seen = self.names.variable(just.index)
            self.add(level, f"j{just.index} = {seen} = {self.names.channel(just.counter)}")

    def guards_now(self) -> str:
        """The guards around a step, the outermost first: number, condition, and its variables now."""
        return "(" + "".join(f"({n}, {index}, {self.kept(term)}), " for n, index, term in self.guards) + ")"

    def called_out(self, level: int) -> None:
        """Behind a wait: when a guard ended it, the body is left."""
        if self.guards:
            self.add(level, "if came > 1: raise Abandoned(came - 2)")

    def forget(self, level: int, parts: set[str]) -> None:
        """The executor has set these outputs, so their last value is no longer known here."""
        for part in sorted(parts & self.inline):
            if part not in self.outputs:
                self.outputs.append(part)
            self.add(level, f"o{self.outputs.index(part)} = nan")

    def put(self, level: int, part: str, value: str, line: str, control: int = POWER) -> None:
        """Commands an output. Its last value is a local, so that a command that changes nothing is cheap."""
        if part in self.controlled:
            self.add(level, f"control({part!r}, {control}, now)")
        if part not in self.outputs:
            self.outputs.append(part)
        last = f"o{self.outputs.index(part)}"
        if value.replace(".", "").isdigit():
            self.add(level, f"if {last} != {value}: {last} = put({part!r}, {value}, now, {line})")
        else:
            self.add(level, f"x = {value}")
            self.add(level, f"if x != {last}: {last} = put({part!r}, x, now, {line})")


def keeping(term: terms.Term) -> list[terms.Term]:
    """The terms inside a term that keep something from one instant to the next."""
    if type(term) is terms.Compare and type(term.left) is terms.Reading and type(term.right) is terms.Const:
        return []
    return [inner for inner in term.walk() if type(inner) in _KEEPING]


def _justs(*conditions: terms.Term) -> Iterator[terms.Just]:
    return (term for condition in conditions for term in keeping(condition) if isinstance(term, terms.Just))
