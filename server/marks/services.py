"""Grades what is new or stale, and gathers the mark sheet."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from django.db import transaction
from django.utils import timezone

from geduld.grading.folders import marks_csv
from geduld.grading.grade import ALL_CASES, Graded, grade_all
from geduld.grading.grade import HandIn as CoreHandIn
from geduld.grading.grade import Mark as CoreMark
from geduld.run.executor import ENGINE
from server.exercises.models import Exercise, HandIn
from server.exercises.services import core_exercise
from server.marks.models import Mark, Result
from server.shelf.services import core_trace, library_for


def exercise_hash(exercise: Exercise) -> str:
    """A hash of all that a mark is made from, but for the hand-in."""
    cases = [
        [case.name, core_trace(case.trace).fingerprint, case.limit_us]
        for case in exercise.cases.select_related("trace").defer("trace__data")
    ]
    libraries = [repr(parsed.tree) for parsed in library_for(exercise.rig).values()]
    source = [ENGINE, exercise.rig.source, exercise.reference, exercise.checks, exercise.over_cases, cases, libraries]
    return hashlib.sha256(json.dumps(source, sort_keys=True).encode()).hexdigest()


def result_hash(exercise: str, hand_in: HandIn) -> str:
    """A hash of all that a hand-in's marks are made from."""
    return hashlib.sha256(exercise.encode() + bytes(hand_in.data)).hexdigest()


def grade(exercise: Exercise) -> int:
    """Grades the hand-ins whose marks are missing or stale; says how many. All or nothing is saved."""
    base = exercise_hash(exercise)
    current = dict(Result.objects.filter(hand_in__exercise=exercise).values_list("hand_in_id", "made_from"))
    hand_ins = [h for h in exercise.hand_ins.all() if current.get(h.pk) != result_hash(base, h)]
    if not hand_ins:
        return 0
    graded = grade_all(core_exercise(exercise), [CoreHandIn(h.student, bytes(h.data)) for h in hand_ins])
    with transaction.atomic():
        Result.objects.filter(hand_in__in=hand_ins).delete()
        for hand_in, outcome in zip(hand_ins, graded, strict=True):
            _save(hand_in, outcome, result_hash(base, hand_in))
    return len(hand_ins)


def _save(hand_in: HandIn, outcome: Graded, made_from: str) -> None:
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


def sheet(exercise: Exercise) -> dict[str, Any]:
    """The mark sheet: a row a hand-in, with its marks by check, and whether they are stale."""
    base = exercise_hash(exercise)
    rows = []
    for hand_in in exercise.hand_ins.prefetch_related("result__marks"):
        result = getattr(hand_in, "result", None)
        marks = list(result.marks.all()) if result else []
        totals = [mark for mark in marks if mark.case == ALL_CASES]
        rows.append(
            {
                "hand_in": hand_in.pk,
                "student": hand_in.student,
                "graded": result is not None,
                "stale": result is not None and result.made_from != result_hash(base, hand_in),
                "problem": result.problem if result else "",
                "points": sum(mark.points for mark in totals),
                "of": sum(mark.of for mark in totals),
                "marks": [_mark(mark) for mark in marks],
            }
        )
    return {"exercise": exercise.pk, "title": exercise.title, "rows": rows}


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
