"""Grades hand-ins: each one alone, so that a broken one costs only its own mark."""

from __future__ import annotations

import logging
import math
import os
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from statistics import fmean

from geduld.checks.bound import BoundCheck
from geduld.checks.judge import facts_asked, judge_all
from geduld.checks.patterns import PATTERNS
from geduld.checks.verdicts import FAIL, NOT_CERTAIN, NOT_EXERCISED, PART, PASS, Verdict
from geduld.errors import ProgramError, TraceError
from geduld.grading.apart import NoTime, TookTooLong, outcomes
from geduld.grading.devices import with_handed_in
from geduld.grading.exercise import Exercise
from geduld.language.nodes import node
from geduld.readers.notation import good_program
from geduld.readers.reading import NOTATION, good_program_in, things_not_read, was_not_read
from geduld.run.record.record import Record, recorded
from geduld.run.runner import Runner
from geduld.run.world import TraceWorld, TravelWorld
from geduld.worlds.recording import trace_from

log = logging.getLogger(__name__)
ALL_CASES = "all"
RECORDING = "recording"
NOT_GRADED = "not graded"
NOT_READ = "not read"
MOST_SECONDS = 120


@dataclass(frozen=True)
class HandIn:
    """One student's program, as it was handed in; where it is `recorded`, a real robot's run as a trace CSV.

    `language` is what the program is written in, by the ending of its file.
    """

    name: str
    data: bytes
    recorded: bool = False
    language: str = NOTATION


@node
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
    """A hand-in's marks. `problem` says why it could not be tried, and is empty when it could.

    `unread` is each thing in its program that Geduld does not read. `failed` when that is Geduld's own fault and not
    the program's: then it is not graded, and is to be graded again.
    """

    name: str
    problem: str
    marks: tuple[Mark, ...]
    failed: bool = False
    unread: tuple[str, ...] = ()

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
    """An exercise with the reference's own verdicts: `exercised[case][check]` says what can be tested.

    `references` are the reference's runs, where a check asks for them.
    """

    exercise: Exercise
    exercised: tuple[tuple[bool, ...], ...]
    references: tuple[Record | None, ...]


def prepare(exercise: Exercise) -> Prepared:
    """Runs the reference in every case, to know which checks its cases exercise."""
    program = good_program(exercise.reference, exercise.rig, exercise.library)
    runner, facts = Runner(program), facts_asked(exercise.checks.checks, program)
    asked = any(check.asks_the_reference for check in exercise.checks.checks)
    table, references = [], []
    for case in exercise.cases:
        record = case.world.run(runner)[0]
        verdicts = judge_all(exercise.checks.checks, record, record, facts)
        table.append(tuple(verdict.verdict != NOT_EXERCISED for verdict in verdicts))
        references.append(record.written() if asked else None)
    return Prepared(exercise, tuple(table), tuple(references))


def grade_all(
    exercise: Exercise,
    hand_ins: Sequence[HandIn],
    workers: int | None = None,
    progress: Callable[[int], None] = lambda done: None,
) -> list[Graded]:
    """Every hand-in graded, in the order given.

    `progress` is told how many are done. `workers` is as in `grade_each`.
    """
    graded = []
    for result in grade_each(prepare(exercise), [(hand_in, None) for hand_in in hand_ins], workers):
        graded.append(result)
        progress(len(graded))
    return graded


Only = frozenset[int] | None


def grade_each(
    prepared: Prepared, tasks: Sequence[tuple[HandIn, Only]], workers: int | None = None
) -> Iterator[Graded]:
    """Hand-ins graded one after another, each for the checks with these numbers, or for all.

    `workers` are the processes to grade in, where each hand-in has MOST_SECONDS; 0 is this very process. None takes as
    many as the machine has, where the work is worth it.
    """
    if workers is None:
        workers = (os.cpu_count() or 1) if _work(prepared.exercise, len(tasks)) > WORTH_A_POOL else 0
    if workers == 0:
        yield from (grade_one(prepared, hand_in, only) for hand_in, only in tasks)
        return
    # The exercise, traces and all, goes to each process once and not with every hand-in.
    found = outcomes(_grade_remembered, tasks, workers, MOST_SECONDS, _remember, (prepared,), (__name__,))
    for (hand_in, only), graded in zip(tasks, found, strict=True):
        if isinstance(graded, TookTooLong):  # it would again: that is its mark
            said = f"The program was stopped after {MOST_SECONDS} s of work."
            graded = _without_run(prepared, hand_in, said, _numbers(prepared, only))
        yield _failed(prepared, hand_in, only, _why(graded)) if isinstance(graded, Exception) else graded


def _why(problem: Exception) -> str:
    if isinstance(problem, NoTime):
        return "the machine had too much to do. Grade the class once more."
    return "the process that graded it died."


# So many samples take about a second: starting processes costs a good part of that.
WORTH_A_POOL = 4_000_000
_FLOOR_SAMPLES = 30_000


def _work(exercise: Exercise, hand_ins: int) -> int:
    """About how many samples are looked at."""
    samples = 0
    for case in exercise.cases:
        samples += case.world.trace.samples if isinstance(case.world, TraceWorld | TravelWorld) else _FLOOR_SAMPLES
    return samples * hand_ins


_remembered: list[Prepared] = []


def _remember(prepared: Prepared) -> None:
    _remembered[:] = [prepared]


def _grade_remembered(task: tuple[HandIn, Only]) -> Graded:
    return grade_one(_remembered[0], *task)


def grade_one(prepared: Prepared, hand_in: HandIn, only: Only = None) -> Graded:
    """One hand-in graded, for the checks with these numbers, or for all.

    Never raises on any program: a problem becomes its marks' sentence.
    """
    numbers = _numbers(prepared, only)
    try:
        return (_grade_recording if hand_in.recorded else _grade)(prepared, hand_in, numbers)
    except TraceError as problem:
        return _without_run(prepared, hand_in, f"The recording cannot be read. {problem}", numbers)
    except ProgramError as problem:
        if was_not_read(problem):
            said = f"Geduld could not read this program, which says nothing about whether it is right. {problem}"
            return replace(_without_run(prepared, hand_in, said, numbers, NOT_READ), unread=things_not_read(problem))
        return _without_run(prepared, hand_in, f"The program has errors. {problem}", numbers)
    except MemoryError:
        said = "The program needs more memory than a run may have, so it was stopped."
        return _without_run(prepared, hand_in, said, numbers)
    except Exception:  # a fault of ours costs no marks: neither this hand-in's nor the others'
        log.exception("hand-in %s could not be graded", hand_in.name)
        return _failed(prepared, hand_in, only, "an error in Geduld itself; please report it.")


def _numbers(prepared: Prepared, only: Only) -> list[int]:
    return sorted(range(len(prepared.exercise.checks.checks)) if only is None else only)


def _failed(prepared: Prepared, hand_in: HandIn, only: Only, why: str) -> Graded:
    """A hand-in that Geduld failed at: its marks say so, and it counts as not graded."""
    graded = _without_run(prepared, hand_in, f"Geduld failed here: {why}", _numbers(prepared, only), NOT_GRADED)
    return replace(graded, failed=True)


def _grade(prepared: Prepared, hand_in: HandIn, numbers: list[int]) -> Graded:
    exercise = prepared.exercise
    checks = [exercise.checks.checks[number] for number in numbers]
    program = good_program_in(hand_in.data, exercise.rig, hand_in.language, exercise.library, exercise.words)
    runner, facts = Runner(program), facts_asked(exercise.checks.checks, program)
    by_case: list[list[Verdict]] = []
    text = hand_in.data.decode("utf-8", "replace") if hand_in.language == NOTATION else ""
    for case, reference in zip(exercise.cases, prepared.references, strict=True):
        record = with_handed_in(case.world, text).run(runner)[0]
        if record.hit_limit:
            return _without_run(prepared, hand_in, f'Case "{case.name}": {_limit_text(record)}', numbers)
        by_case.append(judge_all(checks, record, reference, facts))
    marks: list[Mark] = []
    for index, check in enumerate(checks):
        verdicts = [verdicts[index] for verdicts in by_case]
        marks += [
            _mark(hand_in.name, check, case.name, verdict)
            for case, verdict in zip(exercise.cases, verdicts, strict=True)
        ]
        counted = [exercised[numbers[index]] for exercised in prepared.exercised]
        marks.append(_together(hand_in.name, check, exercise, verdicts, counted))
    return Graded(hand_in.name, "", tuple(marks))


def _grade_recording(prepared: Prepared, hand_in: HandIn, numbers: list[int]) -> Graded:
    """Judges what a real robot did: the motor channels of its recording are its commands. It was in no case."""
    exercise = prepared.exercise
    record = recorded(trace_from(hand_in.data, exercise.rig), exercise.rig)
    marks: list[Mark] = []
    for number in numbers:
        check = exercise.checks.checks[number]
        verdict = judge_all([check], record)[0]
        worth = _worth(check, exercise, [exercised[number] for exercised in prepared.exercised])
        whole = replace(verdict, points=verdict.points * worth / check.points if check.points else 0.0, of=worth)
        marks += [_mark(hand_in.name, check, RECORDING, verdict), _mark(hand_in.name, check, ALL_CASES, whole)]
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
    dodge a check by never doing the thing, and a case that cannot test a check costs nobody points. `mean` and
    `least` over cases are worth the check's points once; `each` in every case in which the reference exercises it. What
    a case's end leaves open counts for nothing where other cases decided.
    """
    over = check.over or exercise.over_cases
    pairs = [
        (case.name, verdict)
        for case, verdict, counts in zip(exercise.cases, verdicts, exercised, strict=True)
        if counts or (over != "each" and verdict.verdict != NOT_EXERCISED)
    ]
    decided = [pair for pair in pairs if not pair[1].left_open] or pairs
    more = len(pairs) / len(decided) if pairs else 1.0  # what was left open counts as the cases that decided
    pairs = decided
    of = _worth(check, exercise, exercised)
    if not pairs:
        return Mark(name, check.title, ALL_CASES, NOT_EXERCISED, 0.0, of, None, "", None, "No case tests this.")
    points = [verdict.points for _, verdict in pairs]
    total = min(points) if over == "least" else sum(points) * more if over == "each" else fmean(points)
    case, worst = min(pairs, key=lambda pair: _badness(pair[1]))
    at = None if worst.at is None else worst.at / 1e6
    same_everywhere = len(pairs) == 1 or PATTERNS[check.kind].about_program
    because = worst.because if same_everywhere else f"{case}: {worst.because}"
    verdict = worst.verdict if len({v.verdict for _, v in pairs}) == 1 else _mixed([v for _, v in pairs])
    return Mark(name, check.title, ALL_CASES, verdict, round(total, 6), of, worst.margin, worst.unit, at, because)


def _worth(check: BoundCheck, exercise: Exercise, exercised: list[bool]) -> float:
    """What a check is worth over all cases, the same for every hand-in."""
    each = (check.over or exercise.over_cases) == "each"
    return check.points * max(1, sum(exercised)) if each else check.points


_ORDER = (FAIL, PART, NOT_CERTAIN, NOT_EXERCISED, PASS)


def _badness(verdict: Verdict) -> tuple[int, float]:
    """Sorts the worst verdict first: the one that tells most about a check over all cases."""
    return _ORDER.index(verdict.verdict), math.inf if verdict.margin is None else verdict.margin


def _mixed(verdicts: list[Verdict]) -> str:
    found = {verdict.verdict for verdict in verdicts}
    if found & {FAIL, PART}:
        return PART if found & {PASS, PART} else FAIL
    return NOT_CERTAIN if NOT_CERTAIN in found else NOT_EXERCISED


def _without_run(prepared: Prepared, hand_in: HandIn, because: str, numbers: list[int], verdict: str = FAIL) -> Graded:
    exercise = prepared.exercise
    marks = []
    for number in numbers:
        check = exercise.checks.checks[number]
        worth = _worth(check, exercise, [exercised[number] for exercised in prepared.exercised])
        cases = [*((case.name, check.points) for case in exercise.cases), (ALL_CASES, worth)]
        marks += [
            Mark(hand_in.name, check.title, case, verdict, 0.0, of, None, "", None, because) for case, of in cases
        ]
    return Graded(hand_in.name, because, tuple(marks))
