"""Exercises, cases and hand-ins over HTTP."""

from __future__ import annotations

from typing import Any

from django.db.models import BinaryField, Count, F, OuterRef, Prefetch, QuerySet, Subquery, Value, When
from django.db.models import Case as IfElse
from django.db.models.functions import Coalesce
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.decorators import action
from rest_framework.exceptions import NotFound, ValidationError
from rest_framework.request import Request
from rest_framework.response import Response

from server.config.apart import TookTooLong, TooLong, newest
from server.config.owned import KeptWhole, teacher_of
from server.exercises.models import Case, Exercise, HandIn
from server.exercises.receiving import Upload, looked_at, receive
from server.exercises.serializers import CaseSerializer, ExerciseRowSerializer, ExerciseSerializer, HandInSerializer
from server.exercises.services import recording_json
from server.shelf.answers import RecordingSerializer
from server.shelf.lanes import STRETCH
from server.shelf.on_shelf import OnShelfViewSet

MOST_SECONDS = 20.0


class LookSerializer(serializers.Serializer):
    """Programs as files, or zips of a whole class: each folder or file in a zip is a student's.

    `paths` are where the files stand in a folder that was chosen as a whole, in their order. `single` names the zips
    that are one student's program.
    """

    files = serializers.ListField(child=serializers.FileField(allow_empty_file=True))
    paths = serializers.ListField(child=serializers.CharField(), required=False)
    single = serializers.ListField(child=serializers.CharField(), required=False)


class UploadSerializer(LookSerializer):
    """The same, to be kept: all of it, or the `sources` that were looked at, each under the name in `students`."""

    sources = serializers.ListField(child=serializers.CharField(), required=False)
    students = serializers.ListField(child=serializers.CharField(allow_blank=True), required=False)


class LookedAtSerializer(serializers.Serializer):
    """What one student handed in, as it would be kept."""

    came_as = serializers.CharField(help_text="the file, or the zip or folder and the place in it")
    student = serializers.CharField()
    language = serializers.CharField()
    recorded = serializers.BooleanField(help_text="a recorded run")
    files = serializers.IntegerField(help_text="how many programs are in it")
    trouble = serializers.CharField(allow_blank=True, help_text="why there is no program in it")
    can_be_kept = serializers.BooleanField()
    replaces = serializers.BooleanField(help_text="this student has a hand-in already")


def _upload(request: Request) -> Upload:
    """What a request sends. Raises ValidationError when sources and students are not pairs."""
    files, post = request.FILES.getlist("files"), request.POST
    sources, students = post.getlist("sources"), post.getlist("students")
    if len(sources) != len(students):
        raise ValidationError({"students": ["Name a student for each source, or none."]})
    names = dict(zip(sources, students, strict=True)) if sources else None
    return Upload(files, post.getlist("paths"), post.getlist("single"), names)


_CASES = Case.objects.select_related("trace", "floor", "partner__rig").defer("trace__data", "floor__source")


# A recording may be long, and nobody reads its text: it stays where it is.
_TEXT = IfElse(When(recorded=False, then=F("data")), default=Value(b""), output_field=BinaryField())
_SHOWN = HandIn.objects.defer("data").annotate(shown=_TEXT)


def _number_of(part: type[Any]) -> Any:
    """How many parts of a kind an exercise has: asked for by itself, as two in one would count each other."""
    mine = part.objects.filter(exercise=OuterRef("pk")).order_by().values("exercise")
    return Coalesce(Subquery(mine.annotate(number=Count("pk")).values("number")), 0)


class ExerciseViewSet(OnShelfViewSet):
    """The teacher's exercises."""

    queryset = (
        Exercise.objects.select_related("rig")
        .prefetch_related(Prefetch("cases", _CASES), "wordbooks")
        .annotate(hand_ins_counted=Count("hand_ins"))
        .order_by("-updated", "-id")  # a query that counts forgets the model's own order
    )
    serializer_class = ExerciseSerializer
    searched = ("title", "rig__name", "brief")

    @extend_schema(operation_id="exercises_rows_list", responses=ExerciseRowSerializer(many=True))
    @action(detail=False)
    def rows(self, request: Request) -> Response:
        """The exercises as lists show them."""
        own = Exercise.objects.filter(owner=teacher_of(request)).select_related("rig").defer("brief", "reference")
        counted = own.annotate(case_count=_number_of(Case), hand_ins_counted=_number_of(HandIn))
        page = self.paginate_queryset(self.filter_queryset(counted.order_by("-updated", "-id")))
        return self.get_paginated_response(ExerciseRowSerializer(page, many=True).data)

    @extend_schema(
        methods=["POST"],
        request={"multipart/form-data": UploadSerializer},
        responses={201: HandInSerializer(many=True)},
    )
    @extend_schema(methods=["GET"], responses=HandInSerializer(many=True))
    @action(detail=True, methods=["get", "post"], url_path="hand-ins")
    def hand_ins(self, request: Request, pk: str | None = None) -> Response:
        """The hand-ins, or new ones."""
        exercise = self.get_object()
        if request.method != "POST":
            page = self.paginate_queryset(_SHOWN.filter(exercise=exercise))
            return self.get_paginated_response(HandInSerializer(page, many=True).data)
        kept = receive(exercise, _upload(request))
        return Response(HandInSerializer(kept, many=True).data, status=201)

    @extend_schema(request={"multipart/form-data": LookSerializer}, responses=LookedAtSerializer(many=True))
    @action(detail=True, methods=["post"], url_path="hand-ins/look", pagination_class=None)
    def look(self, request: Request, pk: str | None = None) -> Response:
        """Whose programs are in an upload; nothing is kept."""
        return Response(LookedAtSerializer(looked_at(self.get_object(), _upload(request)), many=True).data)


class OfExerciseViewSet(KeptWhole):
    """Rows of an exercise, scoped to its teacher."""

    def get_queryset(self) -> QuerySet[Any]:
        """The rows of the teacher's own exercises."""
        if getattr(self, "swagger_fake_view", False):
            return super().get_queryset().none()
        return super().get_queryset().filter(exercise__owner=self.request.user, exercise__trashed__isnull=True)


class CaseViewSet(OfExerciseViewSet):
    """Cases."""

    queryset = _CASES.select_related("trace", "floor", "exercise__rig")
    serializer_class = CaseSerializer


class HandInViewSet(OfExerciseViewSet):
    """Hand-ins; new ones are uploaded to their exercise. When one came can be put right."""

    http_method_names = ["get", "head", "options", "patch", "delete"]  # noqa: RUF012
    queryset = _SHOWN
    serializer_class = HandInSerializer

    @extend_schema(parameters=STRETCH, responses=RecordingSerializer)
    @action(detail=True)
    def recording(self, request: Request, pk: str | None = None) -> Response:
        """A recorded run, from `from` to `to` in s. Raises TraceError for a recording that cannot be read."""
        hand_in = self.get_object()
        if not hand_in.recorded:
            raise NotFound
        asked = request.query_params.dict()
        try:
            return Response(newest(teacher_of(request), recording_json, hand_in.pk, asked, limit_s=MOST_SECONDS))
        except TookTooLong:
            raise TooLong from None
