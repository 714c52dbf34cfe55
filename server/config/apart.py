"""Runs what teachers ask for in processes of their own, so that nobody's program holds the server.

Of the bench's runs a teacher has one at a time, and a newer one replaces it. Everything else a teacher waits for is
done one after the other. So a teacher holds two processes at most, and there are always some for the others.
"""

from __future__ import annotations

import itertools
import json
import logging
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import CancelledError
from concurrent.futures import TimeoutError as TookTooLong
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cache
from multiprocessing import get_context
from typing import Any

from django.conf import settings
from django.db import connection
from pebble import ProcessExpired, ProcessPool
from rest_framework.exceptions import APIException

from geduld.grading.apart import PATIENCE, within
from server.config.problems import Told, body_of

log = logging.getLogger(__name__)
PROCESSES = 4
GRACE_S = 0.4  # how long a newer run waits for the older one before it stops it
MOST_WAITING = 12
_TRIES = 2
_OVER = "out of time"
RECYCLED_AFTER = 2_000  # what a process has kept is given back now and then

__all__ = [
    "Busy",
    "Later",
    "Replaced",
    "Stopped",
    "TooLong",
    "TookTooLong",
    "in_turn",
    "newest",
    "of_students",
    "start",
    "stop_all",
    "stream",
]


class TooLong(APIException):
    """The work took longer than it may."""

    status_code = 422
    default_code = "took-too-long"
    default_detail = "This took too long to work out, so it was stopped. Nothing is changed. Try it with less."


class Later(APIException):
    """The machine had no time for the work."""

    status_code = 503
    default_code = "later"
    default_detail = "The machine has too much to do. What you sent is saved, and will be tried later."


class Replaced(APIException):
    """A newer run of the same teacher took its place."""

    status_code = 409
    default_code = "replaced"
    default_detail = "A newer run has taken the place of this one."


class Busy(APIException):
    """Too much of the same teacher's waits already."""

    status_code = 429
    default_code = "busy"
    default_detail = "Too much is waiting to be done for you already. Try again in a moment."
    wait = 2


@dataclass
class _Slot:
    """What one teacher has under way."""

    changed: threading.Condition = field(default_factory=threading.Condition)
    newest: int = 0
    running: Any = None
    turn: threading.Lock = field(default_factory=threading.Lock)
    waiting: int = 0


class Stopped(Exception):
    """The work was to be stopped."""


_ITEM, _END, _PROBLEM = "item", "end", "problem"
_streams: set[Any] = set()
_pools: list[ProcessPool] = []
_pool_lock = threading.Lock()
_slots: dict[int, _Slot] = {}
_slots_lock = threading.Lock()
_tickets = itertools.count(1)
_long_work = threading.BoundedSemaphore(PROCESSES - 2)
_students_work = threading.BoundedSemaphore(2)


def _slot(teacher: int) -> _Slot:
    with _slots_lock:
        return _slots.setdefault(teacher, _Slot())


@cache
def _context() -> Any:
    context = get_context("forkserver")
    context.set_forkserver_preload(["server.config.inside"])
    return context


def _here() -> bool:
    """Whether work is done in this process: other ones would not see what stands in an open transaction."""
    return settings.WORK_INLINE or connection.in_atomic_block


def _database() -> str:
    return str(connection.settings_dict["NAME"])


def _begin(database: str) -> None:
    from server.config.inside import begin

    begin(database)


def _pool() -> ProcessPool:
    """The processes; new ones where those there were have ended without being asked to."""
    with _pool_lock:
        if _pools and not _pools[0].active:
            log.error("the processes for runs have ended: others are started")
            broken = _pools.pop()
            broken.stop()  # type: ignore[no-untyped-call]
        if not _pools:
            given = (_database(),)
            _pools.append(
                ProcessPool(PROCESSES, max_tasks=RECYCLED_AFTER, initializer=_begin, initargs=given, context=_context())
            )
        return _pools[0]


def start() -> None:
    """Starts the processes, so that the first who asks need not wait for them."""
    _pool().schedule(_nothing).result()


def _nothing() -> None:
    pass


def _scheduled(work: Callable[..., Any], given: tuple[Any, ...], limit_s: float) -> Any:
    """The work as a future, in processes that are there."""
    for _ in range(_TRIES):
        try:
            return _pool().schedule(_answered, (work, given), timeout=limit_s)
        except RuntimeError:  # they ended just now
            continue
    raise Told(body_of(RuntimeError("no process could be started")))


def _done(work: Callable[..., Any], given: tuple[Any, ...], limit_s: float, running: Any = None) -> Any:
    """What the work gives. When a process dies at it, through no fault of the work perhaps, it is tried once more."""
    for left in reversed(range(_TRIES)):
        future = running if running is not None else _scheduled(work, given, limit_s)
        try:
            problem, found = future.result()
        except (ProcessExpired, BrokenProcessPool) as expired:
            log.error("a process died at its work: %s", expired)
            running = None
            if not left:
                raise Told(body_of(expired)) from None
            continue
        if problem is not None:
            raise Told(problem)
        return found
    raise AssertionError("each try ends in an answer or an error")


def newest(teacher: int, work: Callable[..., Any], *given: Any, limit_s: float) -> Any:
    """What `work` gives for the newest run that a teacher asked for.

    Raises Replaced for an older one, TookTooLong past `limit_s` seconds, and what the work raises.
    """
    if _here():
        return work(*given)
    slot, ticket = _slot(teacher), next(_tickets)
    with slot.changed:
        slot.newest = ticket
        slot.changed.notify_all()
        until = time.monotonic() + GRACE_S
        while slot.running is not None:
            if slot.newest != ticket:
                raise Replaced
            left = until - time.monotonic()
            if left <= 0:
                slot.running.cancel()
            slot.changed.wait(left if left > 0 else 0.05)
        if slot.newest != ticket:
            raise Replaced
        slot.running = running = _scheduled(work, given, limit_s)
    try:
        return _done(work, given, limit_s, running)
    except CancelledError:
        raise Replaced from None
    finally:
        with slot.changed:
            slot.running = None
            slot.changed.notify_all()


def in_turn(teacher: int, work: Callable[..., Any], *given: Any, limit_s: float) -> Any:
    """What `work` gives, when it is its turn among what a teacher waits for.

    Raises Busy when too much waits already, TooLong past `limit_s` seconds, and what the work raises.
    """
    if _here():
        return work(*given)
    with _turn(_slot(teacher)), _long_work:
        try:
            return _done(work, given, limit_s)
        except TookTooLong:
            raise TooLong from None


def of_students(work: Callable[..., Any], *given: Any, limit_s: float) -> Any:
    """What `work` gives for a student; a few are looked at at once, whoever's class they are of.

    Raises TooLong past `limit_s` seconds of a processor's time, Later where the machine had no time for it, and what
    the work raises.
    """
    if _here():
        return work(*given)
    with _students_work:
        try:
            found = _done(_within, (limit_s, work, given), PATIENCE * limit_s)
        except TookTooLong:
            raise Later from None
    if isinstance(found, str) and found == _OVER:
        raise TooLong
    return found


def stream(work: Callable[..., None], *given: Any, tell: Callable[[Any], None], stop: threading.Event) -> None:
    """Does `work(tell, *given)` in a process of its own, for as long as it takes: what it tells is told here.

    Raises Stopped when `stop` is set, Told for an error of the work, and what `tell` raises: then the process is ended.
    """
    if _here():
        work(tell, *given)
        return
    ours, theirs = _context().Pipe(duplex=False)
    process = _context().Process(target=_stream, args=(_database(), theirs, work, given))
    process.start()
    theirs.close()
    _streams.add(process)
    try:
        for item in _received(ours, stop):
            tell(item)
    finally:
        process.terminate()
        process.join()
        _streams.discard(process)
        ours.close()


def _received(pipe: Any, stop: threading.Event) -> Iterator[Any]:
    while True:
        if stop.is_set():
            raise Stopped
        if not pipe.poll(0.1):
            continue
        try:
            kind, value = pipe.recv()
        except EOFError:
            raise Told(body_of(RuntimeError("a process died at its work"))) from None
        if kind == _END:
            return
        if kind == _PROBLEM:
            raise Told(value)
        yield value


def stop_all() -> None:
    """Ends every process that works for this one."""
    for process in list(_streams):
        process.terminate()
    with _pool_lock:
        for pool in _pools:
            pool.stop()  # type: ignore[no-untyped-call]
            pool.join()
        _pools.clear()


def _stream(database: str, pipe: Any, work: Callable[..., None], given: tuple[Any, ...]) -> None:
    _begin(database)
    try:
        work(lambda item: pipe.send((_ITEM, item)), *given)
        pipe.send((_END, None))
    except Exception as problem:
        pipe.send((_PROBLEM, _sendable(problem)))


@contextmanager
def _turn(slot: _Slot) -> Iterator[None]:
    with slot.changed:
        if slot.waiting >= MOST_WAITING:
            raise Busy
        slot.waiting += 1
    try:
        with slot.turn:
            yield
    finally:
        with slot.changed:
            slot.waiting -= 1


def _within(limit_s: float, work: Callable[..., Any], given: tuple[Any, ...]) -> Any:
    """In the other process: what the work gives, or _OVER when it takes more than so much of the processor's time."""
    try:
        return within(limit_s, work, *given)
    except TookTooLong:
        return _OVER


def _answered(work: Callable[..., Any], given: tuple[Any, ...]) -> tuple[dict[str, Any] | None, Any]:
    """In the other process: what the work gives, or its error as problem details, which can be sent."""
    try:
        return None, work(*given)
    except Exception as problem:
        return _sendable(problem), None


def _sendable(problem: Exception) -> dict[str, Any]:
    body = body_of(problem)
    if body["status"] >= 500:
        log.error("the work failed", exc_info=problem)
    found: dict[str, Any] = json.loads(json.dumps(body, default=str))
    return found
