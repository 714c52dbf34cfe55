"""Gives the space of what was deleted back to the disk."""

from __future__ import annotations

import contextlib
import sqlite3

from django.db import DatabaseError, connection

_INCREMENTAL = 2


def can_shrink() -> None:
    """Lets the database's file shrink; one that was made before it could is written anew once."""
    with connection.cursor() as cursor:
        if cursor.execute("PRAGMA auto_vacuum").fetchone()[0] != _INCREMENTAL:
            cursor.execute("PRAGMA auto_vacuum = INCREMENTAL")
            cursor.execute("VACUUM")


def shrink() -> None:
    """Gives back the pages that nothing uses any more; where somebody else is writing, some other time."""
    with contextlib.suppress(DatabaseError, sqlite3.Error):
        connection.ensure_connection()
        # A script runs to its end; a single statement without rows would stop behind the first page.
        connection.connection.executescript("PRAGMA incremental_vacuum; PRAGMA wal_checkpoint(PASSIVE);")
