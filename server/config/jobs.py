"""Long work in the background: one job a key, with its progress, and a way to stop it."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.conf import settings
from django.db import connection

from geduld.errors import GeduldError

log = logging.getLogger(__name__)
RUNNING, DONE, FAILED, CANCELLED = "running", "done", "failed", "cancelled"


class Cancelled(Exception):
    """Raised inside the work when it is to stop."""


@dataclass
class Job:
    """A piece of work: `done` of `of` pieces; `problem` says why it failed."""

    done: int = 0
    of: int = 0
    state: str = RUNNING
    problem: str = ""
    stop: threading.Event = field(default_factory=threading.Event)

    def progress(self, done: int, of: int) -> None:
        """Notes how far it is. Raises Cancelled when it is to stop."""
        self.done, self.of = done, of
        if self.stop.is_set():
            raise Cancelled

    def as_json(self) -> dict[str, Any]:
        """What a waiting view needs to know."""
        return {"state": self.state, "done": self.done, "of": self.of, "problem": self.problem}


_jobs: dict[str, Job] = {}
_lock = threading.Lock()


def start(key: str, work: Callable[[Job], None]) -> Job:
    """Starts a job, or gives back the one that is running under this key."""
    with _lock:
        job = _jobs.get(key)
        if job is not None and job.state == RUNNING:
            return job
        job = _jobs[key] = Job()
    if settings.JOBS_INLINE:
        _run(job, work)
    else:
        threading.Thread(target=_in_background, args=(job, work), daemon=True).start()
    return job


def status(key: str) -> dict[str, Any] | None:
    """How the last job under a key stands, since the server started.

    Ask before reading what the job writes: what is read after a job was done is whole, what is read before may not be.
    """
    job = _jobs.get(key)
    return job.as_json() if job else None


def cancel(key: str) -> None:
    """Asks a job to stop; what it has done stays."""
    job = _jobs.get(key)
    if job is not None:
        job.stop.set()


def _in_background(job: Job, work: Callable[[Job], None]) -> None:
    try:
        _run(job, work)
    finally:
        connection.close()


def _run(job: Job, work: Callable[[Job], None]) -> None:
    try:
        work(job)
        job.state = DONE
    except Cancelled:
        job.state = CANCELLED
    except GeduldError as problem:
        job.state, job.problem = FAILED, f"{problem.message} {problem.remedy}".strip()
    except Exception:
        log.exception("a job failed")
        job.state, job.problem = FAILED, "Geduld failed here. What was done before is safe. Try again."
