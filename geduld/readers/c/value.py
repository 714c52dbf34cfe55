"""An expression of C as source."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.readers.c.types import Type


@dataclass
class Value:
    """An expression: its source, its type, its value where that is known, and its place where it has one.

    `place` is a plain name, or a list and an index.
    """

    text: str
    kind: Type
    constant: int | float | str | None = None
    place: str | tuple[str, str] | None = None
