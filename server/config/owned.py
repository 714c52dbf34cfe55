"""What belongs to a teacher is seen by that teacher alone."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet
from rest_framework.serializers import BaseSerializer, PrimaryKeyRelatedField
from rest_framework.viewsets import ModelViewSet


class OwnedViewSet(ModelViewSet):
    """A view over rows with an `owner`; every query is scoped to the signed-in teacher."""

    http_method_names = ["get", "post", "patch", "delete"]  # noqa: RUF012

    def get_queryset(self) -> QuerySet[Any]:
        """The teacher's own rows."""
        if getattr(self, "swagger_fake_view", False):
            return super().get_queryset().none()
        return super().get_queryset().filter(owner=self.request.user)

    def perform_create(self, serializer: BaseSerializer) -> None:
        """New rows belong to the teacher who makes them."""
        serializer.save(owner=self.request.user)


class OwnedField(PrimaryKeyRelatedField):
    """A reference to a row of the same teacher; another teacher's row is as if it were not there."""

    def get_queryset(self) -> QuerySet[Any]:
        """The rows that can be named."""
        queryset = super().get_queryset()
        request = self.context.get("request")
        return queryset.filter(owner=request.user) if request is not None else queryset.none()
