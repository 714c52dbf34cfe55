"""What a lane asks of whoever drives it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, NamedTuple

SLEEP, AWAIT, TRAVEL, FOLLOW, RAMP, PASS, POLL, SIDE, OVER, CALLED = range(10)
POWER, SPEED, BRAKE, COAST = range(4)

Kept = tuple[tuple[Any, Any], ...]
"""Values that a condition reads beside the world: a variable's index or an encoder's name, and what it is now."""
Asked = tuple[Any, ...]
"""What a lane yields: `(op, now)` where the op knows all, else all places of a Request. It is a plain tuple, because
most waits are over before more than these two has been looked at."""


@dataclass(slots=True)
class Op:
    """One step that takes time, or that sets outputs.

    `ending` is SLEEP, AWAIT or TRAVEL. `amount` is a time in ticks, `(held, patience)` in ticks, or a way. `index`
    points at the condition, the travel or the loop. `fixed` are outputs with the clamped values they are set to, where
    those are known; `sets` the outputs whose values the request brings. `controls` and `rests` say how motors are
    controlled from the start and from the end on, for those where it matters. `follows` and `sampler` point at what
    outputs follow, for all samples at once and for one sample after another. `onwards` when a ramp's values count from
    where its output is told to be.
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
    onwards: bool = False
    sampler: int = -1
    lanes: tuple[str, ...] = ()


NOTHING = Op(OVER, 0)
UNTIL_CALLED = Op(CALLED, 0)  # ends when an interrupt has been performed
# What it costs in steps to wake a lane; for each other one to look whether it goes on, or to ask what it reads now; and
# to search when it will go on.
WAKING, LOOKING, ASKING, SEARCHING = 50, 2, 20, 700


class Request(NamedTuple):
    """A step that takes time: the op, the instant at which it begins, and what the op does not know beforehand.

    `guards` are those around it, the outermost first: number, condition, and what that keeps. `kept` is what its own
    condition keeps, `values` are what it sets outputs to, `amount` is its time, `(held, patience)` or way where these
    are worked out, and the lanes of a side by side; `followed` is what the values keep that its outputs follow.
    """

    op: Op
    now: int
    guards: tuple[tuple[int, int, Kept], ...] = ()
    kept: Kept = ()
    values: Any = None
    amount: Any = None
    followed: Kept = ()

    @property
    def measure(self) -> Any:
        """Its time, `(held, patience)` or way, whoever knows it."""
        return self.op.amount if self.amount is None else self.amount
