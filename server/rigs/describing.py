"""What can be said of rigs, what conflicts while one is written, and other names for its parts, over HTTP."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.rig.conflicts import conflicts
from geduld.rig.fields import RIG_FIELDS, Field, fields_of
from geduld.rig.kinds import KINDS
from geduld.rig.reader import rig_from_json
from geduld.rig.templates import TEMPLATES
from server.config.owned import teacher_of
from server.rigs.answers import ConflictSerializer, MisfitSerializer, RenamingSerializer, RigSource, RigWordsSerializer
from server.rigs.renaming import Change, planned, rename
from server.shelf.depending import misfits
from server.shelf.models import Rig


class RigWords(APIView):
    """What can be said of rigs; the same for everybody."""

    @extend_schema(responses=RigWordsSerializer)
    def get(self, request: Request) -> Response:
        """Kinds with their fields, the rig's own fields, and rigs to start from."""
        kinds = [
            {
                "word": kind.word,
                "role": kind.role,
                "contact": kind.is_contact,
                "placed": bool({"ahead", "rail"} & set(kind.physics or ())),
                "fields_of": [_field(field) for field in fields_of(kind)],
            }
            for kind in KINDS.values()
        ]
        templates = [{"name": name, "source": source} for name, source in TEMPLATES.items()]
        return Response({"kinds": kinds, "rig": [_field(field) for field in RIG_FIELDS], "templates": templates})


def _field(field: Field) -> dict[str, Any]:
    return asdict(field) | {"choices": list(field.choices)}


class CheckedSerializer(serializers.Serializer):
    """A rig as it is being written."""

    source = RigSource()  # type: ignore[assignment]


class RigCheck(APIView):
    """What does not hold together in a rig."""

    @extend_schema(request=CheckedSerializer, responses=ConflictSerializer(many=True))
    def post(self, request: Request) -> Response:
        """All of it, each with the parts that it is about; empty when the rig can be read."""
        asked = CheckedSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        found = conflicts(asked.validated_data["source"])
        return Response([asdict(conflict) | {"parts": list(conflict.parts)} for conflict in found])


class FitView(APIView):
    """What behaviours ask of a rig that it could not do."""

    @extend_schema(request=CheckedSerializer, responses=MisfitSerializer(many=True))
    def post(self, request: Request, pk: int) -> Response:
        """For each behaviour the first of it; empty when all go with the rig as it is being written."""
        rig = get_object_or_404(Rig, owner=teacher_of(request), pk=pk)
        asked = CheckedSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        new = rig_from_json(asked.validated_data["source"])
        return Response([asdict(misfit) | {"parts": list(misfit.parts)} for misfit in misfits(rig, new)])


class NamesSerializer(serializers.Serializer):
    """A part's name, and the one that it is to have."""

    old = serializers.CharField(max_length=100)
    new = serializers.CharField(max_length=100)
    plan = serializers.BooleanField(required=False, default=False, help_text="whether it is only to be told")


class RenameView(APIView):
    """Another name for a part of a rig, in everything that uses it."""

    @extend_schema(request=NamesSerializer, responses=RenamingSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """What it changes; with `plan` what it would change. The way back is the same with the names exchanged."""
        rig = get_object_or_404(Rig, owner=teacher_of(request), pk=pk)
        asked = NamesSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        old, new = asked.validated_data["old"], asked.validated_data["new"]
        changes, staying = planned(rig, old, new)
        if not asked.validated_data["plan"]:
            changes = rename(rig, old, new)
        return Response({"changes": [_change(change) for change in changes], "staying": staying})


def _change(change: Change) -> dict[str, Any]:
    return {"what": change.what, "name": change.name, "places": change.places}
