"""`the 2nd time C, within T, D`: one of the times at which C becomes true, and its answer."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.ordinals import LAST, WORDS, chosen, ordinal, read_which
from geduld.checks.pattern import Form
from geduld.checks.patterns.after import After, answer_text, read_answer
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.language.cursor import Cursor
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: the 2nd time nose is pressed, within 1 s, drive = 0 %"


class TheNth(After):
    """`the 2nd time C, within T, D`, `the last time C, …`: as `after`, for that time alone."""

    kind = "nth"
    words = WORDS
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
        return read_answer(self.kind, cursor, read_which(cursor, _EXAMPLE))

    def written(self, sentence: Sentence) -> str:
        """`the 2nd time C, within T, D`."""
        return f"the {ordinal(sentence.name)} time {answer_text(sentence)}"

    def triggers(self, check: BoundCheck, timeline: Timeline) -> list[int]:
        """That time, if there was one."""
        return chosen(check.name, super().triggers(check, timeline))

    def nothing(self, check: BoundCheck) -> str:
        """It did not come so often."""
        if check.name == LAST:
            return super().nothing(check)
        return f"{quoted(check.words[0])} did not come true a {ordinal(check.name)} time in this run."
