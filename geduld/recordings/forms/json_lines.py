"""JSON, an object a line (or a list of objects): what stands inside an object gets the names on the way to it."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from typing import Any

from geduld.recordings.forms.pairs import gathered
from geduld.recordings.layout import Layout, Table

WORD = "json"
_MOST_DEEP = 6


def values_of(line: str) -> dict[str, str]:
    """The values of a JSON object: `{"acc": {"x": 1}}` is `acc.x`, `{"p": [1, 2]}` is `p.1`, `p.2`."""
    try:
        value = json.loads(line)
    except (ValueError, RecursionError):
        return {}
    return dict(_flat(value, "", 0)) if isinstance(value, dict) else {}


def _flat(value: Any, name: str, deep: int) -> Iterator[tuple[str, str]]:
    if isinstance(value, dict) and deep < _MOST_DEEP:
        for key, inner in value.items():
            yield from _flat(inner, f"{name}.{key}" if name else str(key), deep + 1)
    elif isinstance(value, list) and deep < _MOST_DEEP:
        for number, inner in enumerate(value, 1):
            yield from _flat(inner, f"{name}.{number}", deep + 1)
    elif value is None:
        yield name, "null"
    elif isinstance(value, bool):
        yield name, "1" if value else "0"
    else:
        yield name, str(value)


def read(lines: Iterable[str], layout: Layout, quoted: bool) -> Table:
    """The table in such lines."""
    return gathered(_one_a_line(lines), layout, values_of, "no JSON object", "This is no JSON object.")


def _one_a_line(lines: Iterable[str]) -> Iterator[str]:
    """Lines with an object each, also where they stand in one list."""
    lines = iter(lines)
    before: list[str] = []
    for line in lines:
        before.append(line)
        if not line or line.isspace():
            continue
        if line.lstrip().startswith("["):
            before += lines
            try:
                whole = json.loads("\n".join(before))
            except (ValueError, RecursionError):
                whole = None
            if isinstance(whole, list):
                before = [json.dumps(item) for item in whole]
        break
    for line in (*before, *lines):
        yield line.strip().removeprefix("[").removesuffix("]").strip().rstrip(",")
