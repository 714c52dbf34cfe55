"""The everyday methods of texts, lists, tables and sets, each under its limits."""

from __future__ import annotations

from typing import Any

from geduld.readers.python.operations import Operations

_TEXT = [
    "upper",
    "lower",
    "strip",
    "lstrip",
    "rstrip",
    "startswith",
    "endswith",
    "find",
    "rfind",
    "index",
    "count",
    "isdigit",
    "isalpha",
    "isalnum",
    "isspace",
    "isupper",
    "islower",
    "isnumeric",
    "title",
    "capitalize",
    "swapcase",
    "removeprefix",
    "removesuffix",
    "casefold",
    "isascii",
    "isdecimal",
    "istitle",
    "partition",
    "rindex",
    "rpartition",
]
_LIST = ["append", "pop", "remove", "insert", "extend", "clear", "index", "count", "sort", "reverse", "copy"]
_TUPLE = ["index", "count"]
_DICT = ["get", "keys", "values", "items", "pop", "update", "clear", "setdefault", "copy", "popitem"]
_SET = [
    "add",
    "remove",
    "discard",
    "clear",
    "pop",
    "copy",
    "union",
    "intersection",
    "difference",
    "issubset",
    "issuperset",
    "isdisjoint",
    "symmetric_difference",
    "update",
]
_NUMBER = ["bit_length", "is_integer"]
NAMES = frozenset(
    [
        *_TEXT,
        *_LIST,
        *_DICT,
        *_SET,
        *_NUMBER,
        "split",
        "rsplit",
        "splitlines",
        "join",
        "replace",
        "format",
        "center",
        "ljust",
        "rjust",
        "zfill",
    ]
)


# What Python's own values have beside these, and is not read.
_KINDS = (str, list, tuple, dict, set, int, float)
UNREAD = frozenset(name for kind in _KINDS for name in dir(kind) if name[0] != "_") - NAMES


class Methods:
    """The methods of one run's values."""

    def __init__(self, machine: Operations) -> None:
        self.machine = machine

    def call(self, value: Any, name: str, given: tuple[Any, ...], named: dict[str, Any]) -> Any:
        """`value.name(*given, **named)`. Raises AttributeError when there is no such method."""
        kind = type(value)
        if kind is str:
            return self._text(value, name, given, named)
        if kind is list and name in _LIST:
            return self._list(value, name, given, named)
        if kind is tuple and name in _TUPLE:
            self.machine.found(given[0] if given else None, value)
            return getattr(value, name)(*given)
        if kind is dict and name in _DICT:
            return self._dict(value, name, given, named)
        if kind is set and name in _SET:
            return self._set(value, name, given)
        if kind in (int, float, bool) and name in _NUMBER and hasattr(value, name):
            return getattr(value, name)(*given)
        raise AttributeError(f"{self.machine.named(value)} has nothing called {name}")

    def _text(self, value: str, name: str, given: tuple[Any, ...], named: dict[str, Any]) -> Any:
        machine = self.machine
        machine.work(len(value) // 64)
        if name == "format":
            return machine.teller.format(value, given, named)
        if name == "join":
            items = machine.whole(given[0]) if len(given) == 1 else ()
            for index, item in enumerate(items):
                if not isinstance(item, str):
                    raise TypeError(f"sequence item {index}: expected str instance, {machine.named(item)} found")
            machine.letters(sum(len(item) + len(value) for item in items))
            return value.join(*given)
        if name in ("split", "rsplit", "splitlines"):
            return machine.made(getattr(value, name)(*given, **named))
        if name == "replace":
            old, new = (*given, "", "")[:2]
            if isinstance(old, str) and isinstance(new, str):
                machine.letters(len(value) + (len(value) + 1) * len(new) // max(1, len(old)))
            return value.replace(*given)
        if name in ("center", "ljust", "rjust", "zfill"):
            if given and isinstance(given[0], int) and given[0] > 1_000_000:
                raise ValueError("a width of more than 1,000,000")
            return machine.result(getattr(value, name)(*given))
        if name in _TEXT:
            return machine.result(getattr(value, name)(*given))
        raise AttributeError(f"a str has nothing called {name}")

    def _list(self, value: list[Any], name: str, given: tuple[Any, ...], named: dict[str, Any]) -> Any:
        machine = self.machine
        if name == "append":
            machine.memory.grow(40)
            return value.append(*given)
        if name == "sort":
            return self.sort(value, named)
        if name == "extend" and len(given) == 1:
            return value.extend(machine.list(given[0]))
        if name not in ("pop", "clear") or given:
            machine.found(given[0] if given and name in ("count", "index", "remove") else None, value)
        if name in ("insert", "copy"):
            machine.memory.grow(40 * (len(value) if name == "copy" else 1))
        return getattr(value, name)(*given)

    def sort(self, value: list[Any], named: dict[str, Any]) -> None:
        """Sorts a list in its place."""
        machine = self.machine
        machine.work(len(value) * 2)
        key = named.get("key")
        keyed = [(key(item) if callable(key) else item, index) for index, item in enumerate(value)]
        machine.ordered(item for item, _ in keyed)
        order = sorted(range(len(value)), key=lambda index: keyed[index][0], reverse=bool(named.get("reverse", False)))
        value[:] = [value[index] for index in order]

    def _dict(self, value: dict[Any, Any], name: str, given: tuple[Any, ...], named: dict[str, Any]) -> Any:
        machine = self.machine
        if name in ("keys", "values", "items", "copy"):
            machine.items(len(value))
            found = getattr(value, name)(*given)
            return found if name == "copy" else list(found)
        if name == "update":
            for one in (*given, named):
                machine.items(len(one))
                if not isinstance(one, dict):
                    machine.keys([pair[0] for pair in machine.whole(one)])
            return value.update(*given, **named)
        if given and name in ("get", "setdefault", "pop"):
            machine.key(given[0])
        machine.memory.grow(80 if name == "setdefault" else 0)
        return getattr(value, name)(*given)

    def _set(self, value: set[Any], name: str, given: tuple[Any, ...]) -> Any:
        machine = self.machine
        machine.items(1 if name in ("add", "remove", "discard", "pop") else len(value))
        for one in given:
            if name in ("add", "remove", "discard"):
                machine.key(one)
            else:
                machine.keys(one)
        return machine.result(getattr(value, name)(*given))
