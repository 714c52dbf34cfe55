"""What Python's operations do in a script: as in Python, where Python's own could run away under limits."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from geduld.readers.python.enums import EnumKind
from geduld.script.ends import TooMuch
from geduld.script.machine import Machine

MOST_BITS = 4_096
_LARGEST = 1 << MOST_BITS
_CELL, _LETTERS_A_STEP, _ITEMS_A_STEP = 40, 64, 8
_MOST_COMPARED = 100_000
_MOST_DEEP = 1_000
_TOO_DEEP = "The program looks up a tuple with too many tuples in it, so the run was ended here."
_COLLIDES = (1 << 61) - 1  # whole numbers are hashed modulo this
_TOO_MANY = "The program compares lists with too many lists in them, so the run was ended here."
_TOO_LARGE = f"The program works out a whole number of more than {MOST_BITS:,} bits, so the run was ended here."


class Operations(Machine):
    """The operations of one run on values of which nothing is known beforehand."""

    large_keys = 0

    def made(self, value: Any) -> Any:
        """A list, tuple or table that has just been made."""
        self.items(len(value))
        return value

    def result(self, value: Any) -> Any:
        """What an operation gave: a whole number that is not too large, or a text or list that is counted."""
        kind = type(value)
        if kind is int:
            if -_LARGEST < value < _LARGEST:
                return value
            raise TooMuch(_TOO_LARGE)
        if kind is str:
            self.letters(len(value))
        elif kind in (list, tuple, set, dict):
            self.items(len(value))
        return value

    def add(self, left: Any, right: Any) -> Any:
        """`left + right`."""
        value = left + right
        return value if type(value) is float else self.result(value)

    def subtract(self, left: Any, right: Any) -> Any:
        """`left - right`."""
        value = left - right
        return value if type(value) is float else self.result(value)

    def multiply(self, left: Any, right: Any) -> Any:
        """`left * right`."""
        for one, other in ((left, right), (right, left)):
            if isinstance(one, str | list | tuple) and isinstance(other, int):
                size = len(one) * max(0, other)
                if isinstance(one, str):
                    self.letters(size)
                else:
                    self.items(size)
                return one * other
        value = left * right
        return value if type(value) is float else self.result(value)

    def modulo(self, left: Any, right: Any) -> Any:
        """`left % right`, which for a text puts values into it."""
        return self.teller.percent(left, right) if isinstance(left, str) else left % right

    def power(self, base: Any, exponent: Any, modulus: Any = None) -> Any:
        """`base ** exponent`. Raises ValueError where the value is no real number."""
        if isinstance(base, int) and isinstance(exponent, int) and exponent > 0 and base.bit_length() > 1:
            if modulus is not None:
                return pow(base, exponent, modulus)
            if base.bit_length() * exponent > 2 * MOST_BITS:
                raise TooMuch(_TOO_LARGE)
        value = pow(base, exponent) if modulus is None else pow(base, exponent, modulus)
        if isinstance(value, complex):
            raise ValueError("this power of a negative number is no real number")
        return self.result(value)

    def shift_left(self, left: Any, right: Any) -> Any:
        """`left << right`."""
        if isinstance(left, int) and isinstance(right, int) and right > 2 * MOST_BITS:
            raise TooMuch(_TOO_LARGE)
        return self.result(left << right)

    def extend(self, left: Any, right: Any) -> Any:
        """`left += right`: a list grows in its place."""
        if isinstance(left, list):
            given = self.list(right)
            left += given
            return left
        return self.add(left, right)

    def compare(self, sign: str, left: Any, right: Any) -> Any:
        """A comparison of what may be lists."""
        if isinstance(left, list | tuple | dict | set) and isinstance(right, list | tuple | dict | set):
            self.looked(_nodes(left))
            self.looked(_nodes(right))
        elif isinstance(left, str) and isinstance(right, str):
            self.work(min(len(left), len(right)) // _LETTERS_A_STEP)
        return _COMPARED[sign](left, right)

    def inside(self, item: Any, container: Any) -> bool:
        """`item in container`."""
        if isinstance(container, str):
            self.work(len(container) // _LETTERS_A_STEP)
        elif isinstance(container, dict | set):
            self.key(item)
        elif isinstance(container, list | tuple):
            self.found(item, container)
        return bool(item in container)

    def key(self, value: Any) -> Any:
        """What a table or a set looks up: a tuple costs what stands in it, and large whole numbers may all collide."""
        if type(value) is tuple:
            count, large = _looked_up(value)
            self.looked(8 * count)
        else:
            large = type(value) is int and not -_COLLIDES < value < _COLLIDES
        if large:
            self.large_keys += 1
            self.work(self.large_keys)
        return value

    def keys(self, values: Any) -> Any:
        """Several of them."""
        if not isinstance(values, dict | set):
            for value in self.whole(values):
                self.key(value)
        return values

    def found(self, item: Any, container: Any) -> None:
        """Counts what it costs to compare one value with all of a list."""
        self.looked(len(container) * (_nodes(item) if isinstance(item, list | tuple | dict) else 1))

    def ordered(self, values: Iterable[Any]) -> None:
        """Counts what it costs to put values in order."""
        lists = [_nodes(value) for value in values if isinstance(value, list | tuple)]
        self.looked(sum(lists) * len(lists).bit_length())

    def put_item(self, container: Any, key: Any, value: Any) -> None:
        """`container[key] = value`."""
        if isinstance(container, dict):
            self.key(key)
            self.memory.grow(2 * _CELL)
        elif isinstance(key, slice):
            value = self.list(value)
            self.items(len(value))
            self.looked(len(container))
        container[key] = value

    def slice(self, container: Any, start: Any, stop: Any, step: Any) -> Any:
        """`container[start:stop:step]`."""
        return self.result(container[start:stop:step])

    # Going over values

    def each(self, value: Any) -> Any:
        """What a counted loop goes over."""
        if isinstance(value, dict):
            return self.list(value)
        if isinstance(value, EnumKind):
            return list(value)
        if not isinstance(value, range | list | tuple | str | set):
            raise TypeError(f"{self.named(value)} cannot be gone over")
        return value

    def whole(self, value: Any) -> Any:
        """What a list that is made at once goes over: all of it is counted."""
        found = self.each(value)
        self.items(len(found))
        return found

    def list(self, value: Any = ()) -> list[Any]:
        """`list(value)`."""
        if isinstance(value, dict):
            self.items(len(value))
            return list(value)
        return list(self.whole(value))

    def unpack(self, value: Any) -> Any:
        """What is taken apart into several names."""
        if not isinstance(value, list | tuple | str | range | dict | set):
            raise TypeError(f"{self.named(value)} cannot be taken apart")
        return value


def _looked_up(value: tuple[Any, ...]) -> tuple[int, bool]:
    """How many values stand in a tuple and in those in it, each as often as it stands there; whether one is large.

    Raises TooMuch for too many, and for tuples too deep in each other.
    """
    count, large, waiting = 0, False, [(value, 1)]
    while waiting:
        inner, depth = waiting.pop()
        count += len(inner)
        if count > _MOST_COMPARED or depth > _MOST_DEEP:
            raise TooMuch(_TOO_DEEP)
        for item in inner:
            if type(item) is tuple:
                waiting.append((item, depth + 1))
            elif type(item) is int and not -_COLLIDES < item < _COLLIDES:
                large = True
    return count, large


def _nodes(value: Any) -> int:
    """How many values stand in a value, those that stand there twice counted twice. Raises TooMuch past a limit."""
    count, waiting, looked = 0, [value], 0
    while waiting:
        item = waiting.pop()
        count, looked = count + 1, looked + 1
        if looked > _MOST_COMPARED:
            raise TooMuch(_TOO_MANY)
        if isinstance(item, list | tuple | set):
            count += len(item)
            waiting += [inner for inner in item if isinstance(inner, list | tuple | dict)]
        elif isinstance(item, dict):
            count += len(item)
            waiting += [inner for inner in item.values() if isinstance(inner, list | tuple | dict)]
    return count * 8


_COMPARED: dict[str, Callable[[Any, Any], Any]] = {
    "==": lambda left, right: left == right,
    "!=": lambda left, right: left != right,
    "<": lambda left, right: left < right,
    "<=": lambda left, right: left <= right,
    ">": lambda left, right: left > right,
    ">=": lambda left, right: left >= right,
}
