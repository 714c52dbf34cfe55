"""The keys with which robots send their readings."""

from __future__ import annotations

from django.db import models

from server.shelf.models import Rig


class LiveKey(models.Model):
    """A rig's key: only a hash of it is kept."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="live_key")
    digest = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)
