"""Links by which colleagues look at an exercise."""

from __future__ import annotations

from django.db import models

from server.exercises.models import Exercise


class LookLink(models.Model):
    """A link by which whoever has it looks at one exercise, and changes nothing. Only a hash of its token is kept.

    `marks` is whether the class's mark sheet can be seen too; `note` is whom it is for.
    """

    exercise = models.ForeignKey(Exercise, on_delete=models.CASCADE, related_name="look_links")
    note = models.CharField(max_length=100, blank=True)
    marks = models.BooleanField(default=False)
    token_hash = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)
