"""Grades what is new or stale, and gathers the mark sheet."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from geduld.grading.cluster import grade_somewhere
from geduld.grading.folders import marks_csv
from geduld.grading.grade import ALL_CASES, Graded, prepare
from geduld.grading.grade import HandIn as CoreHandIn
from geduld.grading.grade import Mark as CoreMark
from geduld.grading.points import counted
from geduld.grading.proofreading import prove as core_prove
from geduld.grading.roster import Result as RosterResult
from geduld.grading.roster import results_csv
from geduld.run.base import ENGINE
from server.config.jobs import status
from server.exercises.models import Exercise, HandIn
from server.exercises.services import core_exercise
from server.marks.models import Change, Mark, Proof, Result
from server.shelf.services import core_trace, library_for


def exercise_hash(exercise: Exercise) -> str:
    """A hash of all that a mark is made from, but for the hand-in."""
    cases = [
        [
            case.name,
            core_trace(case.trace).fingerprint if case.trace else case.floor.source,
            *(case.follow, case.start, case.inputs, case.seed, case.limit_us),
        ]
        for case in exercise.cases.select_related("trace", "floor").defer("trace__data")
    ]
    libraries = [repr(parsed.tree) for parsed in library_for(exercise.rig).values()]
    source = [ENGINE, exercise.rig.source, exercise.reference, exercise.checks, exercise.over_cases, cases, libraries]
    return hashlib.sha256(json.dumps(source, sort_keys=True).encode()).hexdigest()


def result_hash(exercise: str, hand_in: HandIn) -> str:
    """A hash of all that a hand-in's marks are made from."""
    return hashlib.sha256(f"{exercise} {hand_in.recorded} ".encode() + bytes(hand_in.data)).hexdigest()


def grade(exercise: Exercise, progress: Callable[[int, int], None] = lambda done, of: None) -> None:
    """Grades the hand-ins whose marks are missing or stale. Each hand-in's marks are saved as a whole when they come.

    `progress` is told how many of how many are done.
    """
    base = exercise_hash(exercise)
    current = dict(Result.objects.filter(hand_in__exercise=exercise).values_list("hand_in_id", "made_from"))
    hand_ins = [h for h in exercise.hand_ins.all() if current.get(h.pk) != result_hash(base, h)]
    progress(0, len(hand_ins))
    if not hand_ins:
        return
    tasks = [(CoreHandIn(h.student, bytes(h.data), h.recorded), None) for h in hand_ins]
    graded = grade_somewhere(prepare(core_exercise(exercise)), tasks, scheduler=settings.GRADING_SCHEDULER)
    for done, (hand_in, outcome) in enumerate(zip(hand_ins, graded, strict=True), 1):
        _save(hand_in, outcome, result_hash(base, hand_in))
        progress(done, len(hand_ins))


@transaction.atomic
def _save(hand_in: HandIn, outcome: Graded, made_from: str) -> None:
    before = Result.objects.filter(hand_in=hand_in).first()
    if before is not None:
        _keep_changes(hand_in, before, outcome)
        before.delete()
    result = Result.objects.create(hand_in=hand_in, made_from=made_from, problem=outcome.problem, graded=timezone.now())
    Mark.objects.bulk_create(
        Mark(
            result=result,
            check_title=mark.check[:200],
            case=mark.case,
            verdict=mark.verdict,
            points=mark.points,
            of=mark.of,
            margin=mark.margin,
            unit=mark.unit,
            at=mark.at,
            because=mark.because,
        )
        for mark in outcome.marks
    )


def _keep_changes(hand_in: HandIn, before: Result, outcome: Graded) -> None:
    """Keeps the marks that are others now, as they were."""
    now = {mark.check: (mark.verdict, mark.points) for mark in outcome.totals}
    Change.objects.bulk_create(
        Change(
            hand_in=hand_in,
            check_title=mark.check_title,
            verdict=mark.verdict,
            points=mark.points,
            because=mark.because,
            graded=before.graded,
        )
        for mark in before.marks.filter(case=ALL_CASES)
        if now.get(mark.check_title) != (mark.verdict, mark.points)
    )


def history(hand_in: HandIn) -> list[dict[str, Any]]:
    """All that a hand-in's marks were before, and what the teacher gave, the newest first."""
    rows = [
        {"check": item.check_title, "points": item.points, "reason": item.reason, "made": item.made, "by": "teacher"}
        for item in hand_in.overrides.all()
    ]
    rows += [
        {"check": item.check_title, "points": item.points, "reason": item.because, "made": item.graded, "by": "geduld"}
        for item in hand_in.changes.all()
    ]
    return sorted(rows, key=lambda row: row["made"], reverse=True)


def sheet(exercise: Exercise) -> dict[str, Any]:
    """The mark sheet: a row a hand-in, with its marks by check, and whether they are stale."""
    job = status(f"grade {exercise.pk}")
    base = exercise_hash(exercise)
    rows = []
    for hand_in in exercise.hand_ins.prefetch_related("result__marks", "overrides"):
        given = given_points(hand_in)
        result = getattr(hand_in, "result", None)
        marks = list(result.marks.all()) if result else []
        totals = [mark for mark in marks if mark.case == ALL_CASES]
        earned = sum(given.get(mark.check_title, mark.points) for mark in totals)
        points = counted(earned, hand_in.received, exercise.rules)
        rows.append(
            {
                "hand_in": hand_in.pk,
                "student": hand_in.student,
                "graded": result is not None,
                "stale": result is not None and result.made_from != result_hash(base, hand_in),
                "problem": result.problem if result else "",
                "received": hand_in.received,
                "earned": earned,
                "points": points.counting,
                "late_days": points.late_days,
                "because": points.because,
                "of": sum(mark.of for mark in totals),
                "marks": [_mark(mark) for mark in marks],
                "given": given,
            }
        )
    return {"exercise": exercise.pk, "title": exercise.title, "rows": rows, "job": job}


def prove(exercise: Exercise, progress: Callable[[int, int], None] = lambda done, of: None) -> None:
    """Proofreads an exercise and keeps what was found."""
    base = exercise_hash(exercise)
    found = core_prove(core_exercise(exercise), progress).as_json()
    values = {"made_from": base, "found": found, "made": timezone.now()}
    Proof.objects.update_or_create(exercise=exercise, defaults=values)


def proof(exercise: Exercise) -> dict[str, Any]:
    """What was found last, whether the exercise has changed since, and the work that is going on."""
    job = status(f"prove {exercise.pk}")
    kept = Proof.objects.filter(exercise=exercise).first()
    return {
        "found": kept.found if kept else None,
        "stale": kept is not None and kept.made_from != exercise_hash(exercise),
        "job": job,
    }


def given_points(hand_in: HandIn) -> dict[str, float]:
    """The points that the teacher gave in place of Geduld's, by check: the newest counts."""
    newest: dict[str, float | None] = {}
    for item in hand_in.overrides.all():
        newest.setdefault(item.check_title, item.points)
    return {title: points for title, points in newest.items() if points is not None}


def roster_csv(exercise: Exercise) -> str:
    """The points that count for a school's register: a row a graded hand-in."""
    graded = dict(Result.objects.filter(hand_in__exercise=exercise).values_list("hand_in_id", "graded"))
    return results_csv(
        RosterResult(
            identity=f"geduld-{exercise.pk}-{row['hand_in']}",
            line_item=f"geduld-exercise-{exercise.pk}",
            student=row["student"],
            points=row["points"],
            graded=graded[row["hand_in"]],
            comment=row["problem"] or row["because"],
        )
        for row in sheet(exercise)["rows"]
        if row["graded"]
    )


def _mark(mark: Mark) -> dict[str, Any]:
    names = ("case", "verdict", "points", "of", "margin", "unit", "at", "because")
    return {"check": mark.check_title, **{name: getattr(mark, name) for name in names}}


def sheet_csv(exercise: Exercise) -> str:
    """All marks as a marks CSV."""
    graded = []
    for result in (
        Result.objects.filter(hand_in__exercise=exercise).order_by("hand_in__student").select_related("hand_in")
    ):
        name = result.hand_in.student
        marks = tuple(
            CoreMark(name, m.check_title, m.case, m.verdict, m.points, m.of, m.margin, m.unit, m.at, m.because)
            for m in result.marks.all()
        )
        graded.append(Graded(name, result.problem, marks))
    return marks_csv(graded)
