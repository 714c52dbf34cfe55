"""What the end of a loop's pass does, as source."""

from __future__ import annotations

from typing import Protocol

from geduld.script.lane import Source
from geduld.script.words import Words


class Passing(Protocol):
    """A loop whose passes cost: its number, its line, and what is known of a pass beforehand.

    `touches` when it may touch the world, `straight` when it takes no time by itself, `sure` when it surely does both.
    """

    number: int
    line: int
    touches: bool
    straight: bool
    sure: bool


def end_of_pass(source: Source, level: int, loop: Passing, words: Words) -> None:
    """The clock goes on where the pass took no time and touched the world."""
    number = loop.number
    if loop.sure:
        advance(source, level, loop.line, "", words)
    elif not loop.touches:
        quiet_pass(source, level, loop.line, number, words, f"now == p{number}")
    else:
        source.add(level, f"if now == p{number}:")
        source.add(level + 1, f"if acts != a{number}_:")
        advance(source, level + 2, loop.line, "" if loop.straight else f"p{number}", words)
        source.add(level + 1, "else:")
        quiet_pass(source, level + 2, loop.line, number, words)


def advance(source: Source, level: int, line: int, since: str, words: Words) -> None:
    """The clock goes on by one pass of the rig's loop. `since` is when the pass began, where its bar is not known."""
    if words.watched:
        source.add(level, f"now, i, x = yield pass_[{line}], now")
        return
    source.add(level, "now += loop")
    if since:
        source.add(level, f"looped({line}, {since}, now)")
    source.add(level, "if now > end: yield nothing, now")
    source.add(level, "i = reach(now)" if words.writer.closed else "while times[i + 1] <= now: i += 1")


def quiet_pass(source: Source, level: int, line: int, number: int, words: Words, when: str = "") -> None:
    """A pass that took no time and touched nothing; `when` is the condition on which it was one."""
    if words.watched:
        condition = " and ".join(filter(None, [when, f"u{number}.still()"]))
        source.add(level, f"if {condition}: now, i, x = yield called_[{line}], now")
        return
    source.add(level, f"if {when}: u{number}.passed()" if when else f"u{number}.passed()")
