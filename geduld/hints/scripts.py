"""What a run shows about a program in Python or C."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from geduld.binding.terms import Threshold
from geduld.hints.lines import Lines
from geduld.hints.wiring import wiring_hints
from geduld.hints.world import chatter, range_seen, shown
from geduld.language.messages import Hint, ordered
from geduld.language.quantities import TRUTH, show
from geduld.rig.model import Rig
from geduld.run.record.record import Record
from geduld.worlds.trace import Trace

_HARDLY_US = 2_000
# How long after a reading has passed its value a program that looks again and again may answer.
_ANSWERS_US = 60_000


@dataclass(frozen=True)
class WaitingLoop:
    """A loop whose end is asked of `parts`, from its line to its last one; `first` when nothing but the program's own
    lines stand above it, and it does nothing but wait.
    """

    line: int
    last: int
    parts: tuple[str, ...]
    first: bool = False


def script_hints(
    text: str, rig: Rig, seen: Trace, record: Record, thresholds: Iterable[Threshold], loops: Iterable[WaitingLoop]
) -> tuple[Hint, ...]:
    """Everything that a run shows about its program, with the numbers and loops in it that ask readings; `seen` is what
    it could see.
    """
    lines, waits = Lines(text), list(loops)
    found = [*_broke_off(lines, record), *_left_running(lines, record), *_no_time(lines, record)]
    found += [*_one_side(lines, rig, record), *_already_true(lines, rig, seen, record, waits)]
    found += _never_came(lines, rig, seen, record, thresholds, waits)
    remedy = "Turn it on at one value and off at another, some noise apart; or ask twice before you believe it."
    found += chatter(thresholds, lines, seen, record, _ANSWERS_US, lambda part, slack: remedy)
    found += wiring_hints(rig, lines, seen, record)
    return ordered(found)


def _one_side(lines: Lines, rig: Rig, record: Record) -> Iterator[Hint]:
    """Only one wheel of the drive was ever commanded."""
    if rig.drive is None:
        return
    sides = (rig.drive.left, rig.drive.right)
    set_in_it = [side for side in sides if np.any(record.commands[side].values != 0)]
    if len(set_in_it) == 1:
        side = set_in_it[0]
        other = sides[1 - sides.index(side)]
        message = f'Only "{side}" of the drive is ever given power here, so the robot goes in a circle.'
        yield lines.warning("one-side", record.set_by.get(side, 1), message, f'Command "{other}" as well.')


def _already_true(lines: Lines, rig: Rig, seen: Trace, record: Record, loops: list[WaitingLoop]) -> Iterator[Hint]:
    """The first loop of a program that waits did not wait at all, because what it waits for held at the start."""
    bars = [bar.line for bar in record.program]
    for loop in loops:
        if not loop.first or any(line <= loop.last for line in bars) or (not bars and not record.ended_at):
            continue
        told = [
            f"{name} is {shown(rig.channels[name], float(seen.channels[name][0]))}"
            for name in loop.parts
            if name in seen.channels
        ]
        message = f"This loop ends at once when the program starts ({', '.join(told)}), so nothing is waited for."
        yield lines.warning("already-true", loop.line, message, "Compare with a value past the one at rest.")
        return


def _never_came(
    lines: Lines, rig: Rig, seen: Trace, record: Record, thresholds: Iterable[Threshold], loops: list[WaitingLoop]
) -> Iterator[Hint]:
    """The loop that the world ended in, when no reading that it asks for ever passed what it is compared with."""
    if record.why != "time" or not record.program:
        return
    last = record.program[-1]
    around = [loop for loop in loops if loop.line <= last.line <= loop.last]
    if not around or last.stop < record.lasted:
        return
    loop = max(around, key=lambda item: item.line)
    inside = [bar for bar in record.program if loop.line <= bar.line <= loop.last]
    since = int(seen.times.searchsorted(inside[0].start))
    for name in loop.parts:
        values = seen.column(name)
        asked = [item.value for item in thresholds if item.part == name and loop.line <= item.span.line <= loop.last]
        if values is None:
            continue
        if not asked and rig.channels[name].dimension != TRUTH:
            return
        for value in asked or [0.5]:
            known = values[since:][~np.isnan(values[since:])]
            if len(known) and (known > value).any() and (known <= value).any():
                return  # it came, and it is for other reasons that the loop goes on
    told = [
        range_seen(rig.channels[name], None if (c := seen.column(name)) is None else c[since:]) for name in loop.parts
    ]
    place = "in this trace" if record.pose is None else "on this floor"
    message = f"This never ended {place} from {_at(inside[0].start)} on. {' '.join(told)}".rstrip()
    yield lines.warning("never-came", loop.line, message, "Check the value, or give up after a time by the clock.")


def _broke_off(lines: Lines, record: Record) -> Iterator[Hint]:
    for event in record.events:
        if event.kind in ("error", "limit") and event.line:
            remedy = "On a real robot the program would stop here too, with its outputs as they are."
            yield lines.warning("broke-off", event.line, f"{event.text} It was at {_at(event.tick)}.", remedy)
        elif event.kind == "absent":
            message = f"{event.text} It was at {_at(event.tick)}."
            yield lines.advice("absent-as-a-value", event.line, message, "Ask first whether there is a reading.")
        elif event.kind == "bare":
            yield lines.advice("bare-line", event.line, event.text, "Look which line the part hangs on, by the rig.")


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
