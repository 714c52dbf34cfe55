"""What a lane asks the executor for.

A lane yields a request: the op, the instant, and what the op does not know beforehand. A plain one is `(op, now)`; a
full one is `(op, now, guards, kept, values, amount, more)`, where None stands for what the op itself holds.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

SLEEP, AWAIT, TRAVEL, FOLLOW, RAMP, PASS, POLL, SIDE, OVER = range(9)
POWER, SPEED, BRAKE, COAST = range(4)

Request = tuple[Any, ...]
Kept = tuple[tuple[Any, Any], ...]


@dataclass(slots=True)
class Op:
    """One step that takes time, or that sets outputs.

    `ending` is SLEEP, AWAIT or TRAVEL. `amount` is a time in ticks, `(held, patience)` in ticks, or a way. `index`
    points at the condition, the travel or the loop. `fixed` are outputs with the clamped values they are set to, where
    those are known; `sets` the outputs whose values the request brings. `controls` and `rests` say how motors are
    controlled from the start and from the end on, for those where it matters. `follows` and `sampler` point at what
    outputs follow, for all samples at once and for one sample after another.
    """

    kind: int
    line: int
    ending: int = SLEEP
    index: int = -1
    amount: Any = None
    fixed: tuple[tuple[str, float], ...] = ()
    sets: tuple[str, ...] = ()
    stops: tuple[tuple[str, float], ...] = ()
    abandons: tuple[tuple[str, float], ...] = ()
    controls: tuple[tuple[str, int], ...] = ()
    rests: tuple[tuple[str, int], ...] = ()
    follows: tuple[int, ...] = ()
    sampler: int = -1
    lanes: tuple[str, ...] = ()


NOTHING = Op(OVER, 0)
# What it costs in steps to wake a lane; for each other one to look whether it goes on, or to ask what it reads now; and
# to search when it will go on.
WAKING, LOOKING, ASKING, SEARCHING = 50, 2, 20, 700


def full(request: Request) -> Request:
    """A request with all its places."""
    return (request[0], request[1], (), (), None, None, ()) if len(request) == 2 else request
