"""Keeps a trace in one compact block of bytes: a JSON header, then zlib-compressed columns."""

from __future__ import annotations

import json
import zlib

import numpy as np

from geduld.errors import TraceError
from geduld.language.quantities import text_code
from geduld.worlds.trace import Trace

_MAGIC = b"geduld-trace-1\n"


def pack(trace: Trace) -> bytes:
    """The trace as bytes: times as int64, then each channel as float64, column after column."""
    header = json.dumps(
        {"samples": trace.samples, "channels": list(trace.channels), "texts": list(trace.texts.values())}
    ).encode()
    columns = b"".join([trace.times.tobytes(), *(values.tobytes() for values in trace.channels.values())])
    return _MAGIC + len(header).to_bytes(4, "little") + header + zlib.compress(columns, 1)


def unpack(data: bytes) -> Trace:
    """The trace in bytes that `pack` made. Raises TraceError for any other bytes."""
    if not data.startswith(_MAGIC):
        raise TraceError("not-packed", "These bytes are not a packed trace.", "Import the trace again.")
    start = len(_MAGIC) + 4
    size = int.from_bytes(data[start - 4 : start], "little")
    header = json.loads(data[start : start + size])
    columns = zlib.decompress(data[start + size :])
    samples = header["samples"]
    times = np.frombuffer(columns, np.int64, samples)
    channels = {
        name: np.frombuffer(columns, np.float64, samples, (index + 1) * samples * 8)
        for index, name in enumerate(header["channels"])
    }
    return Trace(times, channels, {text_code(text): text for text in header.get("texts", [])})
