"""Long work in the background: one job of a kind an exercise, kept as a row, with its progress and a way to stop it."""

from __future__ import annotations

import logging
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.conf import settings
from django.db import connection

from geduld.errors import GeduldError
from server.config.apart import Stopped
from server.config.problems import Told
from server.exercises.models import Exercise
from server.marks.models import Job

log = logging.getLogger(__name__)
TOLD_EVERY_S = 0.15
MOST_AT_ONCE = 2


@dataclass
class Going:
    """A job that is going on: `stop` is set when it is to stop, `again` when a newer request takes over."""

    kind: str
    exercise: int
    stop: threading.Event = field(default_factory=threading.Event)
    again: bool = False
    told: float = 0.0

    def progress(self, done: int, of: int) -> None:
        """Notes how far it is. Raises Stopped when it is to stop."""
        now = time.monotonic()
        if done == of or now - self.told > TOLD_EVERY_S:
            self.told = now
            self._row().update(done=done, of=of)
        if self.stop.is_set():
            raise Stopped

    def end(self, state: str, problem: str = "") -> None:
        """Notes how it ended."""
        self._row().update(state=state, problem=problem)

    def _row(self) -> Any:
        return Job.objects.filter(kind=self.kind, exercise=self.exercise)


Work = Callable[[int, Going], None]
_going: dict[tuple[str, int], Going] = {}
_lock = threading.Lock()
_places = threading.BoundedSemaphore(MOST_AT_ONCE)
_turns: defaultdict[int, threading.Lock] = defaultdict(threading.Lock)


def start(kind: str, exercise: int, work: Work, resumed: bool = False) -> None:
    """Starts a job. One that is going on stops where it is, and begins again with what is there now."""
    with _lock:
        fresh = {"state": Job.RUNNING, "done": 0, "of": 0, "problem": "", "resumed": resumed}
        Job.objects.update_or_create(exercise_id=exercise, kind=kind, defaults=fresh)
        going = _going.get((kind, exercise))
        if going is not None:
            going.again = True
            going.stop.set()
            return
        going = _going[kind, exercise] = Going(kind, exercise)
    if settings.JOBS_INLINE:
        _run(going, work)
    else:
        owner = Exercise.with_trash.values_list("owner", flat=True).get(pk=exercise)
        threading.Thread(target=_in_background, args=(going, work, owner), daemon=True).start()


def status(kind: str, exercise: int) -> dict[str, Any] | None:
    """How the last job of a kind stands; None where there was none.

    Ask before reading what the job writes: what is read after a job was done is whole, what is read before may not be.
    """
    jobs = Job.objects.filter(kind=kind, exercise=exercise)
    found = jobs.values("state", "done", "of", "problem", "resumed").first()
    return None if found is None else dict(found)


def cancel(kind: str, exercise: int) -> None:
    """Asks a job to stop; what it has done stays."""
    with _lock:
        going = _going.get((kind, exercise))
        if going is not None:
            going.again = False
            going.stop.set()
            return
    Job.objects.filter(kind=kind, exercise=exercise, state=Job.RUNNING).update(state=Job.CANCELLED)


def take_up(works: dict[str, Work]) -> int:
    """Goes on with the jobs that were going on when Geduld was stopped: how many."""
    left = list(Job.objects.filter(state=Job.RUNNING).values_list("kind", "exercise"))
    for kind, exercise in left:
        start(kind, exercise, works[kind], resumed=True)
    return len(left)


def _in_background(going: Going, work: Work, owner: int) -> None:
    try:
        # A teacher's jobs wait for each other, and those of all for a place: each takes the machine's processors.
        with _turns[owner], _places:
            _run(going, work)
    finally:
        connection.close()


def _run(going: Going, work: Work) -> None:
    while True:
        state, problem = _outcome(going, work)
        with _lock:
            if not going.again:
                going.end(state, problem)
                del _going[going.kind, going.exercise]
                return
            going.again = False
            going.stop.clear()


def _outcome(going: Going, work: Work) -> tuple[str, str]:
    """Does the work: how it ended, and why it failed."""
    try:
        work(going.exercise, going)
    except Stopped:
        return Job.CANCELLED, ""
    except GeduldError as problem:
        return Job.FAILED, f"{problem.message} {problem.remedy}".strip()
    except Told as told:
        return Job.FAILED, f"{told.body['title']} {told.body['remedy']}".strip()
    except Exception:
        log.exception("a job failed")
        return Job.FAILED, "Geduld failed here. What was done before is safe. Try again."
    return Job.DONE, ""
