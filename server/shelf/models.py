"""Rigs, traces, floors, inputs, behaviours and their revisions."""

from __future__ import annotations

from typing import ClassVar, Self, TypeVar

from django.conf import settings
from django.db import models


class Owned(models.Model):
    """A row that belongs to one teacher."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        abstract = True
        ordering = ("-updated", "-id")
        indexes: ClassVar[tuple[models.Index, ...]] = (
            models.Index(fields=("owner", "-updated", "-id"), name="%(class)s_newest"),
        )


Row = TypeVar("Row", bound=models.Model)


class OutOfTheTrash(models.Manager[Row]):
    """The rows that are not in the trash."""

    def get_queryset(self) -> models.QuerySet[Row]:
        """Those rows."""
        return super().get_queryset().filter(trashed__isnull=True)


class OnShelf(Owned):
    """A row that lies on a teacher's shelf, under a `kind`. It can be put away (`archived`), or into the trash.

    `tags` are its tags, each with a line break before and behind it, so that one is found as a whole. `used` is when
    it was opened last. What is in the trash is nowhere but there: `objects` has none of it, `with_trash` has all.
    """

    kind: ClassVar[str]

    archived = models.BooleanField(default=False)
    trashed = models.DateTimeField(null=True, blank=True)
    used = models.DateTimeField(null=True, blank=True)
    tags = models.TextField(default="", blank=True)

    objects: ClassVar[OutOfTheTrash[Self]] = OutOfTheTrash()
    with_trash: ClassVar[models.Manager[Self]] = models.Manager()

    class Meta(Owned.Meta):
        abstract = True
        indexes: ClassVar[tuple[models.Index, ...]] = (
            *Owned.Meta.indexes,
            models.Index(fields=("owner", "trashed", "archived", "-updated", "-id"), name="%(class)s_shelf"),
            models.Index(fields=("owner", "trashed", "used"), name="%(class)s_used"),
        )

    @property
    def called(self) -> str:
        """What it is called on the shelf."""
        return str(getattr(self, "title", None) or getattr(self, "name", ""))

    @property
    def tag_list(self) -> list[str]:
        """Its tags."""
        return [tag for tag in self.tags.split("\n") if tag]


class Rig(OnShelf):
    """A rig as its JSON source."""

    kind = "rigs"

    name = models.CharField(max_length=100)
    source = models.JSONField()


class RigRevision(models.Model):
    """A rig's source as it was before a change, and why it was changed: empty for changes by hand."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="revisions")
    source = models.JSONField()
    why = models.CharField(max_length=200, blank=True)
    saved = models.DateTimeField()

    class Meta:
        ordering = ("-saved", "-id")
        indexes = (models.Index(fields=("rig", "-saved", "-id"), name="rig_revision_newest"),)


class Trace(OnShelf):
    """A recording in one compact block; `channels` names its channels in their order.

    `fingerprint` is a hash of all that a run can see of it; `doubts` are sentences about values that cannot be.
    """

    kind = "traces"

    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="traces")
    name = models.CharField(max_length=100)
    channels = models.JSONField()
    samples = models.PositiveIntegerField()
    duration_us = models.BigIntegerField()
    fingerprint = models.CharField(max_length=64, blank=True)
    doubts = models.JSONField(default=list)
    data = models.BinaryField()


class Floor(OnShelf):
    """A floor as its JSON source."""

    kind = "floors"

    name = models.CharField(max_length=100)
    source = models.JSONField()


class Inputs(OnShelf):
    """What hands did in a test, as CSV."""

    kind = "inputs"

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="inputs")
    name = models.CharField(max_length=100)
    text = models.TextField()

    @property
    def hands(self) -> tuple[str, Rig]:
        """What hands did, as CSV, and the rig that says what its channels are."""
        return self.text, self.rig


class Behaviour(OnShelf):
    """A program's text as it is now. `world` is what the bench ran it in last, as a world is asked for."""

    kind = "behaviours"

    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="behaviours")
    title = models.CharField(max_length=100)
    text = models.TextField(blank=True)
    world = models.JSONField(default=dict, blank=True)


class Wordbook(OnShelf):
    """What the words of a class's robot library mean; it is called what its text says."""

    kind = "wordbooks"

    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="wordbooks")
    title = models.CharField(max_length=100)
    text = models.TextField(blank=True)


class Revision(models.Model):
    """A behaviour's text as it was. `apart` when it was refused, because another one had been saved meanwhile."""

    behaviour = models.ForeignKey(Behaviour, on_delete=models.CASCADE, related_name="revisions")
    text = models.TextField(blank=True)
    saved = models.DateTimeField()
    apart = models.BooleanField(default=False)

    class Meta:
        ordering = ("-saved", "-id")
        indexes = (models.Index(fields=("behaviour", "-saved", "-id"), name="revision_newest"),)
