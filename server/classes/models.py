"""Classes, students, assignments and tries."""

from __future__ import annotations

from datetime import datetime

from django.db import models

from geduld.readers.reading import LANGUAGES, NOTATION
from server.exercises.models import Exercise, HandIn
from server.shelf.models import Owned


class SchoolClass(Owned):
    """A class of students. `sourced_id` is what the school's register calls it."""

    name = models.CharField(max_length=100)
    sourced_id = models.CharField(max_length=255, blank=True)

    class Meta:
        ordering = ("name",)


class Student(models.Model):
    """One of a class. `code` is personal, and signs hand-ins; `sourced_id` is what the school's register says."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="students")
    name = models.CharField(max_length=100)
    code = models.CharField(max_length=12, unique=True)
    sourced_id = models.CharField(max_length=255, blank=True)

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("school_class", "name"), name="one_student_a_name"),)


class Assignment(models.Model):
    """An exercise that a class is to hand in. `code` is what students type.

    `tries` is how many there are before the deadline, None for as many as one likes; `after_due` how many come after
    it. `counts` is whether the last try counts, or the best. `released` is when its marks were given back, None while
    they are not.
    """

    LAST, BEST = "last", "best"

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="assignments")
    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="assignments")
    code = models.CharField(max_length=12, unique=True)
    tries = models.PositiveIntegerField(null=True, blank=True)
    after_due = models.PositiveIntegerField(default=1)
    counts = models.CharField(max_length=10, choices=[(LAST, LAST), (BEST, BEST)], default=LAST)
    closed = models.BooleanField(default=False)
    released = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("exercise", "school_class"), name="one_assignment_a_class"),)

    def due_for(self, extension: datetime | None) -> datetime | None:
        """When a student's work is due, with an extension where there is one."""
        due = self.exercise.due
        return extension if due is not None and extension is not None else due


class Extension(models.Model):
    """More time for one student."""

    assignment = models.ForeignKey(Assignment, on_delete=models.CASCADE, related_name="extensions")
    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="extensions")
    until = models.DateTimeField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("assignment", "student"), name="one_extension_a_student"),)


class Try(models.Model):
    """What a student handed in at one time, byte for byte, with what was said of it.

    `key` is the browser's own for it, so that what is sent twice is taken once. `fingerprint` proves what came when.
    `feedback` is what the student was told, `points` what it is worth by all checks; None until it was looked at.
    `picture` is that of its run, kept of the last try alone.
    """

    assignment = models.ForeignKey(Assignment, on_delete=models.CASCADE, related_name="given")
    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="given")
    number = models.PositiveIntegerField()
    key = models.CharField(max_length=40)
    data = models.BinaryField()
    language = models.CharField(max_length=10, choices=[(word, word) for word in LANGUAGES], default=NOTATION)
    received = models.DateTimeField()
    late = models.BooleanField(default=False)
    fingerprint = models.CharField(max_length=20)
    feedback = models.JSONField(null=True)
    picture = models.JSONField(null=True)
    points = models.FloatField(null=True)
    hand_in = models.ForeignKey(HandIn, on_delete=models.SET_NULL, null=True, related_name="given")

    class Meta:
        ordering = ("number",)
        constraints = (
            models.UniqueConstraint(fields=("assignment", "student", "number"), name="one_try_a_number"),
            models.UniqueConstraint(fields=("assignment", "student", "key"), name="one_try_a_key"),
        )
