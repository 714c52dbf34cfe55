"""The shelf app."""

from django.apps import AppConfig


class ShelfConfig(AppConfig):
    """This part of the server, for Django."""

    name = "server.shelf"
    label = "shelf"

    def ready(self) -> None:
        """Teaches every connection to the database, the first one too, how names are compared."""
        from server.shelf.finding import teach_connections

        teach_connections()
