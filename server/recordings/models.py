"""Recordings that wait to be imported, recipes, notes on moments, and what drawn traces were drawn from."""

from __future__ import annotations

from django.db import models

from server.shelf.models import OnShelf, Rig, Trace


class Recording(OnShelf):
    """A file that was sent and is not imported yet. `recipe` is how it is to be read, as far as that was chosen."""

    kind = "recordings"

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="recordings")
    name = models.CharField(max_length=200)
    size = models.PositiveIntegerField()
    recipe = models.JSONField(null=True, blank=True)
    data = models.BinaryField()


class Recipe(models.Model):
    """How a recording of a rig was read: it is tried for the next file. `columns` are the names that it needs."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="recipes")
    columns = models.JSONField()
    source = models.JSONField()
    used = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("-used", "-id")


class Note(models.Model):
    """What was written to a moment of a trace, in microseconds from its start."""

    trace = models.ForeignKey(Trace, on_delete=models.CASCADE, related_name="notes")
    at_us = models.BigIntegerField()
    text = models.CharField(max_length=500)

    class Meta:
        ordering = ("at_us", "id")


class Drawing(models.Model):
    """The points and the seed that a trace was drawn from."""

    trace = models.OneToOneField(Trace, on_delete=models.CASCADE, related_name="drawing")
    source = models.JSONField()
