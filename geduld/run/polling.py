"""Loops that only look and command: all their passes at once.

A `repeat` whose body sets outputs and decides, but keeps no values and never waits, does in each pass what the
readings of that pass say. Its passes can be worked out as whole columns, with the record that going round one
by one would make.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.run.search import columns
from geduld.run.vector import Lookup, as_array, values
from geduld.worlds.trace import Floats, Ticks, Trace

_FIRST_CHUNK = 4_096
Mask = NDArray[np.bool_]


def is_stateless(step: terms.Repeat) -> bool:
    """Whether each pass depends on its own instant alone."""
    if step.form == "times" or not step.body or not all(_is_stateless(inner) for inner in step.body):
        return False
    return not any(isinstance(item, terms.Just | terms.Encoder) for term in terms_of(step) for item in term.walk())


def terms_of(step: terms.Repeat) -> Iterator[terms.Term]:
    """Every expression in a loop without state."""
    for inner, _ in terms.walk_steps((step,)):
        if isinstance(inner, terms.Command):
            yield from (value for _, value in inner.settings)
        elif isinstance(inner, terms.Branches):
            yield from (condition for condition, _ in inner.arms if condition is not None)
        elif isinstance(inner, terms.Bands | terms.Repeat) and inner.value is not None:
            yield inner.value


def _is_stateless(step: terms.Step) -> bool:
    if isinstance(step, terms.Command):
        return step.ending is None
    if isinstance(step, terms.Branches):
        return all(_is_stateless(inner) for _, body in step.arms for inner in body)
    if isinstance(step, terms.Bands):
        return step.slack == 0 and all(_is_stateless(inner) for body in terms.bodies(step) for inner in body)
    return isinstance(step, terms.Halt)


def commanded(step: terms.Step) -> Iterator[str]:
    """The outputs a stateless loop may set."""
    for inner, _ in terms.walk_steps((step,)):
        if isinstance(inner, terms.Command):
            yield from (part for part, _ in inner.settings)
        elif isinstance(inner, terms.Halt):
            yield from inner.parts


@dataclass
class Passes:
    """What some passes command, and on which lines.

    `absent` holds tick, line and part of each line's first absent value.
    """

    ticks: Ticks
    values: dict[str, Floats] = field(default_factory=dict)
    touched: dict[str, Mask] = field(default_factory=dict)
    absent: list[tuple[int, int, str]] = field(default_factory=list)
    lines: dict[str, int] = field(default_factory=dict)

    def command(self, part: str, found: Floats, active: Mask, line: int) -> None:
        """Sets an output in the active passes; an absent value leaves it as it is."""
        if part not in self.values:
            self.values[part] = np.zeros(len(self.ticks))
            self.touched[part] = np.zeros(len(self.ticks), np.bool_)
        missing = np.isnan(found) & active
        if missing.any():
            self.absent.append((int(self.ticks[missing.argmax()]), line, part))
        set_here = active & ~missing
        self.values[part] = np.where(set_here, found, self.values[part])
        self.touched[part] |= set_here
        if set_here.any():
            self.lines[part] = line


def chunks(
    step: terms.Repeat, trace: Trace, start: int, count: int, loop: int, variables: dict[int, float]
) -> Iterator[tuple[Passes, bool]]:
    """At most `count` passes from `start` on, `loop` ticks apart; True with the chunk in which the loop is left.

    The pass at which it is left is not part of the chunk: the next instant is.
    """
    done, size = 0, _FIRST_CHUNK
    while done < count:
        stop = min(count, done + size)
        ticks = start + np.arange(done, stop, dtype=np.int64) * loop
        places = trace.times.searchsorted(ticks, "right") - 1
        left = _left_at(step, columns(trace, places, ticks, variables), len(ticks))
        if left is not None:
            ticks, places = ticks[:left], places[:left]
        passes = Passes(ticks)
        if len(ticks):
            _block(step.body, passes, columns(trace, places, ticks, variables), np.ones(len(ticks), np.bool_))
        yield passes, left is not None
        if left is not None:
            return
        done, size = stop, size * 2


def _left_at(step: terms.Repeat, lookup: Lookup, count: int) -> int | None:
    if step.value is None:
        return None
    holds = as_array(values(step.value, lookup), count).astype(np.bool_)
    leaves = ~holds if step.form == "while" else holds
    return int(leaves.argmax()) if leaves.any() else None


def _block(steps: tuple[terms.Step, ...], passes: Passes, lookup: Lookup, active: Mask) -> None:
    count = len(passes.ticks)
    for step in steps:
        if isinstance(step, terms.Command):
            for part, value in step.settings:
                passes.command(part, as_array(values(value, lookup), count), active, step.line)
        elif isinstance(step, terms.Halt):
            for part in step.parts:
                passes.command(part, np.zeros(count), active, step.line)
        elif isinstance(step, terms.Branches):
            _branches(step, passes, lookup, active)
        elif isinstance(step, terms.Bands):
            found = as_array(values(step.value, lookup), count)
            known = ~np.isnan(found)
            band = np.searchsorted(np.array(step.edges), found, "right")
            _block(step.absent, passes, lookup, active & ~known)
            for index, body in enumerate(step.bodies):
                _block(body, passes, lookup, active & known & (band == index))


def _branches(step: terms.Branches, passes: Passes, lookup: Lookup, active: Mask) -> None:
    rest = active
    for condition, body in step.arms:
        if condition is None:
            _block(body, passes, lookup, rest)
            return
        holds = as_array(values(condition, lookup), len(passes.ticks)).astype(np.bool_)
        _block(body, passes, lookup, rest & holds)
        rest = rest & ~holds
