"""What a run shows about a program in Python or C."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from geduld.hints.lines import Lines
from geduld.language.messages import Hint, ordered
from geduld.language.quantities import show
from geduld.run.record.record import Record

_HARDLY_US = 2_000


def script_hints(text: str, record: Record) -> tuple[Hint, ...]:
    """Everything that a run shows about its program."""
    lines = Lines(text)
    return ordered((*_broke_off(lines, record), *_left_running(lines, record), *_no_time(lines, record)))


def _broke_off(lines: Lines, record: Record) -> Iterator[Hint]:
    for event in record.events:
        if event.kind in ("error", "limit") and event.line:
            remedy = "On a real robot the program would stop here too, with its outputs as they are."
            yield lines.warning("broke-off", event.line, f"{event.text} It was at {_at(event.tick)}.", remedy)
        elif event.kind == "absent":
            message = f"{event.text} It was at {_at(event.tick)}."
            yield lines.advice("absent-as-a-value", event.line, message, "Ask first whether there is a reading.")


def _left_running(lines: Lines, record: Record) -> Iterator[Hint]:
    """Motors that still have power when the program is over."""
    if record.why not in ("finished", "idle", "error") or (record.why == "finished" and record.rig.stops_at_end):
        return
    running: dict[int, list[str]] = {}
    for name, signal in record.commands.items():
        if record.rig.parts[name].kind.spins and signal.values[-1] != 0:
            running.setdefault(record.set_by[name], []).append(f"{name} at {show(float(signal.values[-1]), '%', 1)}")
    for line, parts in running.items():
        message = f"The program ends and leaves {' and '.join(parts)} running; a real robot would go on."
        yield lines.warning("left-running", line, message, "Stop it before the end.")


def _no_time(lines: Lines, record: Record) -> Iterator[Hint]:
    """Motors that are given power and are stopped again before they could move."""
    said: set[int] = set()
    for name, signal in record.commands.items():
        if not record.rig.parts[name].kind.spins or len(signal.times) < 2:
            continue
        spans = np.diff(signal.times)
        given = (signal.values[:-1] != 0) & (signal.values[1:] == 0)
        short = np.flatnonzero(given & (spans <= _HARDLY_US))
        if not len(short) or len(short) < (np.count_nonzero(given) + 1) // 2:
            continue
        at = int(signal.times[short[0]])
        line = record.set_by.get(name, 0)
        if line and line not in said:
            said.add(line)
            message = f"{name} is given power at {_at(at)} and stopped {show(int(spans[short[0]]) / 1000, 'ms')} later."
            yield lines.warning("no-time", line, message, "Wait between the two, so that it can move.")


def _at(tick: int) -> str:
    return show(tick / 1e6, "s", 2)
