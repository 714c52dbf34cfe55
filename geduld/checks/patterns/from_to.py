"""`from A to B, D`: D holds from each instant at which A becomes true to the one at which B is true next.

`from the 2nd time A to the 3rd time B, D` chooses one of the times.
"""

from __future__ import annotations

from geduld.checks import ordinals
from geduld.checks.between import stretches
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

_EXAMPLE_OF_ONE = "Write for example: from the 2nd time nose is pressed to the 3rd time nose is pressed, drive > 0 %"
_EXAMPLE = "Write for example: from knob > 62 % to nose is pressed, drive > 0 %"


class FromTo(OverTime):
    """`from [the 2nd time] A to [the 3rd time] B, D [after the first T]`."""

    kind = "from"
    words = (*WORDS, *ordinals.WORDS)
    start = ("from",)
    forms = (Form("from … to …, …", "holds from one moment to another", "from ${<near>} to ${<touch>}, ${<moves>}"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`A to B, D`."""
        from_which = _which(cursor)
        start = expression(cursor)
        cursor.expect("to", "and where it ends", _EXAMPLE)
        to_which = _which(cursor)
        stop = expression(cursor)
        cursor.expect(",", "behind the end", _EXAMPLE)
        conditions = (start, stop, expression(cursor))
        return Sentence(self.kind, conditions, read_settling(cursor), options=(from_which, to_which))

    def written(self, sentence: Sentence) -> str:
        """`from A to B, D`."""
        start, stop, held = parts(sentence)
        ends = (ordinals.named(which, words) for which, words in zip(sentence.options, (start, stop), strict=True))
        return "from {} to {}, {}".format(*ends, held) + settling_text(sentence)

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of each stretch."""
        between = stretches(timeline, check.looks[0], check.looks[1], *check.options)
        start, stop = map(ordinals.named, check.options, check.words[:2])
        during = f" between {quoted(start)} and {quoted(stop)}{said(check)}"
        return kept(timeline, settled(check, between), check.looks[2], check.words[2], True, during)

    def nothing(self, check: BoundCheck) -> str:
        """No stretch: A never came, or B was there whenever it did."""
        start, stop = (ordinals.named(*pair) for pair in zip(check.options, map(quoted, check.words), strict=False))
        return f"There is no stretch from {start} to {stop} in this run."


def _which(cursor: Cursor) -> str:
    return ordinals.read_which(cursor, _EXAMPLE_OF_ONE) if cursor.take("the") else ""
