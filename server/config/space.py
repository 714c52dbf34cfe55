"""Gives the space of what was deleted back to the disk."""

from __future__ import annotations

from django.db import connection

_INCREMENTAL = 2


def can_shrink() -> None:
    """Lets the database's file shrink; one that was made before it could is written anew once."""
    with connection.cursor() as cursor:
        if cursor.execute("PRAGMA auto_vacuum").fetchone()[0] != _INCREMENTAL:
            cursor.execute("PRAGMA auto_vacuum = INCREMENTAL")
            cursor.execute("VACUUM")


def shrink() -> None:
    """Gives back the pages that nothing uses any more."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA incremental_vacuum").fetchall()
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()
