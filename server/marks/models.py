"""Results and marks."""

from __future__ import annotations

from django.db import models

from server.exercises.models import HandIn


class Result(models.Model):
    """A graded hand-in. `made_from` is a hash of all it was graded from: another hash means it is stale."""

    hand_in = models.OneToOneField(HandIn, on_delete=models.CASCADE, related_name="result")
    made_from = models.CharField(max_length=64)
    problem = models.TextField(blank=True)
    graded = models.DateTimeField()


class Mark(models.Model):
    """One check in one case, or in `all` cases together."""

    result = models.ForeignKey(Result, on_delete=models.CASCADE, related_name="marks")
    check_title = models.CharField(max_length=200)
    case = models.CharField(max_length=100)
    verdict = models.CharField(max_length=20)
    points = models.FloatField()
    of = models.FloatField()
    margin = models.FloatField(null=True)
    unit = models.CharField(max_length=20, blank=True)
    at = models.FloatField(null=True)
    because = models.TextField(blank=True)

    class Meta:
        ordering = ("id",)
