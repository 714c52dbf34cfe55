"""What a student is told of a try, worked out in a process of its own: public checks alone, and no reference."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from geduld.checks.verdicts import FAIL, PASS
from geduld.grading.devices import with_handed_in
from geduld.grading.grade import ALL_CASES, Graded, Mark, Prepared, grade_one, prepare
from geduld.grading.grade import HandIn as CoreHandIn
from geduld.readers.reading import NOTATION, read_program
from geduld.run.record.record import Record
from geduld.run.runner import Runner
from geduld.understood.understood import understood
from geduld.worlds.trace import Trace
from server.exercises.models import Exercise, digest_of
from server.exercises.services import core_exercise
from server.marks.work import exercise_hash, result_hash
from server.shelf.lanes import lanes
from server.shelf.latest import Latest
from server.shelf.runs import run_json

MOST_LINES, COLUMNS = 200, 300
_prepared: Latest[Prepared] = Latest(8)


@dataclass(frozen=True)
class Looked:
    """What came of a try: the outcome for the teacher's sheet, and what the student is told."""

    outcome: Graded
    made_from: str
    feedback: dict[str, Any]


def look_at(exercise: int, name: str, data: bytes, language: str) -> Looked:
    """A try graded by all checks, and told by the public ones."""
    found = Exercise.objects.select_related("rig").get(pk=exercise)
    base = exercise_hash(found)
    prepared = _prepared.get(base, lambda: prepare(core_exercise(found)))
    core = prepared.exercise
    outcome = grade_one(prepared, CoreHandIn(name, data, False, language))
    text = data.decode("utf-8", "replace")
    program = read_program(text, core.rig, language, core.library, core.words)
    public = {check.title for check in core.checks.checks if not check.private}
    secret = {check.title for check in core.checks.checks if check.asks_the_reference}
    totals = [mark for mark in outcome.totals if mark.check in public and not outcome.failed]
    feedback: dict[str, Any] = {
        "problem": outcome.problem,
        "hints": [hint.as_json() for hint in program.hints[:MOST_LINES]],
        "understood": [vars(line) for line in understood(program)[:MOST_LINES]] if language != NOTATION else [],
        "checks": [_told(mark, outcome, mark.check in secret) for mark in totals],
        "picture": None,
    }
    if program.good and not outcome.problem:
        feedback["picture"] = _picture(
            prepared, Runner(program), text if language == NOTATION else "", outcome, public - secret
        )
    return Looked(outcome, result_hash(base, digest_of(False, data, language)), feedback)


def _told(mark: Mark, outcome: Graded, secret: bool) -> dict[str, Any]:
    """A public check as the student is told of it. One that looks at the reference says only how it went."""
    worst = _failing(outcome, mark.check) or mark
    told = {"check": mark.check, "verdict": mark.verdict, "points": mark.points, "of": mark.of}
    if secret:
        return {**told, "case": "", "margin": None, "unit": "", "at": None, "because": ""}
    case = "" if worst.case == ALL_CASES else worst.case
    return {**told, "case": case, "margin": worst.margin, "unit": worst.unit, "at": worst.at, "because": worst.because}


def _failing(outcome: Graded, check: str) -> Mark | None:
    of_check = [mark for mark in outcome.marks if mark.check == check and mark.case != ALL_CASES]
    return next((mark for mark in of_check if mark.verdict == FAIL), None)


def _picture(
    prepared: Prepared, runner: Runner, text: str, outcome: Graded, open_ones: set[str]
) -> dict[str, Any] | None:
    """The run in the case where the first of these checks failed, at that moment; else in the first case."""
    of_cases = [mark for mark in outcome.marks if mark.check in open_ones and mark.case != ALL_CASES]
    mark = next((mark for mark in of_cases if mark.verdict != PASS and mark.at is not None), None)
    cases = {case.name: case for case in prepared.exercise.cases}
    case = cases.get(mark.case) if mark else next(iter(cases.values()), None)
    if case is None:
        return None
    record, seen = with_handed_in(case.world, text).run(runner)
    return {
        "case": case.name,
        "at": mark.at if mark else None,
        "run": _drawn(record, seen, prepared),
        "units": {name: part.unit_word for name, part in prepared.exercise.rig.channels.items()},
        "floor": dict(record.pose.floor) if record.pose is not None else None,
    }


def _drawn(record: Record, seen: Trace, prepared: Prepared) -> dict[str, Any]:
    stretch = (0, record.lasted, COLUMNS)
    run = run_json(record, prepared.exercise.rig, stretch)
    run["readings"] = lanes(seen, prepared.exercise.rig, *stretch)
    return run
