"""Anything of a teacher's by its name: what lies on the shelf, classes, and what students handed in."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.db.models import F, QuerySet
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.classes.models import SchoolClass
from server.config.owned import teacher_of
from server.exercises.models import HandIn
from server.shelf.finding import MOST_WORDS, Plain, plain
from server.shelf.tidying import KIND_WORDS, names_of
from server.shelf.trash import kinds

FOUND_WORDS = (*KIND_WORDS, "classes", "hand-ins")
MOST_OF_A_KIND, MOST = 8, 20


class CalledSerializer(serializers.Serializer):
    """One thing by its name; `of` is the exercise that a student's hand-in is for."""

    kind = serializers.ChoiceField(choices=FOUND_WORDS)
    id = serializers.IntegerField()
    name = serializers.CharField()
    of = serializers.CharField(allow_blank=True)


class FindView(APIView):
    """What is called so."""

    @extend_schema(
        operation_id="find_list",
        parameters=[OpenApiParameter("search", OpenApiTypes.STR, description="words that all stand in its name")],
        responses=CalledSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Names that begin with what is looked for come first, then those of what was used last."""
        words = plain(request.query_params.get("search")).split()[:MOST_WORDS]
        if not words:
            return Response([])
        found = list(_found(teacher_of(request), words))
        found.sort(key=lambda item: not plain(item["name"]).startswith(words[0]))
        return Response(found[:MOST])


def _found(teacher: int, words: list[str]) -> Iterator[dict[str, Any]]:
    for kind, model in kinds().items():
        names = names_of(model)
        rows: Any = model.objects.filter(owner=teacher).only(*names, "used")
        newest = (F("used").desc(nulls_last=True), "-updated")
        for row in _called(rows, names[0], words).order_by(*newest)[:MOST_OF_A_KIND]:
            yield {"kind": kind, "id": row.pk, "name": row.called, "of": ""}
    for room in _called(SchoolClass.objects.filter(owner=teacher), "name", words)[:MOST_OF_A_KIND]:
        yield {"kind": "classes", "id": room.pk, "name": room.name, "of": ""}
    own = HandIn.objects.filter(exercise__owner=teacher, exercise__trashed__isnull=True)
    handed = _called(own.select_related("exercise").only("student", "exercise__title"), "student", words)
    for item in handed.order_by("student", "-received")[:MOST_OF_A_KIND]:
        yield {"kind": "hand-ins", "id": item.pk, "name": item.student, "of": item.exercise.title}


def _called(rows: QuerySet[Any], name: str, words: list[str]) -> QuerySet[Any]:
    """The rows in whose name all words stand."""
    rows = rows.alias(_name=Plain(F(name)))
    for word in words:
        rows = rows.filter(_name__contains=word)
    return rows
