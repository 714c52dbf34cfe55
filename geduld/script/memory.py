"""How much a script keeps: what it makes is counted as it grows, and looked at when the count has become much."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from typing import Any

from geduld.script.ends import TooMuch

MOST_BYTES = 64_000_000
SOURCE = "<script>"
_TOO_MUCH = "The program keeps more than 64 MB, so the run was ended here. Let it forget what it no longer needs."


class Memory:
    """What one run keeps. `made` is what was made since it was last looked at."""

    __slots__ = ("made", "most")

    def __init__(self) -> None:
        self.made = 0
        self.most = MOST_BYTES

    def grow(self, size: int) -> None:
        """Counts bytes that are made now. Raises TooMuch when more is kept than may be."""
        self.made += size
        if self.made > self.most:
            if size > MOST_BYTES:
                raise TooMuch(_TOO_MUCH)
            kept = kept_bytes()
            if kept + size > MOST_BYTES:
                raise TooMuch(_TOO_MUCH)
            self.made = kept
            self.most = max(MOST_BYTES, 2 * kept)


def kept_bytes() -> int:
    """The size of all that a script's variables hold, in bytes."""
    seen: set[int] = set()
    waiting: list[Any] = list(variables())
    total = 0
    while waiting:
        value = waiting.pop()
        if id(value) in seen or value is None or isinstance(value, type(len)):
            continue
        seen.add(id(value))
        total += sys.getsizeof(value, 64)
        if isinstance(value, list | tuple | set):
            waiting += value
        elif isinstance(value, dict):
            waiting += value.keys()
            waiting += value.values()
        elif getattr(type(value), "__module__", "") == SOURCE:
            waiting.append(value.__dict__)
    return total


def variables() -> Iterator[Any]:
    """What the variables hold of all functions of the script that are being performed."""
    for held in frames():
        for name, value in held.items():
            if name[1:2] == "_":
                yield value


def frames() -> Iterator[dict[str, Any]]:
    """The names and values of the functions of the script that are being performed, the innermost first."""
    frame = sys._getframe(1)
    while frame is not None:
        if frame.f_code.co_filename == SOURCE:
            yield frame.f_locals
        frame = frame.f_back  # type: ignore[assignment]
