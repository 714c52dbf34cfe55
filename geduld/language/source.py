"""From bytes to lines of text that are safe to read."""

from __future__ import annotations

import unicodedata

from geduld.language.messages import Hint, Span, error

MOST_TEXT_BYTES = 200_000
MOST_LINES = 5_000
MOST_COLUMNS = 1_000


def decode(data: bytes) -> tuple[str, list[Hint]]:
    """The text of a program file. UTF-8, with or without a byte order mark, any line ends.

    Text that is too long or not UTF-8 comes back empty with the error that says so.
    """
    start = Span(1, 1, 1, 2)
    if len(data) > MOST_TEXT_BYTES:
        return "", [
            error(
                "text-too-long",
                start,
                f"This file has {len(data):,} bytes; a program may have at most {MOST_TEXT_BYTES:,}.",
                "Check that this is the right file; a class program is rarely longer than 10,000 bytes.",
            )
        ]
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as problem:
        before = data[: problem.start]
        line = before.count(b"\n") + 1
        column = len(before) - (before.rfind(b"\n") + 1) + 1
        return "", [
            error(
                "not-utf8",
                Span(line, column, line, column + 1),
                "This file is not plain UTF-8 text.",
                'Save it again as plain text, encoding "UTF-8".',
            )
        ]
    return text.replace("\r\n", "\n").replace("\r", "\n"), []


def split_lines(text: str) -> tuple[list[str], list[Hint]]:
    """The lines of a text, with errors for what no program may hold (control and direction characters)."""
    lines = text.split("\n")
    hints: list[Hint] = []
    if len(text) > MOST_TEXT_BYTES or len(lines) > MOST_LINES:
        span = Span(1, 1, 1, 2)
        message = f"This program has {len(lines):,} lines; at most {MOST_LINES:,} lines are read."
        return [], [error("text-too-long", span, message, "Split it, or check that this is the right file.")]
    for number, line in enumerate(lines, 1):
        if len(line) > MOST_COLUMNS:
            span = Span(number, MOST_COLUMNS, number, MOST_COLUMNS + 1)
            message = f"This line has {len(line):,} characters; at most {MOST_COLUMNS:,} are read."
            hints.append(error("line-too-long", span, message, "Break the line up."))
            lines[number - 1] = ""
        elif not (line.isascii() and line.isprintable()):
            hints.extend(_odd_characters(number, line))
    return lines, hints


def _odd_characters(number: int, line: str) -> list[Hint]:
    for column, character in enumerate(line, 1):
        if character != "\t" and unicodedata.category(character) in ("Cc", "Cf", "Cs", "Zl", "Zp"):
            message = f"An invisible character (U+{ord(character):04X}) stands here; it can hide what a line does."
            span = Span(number, column, number, column + 1)
            return [error("invisible-character", span, message, "Delete it.", "")]
    return []
