"""Grades hand-ins: each one alone, so that a broken one costs only its own mark."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from statistics import fmean

from geduld.checks.binder import BoundCheck
from geduld.checks.judge import judge_all
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, PART, PASS, Verdict
from geduld.errors import ProgramError
from geduld.grading.exercise import Exercise, runner_for
from geduld.run.record import Record

log = logging.getLogger(__name__)
ALL_CASES = "all"


@dataclass(frozen=True)
class HandIn:
    """One student's program, as it was handed in."""

    name: str
    data: bytes


@dataclass(frozen=True)
class Mark:
    """One check in one case, or in `all` cases together. `at` is in seconds, None where nothing failed."""

    hand_in: str
    check: str
    case: str
    verdict: str
    points: float
    of: float
    margin: float | None
    unit: str
    at: float | None
    because: str


@dataclass(frozen=True)
class Graded:
    """A hand-in's marks. `problem` says why it could not be tried, and is empty when it could."""

    name: str
    problem: str
    marks: tuple[Mark, ...]

    @property
    def totals(self) -> list[Mark]:
        """The marks over all cases, one for each check."""
        return [mark for mark in self.marks if mark.case == ALL_CASES]

    @property
    def points(self) -> float:
        """All points together."""
        return sum(mark.points for mark in self.totals)


@dataclass(frozen=True)
class Prepared:
    """An exercise with the reference's own verdicts: `exercised[case][check]` says what can be tested."""

    exercise: Exercise
    exercised: tuple[tuple[bool, ...], ...]


def prepare(exercise: Exercise) -> Prepared:
    """Runs the reference in every case, to know which checks its cases exercise."""
    runner = runner_for(exercise.reference, exercise.rig, exercise.library)
    table = []
    for case in exercise.cases:
        verdicts = judge_all(exercise.checks.checks, runner.run(case.trace, case.limit_us))
        table.append(tuple(verdict.verdict != NOT_EXERCISED for verdict in verdicts))
    return Prepared(exercise, tuple(table))


def grade_all(
    exercise: Exercise,
    hand_ins: Sequence[HandIn],
    workers: int = 1,
    progress: Callable[[int], None] = lambda done: None,
) -> list[Graded]:
    """Every hand-in graded, in the order given; `progress` is told how many are done."""
    prepared = prepare(exercise)
    graded = []
    for result in _graded(prepared, hand_ins, workers):
        graded.append(result)
        progress(len(graded))
    return graded


def _graded(prepared: Prepared, hand_ins: Iterable[HandIn], workers: int) -> Iterator[Graded]:
    if workers <= 1:
        yield from (grade_one(prepared, hand_in) for hand_in in hand_ins)
        return
    # The exercise, traces and all, goes to each process once and not with every hand-in.
    with ProcessPoolExecutor(workers, initializer=_remember, initargs=(prepared,)) as pool:
        yield from pool.map(_grade_remembered, hand_ins)


_remembered: list[Prepared] = []


def _remember(prepared: Prepared) -> None:
    _remembered[:] = [prepared]


def _grade_remembered(hand_in: HandIn) -> Graded:
    return grade_one(_remembered[0], hand_in)


def grade_one(prepared: Prepared, hand_in: HandIn) -> Graded:
    """One hand-in graded. Never raises on any program: a problem becomes its marks' sentence."""
    try:
        return _grade(prepared, hand_in)
    except ProgramError as problem:
        return _without_run(prepared.exercise, hand_in, f"The program has errors. {problem}")
    except Exception:  # a fault of ours must not cost the other hand-ins their marks
        log.exception("hand-in %s could not be graded", hand_in.name)
        return _without_run(prepared.exercise, hand_in, "Geduld could not grade this program; please report it.")


def _grade(prepared: Prepared, hand_in: HandIn) -> Graded:
    exercise = prepared.exercise
    runner = runner_for(hand_in.data, exercise.rig, exercise.library)
    by_case: list[list[Verdict]] = []
    for case in exercise.cases:
        record = runner.run(case.trace, case.limit_us)
        if record.hit_limit:
            return _without_run(exercise, hand_in, f'Case "{case.name}": {_limit_text(record)}')
        by_case.append(judge_all(exercise.checks.checks, record))
    marks: list[Mark] = []
    for index, check in enumerate(exercise.checks.checks):
        verdicts = [verdicts[index] for verdicts in by_case]
        marks += [
            _mark(hand_in.name, check, case.name, verdict)
            for case, verdict in zip(exercise.cases, verdicts, strict=True)
        ]
        counted = [exercised[index] for exercised in prepared.exercised]
        marks.append(_together(hand_in.name, check, exercise, verdicts, counted))
    return Graded(hand_in.name, "", tuple(marks))


def _limit_text(record: Record) -> str:
    return next(event.text for event in reversed(record.events) if event.kind == "limit")


def _mark(name: str, check: BoundCheck, case: str, verdict: Verdict) -> Mark:
    at = None if verdict.at is None else verdict.at / 1e6
    return Mark(
        name, check.title, case, verdict.verdict, verdict.points, verdict.of, verdict.margin, verdict.unit, at,
        verdict.because,
    )  # fmt: skip


def _together(name: str, check: BoundCheck, exercise: Exercise, verdicts: list[Verdict], exercised: list[bool]) -> Mark:
    """A check over all cases.

    A case counts when the reference exercises the check there, or the hand-in does. So a program cannot
    dodge a check by never doing the thing, and a case that cannot test a check costs nobody points.
    """
    pairs = [
        (case.name, verdict)
        for case, verdict, counts in zip(exercise.cases, verdicts, exercised, strict=True)
        if counts or verdict.verdict != NOT_EXERCISED
    ]
    if not pairs:
        return Mark(
            name, check.title, ALL_CASES, NOT_EXERCISED, 0.0, check.points, None, "", None, "No case tests this."
        )
    points = [verdict.points for _, verdict in pairs]
    total = min(points) if exercise.over_cases == "least" else fmean(points)
    case, worst = min(pairs, key=lambda pair: _ORDER.index(pair[1].verdict))
    at = None if worst.at is None else worst.at / 1e6
    because = worst.because if len(pairs) == 1 else f"{case}: {worst.because}"
    verdict = worst.verdict if len({v.verdict for _, v in pairs}) == 1 else _mixed([v for _, v in pairs])
    return Mark(
        name, check.title, ALL_CASES, verdict, round(total, 6), check.points, worst.margin, worst.unit, at, because
    )


_ORDER = (FAIL, PART, NOT_CERTAIN, NOT_EXERCISED, PASS)


def _mixed(verdicts: list[Verdict]) -> str:
    found = {verdict.verdict for verdict in verdicts}
    if found & {FAIL, PART}:
        return PART if found & {PASS, PART} else FAIL
    return NOT_CERTAIN if NOT_CERTAIN in found else NOT_EXERCISED


def _without_run(exercise: Exercise, hand_in: HandIn, because: str) -> Graded:
    cases = [*(case.name for case in exercise.cases), ALL_CASES]
    marks = [
        Mark(hand_in.name, check.title, case, FAIL, 0.0, check.points, None, "", None, because)
        for check in exercise.checks.checks
        for case in cases
    ]
    return Graded(hand_in.name, because, tuple(marks))
