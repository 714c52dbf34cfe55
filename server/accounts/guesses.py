"""Bounds how often one address may guess, without writing anything down."""

from __future__ import annotations

import threading
import time
from collections import deque

MOST, WITHIN_S, MOST_ADDRESSES = 30, 60.0, 10_000


class Guesses:
    """Wrong guesses of the last minute by the address that they came from."""

    def __init__(self) -> None:
        self._times: dict[str, deque[float]] = {}
        self._lock = threading.Lock()

    def note(self, address: str) -> None:
        """Notes a wrong guess."""
        with self._lock:
            if len(self._times) >= MOST_ADDRESSES:
                self._times.clear()
            self._times.setdefault(address, deque(maxlen=MOST)).append(time.monotonic())

    def too_many(self, address: str) -> bool:
        """Whether an address has guessed wrong too often lately."""
        with self._lock:
            times = self._times.get(address)
            return times is not None and len(times) >= MOST and time.monotonic() - times[0] < WITHIN_S
