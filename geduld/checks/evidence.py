"""The words that all patterns share."""

from __future__ import annotations

import math
from collections.abc import Callable

from geduld.checks.verdicts import NOT_CERTAIN, OPEN, Finding, Window
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


def uncertain(start: int, stop: int, horizon: int, at: int) -> Finding:
    """What lies past the trust horizon is not judged."""
    because = (
        f"From {seconds(horizon)} on this program drove differently from the recording, "
        "so the readings after that cannot be trusted."
    )
    return Finding(Window(start, stop, NOT_CERTAIN), math.inf, "", at, because)


def cut_short(start: int, lasted: int, because: str | Callable[[], str], label: str = "") -> Finding:
    """The run ended before it was decided."""
    return Finding(Window(start, lasted, OPEN, label), math.inf, "", start, because)
