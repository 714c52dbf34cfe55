"""The exercises app."""

from django.apps import AppConfig


class ExercisesConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.exercises"
    label = "exercises"
