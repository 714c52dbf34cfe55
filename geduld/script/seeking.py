"""Passes of a loop that only waits for readings, looked at many at once."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

_FIRST, _MOST = 16, 4_096


def seek(times: Any, i: int, now: int, period: int, end: int, goes_on: Callable[[Any], Any]) -> tuple[int, int]:
    """From a pass at `now` to the first that may do something else: its tick, and how many passes were left out.

    A pass comes every `period` ticks; `goes_on` says of samples whether the loop surely goes on there. `times` are the
    samples' ticks, of which number `i` holds now. Never beyond the first pass past `end`.
    """
    skipped, chunk = 0, _FIRST
    ticks = np.asarray(times)
    while now <= end:
        passes = now + period * np.arange(chunk, dtype=np.int64)
        at = ticks.searchsorted(passes, "right") - 1
        stays = np.asarray(goes_on(at)) & (passes <= end)
        if not stays.all():
            left = int(stays.argmin())
            return now + left * period, skipped + left
        now += chunk * period
        skipped += chunk
        chunk = min(chunk * 4, _MOST)
    return now, skipped
