"""The shelf app."""

from django.apps import AppConfig


class ShelfConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.shelf"
    label = "shelf"
