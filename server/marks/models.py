"""Results and marks."""

from __future__ import annotations

from django.db import models

from server.exercises.models import Exercise, HandIn


class Result(models.Model):
    """A graded hand-in. `made_from` is a hash of all it was graded from: another hash means it is stale."""

    hand_in = models.OneToOneField(HandIn, on_delete=models.CASCADE, related_name="result")
    made_from = models.CharField(max_length=64)
    problem = models.TextField(blank=True)
    graded = models.DateTimeField()


class Change(models.Model):
    """A mark of Geduld's own that came out otherwise when it was graded again, as it was before."""

    hand_in = models.ForeignKey(HandIn, on_delete=models.CASCADE, related_name="changes")
    check_title = models.CharField(max_length=200)
    verdict = models.CharField(max_length=20)
    points = models.FloatField()
    because = models.TextField(blank=True)
    graded = models.DateTimeField()

    class Meta:
        ordering = ("-graded", "-id")


class Override(models.Model):
    """What a teacher gives for one check in place of Geduld's points, and why. The newest counts.

    `points` is None when the teacher takes it back.
    """

    hand_in = models.ForeignKey(HandIn, on_delete=models.CASCADE, related_name="overrides")
    check_title = models.CharField(max_length=200)
    points = models.FloatField(null=True)
    reason = models.TextField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-made", "-id")


class Proof(models.Model):
    """What proofreading found in an exercise. `made_from` is a hash of the exercise as it was then."""

    exercise = models.OneToOneField(Exercise, on_delete=models.CASCADE, related_name="proof")
    made_from = models.CharField(max_length=64)
    found = models.JSONField()
    made = models.DateTimeField()


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
