"""What all that lies on the shelf has in common over HTTP."""

from __future__ import annotations

from typing import ClassVar

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from server.config.owned import OwnedViewSet
from server.config.space import with_room
from server.shelf.finding import Finding
from server.shelf.models import OnShelf
from server.shelf.trash import put_in_trash

SHELF_FIELDS = ("archived", "tags")


class OnShelfSerializer(serializers.ModelSerializer):
    """A row with its tags, and whether it is put away; both are changed at `shelf/KIND/ID`."""

    archived = serializers.BooleanField(read_only=True)
    tags = serializers.SerializerMethodField()

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_tags(self, row: OnShelf) -> list[str]:
        """Its tags."""
        return row.tag_list


class OnShelfViewSet(OwnedViewSet):
    """A view over rows of the shelf. What is deleted goes into the trash.

    `searched` are the fields in which words are looked for; the first is what a row is called.
    """

    filter_backends = (Finding,)
    searched: ClassVar[tuple[str, ...]] = ("name", "rig__name")

    def perform_destroy(self, row: OnShelf) -> None:
        """Puts it into the trash. What something still needs stays where it is."""
        with_room(lambda: put_in_trash(row))
