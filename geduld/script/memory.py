"""How much a script keeps: what it makes is counted as it grows, and looked at when the count has become much."""

from __future__ import annotations

import sys
from collections.abc import Collection, Iterator
from typing import Any

from geduld.script.ends import TooMuch

MOST_BYTES = 64_000_000
SOURCE = "<script>"
_PLAIN, _PLAIN_BYTES = frozenset({float, int, bool}), 28
_MANY = frozenset({list, tuple, set})
_FIELDS_BYTES = 104  # what holds an object's fields
_BUILT_IN = type(len)
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
            kept = kept_bytes(MOST_BYTES)
            if kept + size > MOST_BYTES:
                raise TooMuch(_TOO_MUCH)
            self.made = kept
            self.most = max(MOST_BYTES, 2 * kept)


def kept_bytes(most: int) -> int:
    """The size of all that a script's variables hold, in bytes; what is more than `most` is not looked at."""
    seen: set[int] = set()
    waiting: list[Any] = list(variables())
    total = 0
    while waiting and total <= most:
        value = waiting.pop()
        kind = type(value)
        if id(value) in seen or value is None or kind is _BUILT_IN:
            continue
        seen.add(id(value))
        total += sys.getsizeof(value, 64)
        if kind in _MANY:
            total += _PLAIN_BYTES * _waiting(value, waiting)
        elif kind is dict:
            total += _PLAIN_BYTES * (_waiting(value, waiting) + _waiting(value.values(), waiting))
        elif kind.__module__ == SOURCE:
            total += _FIELDS_BYTES
            waiting += vars(value).values()
    return total


def _waiting(values: Collection[Any], waiting: list[Any]) -> int:
    """How many of some values are plain numbers; the others are still to be looked at."""
    others = [value for value in values if type(value) not in _PLAIN]
    waiting += others
    return len(values) - len(others)


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
