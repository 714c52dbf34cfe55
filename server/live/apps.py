"""The live app."""

from django.apps import AppConfig


class LiveConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.live"
    label = "live"
