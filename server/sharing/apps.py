"""Tells Django about this part of the server."""

from django.apps import AppConfig


class SharingConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.sharing"
    label = "sharing"
