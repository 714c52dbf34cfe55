"""Rigs, traces, floors, inputs, behaviours and their revisions."""

from __future__ import annotations

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
        indexes = (models.Index(fields=("owner", "-updated", "-id"), name="%(class)s_newest"),)


class Rig(Owned):
    """A rig as its JSON source."""

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


class Trace(Owned):
    """A recording in one compact block; `channels` names its channels in their order.

    `fingerprint` is a hash of all that a run can see of it; `doubts` are sentences about values that cannot be.
    """

    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="traces")
    name = models.CharField(max_length=100)
    channels = models.JSONField()
    samples = models.PositiveIntegerField()
    duration_us = models.BigIntegerField()
    fingerprint = models.CharField(max_length=64, blank=True)
    doubts = models.JSONField(default=list)
    data = models.BinaryField()


class Floor(Owned):
    """A floor as its JSON source."""

    name = models.CharField(max_length=100)
    source = models.JSONField()


class Inputs(Owned):
    """What hands did in a test, as CSV."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="inputs")
    name = models.CharField(max_length=100)
    text = models.TextField()

    @property
    def hands(self) -> tuple[str, Rig]:
        """What hands did, as CSV, and the rig that says what its channels are."""
        return self.text, self.rig


class Behaviour(Owned):
    """A program's text as it is now. `world` is what the bench ran it in last, as a world is asked for."""

    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="behaviours")
    title = models.CharField(max_length=100)
    text = models.TextField(blank=True)
    world = models.JSONField(default=dict, blank=True)


class Wordbook(Owned):
    """What the words of a class's robot library mean; it is called what its text says."""

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
