"""What every command may end with: its exit code, and hints as lines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TextIO

from geduld.language.messages import Hint
from geduld.readers.files import place_in

DONE, PROGRAM_ERRORS, UNREADABLE, LIMIT = 0, 1, 2, 3


def print_hints(hints: Sequence[Hint], name: str, file: TextIO | None = None, text: bytes = b"") -> None:
    """One line a hint: where, how grave, what, and what to do; to the standard output where no file is named.

    `text` is the program: of several files, the hint's own is named.
    """
    for hint in hints:
        told = place_told(text, name, hint.line)
        place = f"{told}:{hint.column}" if name else f"line {hint.line}, column {hint.column}"
        print(f"{place}: {hint.level} {hint.code}: {hint.message} {hint.remedy}", file=file)


def place_told(text: bytes, name: str, line: int) -> str:
    """A line of a program, as `file:line`; in a program of several files that is one of these."""
    inner, own = place_in(text.decode("utf-8", "replace").replace("\r\n", "\n"), line)
    return f"{name}/{inner}:{own}" if inner else f"{name}:{line}"
