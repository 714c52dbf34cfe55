"""The shelf as a whole over HTTP: how much there is, tags, what is put away, what was used last, and the trash."""

from __future__ import annotations

import re
from collections import Counter
from typing import Any

from django.db.models import Count, Q
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.config.owned import teacher_of
from server.config.space import with_room
from server.shelf.models import OnShelf, Rig
from server.shelf.trash import destroy, empty, kinds, put_back

MOST_TAGS, MOST_TAG, MOST_LATELY = 12, 40, 8
KIND_WORDS = ("behaviours", "exercises", "floors", "inputs", "recordings", "rigs", "traces", "wordbooks")
KIND = OpenApiParameter("kind", str, OpenApiParameter.PATH, enum=KIND_WORDS)
ITEM = [KIND, OpenApiParameter("id", int, OpenApiParameter.PATH)]


class KindCountSerializer(serializers.Serializer):
    """How many of a kind there are, and how many of them are put away."""

    kind = serializers.ChoiceField(choices=KIND_WORDS)
    all = serializers.IntegerField()
    archived = serializers.IntegerField()


class TagCountSerializer(serializers.Serializer):
    """A tag, and how many things have it."""

    tag = serializers.CharField()
    count = serializers.IntegerField()


class ShelfItemSerializer(serializers.Serializer):
    """One thing on the shelf by its name; `at` is when it was used last, or put into the trash."""

    kind = serializers.ChoiceField(choices=KIND_WORDS)
    id = serializers.IntegerField()
    name = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)


class RigNameSerializer(serializers.Serializer):
    """A rig by its name."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    archived = serializers.BooleanField()


class ShelfSerializer(serializers.Serializer):
    """The shelf as a whole; the rigs are in the order in which they were changed, the last one first."""

    rigs = RigNameSerializer(many=True)
    kinds = KindCountSerializer(many=True)
    tags = TagCountSerializer(many=True)
    lately = ShelfItemSerializer(many=True)
    trashed = serializers.IntegerField()


class TidyingSerializer(serializers.Serializer):
    """Whether it is put away, and its tags; what is not named stays."""

    archived = serializers.BooleanField(required=False)
    tags = serializers.ListField(child=serializers.CharField(max_length=MOST_TAG), max_length=MOST_TAGS, required=False)

    def validate_tags(self, tags: list[str]) -> list[str]:
        """Each tag once, without spaces around it."""
        return list(dict.fromkeys(filter(None, (re.sub(r"\s+", " ", tag).strip() for tag in tags))))


class TidiedSerializer(serializers.Serializer):
    """How a thing lies on the shelf now."""

    archived = serializers.BooleanField()
    tags = serializers.ListField(child=serializers.CharField())


class PutBackSerializer(serializers.Serializer):
    """What came out of the trash: the thing itself, and what it needs."""

    back = ShelfItemSerializer(many=True)


def _item(row: OnShelf, at: Any) -> dict[str, Any]:
    return {"kind": row.kind, "id": row.pk, "name": row.called, "at": at}


def _has(model: type[OnShelf], name: str) -> bool:
    return any(field.name == name for field in model._meta.concrete_fields)


def names_of(model: type[OnShelf]) -> list[str]:
    """The fields that a row is called by."""
    return [name for name in ("title", "name") if _has(model, name)]


def _model(kind: str) -> type[OnShelf]:
    found = kinds().get(kind)
    if found is None:
        raise Http404
    return found


class ShelfView(APIView):
    """The shelf as a whole."""

    @extend_schema(responses=ShelfSerializer)
    def get(self, request: Request) -> Response:
        """How much there is of what, the tags, what was used last, and how much is in the trash."""
        counted, tags, lately, trashed = [], Counter[str](), [], 0
        for kind, model in sorted(kinds().items()):
            own = model.with_trash.filter(owner=teacher_of(request))
            there = Q(trashed__isnull=True)
            found = own.aggregate(
                all=Count("pk", filter=there), archived=Count("pk", filter=there & Q(archived=True)),
                trashed=Count("pk", filter=~there), tagged=Count("pk", filter=~Q(tags="")), used=Count("used"),
            )  # fmt: skip
            trashed += found["trashed"]
            counted.append({"kind": kind, "all": found["all"], "archived": found["archived"]})
            own = own.filter(there)
            if found["tagged"]:
                alike = own.exclude(tags="").order_by().values_list("tags").annotate(number=Count("pk"))
                for text, number in alike:
                    tags.update({tag: number for tag in text.split("\n") if tag})
            if not found["used"]:
                continue
            used = own.filter(used__isnull=False, archived=False).order_by("-used").only(*names_of(model), "used")
            lately += [_item(row, row.used) for row in used[:MOST_LATELY]]
        lately.sort(key=lambda item: item["at"], reverse=True)
        told = [{"tag": tag, "count": tags[tag]} for tag in sorted(tags)]
        rigs = list(Rig.objects.filter(owner=teacher_of(request)).values("id", "name", "archived"))
        whole = {"rigs": rigs, "kinds": counted, "tags": told, "lately": lately[:MOST_LATELY], "trashed": trashed}
        return Response(whole)


class ItemsView(APIView):
    """All of one kind by their names, to choose from."""

    @extend_schema(
        operation_id="shelf_items_list",
        parameters=[KIND, OpenApiParameter("rig", int, description="those of this rig (default: all)")],
        responses=ShelfItemSerializer(many=True),
    )
    def get(self, request: Request, kind: str) -> Response:
        """Those that are not put away, the one that was changed last first."""
        model = _model(kind)
        rows: Any = model.objects.filter(owner=teacher_of(request), archived=False)
        rig = request.query_params.get("rig", "")
        if rig.isascii() and rig.isdigit() and len(rig) < 19 and _has(model, "rig"):
            rows = rows.filter(rig=int(rig))
        return Response([_item(row, row.used) for row in rows.only(*names_of(model), "used")])


class TidyView(APIView):
    """One thing on the shelf."""

    @extend_schema(parameters=ITEM, request=TidyingSerializer, responses=TidiedSerializer)
    def patch(self, request: Request, kind: str, pk: int) -> Response:
        """Puts it away or back, or changes its tags. This changes nothing of the thing itself."""
        row = get_object_or_404(_model(kind).objects, owner=teacher_of(request), pk=pk)
        asked = TidyingSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        values = dict(asked.validated_data)
        if "tags" in values:
            values["tags"] = "".join(f"\n{tag}\n" for tag in values["tags"]).replace("\n\n", "\n")
        if values:
            _model(kind).objects.filter(pk=row.pk).update(**values)
        row.refresh_from_db(fields=["archived", "tags"])
        return Response({"archived": row.archived, "tags": row.tag_list})


class UsedView(APIView):
    """That one thing on the shelf was opened."""

    @extend_schema(parameters=ITEM, request=None, responses={204: None})
    def post(self, request: Request, kind: str, pk: int) -> Response:
        """Notes the time."""
        if not _model(kind).objects.filter(owner=teacher_of(request), pk=pk).update(used=timezone.now()):
            raise Http404
        return Response(status=204)


class TrashView(APIView):
    """The trash."""

    @extend_schema(responses=ShelfItemSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All that is in it, what came last first."""
        found = []
        for model in kinds().values():
            rows = model.with_trash.filter(owner=teacher_of(request), trashed__isnull=False)
            found += [_item(row, row.trashed) for row in rows.only(*names_of(model), "trashed")]
        found.sort(key=lambda item: (item["at"], item["kind"], item["id"]), reverse=True)
        return Response(found)

    @extend_schema(operation_id="trash_empty", responses={204: None})
    def delete(self, request: Request) -> Response:
        """Empties it: all of it is gone for good."""
        teacher = teacher_of(request)
        with_room(lambda: empty(teacher))
        return Response(status=204)


class TrashItemView(APIView):
    """One thing in the trash."""

    def row(self, request: Request, kind: str, pk: int) -> OnShelf:
        """The thing; what is not in the trash is not there."""
        trashed = _model(kind).with_trash.filter(trashed__isnull=False)
        return get_object_or_404(trashed, owner=teacher_of(request), pk=pk)

    @extend_schema(parameters=ITEM, request=None, responses=PutBackSerializer)
    def post(self, request: Request, kind: str, pk: int) -> Response:
        """Puts it back where it was, with all that it needs."""
        back = put_back(self.row(request, kind, pk))
        return Response({"back": [_item(row, None) for row in back]})

    @extend_schema(parameters=ITEM, responses={204: None})
    def delete(self, request: Request, kind: str, pk: int) -> Response:
        """Deletes it for good."""
        row = self.row(request, kind, pk)
        with_room(lambda: destroy(row))
        return Response(status=204)
