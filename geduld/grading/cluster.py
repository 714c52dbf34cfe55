"""Grades in this machine's processes, or on a Dask cluster: a scheduler elsewhere, whose workers have Geduld."""

from __future__ import annotations

import socket
from collections.abc import Iterator, Sequence
from urllib.parse import urlsplit

from geduld.errors import InputError
from geduld.grading.grade import Graded, HandIn, Only, Prepared, grade_each, grade_one

PATIENCE = "10s"
BATCH = 20


def grade_somewhere(
    prepared: Prepared, tasks: Sequence[tuple[HandIn, Only]], workers: int | None = None, scheduler: str = ""
) -> Iterator[Graded]:
    """Hand-ins graded in the order given: on a cluster where `scheduler` names one, else as `grade_each` does."""
    return grade_on(scheduler, prepared, tasks) if scheduler else grade_each(prepared, tasks, workers)


def grade_on(scheduler: str, prepared: Prepared, tasks: Sequence[tuple[HandIn, Only]]) -> Iterator[Graded]:
    """Hand-ins graded by the workers of the scheduler at an address such as `tcp://10.0.0.7:8786`, in the order given.

    Raises InputError when nothing answers there, or when the extra package is not installed.
    """
    try:
        from distributed import Client
    except ImportError:
        message = "Grading on a cluster needs the package distributed, which is not installed."
        raise InputError("no-cluster", message, "Install Geduld with its extra: cluster.") from None
    _knock(scheduler)
    with Client(scheduler, timeout=PATIENCE, set_as_default=False) as client:  # type: ignore[no-untyped-call]
        # The exercise, traces and all, goes to each worker once and not with every hand-in.
        exercise = client.scatter(prepared, broadcast=True)
        futures = client.map(_grade, tasks, prepared=exercise, batch_size=BATCH, pure=False)
        for future in futures:
            graded: Graded = future.result()
            yield graded


def _knock(scheduler: str) -> None:
    """Looks whether anything answers at all: a client that never got through takes long to give up."""
    address = urlsplit(scheduler if "://" in scheduler else f"tcp://{scheduler}")
    try:
        if not address.hostname or not address.port:
            raise ValueError
        socket.create_connection((address.hostname, address.port), timeout=5).close()
    except (OSError, ValueError):
        message = f'No scheduler answers at "{scheduler}".'
        raise InputError("no-cluster", message, "Check the address, such as tcp://10.0.0.7:8786.") from None


def _grade(task: tuple[HandIn, Only], prepared: Prepared) -> Graded:
    return grade_one(prepared, *task)
