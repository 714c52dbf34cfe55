"""Hints about the robot, not the program: what its readings show of wires, plugs, motors and the battery.

They hold for programs of every language: they look at what was commanded and what was read.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import TRUTH, show
from geduld.rig.model import Part, Rig
from geduld.run.record.record import Record
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Trace

PRESSED_SHARE = 0.8  # of a recording: a contact that is pressed for so much of it
LONG_US = 400_000  # a command must stay for so long before anything is said of its motor
STARTS_US = 200_000  # and so long a motor may take to come up to speed
DRIVEN = 15.0  # %: less may be lost in friction
STILL = 2.0  # deg
SLOW = 0.72  # of the speed that the rig says
GAPS, GAP_US = 3, 100_000


def wiring_hints(rig: Rig, lines: Lines, seen: Trace, record: Record) -> Iterator[Hint]:
    """Everything that readings show of the robot's wiring; `seen` is what the program could see."""
    yield from _inverted(rig, lines, seen, record)
    yield from _loose(rig, lines, seen, record)
    slow: list[tuple[str, float, float]] = []
    for part in rig.outputs:
        if part.kind.spins and part.counts_per_turn:
            yield from _motor(part, rig, lines, seen, record, slow)
    yield from _weak(slow, lines, record)
    if record.pose is not None:
        yield from _swapped(rig, lines, record)


def _line(record: Record, name: str) -> int:
    """The line that commanded a motor last; else the first one that waited."""
    return record.set_by.get(name) or next((bar.line for bar in record.program), 1)


def _inverted(rig: Rig, lines: Lines, seen: Trace, record: Record) -> Iterator[Hint]:
    """A contact that says pressed nearly all the time, from the first sample on."""
    for part in rig.reads.values():
        # a limit switch is pressed for as long as the motor stands there
        values = seen.column(part.name) if part.dimension == TRUTH and part.follows != "motors" else None
        if values is None or not len(values) or values[0] != 1.0 or seen.duration_us < LONG_US:
            continue
        spans = np.diff(np.append(seen.times, seen.duration_us + 1))
        share = float(spans[values == 1.0].sum()) / float(spans.sum())
        if share >= PRESSED_SHARE:
            time = show(share * 100, "%", 0)
            message = f'"{part.name}" says pressed from the first sample on, for {time} of the time.'
            remedy = (
                "Perhaps its sense is inverted or its pull is missing: press it by hand, and see which way it goes."
            )
            if part.kind.measures == "reflex":
                message = f'"{part.name}" sees something from the first sample on, for {time} of the time.'
                causes = "Perhaps the ground is lighter than its trimmer, or its sense is inverted"
                remedy = f"{causes}: hold something dark under it."
            yield lines.advice("inverted-contact", _line(record, ""), message, remedy)


def _loose(rig: Rig, lines: Lines, seen: Trace, record: Record) -> Iterator[Hint]:
    """A reading that goes and comes again while it hardly changes: no echo is lost like that."""
    for part in rig.reads.values():
        values = seen.column(part.name)
        steady = part.kind.untouched is not None or part.follows == "place"
        if values is None or part.dimension == TRUTH or part.kind.misses or not steady:
            continue
        absent = np.isnan(values).astype(np.int8)
        edges = np.flatnonzero(np.diff(absent)) + 1
        starts = [int(at) for at in edges if absent[at]]
        alike = []
        for start in starts:
            back = next((int(at) for at in edges if at > start), None)
            if back is None or seen.times[back] - seen.times[start] < GAP_US:
                continue
            before, after = float(values[start - 1]), float(values[back])
            near = 0.1 * max(abs(before), abs(after)) + (part.high or 0.0) * 0.02
            alike.append(abs(after - before) <= near)
        if len(alike) >= GAPS and sum(alike) > 0.7 * len(alike):
            message = (
                f'"{part.name}" goes and comes {len(alike)} times, and reads what it read before: a plug may be loose.'
            )
            yield lines.advice(
                "loose-plug", _line(record, ""), message, "Move its cable while you look at the reading."
            )


def _driven(command: Signal, lasted: int) -> Iterator[tuple[int, int, float]]:
    """The stretches in which a motor's command stays, long enough and strong enough."""
    ends = [*command.times[1:].tolist(), lasted]
    for start, stop, power in zip(command.times.tolist(), ends, command.values.tolist(), strict=True):
        if stop - start >= LONG_US and abs(power) >= DRIVEN:
            yield start, stop, power


def _motor(
    part: Part, rig: Rig, lines: Lines, seen: Trace, record: Record, slow: list[tuple[str, float, float]]
) -> Iterator[Hint]:
    """What a motor's encoder says against what the motor was told, in a recording by its own program."""
    angles = seen.column(f"{part.name}.angle")
    own = seen.column(part.name)
    if angles is None or (own is None and record.pose is None):
        return
    command = record.commands[part.name] if own is None else Signal(seen.times, own)
    touched = [event.tick for event in record.events if event.kind in ("contact", "stall")]
    against = still = told = 0
    ways: set[bool] = set()
    speeds = []
    for start, stop, power in _driven(_changes(command), min(record.lasted, seen.duration_us)):
        if any(tick <= stop for tick in touched):
            break
        first, last = np.searchsorted(seen.times, [start + STARTS_US, stop], "left").tolist()
        way = angles[min(last, len(angles) - 1)] - angles[first] if last > first else np.nan
        if np.isnan(way):
            continue
        told += 1
        ways.add(power > 0)
        still += abs(way) < STILL
        against += abs(way) >= STILL and (way > 0) != (power > 0)
        rate = rig.turn_rate(part.name)
        if rate:
            speeds.append(abs(way) / ((stop - start - STARTS_US) / 1e6) / abs(power * rate))
    if told and still == told:
        message = f'"{part.name}" was driven and its angle stayed what it was: it is jammed or held, or a plug is out.'
        remedy = "Turn it by hand without its load, and look at its angle."
        yield lines.warning("stood-still", _line(record, part.name), message, remedy)
    elif told and against == told:
        # what falls by its load, or rolls down a slope, goes the same way whichever way it is driven
        dragged = len(ways) == 1 and (part.name not in _wheels(rig) or _is_steep(record))
        message = f'The angle of "{part.name}" falls while it is driven forwards: it is wired the other way round.'
        remedy = 'Turn its plug round, or write "reversed": true into the rig.'
        if dragged:
            message = message.removesuffix(".") + ", or what it carries is too heavy for it and drags it back."
            remedy = f"Try it without its load. If it still turns so: {remedy[0].lower()}{remedy[1:]}"
        yield lines.warning("wired-round", _line(record, part.name), message, remedy)
    elif speeds:
        slow.append((part.name, float(np.median(speeds)), float(rig.turn_rate(part.name) or 0.0)))


def _wheels(rig: Rig) -> tuple[str, ...]:
    return () if rig.drive is None else (rig.drive.left, rig.drive.right)


def _is_steep(record: Record) -> bool:
    """Whether the robot was, or may have been, on a slope: only a floor without one excludes that."""
    return record.pose is None or bool(record.pose.floor.get("ramps"))


def _changes(command: Signal) -> Signal:
    """A command without the samples at which it stays."""
    keep = np.concatenate(([True], np.diff(command.values) != 0))
    return Signal(command.times[keep], command.values[keep])


def _weak(slow: list[tuple[str, float, float]], lines: Lines, record: Record) -> Iterator[Hint]:
    """Every motor turns slower than the rig says, by about as much: that is the battery."""
    if len(slow) > 1 and all(share < SLOW for _, share, _ in slow):
        share = show(float(np.mean([share for _, share, _ in slow])) * 100, "%", 0)
        message = f"The motors turn at {share} of the speed that the rig says for these powers."
        causes = "A flat battery, a slope, soft ground or a load"
        remedy = f"{causes}: charge it and try it on level, hard ground, or measure the calibration anew."
        yield lines.advice("flat-battery", _line(record, slow[0][0]), message, remedy)


def _swapped(rig: Rig, lines: Lines, record: Record) -> Iterator[Hint]:
    """The robot turns the other way than its wheels are told, though both turn forwards: their plugs are exchanged."""
    pose, drive = record.pose, rig.drive
    if pose is None or drive is None:
        return
    left, right = (record.commands[name] for name in (drive.left, drive.right))
    touched = min((event.tick for event in record.events if event.kind == "contact"), default=record.lasted)
    changes = np.union1d(left.times, right.times)
    signs = []
    for start, stop in zip(changes.tolist(), [*changes.tolist()[1:], record.lasted], strict=True):
        lean = float(right.at(np.array([start]))[0] - left.at(np.array([start]))[0])
        if stop - start < LONG_US or stop > touched or abs(lean) < DRIVEN:
            continue
        first, last = np.searchsorted(pose.times, [start + STARTS_US, stop], "right").tolist()
        turned = float(pose.values[last - 1, 2] - pose.values[first, 2])
        signs.append((lean > 0) != (turned > 0) and abs(turned) > STILL)
    counts = [record.readings.get(f"{name}.angle") for name in (drive.left, drive.right)]
    forwards = all(count is None or _agrees(record.commands[name], count) for name, count in
                   zip((drive.left, drive.right), counts, strict=True))  # fmt: skip
    if signs and all(signs) and forwards:
        message = "The robot turns the other way than its wheels are told: the plugs of its two motors are exchanged."
        yield lines.warning("swapped-plugs", _line(record, drive.left), message, "Exchange the two plugs.")


def _agrees(command: Signal, counted: Signal) -> bool:
    """Whether a wheel went forwards all in all when it was told so."""
    told = float(np.sum(command.values[:-1] * np.diff(command.times))) if len(command.times) > 1 else 0.0
    return told * float(counted.values[-1] - counted.values[0]) >= 0
