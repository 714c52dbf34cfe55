"""Work in processes of their own: they can be stopped, and they end when the one that started them does."""

from __future__ import annotations

import os
import resource
import signal
import sys
import threading
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import TimeoutError as TookTooLong
from multiprocessing import connection, get_context, parent_process
from multiprocessing.context import BaseContext
from pathlib import Path
from typing import Any, TypeVar

from pebble import ProcessExpired, ProcessPool

T = TypeVar("T")
NICENESS = 5
_WATCH = "watches the parent"  # a thread that only waits, and holds no lock

PATIENCE = 10  # how many times its share of a processor a piece of work may take on a machine that has much to do
MORE_BYTES = 3 << 30  # so much address space a process may take beyond what it has when it begins

__all__ = ["PATIENCE", "NoTime", "ProcessExpired", "TookTooLong", "begin_apart", "outcomes", "start_context", "within"]


class NoTime(Exception):
    """The machine had no time for the work."""


class _OutOfTime(BaseException):
    """The work took more of the processor's time than it may. Nothing of the work's own catches this."""


def within(limit_s: float, work: Callable[..., T], *given: Any) -> T:
    """What the work gives. Raises TookTooLong when it takes more than so many seconds of the processor's time."""

    def over(number: int, frame: Any) -> None:
        raise _OutOfTime

    before = signal.signal(signal.SIGPROF, over)
    signal.setitimer(signal.ITIMER_PROF, limit_s, 0.2)  # again, for who goes on in a `finally`
    try:
        return work(*given)
    except _OutOfTime:
        raise TookTooLong from None
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)


def start_context(preload: Sequence[str] = ()) -> BaseContext:
    """How to start processes here: a fork of this one, or, where other threads hold locks, of a clean one.

    `preload` names the modules that the clean one imports once for all.
    """
    others = [thread for thread in threading.enumerate() if thread.name != _WATCH]
    if len(others) == 1 and sys.platform != "darwin":
        return get_context("fork")
    context = get_context("forkserver")
    if preload:
        context.set_forkserver_preload(list(preload))
    return context


def begin_apart() -> None:
    """What each process does first: it ends with the one that started it, and takes no more memory than it may."""
    _end_with_the_parent()
    _limit_memory()


def _limit_memory() -> None:
    """What asks for more gets a MemoryError, which costs that work alone; without a limit the machine would be full."""
    pages = Path("/proc/self/statm")
    if pages.exists():
        taken = int(pages.read_text().split()[0]) * resource.getpagesize()
        _, hard = resource.getrlimit(resource.RLIMIT_AS)
        most = taken + MORE_BYTES if hard == resource.RLIM_INFINITY else min(taken + MORE_BYTES, hard)
        resource.setrlimit(resource.RLIMIT_AS, (most, hard))


def _end_with_the_parent() -> None:
    """Lets this process end as soon as the one that started it has: also when that one was killed."""
    parent = parent_process()
    if parent is None:
        return

    def wait() -> None:
        connection.wait([parent.sentinel])
        os._exit(1)

    threading.Thread(target=wait, daemon=True, name=_WATCH).start()


def _begin(begin: Callable[..., None], values: tuple[Any, ...]) -> None:
    begin_apart()
    os.nice(NICENESS)  # who waits at the bench comes before a class that is graded
    begin(*values)


def outcomes(
    work: Callable[[Any], T],
    tasks: Sequence[Any],
    workers: int,
    limit_s: float,
    begin: Callable[..., None],
    values: tuple[Any, ...],
    preload: Sequence[str] = (),
) -> Iterator[T | Exception]:
    """What `work` makes of each task, in their order, in so many processes.

    Each process first does `begin(*values)`. A task that takes more than `limit_s` seconds of a processor's time gives
    TookTooLong, one for which the machine has none NoTime, and one whose process died ProcessExpired: they cost that
    task alone. Leaving the iteration stops what is going on.
    """
    pool = ProcessPool(workers, initializer=_begin, initargs=(begin, values), context=start_context(preload))
    try:
        patience = PATIENCE * limit_s
        futures = [pool.schedule(_timed, args=[limit_s, work, task], timeout=patience) for task in tasks]
        for future in futures:
            try:
                outcome = future.result()
                yield TookTooLong() if outcome is None else outcome[0]
            except TookTooLong:
                yield NoTime()
            except ProcessExpired as problem:
                yield problem
    finally:
        pool.stop()  # type: ignore[no-untyped-call]
        pool.join()


def _timed(limit_s: float, work: Callable[[Any], T], task: Any) -> tuple[T] | None:
    """In the other process: what the work gives; None when it took too long."""
    try:
        return (within(limit_s, work, task),)
    except TookTooLong:
        return None
