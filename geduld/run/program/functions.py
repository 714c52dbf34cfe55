"""What the generated program may use: a few functions, and the ways out of it. There is nothing else."""

from __future__ import annotations

import math
from bisect import bisect_right

_LONGEST = (1 << 53) / 1_000_000


class Finished(Exception):
    """The program ends here, whatever its other lanes do. Carries the tick."""


class Stuck(Exception):
    """The program goes no further, and its outputs stay as they are.

    Carries the tick, and why: `idle` (it goes round for ever and touches nothing), `error` (it broke off), or `memory`
    (it wanted more than a run may have).
    """


class Abandoned(Exception):
    """The guard of a `do` holds: its body is left. Carries the guard's number."""


class StepsExhausted(Exception):
    """The program took more steps than a run may."""


def _divide(left: float, right: float) -> float:
    return left / right if right != 0 else math.nan


def _least(*items: float) -> float:
    return math.nan if any(item != item for item in items) else min(items)


def _most(*items: float) -> float:
    return math.nan if any(item != item for item in items) else max(items)


def _clamp(value: float, low: float, high: float) -> float:
    return _least(_most(value, low), high)


def _round(value: float) -> float:
    return float(round(value)) if math.isfinite(value) else value


def as_ticks(seconds: float) -> int:
    """A time as ticks; an absent or negative one is no time, an endless one longer than any run."""
    if not seconds > 0:
        return 0
    return round(seconds * 1_000_000) if seconds < _LONGEST else 1 << 53


def _times(count: float) -> range:
    """How often a body is repeated; an absent count is none."""
    return range(int(min(count, 1e15)) if count > 0 else 0)


def _band(value: float, last: float, edges: tuple[float, ...], slack: float) -> float:
    """The band a value is in: the last one, while the value is not past its edges by the slack."""
    if last == last:
        index = int(last)
        low = edges[index - 1] - slack if index > 0 else -math.inf
        high = edges[index] + slack if index < len(edges) else math.inf
        if low <= value < high:
            return last
    return float(bisect_right(edges, value))


TOOLS = {
    "nan": math.nan,
    "inf": math.inf,
    "_divide": _divide,
    "_least": _least,
    "_most": _most,
    "_clamp": _clamp,
    "_round": _round,
    "_abs": abs,
    "_band": _band,
    "_ticks": as_ticks,
    "_times": _times,
    "StepsExhausted": StepsExhausted,
    "Abandoned": Abandoned,
    "Finished": Finished,
    "Stuck": Stuck,
}
