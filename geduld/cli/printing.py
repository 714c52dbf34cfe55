"""What every command may end with: its exit code, and hints as lines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TextIO

from geduld.language.messages import Hint

DONE, PROGRAM_ERRORS, UNREADABLE, LIMIT = 0, 1, 2, 3


def print_hints(hints: Sequence[Hint], name: str, file: TextIO | None = None) -> None:
    """One line a hint: where, how grave, what, and what to do; to the standard output where no file is named."""
    for hint in hints:
        place = f"{name}:{hint.line}:{hint.column}" if name else f"line {hint.line}, column {hint.column}"
        print(f"{place}: {hint.level} {hint.code}: {hint.message} {hint.remedy}", file=file)
