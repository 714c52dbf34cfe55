"""What a record tells besides readings and commands, as checks ask for it: signals over the run."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from geduld.binding import terms
from geduld.checks.turning import Turning
from geduld.run.program.requests import BRAKE, COAST, POWER
from geduld.run.record.record import Event, Record
from geduld.worlds.signal import Signal


def not_told(term: terms.Told, record: Record) -> str:
    """Why a record cannot tell this; empty when it can."""
    if term.what in ("turning", "rolling"):
        return Turning.of(record).unknown(term.name)
    if record.is_recording:
        return {
            "control": "A recording does not say how a motor was stopped.",
            "line": "A recording has no program, so no line of it waited.",
        }.get(term.what, f"A recording has no program, so nobody knows what it {term.what}.")
    return ""


def told(term: terms.Told, record: Record) -> Signal:
    """What the record tells, over the run: a code, a speed, or 1 where it is so and 0 where it is not."""
    match term.what:
        case "control":
            return _control(term.name, record)
        case "turning":
            return Turning.of(record).speed(term.name)
        case "rolling":
            speed = Turning.of(record).speed(term.name)
            return Signal(speed.times, speed.values * (record.rig.sizes()["wheel.circumference"] / 360))
        case "finished":
            ended = record.why == "finished" and term.name in ("", record.said)
            return _so([(record.ended_at, record.lasted + 1)] if ended else [])
        case "line":
            waits = [bar for bar in record.program if bar.state == "waiting" and str(bar.line) == term.name]
            return _so((bar.start, bar.stop) for bar in waits)
        case "carried":
            return _carried(term.name, record)
        case "gripped" | "placed" | "dropped":
            instants = [event.tick for event in record.events if event.kind == term.what and _is_of(event, term.name)]
        case "stalled":
            stalls = (event for event in record.events if event.kind in ("stall", "end"))
            instants = [event.tick for event in stalls if event.what == term.name]
        case _:
            kind = {"sent": "send", "noted": "note"}[term.what]
            instants = [event.tick for event in record.events if event.kind == kind and event.text == term.name]
    return _so((tick, tick + 1) for tick in instants)


def _is_of(event: Event, load: str) -> bool:
    """Whether an event is about a load; `tray on shelf` is one about the tray too."""
    return load in (event.what, event.what.partition(" on ")[0])


def _carried(load: str, record: Record) -> Signal:
    """Where a load was held."""
    stretches, since = [], None
    for event in record.events:
        if event.kind == "gripped" and event.what == load:
            since = event.tick
        elif event.kind in ("placed", "dropped") and since is not None and _is_of(event, load):
            stretches.append((since, event.tick))
            since = None
    return _so([*stretches, (since, record.lasted + 1)] if since is not None else stretches)


def _so(stretches: Iterable[tuple[int, int]]) -> Signal:
    """1 in some stretches and 0 elsewhere; stretches that touch are one."""
    edges: dict[int, int] = {}
    for start, stop in stretches:
        edges[start] = edges.get(start, 0) + 1
        edges[stop] = edges.get(stop, 0) - 1
    ticks = sorted({0, *edges})
    depth = np.cumsum([edges.get(tick, 0) for tick in ticks])
    return Signal(np.array(ticks, np.int64), (depth > 0).astype(np.float64))


def _control(motor: str, record: Record) -> Signal:
    """How a motor is controlled; without power it is braked or coasts in its own way."""
    command, control = record.commands[motor], record.controls.get(motor)
    rest = COAST if record.rig.parts[motor].stop == "coast" else BRAKE
    ticks = command.times if control is None else np.union1d(command.times, control.times)
    codes = np.full(len(ticks), float(POWER)) if control is None else control.at(ticks)
    codes = np.where((codes == POWER) & (command.at(ticks) == 0), rest, codes)
    return Signal(ticks, codes)
