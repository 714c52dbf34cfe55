"""Backups: all that is kept in one file, by SQLite's own way of copying a database that is in use."""

from __future__ import annotations

import contextlib
import os
import sqlite3
from datetime import datetime
from pathlib import Path

from server.serving.folder import DATABASE, in_use, looked_at, prepared
from server.serving.trouble import Trouble

_TABLES = {"django_migrations", "shelf_behaviour", "exercises_exercise", "marks_mark"}


def _folder() -> Path:
    return Path(os.environ.get("GEDULD_DATA") or Path(__file__).resolve().parents[2] / "data")


def backup(file: Path) -> str:
    """Writes a backup, whole or not at all: a sentence about it. Raises Trouble when it cannot be made."""
    database = _folder() / DATABASE
    if not database.exists():
        raise Trouble(f"There is no database {database}: nothing is kept there yet. Name its folder with --data.")
    part = file.with_name(f"{file.name}.part")
    try:
        part.unlink(missing_ok=True)
        part.touch(mode=0o600)
        copied(database, part)
        os.replace(part, file)
    except (OSError, sqlite3.Error) as problem:
        with contextlib.suppress(OSError):
            part.unlink(missing_ok=True)
        raise Trouble(f"The backup {file} cannot be written: {problem}.") from None
    return f"All that is kept is in {file} now ({file.stat().st_size / 1e6:.1f} MB)."


def restore(file: Path) -> str:
    """Puts a backup in the place of what is kept; that stays beside it. Raises Trouble when it cannot be done."""
    folder = prepared(_folder())
    with in_use(folder, alone=True):
        _known(file)
        database, part = folder / DATABASE, folder / f"{DATABASE}.part"
        try:
            part.unlink(missing_ok=True)
            copied(file, part)
            kept = put_aside(database)
            os.replace(part, database)
        except (OSError, sqlite3.Error) as problem:
            raise Trouble(f"The backup cannot be restored: {problem}. What was kept is as it was.") from None
    before = f" What was there before is in {kept}." if kept else ""
    return f"{file} is restored.{before}"


def copied(source: Path, target: Path) -> None:
    """Copies a database, also one in use, into a single file without a journal of its own."""
    with (
        contextlib.closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True, timeout=20)) as old,
        contextlib.closing(sqlite3.connect(target)) as new,
    ):
        old.backup(new)
        new.execute("PRAGMA journal_mode=DELETE")


def _known(file: Path) -> None:
    """Raises Trouble unless a file is a whole backup."""
    if not file.is_file():
        raise Trouble(f"There is no file {file}.")
    with contextlib.suppress(Trouble):
        looked_at(file, whole=True)
        with contextlib.closing(sqlite3.connect(f"file:{file}?mode=ro", uri=True)) as connection:
            rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
        if {name for (name,) in rows} >= _TABLES:
            return
    raise Trouble(f"{file} is no backup of Geduld's, or it is broken. What is kept is as it was.")


def put_aside(database: Path) -> Path | None:
    """Puts what is kept under another name, with all that its journal still holds; None when nothing is."""
    if not database.exists():
        return None
    aside = database.with_name(f"{database.stem}-before-{datetime.now():%Y%m%d-%H%M%S-%f}{database.suffix}")
    try:
        copied(database, aside)
    except sqlite3.Error:  # a broken one is kept as it is
        aside.write_bytes(database.read_bytes())
    # A journal of the old database beside the new one would undo the new one.
    for end in ("-wal", "-shm", "-journal"):
        database.with_name(database.name + end).unlink(missing_ok=True)
    return aside
