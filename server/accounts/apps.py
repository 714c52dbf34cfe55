"""The accounts app."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.accounts"
    label = "accounts"
