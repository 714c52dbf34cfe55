"""Faults of a robot on a floor: what is wired, mounted or worn otherwise than the rig says.

A fault is a phrase: `left wired round`, `left and right swapped`, `nose inverted`, `range loose 20 %`,
`battery at 60 %`, `left jammed`, `range knocked by 30 deg`.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from geduld.errors import FloorError, Place
from geduld.language.messages import listed, nearest
from geduld.rig.model import Part, Rig
from geduld.rig.physics import Mount

MOST_FAULTS = 8
GAP_US = 200_000  # a loose plug loses its reading for so long at a time
_NUMBER = r"(-?\d+(?:\.\d+)?)"
_FORMS = (
    ("wired round", re.compile(r"(\S+) wired round")),
    ("swapped", re.compile(r"(\S+) and (\S+) swapped")),
    ("inverted", re.compile(r"(\S+) inverted")),
    ("loose", re.compile(rf"(\S+) loose {_NUMBER} ?%")),
    ("battery", re.compile(rf"battery at {_NUMBER} ?%")),
    ("jammed", re.compile(r"(\S+) jammed")),
    ("knocked", re.compile(rf"(\S+) knocked by {_NUMBER} ?deg")),
)
EXAMPLES = (
    "left wired round", "left and right swapped", "nose inverted", "range loose 20 %", "battery at 60 %",
    "left jammed", "range knocked by 30 deg",
)  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """One fault: its kind, the parts that have it, and how much of it there is, in % or deg."""

    kind: str
    parts: tuple[str, ...]
    amount: float
    phrase: str


def read_faults(phrases: Sequence[str], rig: Rig, path: str = "faults") -> tuple[Fault, ...]:
    """Faults as phrases, for a rig. Raises FloorError that names the phrase."""
    if len(phrases) > MOST_FAULTS:
        raise FloorError(
            "fault", f"A robot has at most {MOST_FAULTS} faults here.", "Leave some out.", Place(path=path)
        )
    return tuple(_read(phrase, rig, f"{path}[{index}]") for index, phrase in enumerate(phrases))


def _read(phrase: str, rig: Rig, path: str) -> Fault:
    words = " ".join(phrase.split()) if isinstance(phrase, str) else ""
    for kind, form in _FORMS:
        match = form.fullmatch(words)
        if match is None:
            continue
        number = float(match.groups()[-1]) if kind in ("loose", "battery", "knocked") else 0.0
        names = tuple(name for name in match.groups() if not re.fullmatch(_NUMBER, name))
        parts = [_part(name, rig, path) for name in names]
        _fitting(kind, parts, number, path)
        return Fault(kind, names, number, words)
    raise _wrong(path, f'"{words[:60]}" is no fault that Geduld knows.', f"Write one of: {', '.join(EXAMPLES)}.")


def _wrong(path: str, message: str, remedy: str) -> FloorError:
    return FloorError("fault", message, remedy, Place(path=path))


def _part(name: str, rig: Rig, path: str) -> Part:
    if name not in rig.parts:
        like = nearest(name, rig.parts)
        remedy = f'Did you mean "{like}"?' if like else f"The rig has {listed(rig.parts)}."
        raise _wrong(path, f'"{name}" is not a part of the rig "{rig.name}".', remedy)
    return rig.parts[name]


def _fitting(kind: str, parts: list[Part], number: float, path: str) -> None:
    """Refuses a fault that such a part cannot have."""
    if kind in ("wired round", "jammed") and not parts[0].kind.spins:
        raise _wrong(path, f'"{parts[0].name}" is no motor.', "Only a motor is wired round, or jammed.")
    if kind == "inverted" and not (parts[0].kind.is_contact and parts[0].kind.whole):
        raise _wrong(path, f'"{parts[0].name}" is no contact.', "Only a contact has a sense that can be inverted.")
    if kind in ("loose", "knocked") and parts[0].is_output:
        raise _wrong(path, f'"{parts[0].name}" is no sensor.', "Name a sensor.")
    if kind == "swapped" and (parts[0] is parts[1] or parts[0].kind is not parts[1].kind):
        raise _wrong(path, "Two parts of one kind can be swapped.", "Name two motors, or two sensors of one kind.")
    if kind in ("loose", "battery") and not 0 < number <= 100:
        raise _wrong(path, "This share is more than 0 % and at most 100 %.", "For example: 20 %")
    if kind == "knocked" and not -180 <= number <= 180:
        raise _wrong(path, "A sensor is knocked by -180 deg to 180 deg.", "For example: 30 deg")


class Faulty:
    """A rig with faults: the robot as it really is, and what its wires make of commands and readings."""

    def __init__(self, rig: Rig, faults: tuple[Fault, ...], seed: int | None, end: int) -> None:
        self.faults = faults
        self.built = _built(rig, faults)
        self.swapped = {one: other for fault in faults if fault.kind == "swapped"
                        for one, other in (fault.parts, fault.parts[::-1])}  # fmt: skip
        self.inverted = [fault.parts[0] for fault in faults if fault.kind == "inverted"]
        self.jammed = {fault.parts[0] for fault in faults if fault.kind == "jammed"}
        self.turned = {fault.parts[0] for fault in faults if fault.kind == "wired round"}
        self.loose: dict[str, NDArray[np.bool_]] = {}
        chance = np.random.default_rng(np.random.SeedSequence([0 if seed is None else seed, 77]))
        for fault in faults:
            if fault.kind == "loose":
                gaps = chance.random(end // GAP_US + 2) < fault.amount / 100
                self.loose.update((name, gaps) for name in _readings_of(fault.parts[0], rig))

    def columns(self, columns: dict[str, int]) -> dict[str, int]:
        """The columns in which a program finds its channels: swapped plugs bring each other's."""
        found = {}
        for name in columns:
            part, dot, rest = name.partition(".")
            real = f"{self.swapped.get(part, part)}{dot}{rest}"
            if part in self.inverted and rest in _OTHER_WAY:
                real = f"{self.swapped.get(part, part)}.{_OTHER_WAY[rest]}"
            found[name] = columns[real]
        return found

    def motor(self, name: str) -> str:
        """The motor that a command to this one reaches."""
        return self.swapped.get(name, name)

    def power(self, motor: str, power: float) -> float:
        """What a command does in a motor."""
        return 0.0 if motor in self.jammed else -power if motor in self.turned else power


def _readings_of(part: str, rig: Rig) -> list[str]:
    """What comes through the plug of a sensor: its reading, its axes, its keys."""
    return [name for name in rig.reads if name == part or name.startswith(f"{part}.")]


_OTHER_WAY = {"presses": "releases", "releases": "presses"}


def _built(rig: Rig, faults: tuple[Fault, ...]) -> Rig:
    """The rig with the body and the mounts that it really has."""
    physics = rig.physics
    for fault in faults:
        if fault.kind == "battery":
            body = replace(physics.body, supply=physics.body.supply * fault.amount / 100)
            physics = replace(physics, body=body)
        elif fault.kind == "knocked":
            mount = physics.mounts.get(fault.parts[0], Mount())
            knocked = replace(mount, facing=(mount.facing or 0.0) + fault.amount)
            physics = replace(physics, mounts={**physics.mounts, fault.parts[0]: knocked})
    return rig if physics is rig.physics else replace(rig, physics=physics)
