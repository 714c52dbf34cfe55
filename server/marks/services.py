"""Grades what is new or stale, and gathers the mark sheet."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from geduld.grading.exercise import checks_for
from geduld.grading.folders import marks_csv
from geduld.grading.grade import ALL_CASES, Graded
from geduld.grading.grade import Mark as CoreMark
from geduld.grading.points import counted
from geduld.grading.roster import Result as RosterResult
from geduld.grading.roster import results_csv
from server.config.apart import stream
from server.exercises.models import Exercise, HandIn, partner_rig
from server.marks.jobs import Going, Work, status
from server.marks.models import Change, Mark, Proof, Result
from server.marks.work import exercise_hash, graded, proved, result_hash
from server.shelf.services import core_rig


def grade(exercise: int, going: Going) -> None:
    """Grades the hand-ins whose marks are missing or stale. Each hand-in's marks are saved as a whole when they come.

    What has changed in the meantime is graded as well, so that at the end nothing is stale.
    """
    tried: dict[int, str] = {}
    while True:
        ungraded = _ungraded(exercise, tried)
        done, of = len(tried), len(tried) + len(ungraded)
        going.progress(done, of)
        if not ungraded:
            return

        def kept(told: tuple[int, str, Graded], of: int = of) -> None:
            hand_in, made_from, outcome = told
            tried[hand_in] = made_from
            keep_result(hand_in, outcome, made_from)
            going.progress(min(len(tried), of), of)

        stream(graded, exercise, ungraded, tell=kept, stop=going.stop)


def _ungraded(exercise: int, tried: dict[int, str]) -> list[int]:
    """The hand-ins without marks of what there is now, but for those that were tried with just that."""
    found = Exercise.with_trash.select_related("rig").filter(pk=exercise).first()
    if found is None:
        return []
    base = exercise_hash(found)
    current = dict(Result.objects.filter(hand_in__exercise=exercise).values_list("hand_in_id", "made_from"))
    ungraded = []
    for key, digest in found.hand_ins.values_list("pk", "digest"):
        wanted = result_hash(base, digest)
        if wanted not in (current.get(key), tried.get(key)):
            ungraded.append(key)
    return ungraded


@transaction.atomic
def keep_result(key: int, outcome: Graded, made_from: str) -> None:
    """Keeps how a hand-in was graded; marks that came out otherwise before are kept as history."""
    hand_in = HandIn.objects.defer("data").filter(pk=key).first()
    if hand_in is None:
        return  # it was deleted while it was graded
    before = Result.objects.filter(hand_in=hand_in).first()
    if outcome.failed:
        values = {"failure": outcome.problem}
        made = {"made_from": "", "graded": timezone.now(), **values}
        Result.objects.update_or_create(hand_in=hand_in, defaults=values, create_defaults=made)
        return
    if before is not None:
        _keep_changes(hand_in, before, outcome)
        before.delete()
    result = Result.objects.create(
        hand_in=hand_in,
        made_from=made_from,
        problem=outcome.problem,
        unread=list(outcome.unread),
        graded=timezone.now(),
    )
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
    job = status("grade", exercise.pk)
    base = exercise_hash(exercise)
    rows = []
    for hand_in in exercise.hand_ins.defer("data").prefetch_related("result__marks", "overrides"):
        hand_in.exercise = exercise
        given = given_points(hand_in)
        result: Result | None = getattr(hand_in, "result", None)
        marks = list(result.marks.all()) if result else []
        totals = [mark for mark in marks if mark.case == ALL_CASES]
        earned = sum(given.get(mark.check_title, mark.points) for mark in totals)
        points = counted(earned, hand_in.received, hand_in.rules)
        is_graded = result is not None and bool(result.made_from)
        rows.append(
            {
                "hand_in": hand_in.pk,
                "student": hand_in.student,
                "sourced_id": hand_in.sourced_id,
                "graded": is_graded,
                "stale": result is not None and is_graded and result.made_from != result_hash(base, hand_in.digest),
                "failure": result.failure if result else "",
                "problem": result.problem if result else "",
                "unread": result.unread if result else [],
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


def totals_of(key: int) -> tuple[float, float, list[tuple[str, float, float]]]:
    """A hand-in's points that count, the most there are, and each check with its points and the most of it."""
    hand_in = HandIn.objects.select_related("exercise").defer("data").get(pk=key)
    given = given_points(hand_in)
    totals = Mark.objects.filter(result__hand_in=hand_in, case=ALL_CASES)
    marks = [(mark.check_title, given.get(mark.check_title, mark.points), mark.of) for mark in totals]
    points = counted(sum(earned for _, earned, _ in marks), hand_in.received, hand_in.rules)
    return points.counting, sum(of for _, _, of in marks), marks


def prove(exercise: int, going: Going) -> None:
    """Proofreads an exercise and keeps what was found."""

    def kept(told: Any) -> None:
        if isinstance(told, tuple):
            going.progress(*told)
        elif Exercise.with_trash.filter(pk=exercise).exists():
            Proof.objects.update_or_create(exercise_id=exercise, defaults={**told, "made": timezone.now()})

    stream(proved, exercise, tell=kept, stop=going.stop)


KINDS: dict[str, Work] = {"grade": grade, "prove": prove}


def proof(exercise: Exercise) -> dict[str, Any]:
    """What was found last, whether the exercise has changed since, and the work that is going on."""
    job = status("prove", exercise.pk)
    kept = Proof.objects.filter(exercise=exercise).first()
    return {
        "found": kept.found if kept else None,
        "stale": kept is not None and kept.made_from != exercise_hash(exercise),
        "job": job,
    }


def worth_of(hand_in: HandIn) -> dict[str, float]:
    """The most points that each check can give: by the exercise as it is, or by the marks that there are."""
    exercise = hand_in.exercise
    worth: dict[str, float] = {}
    other = partner_rig(exercise.cases.select_related("partner__rig"))
    partner = None if other is None else core_rig(other)
    for check in checks_for(exercise.checks, core_rig(exercise.rig), partner).checks:
        each = (check.over or exercise.over_cases) == "each"
        worth[check.title] = check.points * (max(1, exercise.cases.count()) if each else 1)
    for title, of in Mark.objects.filter(result__hand_in=hand_in, case=ALL_CASES).values_list("check_title", "of"):
        worth[title] = max(of, worth.get(title, 0.0))
    return worth


def given_points(hand_in: HandIn) -> dict[str, float]:
    """The points that the teacher gave in place of Geduld's, by check: the newest counts."""
    newest: dict[str, float | None] = {}
    for item in hand_in.overrides.all():
        newest.setdefault(item.check_title, item.points)
    return {title: points for title, points in newest.items() if points is not None}


def roster_csv(exercise: Exercise) -> str:
    """The points that count for a school's register: a row a graded hand-in."""
    when = dict(Result.objects.filter(hand_in__exercise=exercise).values_list("hand_in_id", "graded"))
    return results_csv(
        RosterResult(
            identity=f"geduld-{exercise.pk}-{row['hand_in']}",
            line_item=f"geduld-exercise-{exercise.pk}",
            student=row["sourced_id"] or row["student"],
            points=row["points"],
            graded=when[row["hand_in"]],
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
    found = []
    results = Result.objects.filter(hand_in__exercise=exercise).exclude(made_from="")
    results = results.order_by("hand_in__student").select_related("hand_in").defer("hand_in__data")
    for result in results.prefetch_related("marks"):
        name = result.hand_in.student
        marks = tuple(
            CoreMark(name, m.check_title, m.case, m.verdict, m.points, m.of, m.margin, m.unit, m.at, m.because)
            for m in result.marks.all()
        )
        found.append(Graded(name, result.problem, marks))
    return marks_csv(found)
