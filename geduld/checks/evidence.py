"""The words and stretches that all patterns share."""

from __future__ import annotations

import math

import numpy as np

from geduld.binding import terms
from geduld.checks.timeline import Course, Timeline
from geduld.checks.verdicts import NOT_CERTAIN, Finding, Window
from geduld.language.quantities import show


def quoted(words: str) -> str:
    """A condition as the check says it."""
    return f'"{words}"'


def seconds(ticks: int) -> str:
    """An instant."""
    return show(ticks / 1e6, "s")


def span(ticks: int) -> str:
    """A length of time: in ms when it is short."""
    return show(ticks / 1e3, "ms") if abs(ticks) < 1_000_000 else seconds(ticks)


def edges(course: Course) -> list[tuple[int, int]]:
    """The stretches of a truth as pairs of indices into its ticks; the stop is the first one not in it."""
    padded = np.concatenate(([0], course.true.astype(np.int8), [0]))
    found = np.flatnonzero(np.diff(padded))
    return list(zip(found[::2].tolist(), found[1::2].tolist(), strict=True))


def stretches(condition: terms.Term, timeline: Timeline) -> list[tuple[int, int]]:
    """The stretches of a truth in ticks; the stop is -1 where it still held at the end."""
    ticks = timeline.ticks
    return [
        (int(ticks[start]), int(ticks[stop]) if stop < len(ticks) else -1)
        for start, stop in edges(timeline.course(condition))
    ]


def first_time(condition: terms.Term, timeline: Timeline, since: int = 0) -> int | None:
    """The first tick from `since` on at which a truth holds."""
    course = timeline.course(condition)
    index = int(np.searchsorted(course.ticks, since))
    ahead = course.true[index:]
    return int(course.ticks[index + ahead.argmax()]) if ahead.any() else None


def uncertain(start: int, stop: int, horizon: int, at: int) -> Finding:
    """What lies past the trust horizon is not judged."""
    because = (
        f"From {seconds(horizon)} on this program drove differently from the recording, "
        "so the readings after that cannot be trusted."
    )
    return Finding(Window(start, stop, NOT_CERTAIN), math.inf, "", at, because)


def cut_short(start: int, lasted: int, because: str) -> Finding:
    """The run ended before it was decided."""
    return Finding(Window(start, lasted, NOT_CERTAIN), math.inf, "", start, because)
