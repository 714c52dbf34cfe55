"""What belongs to a teacher is seen by that teacher alone, and is kept whole or not at all."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import transaction
from django.db.models import QuerySet
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema_field
from rest_framework.renderers import JSONRenderer
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.serializers import BaseSerializer, Field, PrimaryKeyRelatedField
from rest_framework.viewsets import ModelViewSet

LARGEST_KEY = 2**63 - 1
KEY = r"[0-9]{1,18}"


class KeptWhole(ModelViewSet):
    """A view that keeps a change only when what is kept then can be told: in one transaction, validated before."""

    http_method_names = ["get", "head", "options", "post", "patch", "delete"]  # noqa: RUF012
    lookup_value_regex = KEY

    def create(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """A new row."""
        serializer = self.get_serializer(data=request.data)
        serializer.is_valid(raise_exception=True)
        with transaction.atomic():
            self.perform_create(serializer)
            return _told(Response(serializer.data, status=201))

    def update(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """A changed row: changed as it is now, not as it was when it was looked at."""
        row = self.get_object()
        serializer = self.get_serializer(row, data=request.data, partial=kwargs.get("partial", False))
        serializer.is_valid(raise_exception=True)
        # Who writes keeps all others from writing: what takes long was done before.
        with transaction.atomic():
            row.refresh_from_db()
            self.perform_update(serializer)
            return _told(Response(serializer.data))


def _told(response: Response) -> Response:
    """The response, when it can be written as JSON."""
    JSONRenderer().render(response.data)
    return response


class OwnedViewSet(KeptWhole):
    """A view over rows with an `owner`; every query is scoped to the signed-in teacher."""

    def get_queryset(self) -> QuerySet[Any]:
        """The teacher's own rows."""
        if getattr(self, "swagger_fake_view", False):
            return super().get_queryset().none()
        return super().get_queryset().filter(owner=self.request.user)

    def perform_create(self, serializer: BaseSerializer) -> None:
        """New rows belong to the teacher who makes them."""
        serializer.save(owner=self.request.user)


def teacher_of(request: Request) -> int:
    """The key of the teacher who is signed in."""
    key = request.user.pk
    assert key is not None  # nobody else comes to what is asked here
    return key


class OwnedField(PrimaryKeyRelatedField):
    """A reference to a row of the same teacher; another teacher's row is as if it were not there."""

    def get_queryset(self) -> QuerySet[Any]:
        """The rows that can be named."""
        queryset = super().get_queryset()
        assert queryset is not None  # every such field is given its rows
        request = self.context.get("request")
        return queryset.filter(owner=request.user) if request is not None else queryset.none()

    def to_internal_value(self, data: Any) -> Any:
        """The row under a key."""
        return super().to_internal_value(_key(self, data))


@extend_schema_field(OpenApiTypes.INT)
class KeyField(Field):
    """A row's key alone. Whether there is such a row, and whose it is, is looked up later."""

    default_error_messages: ClassVar = PrimaryKeyRelatedField.default_error_messages

    def to_internal_value(self, data: Any) -> int:
        """The key."""
        return _key(self, data)

    def to_representation(self, value: int) -> int:
        """The key."""
        return value


def _key(field: Field, data: Any) -> int:
    """A key: a whole number, or its digits, as a form sends them."""
    if isinstance(data, str) and data.isascii() and data.isdigit() and len(data) < 19:
        data = int(data)
    if not isinstance(data, int) or isinstance(data, bool):
        field.fail("incorrect_type", data_type=type(data).__name__)
    if not 0 < data <= LARGEST_KEY:
        field.fail("does_not_exist", pk_value=data)
    return data
