"""Hints about readings that are absent while they are to steer something."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.run.record.record import Record
from geduld.worlds.signal import instants
from geduld.worlds.trace import Floats, Trace

LEAST_US = 500_000
LEAST_SHARE = 0.1


def absent_hints(bound: terms.Bound, lines: Lines, trace: Trace, record: Record) -> Iterator[Hint]:
    """Steps that a missing reading leaves without an answer, where the robot stands still because of it."""
    still: dict[str, int] = {}
    for step, loops in terms.walk_steps(bound.steps):
        for name in _steered_by(step, loops, record):
            if name not in still:
                still[name] = _still_without(name, trace, record)
            lasted, share = still[name], still[name] / max(1, record.ended_at)
            if lasted < LEAST_US or share < LEAST_SHARE:
                continue
            time = f"{show(share * 100, '%', 0)} of this run ({show(lasted / 1e6, 's', 1)})"
            why = "no band holds without one" if isinstance(step, terms.Bands) else "no comparison holds without one"
            message = f"{name} has no reading for {time} in which every motor stands still: {why}."
            remedy = (
                "Add a band: absent: …"
                if isinstance(step, terms.Bands)
                else f"Say also what to do if {name} is absent."
            )
            yield lines.warning("absent-stands-still", step.line, message, remedy)
            break


def _steered_by(step: terms.Step, loops: int, record: Record) -> Iterator[str]:
    """The readings that decide what a step does, where it says nothing of their absence."""
    asked: list[terms.Term] = []
    if isinstance(step, terms.Bands) and not step.absent:
        asked = [step.value]
    elif isinstance(step, terms.Branches) and loops:
        asked = [condition for condition, _ in step.arms if condition is not None]
    elif isinstance(step, terms.Repeat) and step.form in ("while", "until") and step.value is not None:
        asked = [step.value]
    else:
        ending = getattr(step, "ending", None)
        if isinstance(ending, terms.Until) and _never_ended(step.line, record):
            asked = [ending.condition]
    if any(isinstance(inner, terms.Absent) for term in asked for inner in term.walk()):
        return
    # a radio that has heard nothing yet, and a key that nobody touches, are no lost reading
    yield from dict.fromkeys(
        inner.part
        for term in asked
        for inner in term.walk()
        if type(inner) is terms.Reading and inner.dimension not in (TEXT, TRUTH)
    )


def _never_ended(line: int, record: Record) -> bool:
    """Whether the last wait on a line was cut short by the end of the run, or by its patience."""
    bars = [bar for bar in record.program if bar.line == line]
    if not bars:
        return False
    patience = any(event.kind == "patience" and event.line == line for event in record.events)
    return patience or (record.why == "time" and bars[-1].stop >= record.lasted)


def _still_without(name: str, trace: Trace, record: Record) -> int:
    """For how many ticks, up to the program's end, a reading is absent while every motor is at rest."""
    motors = [s for part, s in record.commands.items() if record.rig.parts[part].kind.spins]
    changes = instants(trace.times, *(signal.times for signal in motors))
    starts = changes[changes < record.ended_at]
    if not len(starts) or not motors:
        return 0
    spans = np.diff(np.append(starts, record.ended_at))
    moving = np.zeros(len(starts), np.bool_)
    for signal in motors:
        moving |= _held(signal.times, signal.values, starts) != 0
    values = trace.column(name)
    if values is None:
        return int(spans[~moving].sum())
    absent = np.isnan(_held(trace.times, values, starts))
    return int(spans[absent & ~moving].sum())


def _held(times: np.ndarray, values: Floats, at: np.ndarray) -> Floats:
    """A signal's value at each of some instants, none of them before its first."""
    found: Floats = values[np.maximum(times.searchsorted(at, "right") - 1, 0)]
    return found
