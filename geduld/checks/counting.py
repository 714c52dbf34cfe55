"""How often something came, against how often it was wanted."""

from __future__ import annotations

from geduld.checks.bound import BoundCheck
from geduld.checks.evidence import cut_short, seconds, uncertain
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PASS, Finding, Window


def counted(check: BoundCheck, timeline: Timeline, starts: list[int], what: str) -> Finding:
    """Whether something came as often as wanted in a run; the margin is a count."""
    return counted_in(check, timeline, starts, what, 0, timeline.record.lasted + 1, cut=False)


def counted_in(
    check: BoundCheck, timeline: Timeline, starts: list[int], what: str, begin: int, behind: int, cut: bool = True
) -> Finding:
    """The same in a stretch up to `behind`; one that the run's end cuts off (`cut`) is open until it is decided."""
    lasted = timeline.record.lasted
    starts = [start for start in starts if begin <= start < behind and start <= timeline.horizon]
    number, wanted, stop = len(starts), check.count, min(behind, lasted)
    # one more than may be is decided at once, whatever comes later; so is as often as must be
    decided = None
    if check.bound == "at least" and number >= wanted:
        decided = starts[wanted - 1] if wanted else begin
    elif check.bound != "at least" and number > wanted:
        decided = starts[wanted]
    if timeline.horizon < (stop if decided is None else decided):
        return uncertain(begin, stop, timeline.horizon, begin)
    margin = {"at least": number - wanted, "at most": wanted - number, "": -abs(number - wanted)}[check.bound]
    target = f"{check.bound} {wanted} {'time' if wanted == 1 else 'times'}".lstrip()
    times = f" (at {', '.join(map(seconds, starts[:5]))}{', …' if number > 5 else ''})" if number else ""
    because = f"{what} {number} {'time' if number == 1 else 'times'}{times}"
    if cut:
        because += f" from {seconds(begin)} to {seconds(stop)}"
    because += f"; {target} was wanted."
    if decided is None and behind > lasted and cut:
        return cut_short(begin, stop, f"{because[:-1]}, and the run ended before the stretch did.")
    verdict = PASS if margin >= 0 else FAIL
    return Finding(Window(begin, stop, verdict), float(margin), "", stop if decided is None else decided, because)
