"""Sends lines over HTTP: what could not be sent is kept and sent again, and the robot drives on meanwhile."""

from __future__ import annotations

import time
import urllib.error
import urllib.request
from collections import deque
from collections.abc import Callable, Iterable
from urllib.parse import urlsplit

from geduld.errors import InputError

BATCH_S = 0.1
PATIENCE_S = 5.0
MOST_WAITING = 200_000


def posted(address: str, key: str, lines: list[str], first: int) -> None:
    """Sends some lines, the first of which has a number, so that none is taken twice. Raises OSError."""
    headers = {"Content-Type": "application/x-ndjson", "X-Geduld-Key": key, "X-Geduld-First": str(first)}
    request = urllib.request.Request(address, "\n".join(lines).encode(), headers, method="POST")
    with urllib.request.urlopen(request, timeout=PATIENCE_S) as answer:
        answer.read()


def checked(address: str) -> str:
    """An address that lines can be sent to. Raises InputError."""
    if urlsplit(address).scheme not in ("http", "https"):
        raise InputError("bad-address", f"{address} is no address on the network.", "Write http://HOST:PORT/api/live")
    return address


def send(
    lines: Iterable[tuple[float, str]],
    post: Callable[[list[str], int], None],
    tell: Callable[[str], None],
    clock: Callable[[], float] = time.monotonic,
    sleep: Callable[[float], None] = time.sleep,
) -> int:
    """Sends each line at its instant, in small batches; the number of lines that were sent.

    When a batch cannot be sent it waits, and goes with the next one: that is told once, and again when it got through.
    """
    start, waiting, first, lost = clock(), deque[str](), 0, False
    due = 0.0

    def flush() -> None:
        nonlocal first, lost
        if not waiting:
            return
        batch = list(waiting)[:2_000]
        try:
            post(batch, first)
        except (OSError, urllib.error.URLError) as problem:
            if not lost:
                tell(f"The connection is lost ({problem}); the readings are kept.")
            lost = True
            return
        if lost:
            tell("The connection is back.")
        lost = False
        first += len(batch)
        for _ in batch:
            waiting.popleft()

    for at, line in lines:
        if at >= due:
            now = clock() - start
            if at > now:
                sleep(at - now)
            flush()
            due = at + BATCH_S
        if len(waiting) < MOST_WAITING:
            waiting.append(line)
    tries = 0
    while waiting and tries < 50:
        flush()
        if lost:
            tries += 1
            sleep(BATCH_S)
    return first
