"""Parcels over HTTP: an exercise out as a zip, and in again."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.conf import settings
from django.contrib.auth.models import User
from django.core.files.uploadedfile import UploadedFile
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.grading.parcel.zipped import unzip
from server.config.apart import in_turn
from server.config.owned import teacher_of
from server.exercises.models import Exercise
from server.marks.views import OfExercise
from server.sharing.gathering import parcel, pieces_of
from server.sharing.keeping import Arrived, Kept, arrive, arrive_from, keep

MOST_ZIP_BYTES = 60_000_000
MOST_SECONDS = 90.0


class ParcelUploadSerializer(serializers.Serializer):
    """The zip of an exercise."""

    file = serializers.FileField()


class ArrivedSerializer(serializers.Serializer):
    """What an exercise that came has brought: what was made for it, and what was on the shelf already."""

    exercise = serializers.IntegerField()
    title = serializers.CharField()
    made = serializers.ListField(child=serializers.CharField())
    used = serializers.ListField(child=serializers.CharField())
    unused = serializers.ListField(child=serializers.CharField(), help_text="files of the zip that nothing names")


class ParcelView(OfExercise):
    """One exercise as a zip."""

    @extend_schema(
        parameters=[OpenApiParameter("hand_ins", bool, description="with what students handed in (default: without)")],
        responses={(200, "application/zip"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The zip. Raises what keeps the exercise from being graded."""
        exercise = self.exercise(request, pk)
        return zip_answer(teacher_of(request), exercise, request.query_params.get("hand_ins") in ("true", "1"))


class CopyView(OfExercise):
    """Another exercise like this one."""

    @extend_schema(request=None, responses={201: ArrivedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Copies it beside itself, without hand-ins; traces, floors and the rig are the same ones."""
        exercise = self.exercise(request, pk)
        return Response(told(copied(request, exercise, f"{exercise.title[:93]}, copy")), status=201)


class ParcelsView(APIView):
    """Exercises that come as a zip."""

    @extend_schema(request={"multipart/form-data": ParcelUploadSerializer}, responses={201: ArrivedSerializer})
    def post(self, request: Request) -> Response:
        """Keeps the exercise of a zip, with all it needs. Raises an error that names the file and the place in it."""
        upload = ParcelUploadSerializer(data=request.data)
        upload.is_valid(raise_exception=True)
        file: UploadedFile = upload.validated_data["file"]
        if (file.size or 0) > MOST_ZIP_BYTES:
            raise ValidationError({"file": [f"A zip has at most {MOST_ZIP_BYTES // 1_000_000} MB."]})
        # The folder is removed here, whatever becomes of the process that unpacks into it.
        with tempfile.TemporaryDirectory(dir=settings.DATA) as folder:
            packed, into = Path(folder) / "parcel.zip", Path(folder) / "unpacked"
            into.mkdir()
            with packed.open("wb") as out:
                out.writelines(file.chunks())
            arrived = in_turn(teacher_of(request), unpacked, packed, into, limit_s=MOST_SECONDS)
        kept = keep(_teacher(request), arrived)
        return Response(told(kept, arrived.unused), status=201)


def unpacked(packed: Path, into: Path) -> Arrived:
    """What is in a zip. Raises an InputError for one that is refused, or holds no exercise that can be graded."""
    return arrive_from(unzip(packed, into))


def _gathered(exercise: int) -> Arrived:
    return arrive(pieces_of(exercise))


def copied(request: Request, exercise: Exercise, title: str = "") -> Kept:
    """A copy of an exercise on the shelf of who asks."""
    arrived = in_turn(teacher_of(request), _gathered, exercise.pk, limit_s=MOST_SECONDS)
    kept = keep(_teacher(request), arrived)
    if title:
        kept.exercise.title = title
        kept.exercise.save()
    return kept


def _teacher(request: Request) -> User:
    assert isinstance(request.user, User)  # nobody else comes here
    return request.user


def told(kept: Kept, unused: list[str] | None = None) -> dict[str, Any]:
    """What was kept, in the form of `ArrivedSerializer`."""
    found = {"exercise": kept.exercise.pk, "title": kept.exercise.title, "made": kept.made, "used": kept.used}
    return {**found, "unused": unused or []}


def zip_answer(turn: int, exercise: Exercise, with_hand_ins: bool) -> HttpResponse:
    """The zip of an exercise, as a file."""
    data = in_turn(turn, parcel, exercise.pk, with_hand_ins, limit_s=MOST_SECONDS)
    name = quote("".join(sign if sign.isalnum() else "-" for sign in exercise.title.lower()).strip("-") or "exercise")
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{name}.zip", "Cache-Control": "no-store"}
    return HttpResponse(data, content_type="application/zip", headers=headers)
