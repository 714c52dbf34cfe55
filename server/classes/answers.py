"""What is told of classes, assignments and tries, and its description."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from django.utils import timezone
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.checks.bound import BoundCheck
from geduld.grading.exercise import checks_for
from geduld.readers.reading import ENDINGS, LANGUAGES
from server.classes.models import Assignment, Student, Try
from server.classes.tries import counting, due_of, tries_left
from server.exercises.models import Exercise, partner_rig
from server.marks.services import totals_of
from server.shelf.answers import VERDICTS, HintSerializer, RunSerializer, UnderstoodLineSerializer
from server.shelf.services import core_rig


class PublicCheckSerializer(serializers.Serializer):
    """A check that students may know of."""

    title = serializers.CharField()
    points = serializers.FloatField()


class CheckToldSerializer(serializers.Serializer):
    """How a public check went; `margin` and `because` are left out where they would tell of the reference."""

    check = serializers.CharField()
    verdict = serializers.ChoiceField(choices=VERDICTS)
    points = serializers.FloatField()
    of = serializers.FloatField()
    case = serializers.CharField(allow_blank=True)
    margin = serializers.FloatField(allow_null=True)
    unit = serializers.CharField(allow_blank=True)
    at = serializers.FloatField(allow_null=True)
    because = serializers.CharField(allow_blank=True)


@extend_schema_field({"type": ["object", "null"], "additionalProperties": {}})
class Place(serializers.JSONField):
    """A floor's description, or null."""


class PictureSerializer(serializers.Serializer):
    """A run to be drawn, and the moment that it is about, in s."""

    case = serializers.CharField()
    at = serializers.FloatField(allow_null=True)
    run = RunSerializer()
    units = serializers.DictField(child=serializers.CharField(allow_blank=True), help_text="of its lanes, by name")
    floor = Place()


class FeedbackSerializer(serializers.Serializer):
    """What a student is told of a try."""

    problem = serializers.CharField(allow_blank=True)
    hints = HintSerializer(many=True)
    understood = UnderstoodLineSerializer(many=True)
    checks = CheckToldSerializer(many=True)
    picture = PictureSerializer(allow_null=True)


class ReceiptSerializer(serializers.Serializer):
    """That something came, and when."""

    number = serializers.IntegerField()
    received = serializers.DateTimeField()
    late = serializers.BooleanField()
    fingerprint = serializers.CharField()
    looked_at = serializers.BooleanField()
    counts = serializers.BooleanField(help_text="whether it is the one that counts now")
    language = serializers.ChoiceField(choices=LANGUAGES, help_text="that it was read in")


class HandedInSerializer(serializers.Serializer):
    """A try that was taken."""

    receipt = ReceiptSerializer()
    feedback = FeedbackSerializer()
    left = serializers.IntegerField(allow_null=True)


class ReturnedSerializer(serializers.Serializer):
    """Marks that were given back."""

    points = serializers.FloatField()
    of = serializers.FloatField()
    checks = CheckToldSerializer(many=True)


class DeskSerializer(serializers.Serializer):
    """What a student is asked to do, and what they have handed in."""

    student = serializers.CharField()
    title = serializers.CharField()
    brief = serializers.CharField(allow_blank=True)
    rig = serializers.CharField()
    due = serializers.DateTimeField(allow_null=True, help_text="with the student's own extension")
    extended = serializers.BooleanField()
    closed = serializers.BooleanField()
    left = serializers.IntegerField(allow_null=True, help_text="tries that are left; null for as many as one likes")
    counts = serializers.ChoiceField(choices=[Assignment.LAST, Assignment.BEST])
    endings = serializers.ListField(child=serializers.CharField())
    checks = PublicCheckSerializer(many=True)
    private_checks = serializers.IntegerField(help_text="how many checks there are beside them")
    tries = ReceiptSerializer(many=True)
    last = FeedbackSerializer(allow_null=True)
    text = serializers.CharField(allow_blank=True, help_text="of the last try")
    returned = ReturnedSerializer(allow_null=True)


def checks_of(exercise: Exercise) -> Sequence[BoundCheck]:
    """The checks of an exercise."""
    other = partner_rig(exercise.cases.select_related("partner__rig"))
    return checks_for(exercise.checks, core_rig(exercise.rig), None if other is None else core_rig(other)).checks


def _receipt(made: Try, counts: Try | None) -> dict[str, Any]:
    return {
        "number": made.number,
        "received": made.received,
        "late": made.late,
        "fingerprint": made.fingerprint,
        "looked_at": made.feedback is not None,
        "counts": counts is not None and counts.pk == made.pk,
        "language": made.language,
    }


def tried(made: Try, feedback: dict[str, Any], now: datetime) -> dict[str, Any]:
    """A try that was taken, in the form of `HandedInSerializer`."""
    counts = counting(made.assignment, made.student)
    receipt = {**_receipt(made, counts), "looked_at": True}
    return {"receipt": receipt, "feedback": feedback, "left": tries_left(made.assignment, made.student, now)}


def desk(assignment: Assignment, student: Student) -> dict[str, Any]:
    """What a student sees, in the form of `DeskSerializer`."""
    exercise = assignment.exercise
    checks = checks_of(exercise)
    public = [check for check in checks if not check.private]
    given = list(Try.objects.filter(assignment=assignment, student=student).order_by("number").defer("picture"))
    counts = counting(assignment, student)
    due = due_of(assignment, student)
    last = given[-1] if given else None
    return {
        "student": student.name,
        "title": exercise.title,
        "brief": exercise.brief,
        "rig": exercise.rig.name,
        "due": due,
        "extended": due != exercise.due,
        "closed": assignment.closed,
        "left": tries_left(assignment, student, timezone.now()),
        "counts": assignment.counts,
        "endings": sorted(ENDINGS),
        "checks": [{"title": check.title, "points": check.points} for check in public],
        "private_checks": len(checks) - len(public),
        "tries": [_receipt(made, counts) for made in given],
        "last": last and last.feedback and {**last.feedback, "picture": last.picture},
        "text": bytes(last.data).decode("utf-8", "replace") if last else "",
        "returned": returned(assignment, counts) if assignment.released else None,
    }


def returned(assignment: Assignment, counts: Try | None) -> dict[str, Any] | None:
    """The marks of the try that counts, as they are given back: by all public checks, with the teacher's own points."""
    if counts is None or counts.hand_in_id is None:
        return None
    public = {check.title for check in checks_of(assignment.exercise) if not check.private}
    points, of, marks = totals_of(counts.hand_in_id)
    told = {item["check"]: item for item in (counts.feedback or {}).get("checks", [])}
    checks = [
        {**told[title], "points": earned, "of": worth}
        for title, earned, worth in marks
        if title in public and title in told
    ]
    return {"points": points, "of": of, "checks": checks}
