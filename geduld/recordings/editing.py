"""Traces made from traces: a part of one, two parts, one moved in time, at another rate, two laid together.

The trace that something is made from stays as it is.
"""

from __future__ import annotations

import numpy as np

from geduld.errors import TraceError
from geduld.language.messages import listed
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.rig.model import Rig
from geduld.worlds.signal import instants
from geduld.worlds.trace import Floats, Ticks, Trace
from geduld.worlds.trace_csv import COUNTS, held

LONGEST_US, MOST_SAMPLES = 1_000_000_000_000, 5_000_000


def trimmed(trace: Trace, start: int, stop: int) -> Trace:
    """The samples from one tick to another, both included; the first tick becomes 0.

    What was read last before the start is what is read at it. Raises TraceError where no sample is left.
    """
    first, last = np.searchsorted(trace.times, start, "left"), np.searchsorted(trace.times, stop, "right")
    if stop < start or last <= first:
        message = f"There is no sample from {show(start / 1e6, 's')} to {show(stop / 1e6, 's')}."
        raise TraceError("no-samples", message, "Choose a longer stretch.")
    rows = slice(int(first), int(last))
    times = trace.times[rows] - start
    channels = {name: values[rows] for name, values in trace.channels.items()}
    if times[0] > 0 and first > 0:
        times = np.concatenate(([0], times))
        channels = {
            name: np.concatenate((trace.channels[name][first - 1 : first], values)) for name, values in channels.items()
        }
    return Trace(np.ascontiguousarray(times), _counted_anew(channels), trace.texts)


def _counted_anew(channels: dict[str, Floats]) -> dict[str, Floats]:
    """Channels whose counts of messages begin with the first sample."""
    found = {}
    for name, values in channels.items():
        base, _, word = name.rpartition(".")
        if word == "messages" and len(values):
            heard = not np.isnan(channels[base][0]) if base in channels else False
            values = values - values[0] + (1.0 if heard else 0.0)
        found[name] = np.ascontiguousarray(values)
    return found


def split(trace: Trace, at: int) -> tuple[Trace, Trace]:
    """What lies before a tick, and what lies from it on, which begins at 0. Raises TraceError where either is empty."""
    return trimmed(trace, 0, at - 1), trimmed(trace, at, trace.duration_us)


def shifted(trace: Trace, by: int) -> Trace:
    """The same samples later by so many ticks, or earlier. Raises TraceError where one would come before 0 s."""
    times = trace.times + by
    if times[0] < 0 or times[-1] > LONGEST_US:
        first = show(trace.times_view[0] / 1e6, "s")
        message = (
            f"The first sample, at {first}, would come before 0 s." if by < 0 else "It would end past 1,000,000 s."
        )
        raise TraceError("time-out-of-reach", message, "Move it by less, or trim its start.")
    return Trace(times, trace.channels, trace.texts)


def resampled(trace: Trace, rate: float) -> Trace:
    """What is read at so many instants a second: the value that holds there. Raises TraceError for too many samples."""
    count = int(trace.duration_us * rate / 1e6) + 1
    if not 0 < rate <= 1e6 or count > MOST_SAMPLES:
        message = f"At {show(rate, 'Hz')} this trace would have {count:,} samples; {MOST_SAMPLES:,} are allowed."
        raise TraceError("too-many-samples", message, "Choose a lower rate.")
    times = instants(np.rint(np.arange(count) * (1e6 / rate)))
    return Trace(times, {name: _at(trace, values, times) for name, values in trace.channels.items()}, trace.texts)


def _at(trace: Trace, values: Floats, times: Ticks) -> Floats:
    """What holds at some ticks; nothing is known before the first sample and after the last one."""
    place = np.searchsorted(trace.times, times, "right") - 1
    return np.where((place < 0) | (times > trace.times[-1]), np.nan, values[np.maximum(place, 0)])


def merged(one: Trace, other: Trace, rig: Rig, later: int = 0) -> Trace:
    """Two recordings as one: at each instant of either, what each reads there. `later` moves the other one, in ticks.

    Raises TraceError where both have a channel, or nothing lies at 0 s or later.
    """
    both = [name for name in one.channels if name in other.channels and not name.endswith(COUNTS)]
    if both:
        message = f"Both recordings have {listed(both)}."
        raise TraceError("channel-twice", message, "Take out of one of them what the other has too.")
    moved = other.times + later
    times = np.union1d(one.times, moved[moved >= 0])
    if not (moved >= 0).any():
        raise TraceError("no-samples", "Nothing of the other recording lies at 0 s or later.", "Move it by less.")
    shown = Trace(moved, other.channels)
    channels = {name: _at(one, values, times) for name, values in one.channels.items()}
    channels |= {name: _at(shown, values, times) for name, values in other.channels.items()}
    order = [name for name in rig.channels if name in channels]
    rest = [name for name in channels if name not in order]
    return Trace(times, {name: channels[name] for name in (*order, *rest)}, {**one.texts, **other.texts})


def events(trace: Trace, rig: Rig, channel: str) -> Ticks:
    """The instants by which two recordings can be lined up: a contact is pressed, a message comes, or a reading crosses
    the middle of what it reads. Raises TraceError for a channel that the trace has not."""
    values = trace.column(channel)
    part = rig.channels.get(channel)
    if values is None or part is None:
        known = [name for name in trace.channels if not name.endswith(COUNTS)]
        raise TraceError("unknown-channel", f'The trace has no "{channel}".', f"It has {listed(known)}.")
    if part.dimension == TEXT:
        counts = trace.column(f"{channel}.messages")
        assert counts is not None
        return trace.times[np.flatnonzero(np.diff(counts, prepend=0.0) > 0)]
    filled = held(values)
    if part.dimension != TRUTH:
        middle = (np.nanmin(filled) + np.nanmax(filled)) / 2 if not np.isnan(filled).all() else 0.0
        filled = np.where(np.isnan(filled), np.nan, filled > middle)
        rises = np.flatnonzero((filled[1:] != filled[:-1]) & ~np.isnan(filled[1:]) & ~np.isnan(filled[:-1])) + 1
        return trace.times[rises]
    rises = np.flatnonzero((filled[1:] == 1) & (filled[:-1] == 0)) + 1
    return trace.times[rises]


def lined_up(one: Trace, of_one: str, other: Trace, of_other: str, rig: Rig) -> int:
    """By how many ticks the other recording is to be moved so that the first event of a channel falls together.

    Raises TraceError where one of them has no such event.
    """
    found = []
    for trace, channel in ((one, of_one), (other, of_other)):
        instants = events(trace, rig, channel)
        if not len(instants):
            message = f'Nothing happens to "{channel}" by which the recordings could be lined up.'
            raise TraceError("no-event", message, "Choose another channel, or give the time by hand.")
        found.append(int(instants[0]))
    return found[0] - found[1]
