"""Sign-in links."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class SignInLink(models.Model):
    """A link that signs one teacher in once. Only a hash of its token is kept."""

    teacher = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    token_hash = models.CharField(max_length=64, unique=True)
    expires = models.DateTimeField()
