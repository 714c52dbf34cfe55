"""Grading and the mark sheet over HTTP."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.exercises.models import Exercise
from server.marks.services import grade, sheet, sheet_csv

_SHEET = OpenApiResponse(description="the mark sheet: rows of hand-ins with their marks")


class OfExercise(APIView):
    """A view of one of the teacher's own exercises."""

    def exercise(self, request: Request, pk: int) -> Exercise:
        """The exercise; another teacher's is as if it were not there."""
        return get_object_or_404(Exercise.objects.select_related("rig"), pk=pk, owner=request.user)


class GradeView(OfExercise):
    """Grades an exercise's hand-ins."""

    @extend_schema(request=None, responses=_SHEET)
    def post(self, request: Request, pk: int) -> Response:
        """Grades what is new or stale and answers with the sheet."""
        exercise = self.exercise(request, pk)
        count = grade(exercise)
        return Response({**sheet(exercise), "newly_graded": count})


class SheetView(OfExercise):
    """The mark sheet."""

    @extend_schema(responses=_SHEET)
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
