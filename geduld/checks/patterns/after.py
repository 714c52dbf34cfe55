"""`after C, within T, D`: each time C becomes true, D answers: in time, not too early, for long enough."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar

from geduld.checks.answers import FOR, TO, WITHIN, answered
from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.pattern import Form, OverTime, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.tree import Expression, Number

_EXAMPLE = "Write for example: after nose is pressed, within 100 ms, drive = 0 %"
_NO_TIME = Number("0", "s")
NOT_AT_THE_START, WHILE_IT_RUNS = "not at the start", "while it runs"


class After(OverTime):
    """`after C [, not at the start] [, while it runs] [, within T [to T]] [, for T], D`."""

    kind = "after"
    words: ClassVar[tuple[str, ...]] = ("after", "within", "the", "start", "it", "runs")
    start = ("after",)
    forms: ClassVar[tuple[Form, ...]] = (
        Form(
            "after …, within …, …",
            "something answers something in time",
            "after ${<touch>}, within ${150} ms, ${<rests>}",
        ),
        Form(
            "after …, within … to …, …",
            "not too early, not too late",
            "after ${<touch>}, within ${2} s to ${3} s, ${<moves>}",
        ),
        Form(
            "after …, within …, for …, …",
            "comes and stays",
            "after ${<touch>}, within ${150} ms, for ${1} s, ${<rests>}",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`C, within T, D`."""
        return read_answer(self.kind, cursor)

    def written(self, sentence: Sentence) -> str:
        """`after C, within T, D`."""
        return f"after {answer_text(sentence)}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """Each trigger."""
        triggers = self.triggers(check, timeline)
        course = timeline.course(check.looks[1]) if triggers else None
        return Findings.of([answered(check, timeline, trigger, course) for trigger in triggers if course])

    def triggers(self, check: BoundCheck, timeline: Timeline) -> list[int]:
        """The instants at which C becomes true and that count."""
        found: list[int] = timeline.course(check.looks[0]).spans[0].tolist()
        if NOT_AT_THE_START in check.options:
            found = [tick for tick in found if tick]
        ended = timeline.record.ended_at
        if WHILE_IT_RUNS in check.options and ended < timeline.record.lasted:
            found = [tick for tick in found if tick < ended]
        return found

    def readings(self, check: BoundCheck) -> list[tuple[BoundCheck, str]]:
        """Without the times at which the program could not answer."""
        own, found = set(check.options), []
        for more in ((WHILE_IT_RUNS,), (NOT_AT_THE_START,), (NOT_AT_THE_START, WHILE_IT_RUNS)):
            if not own & set(more):
                words = ", ".join(["after …", *more])
                found.append((replace(check, options=(*check.options, *more)), f"{words}, …"))
        return found

    def nothing(self, check: BoundCheck) -> str:
        """No trigger."""
        counts = ", ".join(option for option in (NOT_AT_THE_START, WHILE_IT_RUNS) if option in check.options)
        return f"{quoted(check.words[0])} never came true in this run{f' ({counts})' if counts else ''}."


def read_answer(kind: str, cursor: Cursor, name: str = "") -> Sentence:
    """A trigger with its answer: `C, not at the start, within T to T, for T, D`. Raises Problem.

    One `name`d time may be answered at that instant, with no time said: `C, D`.
    """
    trigger = expression(cursor)
    cursor.expect(",", "behind the trigger", _EXAMPLE)
    options: list[str] = []
    for option in (NOT_AT_THE_START, WHILE_IT_RUNS):
        if cursor.take(*option.split()):
            options.append(option)
            cursor.expect(",", f"behind {option}", _EXAMPLE)
    least: Expression = _NO_TIME
    most: Expression = _NO_TIME
    stays: Expression = _NO_TIME
    if cursor.take("within"):
        options.append(WITHIN)
        most = arithmetic(cursor)
        if cursor.take("to"):
            options.append(TO)
            least, most = most, arithmetic(cursor)
        cursor.expect(",", "behind the time", _EXAMPLE)
    if cursor.take("for"):
        options.append(FOR)
        stays = arithmetic(cursor)
        cursor.expect(",", "behind the time", _EXAMPLE)
    if WITHIN not in options and FOR not in options and not name:
        raise cursor.unexpected('"within" or "for"', _EXAMPLE)
    conditions = (trigger, expression(cursor))
    return Sentence(kind, conditions, (least, most, stays), name=name, options=tuple(options))


def answer_text(sentence: Sentence) -> str:
    """A trigger with its answer as written."""
    trigger, wanted = parts(sentence)
    least, most, stays = times(sentence)
    pieces = [trigger, *(option for option in (NOT_AT_THE_START, WHILE_IT_RUNS) if option in sentence.options)]
    if WITHIN in sentence.options:
        pieces.append(f"within {least} to {most}" if TO in sentence.options else f"within {most}")
    if FOR in sentence.options:
        pieces.append(f"for {stays}")
    return ", ".join([*pieces, wanted])
