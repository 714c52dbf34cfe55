"""The record as JSON: seconds and the rig's own units."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from typing import Any

import numpy as np

from geduld.errors import GeduldError, Place, RecordError
from geduld.language.quantities import TEXT, text_code
from geduld.rig.model import Part, Rig
from geduld.rig.reader import rig_from_json
from geduld.run.record.record import Bar, Event, Poses, Record, Written
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Floats, Ticks

FORMAT = "record/1"
LONGEST_S = 100_000_000
CONTROLS = ("power", "speed", "brake", "coast")


def record_to_json(record: Record, with_readings: bool = True) -> dict[str, Any]:
    """The record as a JSON value: times in seconds, values in each part's unit, absent readings null."""
    parts = record.rig.channels
    texts = {name for name, part in parts.items() if part.dimension == TEXT}
    return {
        "geduld": FORMAT,
        "rig": dict(record.rig.source),
        "ended": {
            "at": record.ended_at / 1e6,
            "why": record.why,
            "said": record.said,
            "lasted": record.lasted / 1e6,
        },
        "commands": {name: signal_pairs(signal, parts[name]) for name, signal in record.commands.items()},
        "controls": {name: control_pairs(signal) for name, signal in record.controls.items()},
        **({"lines": {name: _line_pairs(signal) for name, signal in record.lines.items()}} if record.lines else {}),
        "program": [
            {"lane": bar.lane, "line": bar.line, "from": bar.start / 1e6, "to": bar.stop / 1e6, "state": bar.state}
            for bar in record.program
        ],
        "events": [
            {"at": event.tick / 1e6, "kind": event.kind, "line": event.line, "text": event.text, **_where(event)}
            for event in record.events
        ],
        "readings": {
            name: _texts(signal, record) if name in texts else signal_pairs(signal, parts[name])
            for name, signal in record.readings.items()
            if with_readings
        },
        "pose": _pose_rows(record.pose.times, record.pose.values) if record.pose else [],
        **_place(record.pose),
        "trust": {name: tick / 1e6 for name, tick in record.trust.items()},
        "made_from": dict(record.made_from),
    }


def _where(event: Event) -> dict[str, float | str]:
    where: dict[str, float | str] = {} if event.at is None else {"x": event.at[0], "y": event.at[1]}
    return {**where, "what": event.what} if event.what else where


def _pose_rows(times: Ticks, values: Floats) -> list[list[float | None]]:
    """Rows of seconds and what was then, those left out that are like the row before and the row behind."""
    same = (values[1:] == values[:-1]).all(axis=1) | np.isnan(values[1:] + values[:-1]).all(axis=1)
    keep = np.ones(len(times), np.bool_)
    keep[1:-1] = ~(same[:-1] & same[1:])
    rows = np.column_stack((times / 1e6, values))[keep]
    return [[None if value != value else value for value in row] for row in rows.tolist()]


def _place(pose: Poses | None) -> dict[str, Any]:
    """The floor, and the things that were moved on it."""
    if pose is None:
        return {}
    things = {name: _pose_rows(pose.times, values) for name, values in pose.things.items()}
    moved = {name: rows for name, rows in things.items() if len(rows) > 2 or name != "hand"}
    angles = {
        name: [[tick / 1e6, None if value != value else value] for tick, value in zip(*_lists(signal), strict=True)]
        for name, signal in pose.angles.items()
    }
    turned = {name: _pose_rows(pose.times, values[:, None]) for name, values in pose.turned.items()}
    loads = {
        name: {word: _pose_rows(pose.times, values[:, None]) for word, values in load.items()}
        for name, load in pose.loads.items()
    }
    place = {"floor": dict(pose.floor), "things": moved, "angles": angles, "turned": turned}
    return {**place, "loads": loads} if loads else place


def _line_pairs(signal: Signal) -> list[list[float]]:
    """The level of a line, as pairs of seconds and %."""
    return [[tick / 1e6, level] for tick, level in zip(*_lists(signal), strict=True)]


def control_pairs(signal: Signal) -> list[list[float | str]]:
    """How a motor was controlled, as pairs of seconds and one of `CONTROLS`."""
    return [[tick / 1e6, CONTROLS[int(code)]] for tick, code in zip(*_lists(signal), strict=True)]


def _lists(signal: Signal) -> tuple[list[int], list[float]]:
    return signal.times.tolist(), signal.values.tolist()


def _texts(signal: Signal, record: Record) -> list[list[float | str | None]]:
    """The messages that a signal stands for, at the instants at which another one comes."""
    pairs: list[list[float | str | None]] = []
    for tick, code in zip(*_lists(signal), strict=True):
        text = record.texts.get(code)
        if not pairs or pairs[-1][1] != text:
            pairs.append([tick / 1e6, text])
    return pairs


def signal_pairs(signal: Signal, part: Part) -> list[list[float | None]]:
    """A signal as pairs of seconds and values in the part's unit; null where absent."""
    convert = part.unit.from_base if part.unit else float
    return [
        [tick / 1e6, None if math.isnan(value) else convert(value)]
        for tick, value in zip(signal.times.tolist(), signal.values.tolist(), strict=True)
    ]


def record_from_text(text: bytes | str) -> Record:
    """The record in a JSON text. Raises RecordError with its place."""
    try:
        source = json.loads(text)
    except json.JSONDecodeError as problem:
        place = Place(row=problem.lineno, column=problem.colno)
        raise RecordError("not-json", f"This is not JSON: {problem.msg}.", place=place) from None
    except (UnicodeDecodeError, RecursionError):
        raise RecordError("not-json", "This is not JSON text.") from None
    if not isinstance(source, dict) or source.get("geduld") != FORMAT:
        raise RecordError("not-a-record", "This JSON is not the record of a run.", place=Place(path="geduld"))
    try:
        return _record(source)
    except GeduldError as problem:
        raise RecordError("record-value", f"The record's rig: {problem}") from None
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, OverflowError) as problem:
        message = f"The record does not have the expected form near {problem}."
        raise RecordError("record-value", message, "Make it again with: run … --record") from None


def _record(source: dict[str, Any]) -> Record:
    rig = rig_from_json(source["rig"])
    ended = source["ended"]

    def tick(seconds: float) -> int:
        if not 0 <= seconds <= LONGEST_S:
            raise ValueError(f"{seconds}: a time is 0 to {LONGEST_S:,} s")
        return round(seconds * 1_000_000)

    texts: dict[float, str] = {}

    def reading(name: str, pairs: list[list[Any]]) -> Signal:
        if rig.channels[name].dimension == TEXT:
            texts.update({text_code(text): text for _, text in pairs if text is not None})
            pairs = [[at, None if text is None else text_code(text)] for at, text in pairs]
        return _signal(pairs, rig, name, tick)

    details = Written(
        of_commands={name: _signal(pairs, rig, name, tick) for name, pairs in source["commands"].items()},
        of_readings={name: reading(name, pairs) for name, pairs in source["readings"].items()},
        of_program=tuple(
            Bar(int(b["line"]), tick(b["from"]), tick(b["to"]), str(b["state"]), str(b["lane"]))
            for b in source["program"]
        ),
        of_controls={
            name: Signal(
                np.array([tick(at) for at, _ in pairs], np.int64),
                np.array([float(CONTROLS.index(word)) for _, word in pairs]),
            )
            for name, pairs in source.get("controls", {}).items()
        },
        of_trust={name: tick(seconds) for name, seconds in source.get("trust", {}).items()},
        of_sources=dict(source.get("made_from", {})),
        of_poses=_poses(source, rig, tick),
    )
    return Record(
        rig=rig,
        ended_at=tick(ended["at"]),
        lasted=tick(ended["lasted"]),
        why=str(ended["why"]),
        said=str(ended.get("said", "")),
        events=tuple(_event(event, tick) for event in source["events"]),
        details=details,
        texts=texts,
    )


def _event(event: dict[str, Any], tick: Callable[[float], int]) -> Event:
    at = (float(event["x"]), float(event["y"])) if "x" in event else None
    return Event(
        tick(event["at"]), str(event["kind"]), int(event["line"]), str(event["text"]), at, str(event.get("what", ""))
    )


def _poses(source: dict[str, Any], rig: Rig, tick: Callable[[float], int]) -> Poses | None:
    rows = source.get("pose") or []
    if not rows:
        return None
    table = np.array(rows, np.float64).reshape(-1, 4)
    # a robot that stood still has few rows of its own, while its motors turned
    others = [*source.get("things", {}).values(), *source.get("turned", {}).values()]
    others += [rows for load in source.get("loads", {}).values() for rows in load.values()]
    instants = {tick(row[0]) for rows in (table.tolist(), *others) for row in rows}
    times = np.array(sorted(instants), np.int64)
    things = {}
    for name, moved in source.get("things", {}).items():
        things[name] = _at(times, np.array(moved, np.float64).reshape(-1, 3), tick)

    def one(rows: Any) -> Floats:
        return _at(times, np.array(rows, np.float64).reshape(-1, 2), tick)[:, 0]

    turned = {name: one(rows) for name, rows in source.get("turned", {}).items()}
    loads = {name: {word: one(rows) for word, rows in load.items()} for name, load in source.get("loads", {}).items()}
    angles = {name: _signal(pairs, rig, name, tick) for name, pairs in source.get("angles", {}).items()}
    return Poses(times, _at(times, table, tick), things, dict(source.get("floor", {})), angles, turned, loads)


def _at(times: Ticks, rows: Floats, tick: Callable[[float], int]) -> Floats:
    """What rows of seconds and values were at these instants."""
    return rows[np.searchsorted(np.array([tick(at) for at in rows[:, 0].tolist()]), times, "right") - 1, 1:]


def _signal(pairs: list[list[float | None]], rig: Rig, name: str, tick: Callable[[float], int]) -> Signal:
    unit = rig.channels[name].unit
    times = np.array([tick(float(at)) for at, _ in pairs if at is not None], np.int64)
    values = [math.nan if value is None else float(value) for _, value in pairs]
    if not values or len(times) != len(values) or (np.diff(times) <= 0).any():
        raise ValueError(f"{name}: there must be values, and their times must rise")
    return Signal(times, np.array([unit.to_base(value) if unit else value for value in values]))
