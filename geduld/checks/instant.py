"""What must hold at one instant."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import quoted, seconds, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window


def at_instant(check: BoundCheck, timeline: Timeline, tick: int, head: str) -> Findings:
    """Whether the check's condition holds then; `head` begins the evidence."""
    if timeline.horizon < tick:
        return Findings.of([uncertain(tick, tick, timeline.horizon, tick)])
    condition = check.looks[0]
    true, margin, unit = timeline.at(condition, tick)
    because = f"{head}, {timeline.values_at(condition, tick)}; {quoted(check.words[0])} was wanted."
    return Findings.of([Finding(Window(tick, tick, PASS if true else FAIL), margin, unit, tick, because)])


def at_the_end(check: BoundCheck, timeline: Timeline) -> Findings:
    """Whether the check's condition holds at the last instant of the run."""
    lasted = timeline.record.lasted
    return at_instant(check, timeline, lasted, f"At the end, {seconds(lasted)}")
