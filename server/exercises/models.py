"""Exercises, cases and hand-ins."""

from __future__ import annotations

from django.db import models

from server.shelf.models import Owned, Rig, Trace


class Exercise(Owned):
    """A task for a class."""

    title = models.CharField(max_length=100)
    brief = models.TextField(blank=True)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="exercises")
    reference = models.TextField(blank=True)
    checks = models.TextField(blank=True)
    over_cases = models.CharField(max_length=10, choices=[("mean", "mean"), ("least", "least")], default="mean")


class Case(models.Model):
    """A trace that hand-ins are tried on."""

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="cases")
    name = models.CharField(max_length=100)
    trace = models.ForeignKey(Trace, on_delete=models.PROTECT, related_name="cases")
    limit_us = models.BigIntegerField(null=True, blank=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("exercise", "name"), name="one_case_a_name"),)


class HandIn(models.Model):
    """One student's program for an exercise, byte for byte."""

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="hand_ins")
    student = models.CharField(max_length=100)
    data = models.BinaryField()
    received = models.DateTimeField()

    class Meta:
        ordering = ("student",)
        constraints = (models.UniqueConstraint(fields=("exercise", "student"), name="one_hand_in_a_student"),)
