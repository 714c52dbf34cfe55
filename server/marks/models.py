"""Results and marks."""

from __future__ import annotations

from django.db import models

from server.exercises.models import Exercise, HandIn


class Result(models.Model):
    """A graded hand-in. `made_from` is a hash of all it was graded from: another hash means it is stale.

    `failure` says why Geduld itself failed when it was last graded, and is empty when it did not. Marks from before
    stay. `unread` is each thing in the program that Geduld does not read.
    """

    hand_in = models.OneToOneField(HandIn, on_delete=models.CASCADE, related_name="result")
    made_from = models.CharField(max_length=64)
    problem = models.TextField(blank=True)
    failure = models.TextField(blank=True)
    unread = models.JSONField(default=list)
    graded = models.DateTimeField()


class Job(models.Model):
    """Long work on an exercise: the last one of its kind, `done` of `of` pieces; `problem` says why it failed.

    `resumed` when it was taken up again after Geduld had been stopped in the middle of it.
    """

    RUNNING, DONE, FAILED, CANCELLED = "running", "done", "failed", "cancelled"

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=10)
    state = models.CharField(max_length=10, default=RUNNING)
    done = models.PositiveIntegerField(default=0)
    of = models.PositiveIntegerField(default=0)
    problem = models.TextField(blank=True)
    resumed = models.BooleanField(default=False)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("exercise", "kind"), name="one_job_a_kind"),)


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
