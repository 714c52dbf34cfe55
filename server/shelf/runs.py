"""Runs as JSON, thinned out to what a screen can show."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from geduld.language.quantities import TEXT
from geduld.rig.model import Rig
from geduld.run.record.as_json import control_pairs
from geduld.run.record.record import Bar, Poses, Record
from geduld.worlds.floor.reader import floor_again
from geduld.worlds.signal import Signal
from server.shelf.lanes import lane, ride

MOST_BARS = 3_000
NARROW = 12  # columns, of two to a point, of the screen below which a bar cannot be told from the next
MANY = "many"


def run_json(record: Record, rig: Rig, stretch: tuple[int, int, int]) -> dict[str, Any]:
    """A run's record, all but its readings, in a stretch of ticks and columns. Seconds, the parts' units, cm."""
    bars = legible([bar for bar in record.program if bar.stop >= stretch[0] and bar.start <= stretch[1]], stretch)
    return {
        "ended_at": record.ended_at / 1e6,
        "lasted": record.lasted / 1e6,
        "why": record.why,
        "said": record.said,
        "outputs": outputs_json(record, rig, stretch),
        "lines": [lane(signal, _on_line(name, rig), None, *stretch) for name, signal in record.lines.items()],
        "program": bars[:MOST_BARS],
        "program_cut": len(bars) > MOST_BARS,
        "events": [
            {
                "at": event.tick / 1e6,
                "kind": event.kind,
                "line": event.line,
                "text": event.text,
                "where": None if event.at is None else [event.at[0] * 100, event.at[1] * 100],
            }
            for event in record.events[:MOST_BARS]
        ],
        "controls": {name: control_pairs(signal) for name, signal in record.controls.items()},
        "trust": {name: tick / 1e6 for name, tick in record.trust.items()},
        "readings": None,
        "ride": ride(record.pose) if record.pose is not None else None,
        "turned": [] if record.pose is None else _turned(record.pose, rig, stretch),
        "loads": [] if record.pose is None else _loads(record.pose, stretch),
        "angles": [] if record.pose is None else _angles(record.pose.angles, rig, stretch),
        "partner": None if record.partner is None else _partner(record.partner, stretch),
    }


def legible(bars: Sequence[Bar], stretch: tuple[int, int, int]) -> list[dict[str, Any]]:
    """A program's bars as they are drawn: what is too narrow to be seen apart is one bar of so many waits.

    A bar of several has the state `many`, the least and the greatest of their lines, and how many they are.
    """
    narrow = NARROW * (stretch[1] - stretch[0]) / stretch[2]
    found: list[dict[str, Any]] = []
    open_in: dict[str, dict[str, Any]] = {}  # the last bar of each lane, while narrow ones may join it
    for bar in bars:
        is_narrow = bar.stop - bar.start < narrow
        before = open_in.get(bar.lane)
        if is_narrow and before is not None and bar.start / 1e6 - before["to"] < narrow / 2e6:
            before.update(state=MANY, to=bar.stop / 1e6, times=before["times"] + 1)
            before["line"], before["last_line"] = min(before["line"], bar.line), max(before["last_line"], bar.line)
            continue
        new = {
            "line": bar.line, "last_line": bar.line, "from": bar.start / 1e6, "to": bar.stop / 1e6,
            "state": bar.state, "lane": bar.lane, "times": 1,
        }  # fmt: skip
        found.append(new)
        open_in.pop(bar.lane, None)
        if is_narrow:
            open_in[bar.lane] = new
    return found


def _partner(record: Record, stretch: tuple[int, int, int]) -> dict[str, Any]:
    """What the other device did, in short."""
    told = ("outputs", "program", "program_cut", "events", "controls")
    found = run_json(record, record.rig, stretch)
    readings = [lane(s, name, record.rig.channels[name].unit, *stretch) for name, s in record.readings.items()
                if record.rig.channels[name].dimension not in (TEXT,)]  # fmt: skip
    units = {name: part.unit_word for name, part in record.rig.channels.items()}
    return {"rig": record.rig.name, "units": units, "readings": readings, **{key: found[key] for key in told}}


def _on_line(line: str, rig: Rig) -> str:
    """A line of the controller, with what it does there."""
    for driver in rig.drivers:
        for role, name in driver.lines.items():
            if name == line:
                return f"{line} {driver.motor} {role}"
    return f"line {line}"


def _angles(angles: Mapping[str, Signal], rig: Rig, stretch: tuple[int, int, int]) -> list[dict[str, Any]]:
    """Where servos and steppers really stood."""
    return [lane(signal, name, rig.parts[name].unit, *stretch) for name, signal in angles.items()]


def _turned(pose: Poses, rig: Rig, stretch: tuple[int, int, int]) -> list[dict[str, Any]]:
    """How far what motors move had really turned, in deg."""
    return [
        lane(Signal(pose.times, pose.turned[name] / rig.physics.motor(name).gear), name, None, *stretch)
        for name in rig.dials
        if name in pose.turned
    ]


def _loads(pose: Poses, stretch: tuple[int, int, int]) -> list[dict[str, Any]]:
    """What motors lift: where it can lie, whether it was held, and where it was."""
    floor = floor_again(dict(pose.floor))
    found = []
    for load in floor.loads:
        courses = pose.loads[load.name]
        aside = load.aside[0] if load.aside else ""
        places = zip(load.places, load.lies, strict=True)
        found.append(
            {
                "name": load.name,
                "lifted_by": load.lifted_by,
                "gripped_by": load.gripped_by,
                "grips_at": load.grips_at,
                "aside_by": aside,
                "places": [
                    {"name": name, "up": lies[load.lifted_by], "aside": lies.get(aside)} for name, lies in places
                ],
                "held": lane(Signal(pose.times, courses["held"]), load.name, None, *stretch),
                "up": lane(Signal(pose.times, courses[load.lifted_by]), load.name, None, *stretch),
                "aside": lane(Signal(pose.times, courses[aside]), load.name, None, *stretch) if aside else None,
            }
        )
    return found


def outputs_json(record: Record, rig: Rig, stretch: tuple[int, int, int]) -> list[dict[str, Any]]:
    """What was commanded, as lanes."""
    return [lane(signal, name, rig.parts[name].unit, *stretch) for name, signal in record.commands.items()]
