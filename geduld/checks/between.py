"""The stretches of a run from one condition to another."""

from __future__ import annotations

import numpy as np

from geduld.checks.conditions import Condition
from geduld.checks.courses import Spans
from geduld.checks.ordinals import chosen
from geduld.checks.timeline import Timeline


def stretches(timeline: Timeline, start: Condition, stop: Condition, which: str = "", to_which: str = "") -> Spans:
    """From each instant at which `start` becomes true up to the next one at which `stop` is true, not included.

    They do not overlap: while one is open, another start opens none. Where `stop` is true already there is none; where
    it does not come, it goes on to the run's end. `which` and `to_which` choose one of the times at which they come
    true (empty: each, and the next).
    """
    ends = timeline.course(stop)
    begins: list[int] = []
    behinds: list[int] = []
    chosen_end = chosen(to_which, ends.spans[0].tolist()) if to_which else []
    for begin in chosen(which, timeline.course(start).spans[0].tolist()):
        if behinds and begin < behinds[-1]:
            continue
        if to_which:
            behind = chosen_end[0] if chosen_end else None
            empty = behind is not None and behind <= begin
        else:
            behind = ends.first(begin)
            empty = behind == begin
        if not empty:
            begins.append(begin)
            behinds.append(timeline.record.lasted + 1 if behind is None else behind)
    return np.array(begins, np.int64), np.array(behinds, np.int64)
