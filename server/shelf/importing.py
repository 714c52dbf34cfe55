"""Reads recordings into what is kept of them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from geduld.errors import TraceError
from geduld.rig.model import Rig as CoreRig
from geduld.rig.reader import rig_from_json
from geduld.worlds.doubts import doubts
from geduld.worlds.packing import pack
from geduld.worlds.recording import trace_from
from geduld.worlds.trace import Trace


@dataclass(frozen=True)
class Imported:
    """A recording as it is kept: packed, with what lists say of it."""

    channels: list[str]
    samples: int
    duration_us: int
    fingerprint: str
    doubts: list[str]
    data: bytes


def imported(data: bytes, rig: CoreRig) -> Imported:
    """A recording from CSV. Raises TraceError with row and column."""
    return kept(trace_from(data, rig), rig)


def kept(trace: Trace, rig: CoreRig) -> Imported:
    """A recording as it is kept."""
    said = [doubt.sentence for doubt in doubts(trace, rig)]
    return Imported(list(trace.channels), trace.samples, trace.duration_us, trace.fingerprint, said, pack(trace))


def imported_file(source: bytes | Path, rig: Any, name: str) -> Imported:
    """A recording from a file, or from bytes that were sent. `rig` is a rig's JSON source.

    Raises TraceError that names the file.
    """
    try:
        return imported(source.read_bytes() if isinstance(source, Path) else source, rig_from_json(rig))
    except TraceError as problem:
        raise problem.in_file(name) from None
