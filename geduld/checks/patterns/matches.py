"""`X matches reference.X within tolerance, shifted by at most T`: X is what it is in the reference's run."""

from __future__ import annotations

import math

import numpy as np

from geduld.binding import terms
from geduld.binding.scope import Scope
from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, around, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic
from geduld.language.messages import Problem, error
from geduld.language.quantities import ROUNDING, TRUTH
from geduld.language.tree import Expression
from geduld.worlds.signal import Signal, instants
from geduld.worlds.trace import Floats, Ticks

_EXAMPLE = "Write for example: left matches reference.left within 5 %, shifted by at most 150 ms"
MOST_AT_ONCE = 1_000_000  # values compared in one go


class Matches(OverTime):
    """`X matches reference.X within tolerance [, shifted by at most T]`.

    At every instant of either run, the other had nearly that value at some instant at most T earlier or later. Both
    ways, so that neither a pulse that is missing nor one that is too much can hide. Past the end of a run its last
    value holds. The margin is what the tolerance leaves at the worst instant. Absent matches absent alone.
    """

    kind = "matches"
    words = ("matches", "within", "shifted", "most")
    behind = ("matches",)
    forms = (
        Form(
            "… matches reference.… within …",
            "as the reference does it",
            "<motor> matches reference.<motor> within ${5 %}, shifted by at most ${150} ms",
            "motor",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`reference.X within tolerance, shifted by at most T`."""
        assert first is not None
        reference = arithmetic(cursor)
        cursor.expect("within", "and the tolerance", _EXAMPLE)
        tolerance = arithmetic(cursor)
        shift: tuple[Expression, ...] = ()
        if cursor.take(","):
            if not cursor.take("shifted", "by", "at", "most"):
                raise cursor.unexpected('"shifted by at most"', _EXAMPLE)
            shift = (arithmetic(cursor),)
        return Sentence(self.kind, (first, reference), shift, tolerance)

    def written(self, sentence: Sentence) -> str:
        """`X matches reference.X within tolerance`."""
        value, reference = parts(sentence)
        shift = f", shifted by at most {times(sentence)[0]}" if sentence.times else ""
        return f"{value} matches {reference} within {around(sentence)}{shift}"

    def bind(self, sentence: Sentence, scope: Scope) -> tuple[tuple[terms.Term, ...], tuple[str, ...]]:
        """The two values; the second one is the reference's."""
        ours, theirs = sentence.conditions
        first, second = (scope.term(expression) for expression in sentence.conditions)
        if not isinstance(second, terms.Reference) or second.whose != "reference":
            message = "What is matched is the reference behaviour's run."
            remedy = "Write for example: left matches reference.left within 5 %"
            raise Problem(error("not-a-reference", theirs.span, message, remedy))
        if first.dimension == TRUTH or not isinstance(first, terms.Reading | terms.Output | terms.Pose):
            message = "Only an output, a reading with a unit, or the pose can match the reference's."
            raise Problem(error("not-a-reference", ours.span, message, "Write for example: left"))
        scope.must_be(theirs, second, first.dimension, "What is matched")
        return (first, second), tuple(parts(sentence))

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """The worst instant of either run."""
        return Findings.of([_matched(check, timeline)])


def _matched(check: BoundCheck, timeline: Timeline) -> Finding:
    value, other = check.looks
    shift = check.times[0] if check.times else 0
    lasted = timeline.record.lasted
    ours, theirs = timeline.signal(value.term), timeline.signal(other.term)
    until = min(timeline.horizon, lasted)
    apart = [_apart(ours, theirs, shift, lasted, until), _apart(theirs, ours, shift, lasted, until)]
    most = check.tolerance + ROUNDING
    broken = [int(ticks[gaps > most][0]) for ticks, gaps in apart if (gaps > most).any()]
    if not broken and until < lasted:
        return uncertain(0, lasted, timeline.horizon, 0)
    worst = [(float(gaps.max()), int(ticks[gaps.argmax()])) for ticks, gaps in apart if len(ticks)]
    distance, at = max(worst, key=lambda item: item[0])
    unit = value.term.dimension.unit
    margin = check.tolerance - distance
    where = min(broken, default=at)
    was = timeline.values_at(value, where)
    wanted = timeline.values_at(other, where)
    moved = f", {span(shift)} earlier and later too" if shift else ""
    if broken:
        within = timeline.far(value.term, check.tolerance)
        because = f"At {seconds(where)} {was}, and {wanted}{moved}: not within {within}."
        return Finding(Window(0, lasted, FAIL), margin if math.isfinite(margin) else -math.inf, unit, where, because)
    because = f"Farthest apart at {seconds(where)}, by {timeline.far(value.term, distance)}: {was}, and {wanted}."
    return Finding(Window(0, lasted, PASS), max(margin, 0.0), unit, where, because)


def _apart(ours: Signal, theirs: Signal, shift: int, lasted: int, until: int) -> tuple[Ticks, Floats]:
    """How far our values are from all that theirs are within the shift, wherever that is known by `until`."""
    ticks = _instants(ours, theirs, shift, lasted)
    ticks = ticks[np.minimum(ticks + shift, lasted) <= until]
    values = ours.at(ticks)
    first = np.searchsorted(theirs.times, np.maximum(ticks - shift, 0), "right") - 1
    last = np.searchsorted(theirs.times, np.minimum(ticks + shift, lasted), "right")
    gaps = np.empty(len(ticks))
    sums = np.concatenate(([0], np.cumsum(last - first)))
    start = 0
    while start < len(ticks):
        stop = max(int(np.searchsorted(sums, sums[start] + MOST_AT_ONCE)), start + 1)
        some = slice(start, stop)
        gaps[some] = _nearest(values[some], theirs.values, first[some], last[some])
        start = stop
    return ticks, gaps


def _instants(ours: Signal, theirs: Signal, shift: int, lasted: int) -> Ticks:
    """Every tick from which on our value or what theirs may be is another."""
    ticks = instants([0, lasted], ours.times, theirs.times - shift, theirs.times + shift)
    return ticks[(ticks >= 0) & (ticks <= lasted)]


def _nearest(values: Floats, theirs: Floats, first: Ticks, last: Ticks) -> Floats:
    """How far each value is from the nearest of theirs from its first to its last place; place -1 is absent."""
    counts = last - first
    starts = np.concatenate(([0], np.cumsum(counts)[:-1]))
    places = np.arange(int(counts.sum())) - np.repeat(starts - first, counts)
    candidates = np.where(places < 0, np.nan, theirs[np.maximum(places, 0)])
    gaps = np.abs(candidates - np.repeat(values, counts))
    unlike = np.where(np.isnan(candidates), 0.0, np.inf)
    absent = np.repeat(np.isnan(values), counts)
    return np.asarray(np.minimum.reduceat(np.where(absent, unlike, np.where(np.isnan(gaps), np.inf, gaps)), starts))
