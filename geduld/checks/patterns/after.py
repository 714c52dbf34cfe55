"""`after C, within T, D`: each time C becomes true, D holds at some instant from then to T later."""

from __future__ import annotations

from functools import partial

from geduld.checks.bound import BoundCheck
from geduld.checks.courses import Course
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.pattern import Form, OverTime, parts, times
from geduld.checks.sheet import Sentence
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.tree import Expression

_EXAMPLE = "Write for example: after nose is pressed, within 100 ms, drive = 0 %"


class After(OverTime):
    """`after C, within T, D`."""

    kind = "after"
    words = ("after", "within")
    start = ("after",)
    forms = (
        Form(
            "after …, within …, …",
            "something answers something in time",
            "after ${<touch>}, within ${150} ms, ${<rests>}",
        ),
    )

    def read(self, cursor: Cursor, first: Expression | None) -> Sentence:
        """`C, within T, D`."""
        condition = expression(cursor)
        cursor.expect(",", "behind the trigger", _EXAMPLE)
        cursor.expect("within", "behind the comma", _EXAMPLE)
        within = arithmetic(cursor)
        cursor.expect(",", "behind the time", _EXAMPLE)
        return Sentence(self.kind, (condition, expression(cursor)), (within,))

    def written(self, sentence: Sentence) -> str:
        """`after C, within T, D`."""
        trigger, wanted = parts(sentence)
        return f"after {trigger}, within {times(sentence)[0]}, {wanted}"

    def judge(self, check: BoundCheck, timeline: Timeline) -> Findings:
        """Each trigger."""
        triggers = timeline.course(check.looks[0]).spans[0].tolist()
        wanted = timeline.course(check.looks[1]) if triggers else None
        return Findings.of([_after(check, timeline, trigger, wanted) for trigger in triggers if wanted])

    def nothing(self, check: BoundCheck) -> str:
        """No trigger."""
        return f"{quoted(check.words[0])} never came true in this run."


def _after(check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> Finding:
    within, lasted, horizon = check.times[0], timeline.record.lasted, timeline.horizon
    came = course.first(trigger)
    stop = min(trigger + within, lasted)
    came = None if came is not None and came > max(stop, horizon) else came
    if horizon < (came if came is not None and came <= stop else stop):
        return uncertain(trigger, stop, horizon, trigger)
    head = partial("{} came true at {}".format, quoted(check.words[0]))
    wanted = quoted(check.words[1])
    if came is not None and came - trigger <= within:
        took = came - trigger
        return Finding(
            Window(trigger, stop, PASS),
            (within - took) / 1e6,
            "s",
            came,
            lambda: f"{head(seconds(trigger))}; {wanted} followed after {span(took)}, {span(within - took)} to spare.",
        )
    if trigger + within > lasted:
        ended = f"the run ended at {seconds(lasted)}, before the {span(within)} were over"
        because = f"{head(seconds(trigger))}, and {ended}."
        return cut_short(trigger, stop, because)
    if came is not None:
        late = came - trigger - within
        because = f"{head(seconds(trigger))}; {wanted} was due within {span(within)} and came {span(late)} too late."
        return Finding(Window(trigger, stop, FAIL), -late / 1e6, "s", stop, because)
    found = timeline.values_at(check.looks[1], stop)
    because = f"{head(seconds(trigger))}; {wanted} was due by {seconds(stop)} and never came: {found} then."
    margin = float(course.margin[course.place(trigger) : course.place(stop) + 1].max())
    return Finding(Window(trigger, stop, FAIL), margin, course.unit, stop, because)
