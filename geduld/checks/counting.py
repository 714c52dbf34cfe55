"""How often something came, against how often it was wanted."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import seconds, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Window


def counted(check: BoundCheck, timeline: Timeline, starts: list[int], what: str) -> Finding:
    """Whether something came as often as wanted; the margin is a count."""
    starts = [start for start in starts if start <= timeline.horizon]
    number, wanted, lasted = len(starts), check.count, timeline.record.lasted
    # one more than may be is decided at once, whatever comes later; so is as often as must be
    decided = lasted
    if check.bound == "at least" and number >= wanted:
        decided = starts[wanted - 1] if wanted else 0
    elif check.bound != "at least" and number > wanted:
        decided = starts[wanted]
    if timeline.horizon < decided:
        return uncertain(0, lasted, timeline.horizon, 0)
    margin = {"at least": number - wanted, "at most": wanted - number, "": -abs(number - wanted)}[check.bound]
    target = f"{check.bound} {wanted} {'time' if wanted == 1 else 'times'}".lstrip()
    times = f" (at {', '.join(map(seconds, starts[:5]))}{', …' if number > 5 else ''})" if number else ""
    because = f"{what} {number} {'time' if number == 1 else 'times'}{times}; {target} was wanted."
    return Finding(Window(0, lasted, PASS if margin >= 0 else FAIL), float(margin), "", decided, because)
