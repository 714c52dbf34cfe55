"""Recordings from files, in each of the formats that are read."""

from __future__ import annotations

from pathlib import Path

from geduld.errors import TraceError
from geduld.rig.model import Rig
from geduld.rig.values import Values
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import MOST_TRACE_BYTES, trace_from_csv
from geduld.worlds.vcd import is_vcd, trace_from_vcd

RECORDINGS = (".csv", ".vcd")


def read_trace(path: Path, rig: Rig) -> Trace:
    """The trace in a file. Raises TraceError with file, row and column."""
    return Values(TraceError, "trace").file(path, lambda data: trace_from(data, rig))


def trace_from(data: bytes, rig: Rig) -> Trace:
    """The trace in a CSV or in a value change dump. Raises TraceError with row and column."""
    if len(data) > MOST_TRACE_BYTES:
        raise TraceError("trace-too-large", f"A trace has at most {MOST_TRACE_BYTES:,} bytes.", "Cut the recording up.")
    return trace_from_vcd(data, rig) if is_vcd(data) else trace_from_csv(data, rig)
