"""Checks whose names and dimensions are settled."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from geduld.binding import terms
from geduld.checks.conditions import Condition, condition
from geduld.checks.lengths import BoundLength
from geduld.checks.phases import BoundPhase
from geduld.language.messages import Hint


@dataclass(frozen=True)
class BoundCheck:
    """A check that can be judged.

    `conditions` are the truths of the sentence in its order (for `matches` two values), with their `words` as written.
    `times` are in ticks; `tolerance` is in base units. `bound`, `count`, `name` and `options` are as in
    `sheet.Sentence`, `over` and `private` as in `sheet.Check`; `fading` is the miss at which no points are left, and
    its unit; `whole` says that a part of the times is worth nothing. `length` and `phases` are those of sentences that
    have them.
    """

    title: str
    points: float
    kind: str
    conditions: tuple[terms.Term, ...]
    words: tuple[str, ...]
    times: tuple[int, ...]
    tolerance: float
    bound: str
    count: int
    name: str
    over: str
    private: bool
    fading: tuple[float, str] | None
    line: int
    options: tuple[str, ...] = ()
    length: BoundLength | None = None
    phases: tuple[BoundPhase, ...] = ()
    whole: bool = False

    @cached_property
    def looks(self) -> tuple[Condition, ...]:
        """The conditions, ready to be evaluated."""
        return tuple(map(condition, self.conditions))

    @property
    def asks_the_reference(self) -> bool:
        """Whether it needs the reference behaviour's run."""
        return any(look.asks_the_reference for look in self.looks)


@dataclass(frozen=True)
class BoundChecks:
    """All checks of a text, and every hint about it."""

    checks: tuple[BoundCheck, ...]
    hints: tuple[Hint, ...]
    thresholds: tuple[terms.Threshold, ...] = ()

    @property
    def good(self) -> bool:
        """Whether all checks can be judged."""
        return not any(hint.level == "error" for hint in self.hints)
