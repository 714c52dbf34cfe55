"""A check's condition ready to be evaluated over runs: worked out once, however often it is judged."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from geduld.binding import terms
from geduld.language.quantities import TEXT, TRUTH
from geduld.run.search.columns import Lookup, evaluator

LEAVES = (terms.Reading, terms.Output, terms.Pose, terms.Told, terms.Reference)
Evaluate = Callable[[Lookup], Any]


@dataclass(frozen=True, eq=False)
class Condition:
    """A term of a check.

    `leaves` is what it reads of a run; what stands inside a `reference` is the reference's and none of this run's.
    `comparisons` are those anywhere inside it, `elsewhere` what is asked of the floor or of the reference's run.
    `parts` are the conditions of a junction, or the one that is turned round. `sides` evaluates what else there is: the
    two sides of a comparison, or the truth as a whole. `unit` is that of the distance between a comparison's sides;
    None where there is no distance.

    `asks_the_reference` when it needs that run, `asks_others` that or the partner's.

    `of_readings` when it depends on sensors alone: then it is the same for all runs that see the same. `on_clock` when
    it changes while nothing that it reads does.
    """

    term: terms.Term
    leaves: tuple[terms.Term, ...]
    comparisons: tuple[terms.Compare, ...]
    elsewhere: tuple[terms.Term, ...]
    parts: tuple[Condition, ...]
    sides: tuple[Evaluate, ...]
    unit: str | None
    of_readings: bool
    on_clock: bool
    asks_the_reference: bool
    asks_others: bool

    def __reduce__(self) -> tuple[Any, ...]:
        return condition, (self.term,)


@lru_cache(maxsize=4_096)
def condition(term: terms.Term) -> Condition:
    """The condition of a term: the same one for all terms that are equal."""
    items = term.walk()
    inside = {id(item.inner) for item in items if isinstance(item, terms.Reference)}
    leaves = dict.fromkeys(item for item in items if isinstance(item, LEAVES) and id(item) not in inside)
    return Condition(
        term,
        tuple(leaves),
        tuple(item for item in items if isinstance(item, terms.Compare)),
        tuple(item for item in items if isinstance(item, terms.Pose | terms.Told | terms.Reference)),
        tuple(map(condition, _parts(term))),
        tuple(map(evaluator, _sides(term))),
        _unit(term),
        of_readings=all(isinstance(leaf, terms.Reading) for leaf in leaves),
        on_clock=any(isinstance(item, terms.Clock) for item in items),
        asks_the_reference=any(isinstance(i, terms.Reference) and i.whose == "reference" for i in items),
        asks_others=bool(inside),
    )


def _parts(term: terms.Term) -> tuple[terms.Term, ...]:
    if isinstance(term, terms.Opposite):
        return (term.value,)
    return (term.left, term.right) if isinstance(term, terms.Junction) else ()


def _sides(term: terms.Term) -> tuple[terms.Term, ...]:
    if isinstance(term, terms.Compare):
        return term.left, term.right
    return () if isinstance(term, terms.Opposite | terms.Junction) else (term,)


def _unit(term: terms.Term) -> str | None:
    if not isinstance(term, terms.Compare) or term.left.dimension in (TRUTH, TEXT):
        return None
    return term.left.dimension.unit
