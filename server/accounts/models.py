"""Sessions of teachers, and links that sign in or invite."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Presence(models.Model):
    """A session that a teacher began: with its key all of a teacher's can be ended."""

    teacher = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="presences")
    session_key = models.CharField(max_length=40, unique=True)


class SignInLink(models.Model):
    """A link that signs one teacher in once. Only a hash of its token is kept."""

    teacher = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    token_hash = models.CharField(max_length=64, unique=True)
    expires = models.DateTimeField()


class Invitation(models.Model):
    """A link by which one more teacher makes an account. Only a hash of its token is kept."""

    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="invitations")
    note = models.CharField(max_length=100, blank=True)
    token_hash = models.CharField(max_length=64, unique=True)
    expires = models.DateTimeField()
