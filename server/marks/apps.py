"""The marks app."""

from django.apps import AppConfig


class MarksConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.marks"
    label = "marks"
