"""Exercises, cases and hand-ins."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from django.db import models

from geduld.grading.points import PointRules
from geduld.readers.reading import LANGUAGES, NOTATION
from geduld.run.world import FLOOR_LIMIT_US
from server.shelf.models import Behaviour, Floor, OnShelf, Rig, Trace, Wordbook


class Exercise(OnShelf):
    """A task for a class."""

    kind = "exercises"

    title = models.CharField(max_length=100)
    brief = models.TextField(blank=True)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="exercises")
    reference = models.TextField(blank=True)
    checks = models.TextField(blank=True)
    over_cases = models.CharField(
        max_length=10, choices=[("mean", "mean"), ("least", "least"), ("each", "each")], default="mean"
    )
    due = models.DateTimeField(null=True, blank=True)
    late_per_day = models.FloatField(default=0.0)
    late_at_most = models.FloatField(default=1.0)
    round_to = models.FloatField(default=0.0)
    wordbooks = models.ManyToManyField(Wordbook, related_name="exercises", blank=True)

    @property
    def rules(self) -> PointRules:
        """How a hand-in's points come from its marks."""
        return PointRules(self.due, self.late_per_day, self.late_at_most, self.round_to)


def partner_rig(cases: Iterable[Case]) -> Rig | None:
    """The rig of the other device, where some case has one."""
    return next((case.partner.rig for case in cases if case.partner is not None), None)


class Case(models.Model):
    """A world that hand-ins are tried in: a trace, a floor or nothing but time, with what hands do there, as CSV.

    `partner` is the behaviour of another device; what one sends the other hears `delay_us` later, but for `lost` %.
    """

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="cases")
    name = models.CharField(max_length=100)
    trace = models.ForeignKey(Trace, on_delete=models.PROTECT, related_name="cases", null=True, blank=True)
    floor = models.ForeignKey(Floor, on_delete=models.PROTECT, related_name="cases", null=True, blank=True)
    follow = models.CharField(max_length=10, choices=[("time", "time"), ("travel", "travel")], default="time")
    start = models.CharField(max_length=100, blank=True)
    inputs = models.TextField(blank=True)
    seed = models.BigIntegerField(null=True, blank=True)
    faults = models.JSONField(default=list, blank=True)
    lasts_us = models.BigIntegerField(null=True, blank=True)
    partner = models.ForeignKey(Behaviour, on_delete=models.PROTECT, related_name="+", null=True, blank=True)
    delay_us = models.BigIntegerField(default=20_000)
    lost = models.FloatField(default=0.0)
    limit_us = models.BigIntegerField(null=True, blank=True)

    class Meta:
        ordering = ("id",)
        constraints = (
            models.UniqueConstraint(fields=("exercise", "name"), name="one_case_a_name"),
            models.CheckConstraint(
                condition=models.Q(trace__isnull=False, floor__isnull=True, lasts_us__isnull=True)
                | models.Q(trace__isnull=True, floor__isnull=False, lasts_us__isnull=True)
                | models.Q(trace__isnull=True, floor__isnull=True, lasts_us__isnull=False),
                name="a_case_has_one_world",
            ),
        )

    @property
    def hands(self) -> tuple[str, Rig]:
        """What hands do, as CSV, and the rig that says what its channels are."""
        return self.inputs, self.exercise.rig

    @property
    def duration_us(self) -> int:
        """How long a run in it lasts."""
        longest = FLOOR_LIMIT_US if self.trace is None else self.trace.duration_us
        return self.limit_us or self.lasts_us or longest


class HandIn(models.Model):
    """One student's program for an exercise, byte for byte; or, where it is `recorded`, a real robot's run as CSV.

    `due` is a deadline of the student's own, where there is one; `sourced_id` what the school's register calls the
    student. `language` is what it is written in. `digest` is a hash of all three, kept so that nobody has to read
    the bytes to know whether marks are of them.
    """

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="hand_ins")
    student = models.CharField(max_length=100)
    data = models.BinaryField()
    digest = models.CharField(max_length=64, blank=True)
    recorded = models.BooleanField(default=False)
    language = models.CharField(
        max_length=10, choices=[(language, language) for language in LANGUAGES], default=NOTATION
    )
    received = models.DateTimeField()
    due = models.DateTimeField(null=True, blank=True)
    sourced_id = models.CharField(max_length=255, blank=True)

    class Meta:
        ordering = ("student",)
        constraints = (models.UniqueConstraint(fields=("exercise", "student"), name="one_hand_in_a_student"),)

    @property
    def rules(self) -> PointRules:
        """How its points come from its marks, by the student's own deadline."""
        return replace(self.exercise.rules, due=self.due) if self.due else self.exercise.rules

    def save(self, *, update_fields: Iterable[str] | None = None, **options: Any) -> None:
        """With the hash of what is kept."""
        if update_fields is not None and "data" in update_fields:
            update_fields = {*update_fields, "digest"}
        if "data" not in self.get_deferred_fields():
            self.digest = digest_of(self.recorded, bytes(self.data), self.language)
        super().save(update_fields=update_fields, **options)


def digest_of(recorded: bool, data: bytes, language: str = NOTATION) -> str:
    """A hash of a hand-in."""
    kind = str(recorded) if language == NOTATION else language
    return hashlib.sha256(f"{kind} ".encode() + data).hexdigest()
