"""The rigs app."""

from django.apps import AppConfig


class RigsConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.rigs"
    label = "rigs"
