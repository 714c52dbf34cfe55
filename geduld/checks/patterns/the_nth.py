"""`the 2nd time C, within T, D`: one of the times at which C becomes true, and its answer."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.pattern import Form
from geduld.checks.patterns.after import After, answer_text, read_answer
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.language.cursor import Cursor
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: the 2nd time nose is pressed, within 1 s, drive = 0 %"
_ENDINGS = {1: "st", 2: "nd", 3: "rd"}
LAST = "last"


class TheNth(After):
    """`the 2nd time C, within T, D`, `the last time C, …`: as `after`, for that time alone."""

    kind = "nth"
    words = ("the", "time", LAST, "st", "nd", "rd", "th")
    start = ("the",)
    forms = (
        Form(
            "the 2nd time …, within …, …",
            "one of several times",
            "the ${2nd} time ${<touch>}, within ${150} ms, ${<rests>}",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`2nd time C, within T, D`."""
        count, name = "", ""
        if cursor.take(LAST):
            name = LAST
        else:
            count = _number(cursor)
        if not cursor.take("time"):
            raise cursor.unexpected('"time"', _EXAMPLE)
        return read_answer(self.kind, cursor, name, count)

    def written(self, sentence: Sentence) -> str:
        """`the 2nd time C, within T, D`."""
        which = sentence.name or _ordinal(int(sentence.count))
        return f"the {which} time {answer_text(sentence)}"

    def triggers(self, check: BoundCheck, timeline: Timeline) -> list[int]:
        """That time, if there was one."""
        found = super().triggers(check, timeline)
        return found[-1:] if check.name else found[check.count - 1 : check.count]

    def nothing(self, check: BoundCheck) -> str:
        """It did not come so often."""
        if check.name:
            return super().nothing(check)
        return f"{quoted(check.words[0])} did not come true a {_ordinal(check.count)} time in this run."


def _number(cursor: Cursor) -> str:
    """`2nd` as `2`."""
    number = cursor.take_kind("number")
    good = number is not None and number.text.isdigit() and 0 < int(number.text) < 1_000
    ending = cursor.take_kind("word") if good else None
    if number is None or ending is None or _ordinal(int(number.text)) != number.text + ending.text:
        raise cursor.unexpected("which time, as 1st, 2nd, 3rd or last", _EXAMPLE)
    return number.text


def _ordinal(number: int) -> str:
    ending = "th" if number % 100 in (11, 12, 13) else _ENDINGS.get(number % 10, "th")
    return f"{number}{ending}"
