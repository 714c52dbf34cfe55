"""The exercises app."""

from django.apps import AppConfig


class ExercisesConfig(AppConfig):
    name = "server.exercises"
    label = "exercises"
