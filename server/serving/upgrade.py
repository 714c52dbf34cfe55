"""Upgrades: a copy of what is kept is brought up to date, and takes its place only when all of that went well."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from server.serving.backup import copied, put_aside
from server.serving.folder import DATABASE, in_use, prepared
from server.serving.trouble import Trouble

_ROOT = Path(__file__).resolve().parents[2]


def upgrade(folder: Path) -> str:
    """Brings an older database up to date: a sentence about it, empty where nothing was to be done.

    What was there before stays beside it. Raises Trouble when it cannot be done; then what is kept is as it was.
    """
    database = folder / DATABASE
    if not database.exists() or not _behind():
        return ""
    with in_use(folder, alone=True):
        trial = folder / "upgrading"
        shutil.rmtree(trial, ignore_errors=True)
        try:
            copied(database, prepared(trial) / DATABASE)
            _migrate(trial)
            copied(trial / DATABASE, trial / "whole")
            kept = put_aside(database)
            os.replace(trial / "whole", database)
        finally:
            shutil.rmtree(trial, ignore_errors=True)
    return f"What is kept was brought up to date. As it was before, it is in {kept}."


def _behind() -> bool:
    """Whether the database lacks what this version of Geduld needs."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    import django

    django.setup()
    from django.db import connection
    from django.db.migrations.executor import MigrationExecutor

    try:
        executor = MigrationExecutor(connection)
        applied = bool(executor.loader.applied_migrations)
        ours = {key for key in executor.loader.applied_migrations if key[0] in executor.loader.migrated_apps}
        if ours - set(executor.loader.disk_migrations):
            raise Trouble(
                "What is kept was written by a newer Geduld, which this one does not understand. "
                "Start that version, or restore a backup from before."
            )
        return applied and bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))
    finally:
        connection.close()


def _migrate(folder: Path) -> None:
    """Brings the database of a folder up to date, in a process of its own."""
    command = [sys.executable, "-m", "server.manage", "migrate", "--no-input", "--verbosity", "0"]
    environment = {**os.environ, "GEDULD_DATA": str(folder)}
    done = subprocess.run(command, cwd=_ROOT, env=environment, capture_output=True, text=True)
    if done.returncode:
        said = (done.stderr.strip().splitlines() or ["no reason was given"])[-1]
        raise Trouble(
            f"What is kept could not be brought up to date ({said}). It is as it was: start the version that was used "
            "before, or restore a backup."
        )
