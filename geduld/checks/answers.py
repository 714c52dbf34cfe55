"""What must answer a trigger: in time, not too early, and for how long."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.courses import Course
from geduld.checks.evidence import cut_short, quoted, seconds, span, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Window

TO, FOR, WITHIN = "to", "for", "within"


def answered(check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> Finding:
    """How one trigger was answered; `course` is that of what is wanted.

    The check's `times` are the earliest instant (0 without `to`), the latest one, and how long the answer stays (0
    without `for`), all in ticks behind the trigger.
    """
    if timeline.horizon >= timeline.record.lasted:
        return _answered(check, timeline, trigger, course)
    # what is decided whatever comes when the readings are no longer to be trusted
    holds, not_so = (
        _answered(check, timeline, trigger, course.known_until(timeline.horizon, so)) for so in (True, False)
    )
    if timeline.horizon < trigger or holds.window.verdict != not_so.window.verdict:
        return uncertain(trigger, not_so.window.stop, timeline.horizon, trigger)
    return not_so


def _answered(check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> Finding:
    if TO in check.options or FOR in check.options:
        return _Answer(check, timeline, trigger, course).finding()
    if WITHIN not in check.options:
        return _at_once(check, timeline, trigger, course)
    return _within(check, timeline, trigger, course)


def _at_once(check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> Finding:
    """Whether it is so at the trigger itself."""
    place = course.place(trigger)
    true, margin = bool(course.true[place]), float(course.margin[place])
    was = "was so" if true else "was not so"
    seen = timeline.values_at(check.looks[1], trigger)
    because = (
        f"{quoted(check.words[0])} came true at {seconds(trigger)}, and {quoted(check.words[1])} {was} then: {seen}."
    )
    return Finding(Window(trigger, trigger, PASS if true else FAIL), margin, course.unit, trigger, because)


def _within(check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> Finding:
    """Whether it is so at some instant from the trigger to the latest one."""
    within, lasted = check.times[1], timeline.record.lasted
    came = course.first(trigger)
    stop = min(trigger + within, lasted)

    def head() -> str:
        return f"{quoted(check.words[0])} came true at {seconds(trigger)}"

    wanted = quoted(check.words[1])
    if came is not None and came - trigger <= within:
        took = came - trigger
        return Finding(
            Window(trigger, stop, PASS),
            (within - took) / 1e6,
            "s",
            came,
            lambda: f"{head()}; {wanted} followed after {span(took)}, {span(within - took)} to spare.",
        )
    if trigger + within > lasted:
        because = f"{head()}, and the run ended at {seconds(lasted)}, before the {span(within)} were over."
        return cut_short(trigger, stop, because)
    over = _over(timeline, trigger)
    if came is not None:
        late = came - trigger - within
        because = f"{head()}; {wanted} was due within {span(within)} and came {span(late)} too late.{over}"
        return Finding(Window(trigger, stop, FAIL), -late / 1e6, "s", stop, because)
    found = timeline.values_at(check.looks[1], stop)
    because = f"{head()}; {wanted} was due by {seconds(stop)} and never came: {found} then.{over}"
    margin = float(course.margin[course.place(trigger) : course.place(stop) + 1].max())
    return Finding(Window(trigger, stop, FAIL), margin, course.unit, stop, because)


def _over(timeline: Timeline, trigger: int) -> str:
    """A sentence more where the program could not answer: it was over, or had not begun when it came to be so."""
    ended = timeline.record.ended_at
    if ended < trigger:
        return f" The program was over since {seconds(ended)}."
    return " It was so from the start." if trigger == 0 else ""


class _Answer:
    """One trigger with an answer that is not to come too early, or is to stay."""

    def __init__(self, check: BoundCheck, timeline: Timeline, trigger: int, course: Course) -> None:
        self.check, self.timeline, self.trigger, self.course = check, timeline, trigger, course
        self.lasted = timeline.record.lasted
        least, most, self.stays = check.times
        self.least, self.most = trigger + least, trigger + most
        self.head = f"{quoted(check.words[0])} came true at {seconds(trigger)}"
        self.wanted = quoted(check.words[1])

    def finding(self) -> Finding:
        """How it went."""
        came, behind = self._came()
        end = min(self.most + self.stays, self.lasted)
        if came is None or came > self.most:
            return self._late(came, end)
        if came < self.least:
            early = f"{self.wanted} came {span(came - self.trigger)} later, {span(self.least - came)} too early"
            return self._failed(end, came, (came - self.least) / 1e6, f"{early}.")
        held = min(behind, self.lasted + 1) - came
        if held >= self.stays:
            stop = came + self.stays
            spare = min(came - self.least, self.most - came) if TO in self.check.options else self.most - came
            margin = spare if self.check.times[1] else held - self.stays
            stayed = f" and stayed for {span(self.stays)}" if self.stays else ""
            because = f"{self.head}; {self.wanted} came {span(came - self.trigger)} later{stayed}."
            return Finding(Window(self.trigger, stop, PASS), margin / 1e6, "s", came, because)
        if behind > self.lasted or (self.most > self.lasted and TO not in self.check.options):
            because = (
                f"{self.head}, and the run ended at {seconds(self.lasted)}, before the {span(self.stays)} were over."
            )
            return cut_short(self.trigger, self.lasted, because)
        seen = self.timeline.values_at(self.check.looks[1], behind)
        stayed = f"{self.wanted} was to stay for {span(self.stays)} and was over after {span(held)}: {seen} then"
        return self._failed(behind, behind, (held - self.stays) / 1e6, f"{stayed}.")

    def _came(self) -> tuple[int | None, int]:
        """When the answer came, and the first tick behind it.

        Where it is not to come too early it must come to be so behind the trigger: what was so before does not count.
        Of several answers in time the first that stays long enough counts, else one that the run's end leaves open,
        else the longest.
        """
        starts, behinds = (item.tolist() for item in self.course.spans)
        answers = [
            (max(start, self.trigger), behind)
            for start, behind in zip(starts, behinds, strict=True)
            if (start >= self.trigger if TO in self.check.options else behind > self.trigger)
        ]
        if not answers:
            return None, 0
        if TO in self.check.options:
            return answers[0]
        in_time = [answer for answer in answers if answer[0] <= self.most]
        enough = (answer for answer in in_time if min(answer[1], self.lasted + 1) - answer[0] >= self.stays)
        best = next(enough, None) or next((answer for answer in in_time if answer[1] > self.lasted), None)
        return best or (max(in_time, key=lambda answer: answer[1] - answer[0]) if in_time else answers[0])

    def _late(self, came: int | None, end: int) -> Finding:
        """It did not come in time."""
        due = self.most
        if due > self.lasted:
            because = f"{self.head}, and the run ended at {seconds(self.lasted)}, before {self.wanted} was due."
            return cut_short(self.trigger, self.lasted, because)
        over = _over(self.timeline, self.trigger)
        if came is None:
            seen = self.timeline.values_at(self.check.looks[1], due)
            never = f"{self.wanted} was due by {seconds(due)} and never came: {seen} then.{over}"
            return self._failed(end, due, -((self.lasted - due) / 1e6), never)
        late = f"{self.wanted} was due by {seconds(due)} and came {span(came - due)} too late.{over}"
        return self._failed(end, due, -(came - due) / 1e6, late)

    def _failed(self, stop: int, at: int, margin: float, how: str) -> Finding:
        return Finding(Window(self.trigger, max(stop, self.trigger), FAIL), margin, "s", at, f"{self.head}; {how}")
