"""Every error Geduld raises on purpose.

    GeduldError                 code, message, remedy, place
    ├── InputError              a file or value that cannot be read          (exit code 2)
    │   ├── RigError
    │   ├── TraceError
    │   ├── FloorError
    │   ├── RecordError
    │   └── ExerciseError
    └── ProgramError            a program or check text with errors in it    (exit code 1)

A message says what happened; a remedy says what to do; a place says where. Each error has a stable code.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Place:
    """Where something is wrong. Rows, lines and columns count from 1; `path` walks into a JSON document."""

    file: str = ""
    row: int | None = None
    column: int | None = None
    path: str = ""

    def __str__(self) -> str:
        parts = [self.file] if self.file else []
        if self.row is not None:
            parts.append(f"row {self.row}")
        if self.column is not None:
            parts.append(f"column {self.column}")
        if self.path:
            parts.append(self.path)
        return ", ".join(parts)


class GeduldError(Exception):
    """The root of all errors that Geduld raises on purpose."""

    def __init__(self, code: str, message: str, remedy: str = "", place: Place | None = None) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.remedy = remedy
        self.place = place or Place()

    def __str__(self) -> str:
        where = str(self.place)
        text = f"{where}: {self.message}" if where else self.message
        return f"{text} {self.remedy}".rstrip()

    def in_file(self, file: str) -> GeduldError:
        """The same error with its file named; a file that is named already stays."""
        if not self.place.file:
            self.place = Place(file, self.place.row, self.place.column, self.place.path)
        return self


class InputError(GeduldError):
    """A file or value that cannot be read as what it should be."""


class RigError(InputError):
    """A rig description that does not hold together."""


class TraceError(InputError):
    """A recording that cannot be read."""


class FloorError(InputError):
    """A floor description that does not hold together."""


class RecordError(InputError):
    """A run's record that cannot be read."""


class ExerciseError(InputError):
    """An exercise folder that does not hold together."""


class ProgramError(GeduldError):
    """A program or check text with errors in it; `hints` lists all of them."""

    def __init__(self, hints: Sequence[Any]) -> None:
        first = hints[0]
        more = f" (and {len(hints) - 1} more)" if len(hints) > 1 else ""
        super().__init__(first.code, f"Line {first.line}: {first.message}{more}", first.remedy)
        self.hints = tuple(hints)
