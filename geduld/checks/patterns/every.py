"""`C every T +- e`: C becomes true again and again, each time as long after the time before."""

from __future__ import annotations

from itertools import pairwise

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: lamp > 0 % every 1 s +- 0.1 s"


class Every(OverTime):
    """`C every T +- e`.

    The first time may come whenever it comes; from the last one on another is due while the program runs.
    """

    kind = "every"
    words = ("every",)
    behind = ("every",)
    forms = (Form("… every … +- …", "again and again", "${<moves>} every ${1} s +- ${0.1} s"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`T +- e`."""
        assert first is not None
        time = arithmetic(cursor)
        cursor.expect("+-", "and the tolerance", _EXAMPLE)
        return Sentence(self.kind, (first,), (time, arithmetic(cursor)))

    def written(self, sentence: Sentence) -> str:
        """`C every T +- e`."""
        return "{} every {} +- {}".format(*parts(sentence), *times(sentence))

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """From each time to the next."""
        starts = timeline.course(check.looks[0]).spans[0].tolist()
        each = pairwise([*starts, None]) if starts else ()
        return Findings.of([_to_the_next(check, timeline, start, follow) for start, follow in each])


def _to_the_next(check: BoundCheck, timeline: Timeline, start: int, follow: int | None) -> Finding:
    """How long it took from one time to the next; behind the last one of a program that is over none is due."""
    every, around = check.times
    record, words = timeline.record, quoted(check.words[0])
    due, head = start + every + around, f"{words} came true at {seconds(start)}"
    wanted = f"{span(every)} +- {span(around)} was wanted"
    known = min(record.lasted, timeline.horizon)
    if follow is not None and follow <= timeline.horizon:
        took = follow - start
        margin = (around - abs(took - every)) / 1e6
        verdict = PASS if margin >= 0 else FAIL
        at = follow if took <= every + around else due
        return Finding(
            Window(start, follow, verdict, due=start + every), margin, "s", at,
            lambda: f"{head} and again {span(took)} later; {wanted}.",
        )  # fmt: skip
    if due < known and (follow is not None or due < record.ended_at or record.ended_at >= record.lasted):
        late = ((record.lasted if follow is None else follow) - due) / 1e6
        because = f"{head} and not again by {seconds(due)}; {wanted}."
        return Finding(Window(start, known, FAIL, due=start + every), -late, "s", due, because)
    if timeline.horizon < record.lasted and due > timeline.horizon:
        return uncertain(start, record.lasted, timeline.horizon, start)
    over = "the program was over" if record.ended_at < record.lasted else "the run ended"
    return cut_short(start, record.lasted, f"{head}, and {over} before it was due again; {wanted}.")
