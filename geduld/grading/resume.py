"""Grades a class with marks that were kept before: only what is missing is worked out."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from geduld.grading.cluster import grade_somewhere
from geduld.grading.exercise import Exercise
from geduld.grading.grade import Graded, HandIn, prepare
from geduld.grading.kept import KeptMarks
from geduld.grading.keys import check_keys, mark_key


def grade_with(
    kept: KeptMarks,
    exercise: Exercise,
    hand_ins: Sequence[HandIn],
    workers: int | None = None,
    scheduler: str = "",
    progress: Callable[[int, int], None] = lambda done, of: None,
) -> list[Graded]:
    """Every hand-in graded, in the order given. What is worked out is kept at once, but for what Geduld failed at.

    `progress` is told how many of the hand-ins that had to be graded are done. `workers` is as in `grade_each`;
    where `scheduler` names one, a cluster does it instead.
    """
    checks, keys = exercise.checks.checks, check_keys(exercise)
    tasks = []
    for hand_in in hand_ins:
        missing = [n for n in range(len(checks)) if kept.get(mark_key(keys[n], hand_in), hand_in.name) is None]
        if missing:
            tasks.append((hand_in, frozenset(missing)))
    progress(0, len(tasks))
    graded: Iterator[Graded] = iter(())
    if tasks:
        graded = grade_somewhere(prepare(exercise), tasks, workers, scheduler)
    failed = {}
    for done, ((hand_in, only), result) in enumerate(zip(tasks, graded, strict=True), 1):
        if result.failed:
            failed[hand_in.name] = result
        else:
            kept.add([(checks[n].title, mark_key(keys[n], hand_in)) for n in sorted(only)], result)
        progress(done, len(tasks))
    return [failed.get(hand_in.name) or _together(kept, keys, hand_in) for hand_in in hand_ins]


def _together(kept: KeptMarks, keys: list[str], hand_in: HandIn) -> Graded:
    """A hand-in's marks from all that is kept."""
    found = [kept.get(mark_key(key, hand_in), hand_in.name) for key in keys]
    problems = [item[0] for item in found if item]
    return Graded(
        hand_in.name, next(filter(None, problems), ""), tuple(mark for item in found if item for mark in item[1])
    )
