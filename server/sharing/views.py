"""A teacher's links by which colleagues look."""

from __future__ import annotations

from typing import Any, ClassVar

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response

from server.marks.views import OfExercise
from server.sharing.looking import new_link
from server.sharing.models import LookLink

MOST_LINKS = 50


class LookLinkSerializer(serializers.ModelSerializer):
    """A link: whom it is for, whether it shows the marks, and when it was last used."""

    class Meta:
        model = LookLink
        fields = ("id", "note", "marks", "made", "seen")
        read_only_fields: ClassVar = ("made", "seen")


class NewLookLinkSerializer(LookLinkSerializer):
    """A link that was just made, with its path, which is told this once."""

    path = serializers.CharField(read_only=True)

    class Meta(LookLinkSerializer.Meta):
        fields: Any = (*LookLinkSerializer.Meta.fields, "path")


class LookLinksView(OfExercise):
    """The links of an exercise."""

    @extend_schema(responses=LookLinkSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """All of them."""
        return Response(LookLinkSerializer(self.exercise(request, pk).look_links.all(), many=True).data)

    @extend_schema(request=LookLinkSerializer, responses={201: NewLookLinkSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Another one."""
        exercise = self.exercise(request, pk)
        asked = LookLinkSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        if exercise.look_links.count() >= MOST_LINKS:
            raise ValidationError({"note": [f"An exercise has at most {MOST_LINKS} links. Take one back."]})
        values = asked.validated_data
        link, token = new_link(exercise, values.get("note", ""), values.get("marks", False))
        # behind the #, which no browser sends to a server: no log has it
        return Response({**LookLinkSerializer(link).data, "path": f"/look#{token}"}, status=201)


class LookLinkView(OfExercise):
    """One link of an exercise."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int, link: int) -> Response:
        """Takes it back: from then on it opens nothing."""
        get_object_or_404(self.exercise(request, pk).look_links.all(), pk=link).delete()
        return Response(status=204)
