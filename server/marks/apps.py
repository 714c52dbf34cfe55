"""The marks app."""

from django.apps import AppConfig


class MarksConfig(AppConfig):
    name = "server.marks"
    label = "marks"
