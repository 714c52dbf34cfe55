"""What a process of the bench keeps by content: between two moves of the pointer most of it stays the same."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

T = TypeVar("T")


class Latest(Generic[T]):
    """The last things that were made, by all that they were made from."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._kept: OrderedDict[Hashable, T] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """What is kept under a key, made when it is not. Raises what `make` raises; then nothing is kept."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self.most:
                self._kept.popitem(last=False)
        return made
