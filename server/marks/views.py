"""Grading and the mark sheet over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.language.quantities import show
from server.config.apart import in_turn
from server.config.owned import teacher_of
from server.exercises.models import Exercise, HandIn
from server.exercises.services import look_at
from server.marks.answers import ProofSerializer, SheetSerializer
from server.marks.jobs import cancel, start
from server.marks.models import Override
from server.marks.services import grade, history, proof, prove, roster_csv, sheet, sheet_csv, worth_of

MOST_SECONDS = 30.0


class OfExercise(APIView):
    """A view of one of the teacher's own exercises."""

    def exercise(self, request: Request, pk: int) -> Exercise:
        """The exercise; another teacher's is as if it were not there."""
        return get_object_or_404(Exercise.objects.select_related("rig"), pk=pk, owner=request.user)


class GradeView(OfExercise):
    """Grades an exercise's hand-ins."""

    @extend_schema(request=None, responses={200: SheetSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Starts to grade what is new or stale, and answers with the sheet as it is."""
        exercise = self.exercise(request, pk)
        # what is wrong with it is said at once
        in_turn(teacher_of(request), look_at, exercise.pk, limit_s=MOST_SECONDS)
        start("grade", exercise.pk, grade)
        return Response(sheet(exercise))

    @extend_schema(request=None, responses={200: SheetSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        """Stops grading; what is graded stays."""
        exercise = self.exercise(request, pk)
        cancel("grade", exercise.pk)
        return Response(sheet(exercise))


class OverrideSerializer(serializers.ModelSerializer):
    """What a teacher gives for a check, and why; without points, Geduld's own count again."""

    check = serializers.CharField(source="check_title", max_length=200)
    points = serializers.FloatField(allow_null=True, min_value=0)
    reason = serializers.CharField(max_length=1000)

    class Meta:
        model = Override
        fields = ("check", "points", "reason", "made")
        read_only_fields = ("made",)

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """A check that there is, and no more points than it is worth."""
        worth = worth_of(self.context["hand_in"])
        title, points = values["check_title"], values["points"]
        if title not in worth:
            raise serializers.ValidationError({"check": [f'The exercise has no check called "{title}".']})
        if points is not None and points > worth[title]:
            said = f"This check is worth {show(worth[title])} points at most."
            raise serializers.ValidationError({"points": [said]})
        return values


class ChangeOfMarkSerializer(serializers.Serializer):
    """What a mark was before, by Geduld or by the teacher."""

    check = serializers.CharField()
    points = serializers.FloatField(allow_null=True)
    reason = serializers.CharField(allow_blank=True)
    made = serializers.DateTimeField()
    by = serializers.ChoiceField(choices=["geduld", "teacher"])


class OverrideView(APIView):
    """A hand-in's marks as the teacher changed them, the newest first."""

    def hand_in(self, request: Request, pk: int) -> HandIn:
        """The hand-in; another teacher's is as if it were not there."""
        rows = HandIn.objects.defer("data").select_related("exercise__rig")
        return get_object_or_404(rows, pk=pk, exercise__owner=request.user, exercise__trashed__isnull=True)

    @extend_schema(responses=ChangeOfMarkSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """All that was changed, by Geduld or by the teacher: nothing is forgotten."""
        return Response(ChangeOfMarkSerializer(history(self.hand_in(request, pk)), many=True).data)

    @extend_schema(request=OverrideSerializer, responses={201: OverrideSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Gives points for a check, with a reason."""
        hand_in = self.hand_in(request, pk)
        given = OverrideSerializer(data=request.data, context={"hand_in": hand_in})
        given.is_valid(raise_exception=True)
        given.save(hand_in=hand_in)
        return Response(given.data, status=201)


class RosterCsv(OfExercise):
    """The results for a school's register."""

    @extend_schema(responses={(200, "text/csv"): str})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The points as a OneRoster results file."""
        exercise = self.exercise(request, pk)
        headers = {"Content-Disposition": 'attachment; filename="results.csv"'}
        return HttpResponse(roster_csv(exercise), content_type="text/csv; charset=utf-8", headers=headers)


class ProofView(OfExercise):
    """Proofreading of an exercise."""

    @extend_schema(responses={200: ProofSerializer})
    def get(self, request: Request, pk: int) -> Response:
        """What was found last."""
        return Response(proof(self.exercise(request, pk)))

    @extend_schema(request=None, responses={200: ProofSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Starts to proofread."""
        exercise = self.exercise(request, pk)
        in_turn(teacher_of(request), look_at, exercise.pk, limit_s=MOST_SECONDS)
        start("prove", exercise.pk, prove)
        return Response(proof(exercise))

    @extend_schema(request=None, responses={200: ProofSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        """Stops proofreading."""
        exercise = self.exercise(request, pk)
        cancel("prove", exercise.pk)
        return Response(proof(exercise))


class SheetView(OfExercise):
    """The mark sheet."""

    @extend_schema(responses={200: SheetSerializer})
    def get(self, request: Request, pk: int) -> Response:
        """The mark sheet as it is."""
        return Response(sheet(self.exercise(request, pk)))


class MarksCsv(OfExercise):
    """The marks as a file."""

    @extend_schema(responses={(200, "text/csv"): str})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The marks as CSV."""
        exercise = self.exercise(request, pk)
        headers = {"Content-Disposition": f'attachment; filename="marks-{exercise.pk}.csv"'}
        return HttpResponse(sheet_csv(exercise), content_type="text/csv; charset=utf-8", headers=headers)
