"""Traces as the core knows them, the last ones kept unpacked: as many as fit into so many bytes."""

from __future__ import annotations

import threading
from collections import OrderedDict

from geduld.checks.timeline import MOST_COURSES, MOST_INSTANTS
from geduld.worlds.packing import unpack
from geduld.worlds.trace import Trace as CoreTrace
from server.shelf.models import Trace

MOST_UNPACKED_BYTES = 150_000_000
# A trace keeps what was worked out about it beside its columns: edges, extremes, the first value at the start.
_WITH_WHAT_IT_KEEPS = 2
_BYTES_AN_INSTANT = 9  # of a course: a truth and its margin


class Kept:
    """Traces by their key, the one used longest ago given back first."""

    def __init__(self, most_bytes: int) -> None:
        self.most_bytes = most_bytes
        self.bytes = 0
        self._traces: OrderedDict[tuple[int, str], tuple[CoreTrace, int]] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: tuple[int, str]) -> CoreTrace | None:
        """The trace under a key, if it is kept."""
        with self._lock:
            found = self._traces.get(key)
            if found is None:
                return None
            self._traces.move_to_end(key)
            return found[0]

    def put(self, key: tuple[int, str], trace: CoreTrace) -> None:
        """Keeps a trace. One that is larger than all that may be kept is not."""
        courses = _BYTES_AN_INSTANT * min(MOST_COURSES * trace.samples, MOST_INSTANTS)
        size = _WITH_WHAT_IT_KEEPS * 8 * trace.samples * (1 + len(trace.channels)) + courses
        if size > self.most_bytes:
            return
        with self._lock:
            if key in self._traces:
                return
            self._traces[key] = trace, size
            self.bytes += size
            while self.bytes > self.most_bytes:
                self.bytes -= self._traces.popitem(last=False)[1][1]


_kept = Kept(MOST_UNPACKED_BYTES)


def core_trace(trace: Trace) -> CoreTrace:
    """The trace as the core knows it."""
    key = trace.pk, trace.updated.isoformat()
    found = _kept.get(key)
    if found is None:
        found = unpack(bytes(Trace.objects.values_list("data", flat=True).get(pk=trace.pk)))
        _kept.put(key, found)
    return found
