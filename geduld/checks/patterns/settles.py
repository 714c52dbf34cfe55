"""`C settles within T`: at most T after the start C comes to stay: from then on it holds to the end of the run."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.tree import Expression


class Settles(OverTime):
    """`C settles within T`: what a controller is asked for. The margin is the time to spare.

    Where C does not hold at the end it has not settled; then the margin is how far it is from holding there.
    """

    kind = "settles"
    words = ("settles", "within")
    behind = ("settles",)
    forms = (Form("… settles within …", "comes to stay so in time", "${<between>} settles within ${3} s"),)

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`within T`."""
        assert first is not None
        cursor.expect("within", "behind settles", "Write for example: range = 20 cm +- 2 cm settles within 3 s")
        return Sentence(self.kind, (first,), (arithmetic(cursor),))

    def written(self, sentence: Sentence) -> str:
        """`C settles within T`."""
        return f"{parts(sentence)[0]} settles within {times(sentence)[0]}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The last stretch of C, if it is still open at the end."""
        return Findings.of([_settled(check, timeline)])


def _settled(check: BoundCheck, timeline: Timeline) -> Finding:
    within, lasted, words = check.times[0], timeline.record.lasted, quoted(check.words[0])
    if timeline.horizon < lasted:
        return _known_to_be_late(check, timeline) or uncertain(0, lasted, timeline.horizon, 0)
    if within > lasted:
        because = f"The run ended at {seconds(lasted)}, before the {span(within)} for {words} to settle were over."
        return cut_short(0, lasted, because)
    course = timeline.course(check.looks[0])
    starts, stops = course.spans
    if not len(starts) or stops[-1] <= lasted:
        seen = timeline.values_at(check.looks[0], lasted)
        because = f"{words} was not so at the end, {seconds(lasted)}: {seen}. It has not settled."
        return Finding(Window(0, lasted, FAIL), float(course.margin[-1]), course.unit, lasted, because)
    since = int(starts[-1])
    if since > within:
        because = f"{words} came to stay at {seconds(since)}, {span(since - within)} too late."
        return Finding(Window(0, lasted, FAIL), (within - since) / 1e6, "s", within, because)
    because = f"{words} came to stay at {seconds(since)}, {span(within - since)} to spare."
    return Finding(Window(0, lasted, PASS), (within - since) / 1e6, "s", since, because)


def _known_to_be_late(check: BoundCheck, timeline: Timeline) -> Finding | None:
    """That it cannot have settled in time, whatever came when the readings were no longer to be trusted; else None."""
    within, horizon = check.times[0], timeline.horizon
    starts, stops = timeline.course(check.looks[0]).spans
    holding = (starts <= horizon) & (stops > horizon)
    earliest = int(starts[holding][0]) if holding.any() else horizon + 1
    if earliest <= within or horizon < within:
        return None
    late = f"at {seconds(earliest)} at the earliest, {span(earliest - within)} too late"
    because = f"{quoted(check.words[0])} came to stay {late}."
    return Finding(Window(0, horizon, FAIL), (within - earliest) / 1e6, "s", within, because)
