"""What the end of a loop's pass does, as source."""

from __future__ import annotations

from geduld.script.lane import Source


def advance(source: Source, level: int, line: int, since: str, closed: bool) -> None:
    """The clock goes on by one pass of the rig's loop. `since` is when the pass began, where its bar is not known."""
    source.add(level, "now += loop")
    if since:
        source.add(level, f"looped({line}, {since}, now)")
    source.add(level, "if now > end: yield nothing, now")
    source.add(level, "i = reach(now)" if closed else "while times[i + 1] <= now: i += 1")


def quiet_pass(source: Source, level: int, number: int) -> None:
    """A pass that took no time and touched nothing."""
    source.add(level, f"u{number}.passed()")
