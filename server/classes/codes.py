"""Codes that are read from a sheet or a board and typed on a phone."""

from __future__ import annotations

import secrets

# Without what looks alike: 0 and O, 1, I and L, 2 and Z, 5 and S, 8 and B, U and V.
LETTERS = "ACDEFGHJKMNPQRTWXY34679"
OF_EXERCISE, OF_STUDENT = 6, 9


def new_code(length: int) -> str:
    """A new code. One of 9 letters is one of about 10^12."""
    return "".join(secrets.choice(LETTERS) for _ in range(length))


def plain(typed: str) -> str:
    """A code as it is kept: without spaces and dashes, in capitals."""
    return "".join(letter for letter in typed.upper() if letter.isalnum())[:20]


def shown(code: str) -> str:
    """A code as it is printed: in groups of three."""
    return "-".join(code[at : at + 3] for at in range(0, len(code), 3))
