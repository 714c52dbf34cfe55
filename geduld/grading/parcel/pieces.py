"""An exercise as the texts it is kept in: what a parcel carries."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from geduld.grading.points import NO_RULES, PointRules
from geduld.readers.reading import NOTATION

Source = dict[str, Any]


@dataclass(frozen=True)
class TracePiece:
    """A recording as CSV, or as a value change dump; `notes` are moments in s with what was written to them."""

    name: str
    data: bytes
    notes: tuple[tuple[float, str], ...] = ()


@dataclass(frozen=True)
class Surroundings:
    """What one device runs in: a trace, a floor, or nothing but time (`lasts_us`); times in microseconds.

    `floor` is its JSON source, `inputs` what hands do, as CSV. A partner may have none of the three: it lasts as long
    as the other device.
    """

    trace: TracePiece | None = None
    floor: Source | None = None
    lasts_us: int | None = None
    follow: str = "time"
    start: str = ""
    inputs: str = ""
    seed: int | None = None
    faults: tuple[str, ...] = ()
    limit_us: int | None = None


@dataclass(frozen=True)
class PartnerPiece:
    """The other device: its rig's source, its program in the notation; `lost` is the share of messages, in %."""

    name: str
    rig: Source
    program: str
    surroundings: Surroundings
    libraries: tuple[str, ...] = ()
    delay_us: int = 20_000
    lost: float = 0.0


@dataclass(frozen=True)
class CasePiece:
    """A case."""

    name: str
    surroundings: Surroundings
    partner: PartnerPiece | None = None


@dataclass(frozen=True)
class HandInPiece:
    """What a student handed in, byte for byte, and when; `due` is a deadline of their own."""

    student: str
    data: bytes
    received: datetime
    language: str = NOTATION
    recorded: bool = False
    due: datetime | None = None
    sourced_id: str = ""


@dataclass(frozen=True)
class Pieces:
    """An exercise with all it needs: rigs and floors as their JSON sources, everything else as its text."""

    title: str
    brief: str
    rig: Source
    reference: str
    checks: str
    cases: tuple[CasePiece, ...]
    over_cases: str = "mean"
    rules: PointRules = NO_RULES
    libraries: tuple[str, ...] = ()
    words: tuple[str, ...] = ()
    hand_ins: tuple[HandInPiece, ...] = ()
