"""The folder of what is kept: its owner's alone, with the secret key, the database, and a lock."""

from __future__ import annotations

import contextlib
import fcntl
import os
import secrets
import sqlite3
from collections.abc import Iterator
from pathlib import Path

from server.serving.trouble import Trouble

DATABASE, KEY, LOCK, SERVED = "geduld.sqlite3", "secret-key", "in-use", "served"
SPARED = "spare-room"
_SMALL = 100_000_000  # bytes: so much is looked through in well under a second


def prepared(folder: Path) -> Path:
    """The folder, made and closed to others. Raises Trouble when it cannot be used."""
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        if folder.stat().st_uid == os.getuid():
            folder.chmod(0o700)
    except OSError as problem:
        raise Trouble(f"The folder {folder} cannot be used: {problem.strerror}. Name another with --data.") from None
    return folder


def secret_key(folder: Path) -> str:
    """The key that sessions are signed with, made when there is none. Raises Trouble when the file holds none."""
    path = folder / KEY
    try:
        if not path.exists():
            part = path.with_name(f"{KEY}.{os.getpid()}")
            part.touch(mode=0o600)
            part.write_text(secrets.token_urlsafe(50))
            # Of two that start at once, one key stays: whole, and the same for both.
            with contextlib.suppress(FileExistsError):
                os.link(part, path)
            part.unlink()
        found = path.read_text().strip()
    except (OSError, UnicodeDecodeError) as problem:
        raise Trouble(f"The file {path} cannot be read: {problem}. Delete it, and everybody signs in again.") from None
    if len(found) < 20:
        raise Trouble(f"The file {path} holds no key. Delete it: a new one is made, and everybody signs in again.")
    return found


@contextlib.contextmanager
def in_use(folder: Path, alone: bool = False) -> Iterator[None]:
    """While it lasts, the folder is in use; `alone` when nothing else may use it. Raises Trouble where it cannot be."""
    with (folder / LOCK).open("a") as file:
        try:
            fcntl.flock(file, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
        except OSError:
            what = "Geduld runs on it" if alone else "a backup is being restored there"
            raise Trouble(f"The folder {folder} is in use: {what}. Wait for its end, or stop it first.") from None
        yield


@contextlib.contextmanager
def the_only_server(folder: Path) -> Iterator[None]:
    """While it lasts, this process serves the folder. Raises Trouble where another one does."""
    with (folder / SERVED).open("a") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            said = f"Another Geduld serves the folder {folder} already."
            raise Trouble(f"{said} Use that one, stop it first, or name another folder with --data.") from None
        yield


def is_small(database: Path) -> bool:
    """Whether looking through all of a database takes no longer than a start may."""
    return not database.exists() or database.stat().st_size < _SMALL


def has_no_room(folder: Path) -> bool:
    """Whether the disk is full, or nearly."""
    found = os.statvfs(folder)
    return found.f_bavail * found.f_frsize < 1_000_000


def give_up_spared(folder: Path) -> None:
    """Deletes the file that is kept for when the disk is full."""
    (folder / SPARED).unlink(missing_ok=True)


def _must_not_be_empty(database: Path) -> None:
    """Raises Trouble for a database that is gone, or is an empty file, beside copies of one: that is no first start."""
    if database.exists() and database.stat().st_size:
        return
    copies = [*database.parent.glob("nightly/*.sqlite3"), *database.parent.glob(f"{database.stem}-before-*")]
    journal = database.with_name(f"{database.name}-wal")
    if any(copy.stat().st_size for copy in (*copies, *([journal] if journal.exists() else []))):
        what = "empty" if database.exists() else "not there"
        said = f"The database {database} is {what}, and Geduld was used here before."
        remedy = f"Restore a backup: python -m server restore FILE --data {database.parent}"
        raise Trouble(f"{said} {remedy}")


def looked_at(database: Path, whole: bool = False) -> None:
    """Nothing, when a database is none yet or can be read. Raises Trouble when it is broken.

    `whole` looks at every page of it, which takes a while for a large one.
    """
    _must_not_be_empty(database)
    if not database.exists():
        return
    try:
        with contextlib.closing(sqlite3.connect(database, timeout=20)) as connection:
            connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
            found = connection.execute("PRAGMA quick_check(1)").fetchone()[0] if whole else "ok"
    except sqlite3.Error as problem:
        if has_no_room(database.parent):
            raise Trouble(
                "The disk is full, and Geduld cannot start. Make room on the disk, then start again."
            ) from None
        found = str(problem)
    if found != "ok":
        said = f"The database {database} is broken ({' '.join(str(found).split())})."
        raise Trouble(f"{said} Restore a backup: python -m server restore FILE --data {database.parent}")
