"""`from A to B, D`: D holds from each instant at which A becomes true to the one at which B is true next."""

from __future__ import annotations

import numpy as np

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.kept import kept
from geduld.checks.pattern import Form, OverTime, parts
from geduld.checks.settling import WORDS, read_settling, said, settled, settling_text
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import Findings
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: from knob > 62 % to nose is pressed, drive > 0 %"


class FromTo(OverTime):
    """`from A to B, D [after the first T]`.

    Stretches do not overlap: while one is open, another start of A opens none. Without B it goes on to the run's end.
    """

    kind = "from"
    words = WORDS
    start = ("from",)
    forms = (Form("from … to …, …", "holds from one moment to another", "from ${<near>} to ${<touch>}, ${<moves>}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`A to B, D`."""
        start = expression(cursor)
        cursor.expect("to", "and where it ends", _EXAMPLE)
        stop = expression(cursor)
        cursor.expect(",", "behind the end", _EXAMPLE)
        return Sentence(self.kind, (start, stop, expression(cursor)), read_settling(cursor))

    def written(self, sentence: Sentence) -> str:
        """`from A to B, D`."""
        return "from {} to {}, {}".format(*parts(sentence)) + settling_text(sentence)

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of each stretch."""
        begins: list[int] = []
        behinds: list[int] = []
        ends = timeline.course(check.looks[1])
        for start in timeline.course(check.looks[0]).spans[0].tolist():
            if behinds and start < behinds[-1]:
                continue
            stop = ends.first(start)
            if stop != start:
                begins.append(start)
                behinds.append(timeline.record.lasted + 1 if stop is None else stop)
        during = f" between {quoted(check.words[0])} and {quoted(check.words[1])}{said(check)}"
        spans = settled(check, (np.array(begins, np.int64), np.array(behinds, np.int64)))
        return kept(timeline, spans, check.looks[2], check.words[2], True, during)
