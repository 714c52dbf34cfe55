"""Sheets of measurements."""

from __future__ import annotations

from django.db import models

from server.shelf.models import Owned, Rig


class Measurements(Owned):
    """What a tape measured of a rig, as the JSON of a sheet."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="measurements")
    source = models.JSONField()
