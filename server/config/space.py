"""The space on the disk: what was deleted is given back, and some is spared, so that a full disk can be emptied."""

from __future__ import annotations

import contextlib
import errno
import os
import sqlite3
from collections.abc import Callable, Iterator
from typing import TypeVar

from django.conf import settings
from django.db import DatabaseError, connection

from server.serving.folder import SPARED, give_up_spared, has_no_room

T = TypeVar("T")
SPARED_BYTES = 8_000_000
_INCREMENTAL = 2
_FULL = (errno.ENOSPC, errno.EDQUOT)


def can_shrink() -> None:
    """Lets the database's file shrink; one that was made before it could is written anew once."""
    with connection.cursor() as cursor:
        if cursor.execute("PRAGMA auto_vacuum").fetchone()[0] != _INCREMENTAL:
            cursor.execute("PRAGMA auto_vacuum = INCREMENTAL")
            cursor.execute("VACUUM")


def shrink() -> None:
    """Gives back the pages that nothing uses any more; where somebody else is writing, some other time."""
    if connection.in_atomic_block:
        return  # a script would end what is going on
    with contextlib.suppress(DatabaseError, sqlite3.Error):
        connection.ensure_connection()
        # A script runs to its end; a single statement without rows would stop behind the first page.
        connection.connection.executescript("PRAGMA incremental_vacuum; PRAGMA wal_checkpoint(TRUNCATE);")


def is_full(error: BaseException | None) -> bool:
    """Whether an error says that the disk is full, itself or as what it comes from."""
    while error is not None:
        if isinstance(error, OSError) and error.errno in _FULL:
            return True
        if isinstance(error, DatabaseError | sqlite3.Error):
            said = str(error)
            if "disk is full" in said or ("disk I/O error" in said and has_no_room(settings.DATA)):
                return True
        error = error.__cause__ or error.__context__
    return False


def spare() -> bool:
    """Keeps a file that can be given up when the disk is full; False where there is no room for it."""
    path = settings.DATA / SPARED
    if path.exists():
        return True
    try:
        with path.open("wb") as file:
            os.posix_fallocate(file.fileno(), 0, SPARED_BYTES)
    except OSError:
        path.unlink(missing_ok=True)
        return False
    return True


@contextlib.contextmanager
def spared_room() -> Iterator[None]:
    """While it lasts, what was spared may be used: for deleting, which needs room before it gives some back."""
    give_up_spared(settings.DATA)
    try:
        yield
    finally:
        shrink()
        spare()


def with_room(work: Callable[[], T]) -> T:
    """Does something that frees space, once more with what was spared where the disk is full."""
    try:
        return work()
    except (DatabaseError, OSError) as error:
        if not is_full(error):
            raise
    with spared_room():
        return work()
