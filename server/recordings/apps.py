"""The recordings app."""

from django.apps import AppConfig


class RecordingsConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.recordings"
    label = "recordings"
