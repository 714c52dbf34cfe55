"""The classes app."""

from django.apps import AppConfig


class ClassesConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.classes"
    label = "classes"
