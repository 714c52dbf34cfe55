"""`the 2nd time A`, `the last time A`: one of the times at which a condition comes true."""

from __future__ import annotations

from collections.abc import Sequence

from geduld.language.cursor import Cursor

LAST = "last"
WORDS = ("the", "time", LAST, "st", "nd", "rd", "th")
_ENDINGS = {1: "st", 2: "nd", 3: "rd"}


def read_which(cursor: Cursor, example: str) -> str:
    """`2nd time` behind `the`, as `2`; `last time` as `last`. Raises Problem."""
    which = LAST if cursor.take(LAST) else _number(cursor, example)
    if not cursor.take("time"):
        raise cursor.unexpected('"time"', example)
    return which


def _number(cursor: Cursor, example: str) -> str:
    number = cursor.take_kind("number")
    good = number is not None and number.text.isdigit() and 0 < int(number.text) < 1_000
    ending = cursor.take_kind("word") if good else None
    if number is None or ending is None or ordinal(number.text) != number.text + ending.text:
        raise cursor.unexpected("which time, as 1st, 2nd, 3rd or last", example)
    return number.text


def ordinal(which: str) -> str:
    """`2` as `2nd`; `last` stays."""
    if which == LAST:
        return which
    number = int(which)
    return which + ("th" if number % 100 in (11, 12, 13) else _ENDINGS.get(number % 10, "th"))


def chosen(which: str, times: Sequence[int]) -> list[int]:
    """That one of all times, if there is one; all of them where none is chosen."""
    if not which:
        return list(times)
    return list(times[-1:] if which == LAST else times[int(which) - 1 : int(which)])


def named(which: str, words: str) -> str:
    """A condition with the time that is meant."""
    return f"the {ordinal(which)} time {words}" if which else words
