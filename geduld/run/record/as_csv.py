"""A record's channels as a trace: readings and commands over time, as CSV."""

from __future__ import annotations

from geduld.run.record.record import Record
from geduld.worlds.signal import instants
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import trace_to_csv


def channels_csv(record: Record) -> str:
    """Readings and commands at every instant at which one of them changed, in the rig's units."""
    signals = {**record.readings, **record.commands}
    times = instants([0, record.lasted], *(signal.times for signal in signals.values()))
    return trace_to_csv(
        Trace(times, {name: signal.at(times) for name, signal in signals.items()}, record.texts), record.rig
    )
