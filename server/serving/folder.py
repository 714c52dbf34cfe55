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

DATABASE, KEY, LOCK = "geduld.sqlite3", "secret-key", "in-use"


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


def looked_at(database: Path, whole: bool = False) -> None:
    """Nothing, when a database is none yet or can be read. Raises Trouble when it is broken.

    `whole` looks at every page of it, which takes a while for a large one.
    """
    if not database.exists():
        return
    try:
        with contextlib.closing(sqlite3.connect(database, timeout=20)) as connection:
            connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
            found = connection.execute("PRAGMA quick_check(1)").fetchone()[0] if whole else "ok"
    except sqlite3.Error as problem:
        found = str(problem)
    if found != "ok":
        said = f"The database {database} is broken ({found})."
        raise Trouble(f"{said} Restore a backup: python -m server restore FILE --data {database.parent}")
