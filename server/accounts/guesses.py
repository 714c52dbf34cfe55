"""Bounds how often one address, or one name, may guess, without writing anything down."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict, deque

MOST_KNOWN = 10_000


class Guesses:
    """Wrong guesses of the last minute, by the address that they came from or the name that they were about."""

    def __init__(self, most: int = 30, within_s: float = 60.0) -> None:
        self.most, self.within_s = most, within_s
        self._times: dict[str, deque[float]] = {}
        self._lock = threading.Lock()

    def note(self, who: str) -> None:
        """Notes a wrong guess."""
        with self._lock:
            if len(self._times) >= MOST_KNOWN:
                self._times.clear()
            self._times.setdefault(who, deque(maxlen=self.most)).append(time.monotonic())

    def too_many(self, who: str) -> bool:
        """Whether somebody has guessed wrong too often lately."""
        with self._lock:
            times = self._times.get(who)
            return times is not None and len(times) >= self.most and time.monotonic() - times[0] < self.within_s

    def forget(self) -> None:
        """All of them."""
        with self._lock:
            self._times.clear()


class Known:
    """Who got in from where lately: they need not wait when somebody else at the same address guesses."""

    def __init__(self, most: int = 20_000, within_s: float = 12 * 3600.0) -> None:
        self.most, self.within_s = most, within_s
        self._times: OrderedDict[tuple[str, ...], float] = OrderedDict()
        self._lock = threading.Lock()

    def note(self, *who: str) -> None:
        """Notes that somebody got in; of too many the one longest ago is forgotten."""
        with self._lock:
            self._times[who] = time.monotonic()
            self._times.move_to_end(who)
            if len(self._times) > self.most:
                self._times.popitem(last=False)

    def knows(self, *who: str) -> bool:
        """Whether somebody got in lately."""
        with self._lock:
            return time.monotonic() - self._times.get(who, -self.within_s) < self.within_s

    def forget(self) -> None:
        """All of them."""
        with self._lock:
            self._times.clear()
