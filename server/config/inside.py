"""What a process of its own needs before it does a teacher's work: it is imported once, and the others come from it."""

from __future__ import annotations

import gc
import os
import threading

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
django.setup()

import geduld.hints.about  # noqa: E402  # else the first run would load it
import geduld.run.feedback.runs  # noqa: E402
import geduld.run.recorded.run  # noqa: E402, F401
from geduld.grading.apart import begin_apart  # noqa: E402
from geduld.worlds.floor.warm import warm  # noqa: E402
from server.shelf import bench_run  # noqa: E402, F401
from server.shelf.reading import only_reads  # noqa: E402

# Threads do not outlive a fork, so the one process that all others come from must have none besides its own.
assert threading.active_count() == 1
warm()
# What is there by now stays. To look through all of it for what can go would hold up a run for a tenth of a second.
gc.collect()
gc.freeze()


def begin(database: str) -> None:
    """Lets the process end with the server, and read the server's database, which it cannot change."""
    from django.db import connections

    begin_apart()
    only_reads()
    found = connections["default"].settings_dict
    found["NAME"] = database
    found["OPTIONS"] = {**found["OPTIONS"], "init_command": f"{found['OPTIONS']['init_command']} PRAGMA query_only=ON;"}
