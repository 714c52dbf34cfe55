"""Recordings over HTTP: sent, looked at, corrected, imported."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.decorators import action
from rest_framework.request import Request
from rest_framework.response import Response

from geduld.recordings.recipe import recipe_from_json
from geduld.recordings.text import MOST_BYTES, too_large
from server.config.apart import in_turn
from server.config.owned import OwnedField, teacher_of
from server.config.space import shrink
from server.recordings.answers import LayoutField, RecipeField, UnderstandingSerializer
from server.recordings.models import Recipe, Recording
from server.recordings.understanding import imported_recording, understanding_of
from server.shelf.models import Rig
from server.shelf.on_shelf import SHELF_FIELDS, OnShelfSerializer, OnShelfViewSet
from server.shelf.serializers import TraceSerializer
from server.shelf.services import save_trace

MOST_SECONDS = 120.0
MOST_RECIPES = 20
_AROUND = 10_000  # bytes of a request beside the file itself


class RecordingFileSerializer(OnShelfSerializer):
    """A file that waits to be imported."""

    class Meta:
        model = Recording
        fields = ("id", "rig", "name", "size", "updated", *SHELF_FIELDS)
        read_only_fields = fields


class RecordingUploadSerializer(serializers.Serializer):
    """A file of a robot, in whatever form it was written."""

    rig = OwnedField(queryset=Rig.objects.all())
    file = serializers.FileField(allow_empty_file=True, max_length=400)


class QuestionSerializer(serializers.Serializer):
    """How a recording is to be read, or how its text is laid out; null where that is to be found out.

    `anew` forgets what was chosen before, for this file and for others.
    """

    recipe = RecipeField(allow_null=True, required=False, default=None)
    layout = LayoutField(allow_null=True, required=False, default=None)
    anew = serializers.BooleanField(required=False, default=False)


class ImportSerializer(serializers.Serializer):
    """How a recording is to be read, and what the trace is called."""

    recipe = RecipeField()
    name = serializers.CharField(max_length=100, required=False, allow_blank=True, default="")


class RecordingViewSet(OnShelfViewSet):
    """Files that wait to be imported."""

    http_method_names = ["get", "head", "options", "post", "delete"]  # noqa: RUF012
    queryset = Recording.objects.defer("data").all()
    serializer_class = RecordingFileSerializer

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        """What is too large is refused before it is read."""
        super().initial(request, *args, **kwargs)
        if int(request.META.get("CONTENT_LENGTH") or 0) >= MOST_BYTES + _AROUND:
            raise too_large()

    @extend_schema(request={"multipart/form-data": RecordingUploadSerializer}, responses={201: RecordingFileSerializer})
    def create(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """A file is sent; nothing of it is read yet."""
        upload = RecordingUploadSerializer(data=request.data, context=self.get_serializer_context())
        upload.is_valid(raise_exception=True)
        file = upload.validated_data["file"]
        if file.size >= MOST_BYTES:
            raise too_large().in_file(file.name)
        values = {"name": file.name[:200], "size": file.size, "data": file.read()}
        made = Recording.objects.create(owner_id=teacher_of(request), rig=upload.validated_data["rig"], **values)
        return Response(RecordingFileSerializer(made).data, status=201)

    @extend_schema(request=QuestionSerializer, responses=UnderstandingSerializer)
    @action(detail=True, methods=["post"])
    def understood(self, request: Request, pk: str | None = None) -> Response:
        """What the file is understood as: by a recipe, by the one chosen last or kept, or as it is found out."""
        recording = self.get_object()
        asked = QuestionSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        recipe, layout, anew = (asked.validated_data[key] for key in ("recipe", "layout", "anew"))
        if recipe is not None or layout is not None or anew:
            Recording.objects.filter(pk=recording.pk).update(recipe=recipe)
        else:
            recipe = recording.recipe
        known = [] if layout or anew else list(recording.rig.recipes.values_list("source", flat=True))
        given = (recording.pk, recording.rig.source, recipe, known, layout)
        return Response(in_turn(teacher_of(request), understanding_of, *given, limit_s=MOST_SECONDS))

    @extend_schema(request=ImportSerializer, responses={201: TraceSerializer})
    @action(detail=True, methods=["post"], url_path="import")
    def import_(self, request: Request, pk: str | None = None) -> Response:
        """The file becomes a trace; the recipe is kept for the next one."""
        recording = self.get_object()
        asked = ImportSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        recipe = asked.validated_data["recipe"]
        given = (recording.pk, recording.rig.source, recipe)
        found = in_turn(teacher_of(request), imported_recording, *given, limit_s=MOST_SECONDS)
        with transaction.atomic():
            name = asked.validated_data["name"] or Path(recording.name.removesuffix(".gz")).stem
            trace = save_trace(recording.rig, name, found)
            keep_recipe(recording.rig, recipe)
            recording.delete()
        transaction.on_commit(shrink)
        return Response(TraceSerializer(trace).data, status=201)


def keep_recipe(rig: Rig, source: dict[str, Any]) -> None:
    """Keeps a recipe for the next file with these columns; the ones used longest ago are forgotten."""
    recipe = recipe_from_json(source)
    columns = sorted(
        {use.column for use in recipe.uses if use.channel} | {*filter(None, (recipe.timing.column, recipe.timing.date))}
    )
    if not columns:
        return
    for old in rig.recipes.all():
        if old.columns == columns:
            old.source = source
            old.save()
            return
    Recipe.objects.create(rig=rig, columns=columns, source=source)
    stale = rig.recipes.values_list("pk", flat=True)[MOST_RECIPES:]
    Recipe.objects.filter(pk__in=list(stale)).delete()
