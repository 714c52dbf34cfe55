"""Passes of a loop that only waits for readings, left out together."""

from __future__ import annotations

import sys
from bisect import bisect_left, bisect_right
from collections.abc import Callable
from typing import Any

import numpy as np

MOST_KEPT = 64


def seek(
    times: Any, now: int, period: int, end: int, kept: dict[Any, Any], key: Any, goes_on: Callable[[Any], Any]
) -> tuple[int, int]:
    """From a pass at `now` to the first that may do something else: its tick, and how many passes were left out.

    A pass comes every `period` ticks; `goes_on` says of samples whether the loop surely goes on there, and `key` names
    all that it depends on beside the recording. `times` are the samples' ticks, with a last one that never comes; what
    is looked up is `kept`. Never beyond the first pass past `end`. While somebody watches which lines come, no pass is
    left out.
    """
    if sys.gettrace() is not None:
        return now, 0
    stops = kept.get(key)
    if stops is None:
        if len(kept) >= MOST_KEPT:
            kept.clear()
        samples = np.arange(len(times) - 1)
        stops = kept[key] = np.flatnonzero(~np.asarray(goes_on(samples))).tolist()
    skipped = 0
    while now <= end:
        sample = bisect_right(times, now) - 1
        place = bisect_left(stops, sample)
        following = stops[place] if place < len(stops) else len(times) - 1
        if following <= sample:
            break
        passes = -((now - min(times[following], end + 1)) // period)
        now += passes * period
        skipped += passes
    return now, skipped
