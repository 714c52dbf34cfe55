"""Patterns about one instant: at T, at the end, ends within."""

from __future__ import annotations

from geduld.checks.binder import BoundCheck
from geduld.checks.evidence import cut_short, quoted, seconds, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window


def at_the_end(check: BoundCheck, timeline: Timeline) -> Findings:
    """`at the end, D`, `ends within d of mark "A"`: D holds at the last instant of the run."""
    lasted = timeline.record.lasted
    return _at(check, timeline, lasted, f"At the end, {seconds(lasted)}")


def at(check: BoundCheck, timeline: Timeline) -> Findings:
    """`at T, D`: D holds T after the start."""
    tick, lasted = check.times[0], timeline.record.lasted
    if tick > lasted:
        because = f"The run ended at {seconds(lasted)}, before {seconds(tick)}."
        return Findings.of([cut_short(lasted, lasted, because)])
    return _at(check, timeline, tick, f"At {seconds(tick)}")


def _at(check: BoundCheck, timeline: Timeline, tick: int, head: str) -> Findings:
    if timeline.horizon < tick:
        return Findings.of([uncertain(tick, tick, timeline.horizon, tick)])
    condition = check.looks[0]
    true, margin, unit = timeline.at(condition, tick)
    because = f"{head}, {timeline.values_at(condition, tick)}; {quoted(check.words[0])} was wanted."
    return Findings.of([Finding(Window(tick, tick, PASS if true else FAIL), margin, unit, tick, because)])
