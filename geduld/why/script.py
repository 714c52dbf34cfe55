"""Why a line of a program in another language did not run: the run is repeated while it is watched which lines come."""

from __future__ import annotations

import sys
from collections.abc import Callable
from types import FrameType
from typing import Any

from geduld.language.quantities import show
from geduld.run.record.record import Record
from geduld.script.memory import SOURCE
from geduld.script.ways import Block, Opened, Way
from geduld.why.line import WhyNot


def why_not_script(run: Callable[[], Record], way: Way, line: int) -> WhyNot:
    """Why a line did not run; when it ran first, where it did. `way` is that to it, empty where there is none."""
    if not way:
        return WhyNot(False, 0, 0, f"Line {line} is no statement, so it is not run by itself.")
    record, came = watched(run)
    if line in came:
        return WhyNot(True, line, came[line], f"Line {line} ran, first at {_at(came[line])}.")
    for block in way:
        begun = [index for index, (first, _) in enumerate(block.statements[: block.index + 1]) if first in came]
        if block.opened is not None and not _entered(block, came):
            return _not_entered(block.opened)
        later = any(first in came for first, _ in block.statements[block.index + 1 :])
        if block.index not in begun and not later:
            return _stayed(record, came, block, begun, line)
    return WhyNot(False, 0, 0, f"Line {line} does nothing by itself, so nobody can tell whether it ran.")


def watched(run: Callable[[], Record]) -> tuple[Record, dict[int, int]]:
    """A run, and when each of the script's lines came first. It takes longer than one that is not watched."""
    came: dict[int, int] = {}

    def look(frame: FrameType, event: str, _: Any) -> Any:
        if event == "line":
            line = frame.f_globals["lines_"][frame.f_lineno - 1]
            if line and line not in came:
                came[line] = _now(frame)
        return look

    before = sys.gettrace()
    sys.settrace(lambda frame, *_: look if frame.f_code.co_filename == SOURCE else None)
    try:
        return run(), came
    finally:
        sys.settrace(before)


def _now(frame: FrameType | None) -> int:
    """The tick at which a part of the script is performed."""
    while frame is not None:
        if frame.f_code.co_filename == SOURCE and "now" in frame.f_locals:
            return int(frame.f_locals["now"])
        frame = frame.f_back
    return 0


def _at(tick: int) -> str:
    return show(tick / 1e6, "s", 2)


def _entered(block: Block, came: dict[int, int]) -> bool:
    """Whether anything in a block came: what only declares something leaves no trace."""
    return any(first <= line <= last for line in came for first, last in block.statements)


def _not_entered(opened: Opened) -> WhyNot:
    """A block that the program did not come to, of a statement that it came to."""
    line = opened.line
    because = {
        "call": f"Nothing called {opened.words}, which begins in line {line}, while the program ran.",
        "if": f"Line {line} asks whether {opened.words}, and no time it asked was that so.",
        "else": f"It is for when what line {line} asks is not so, and each time it asked, {opened.words} was so.",
        "loop": f"Line {line} repeated its lines not once.",
        "handler": f"Line {line} is for when something goes wrong in the lines above it, and nothing did.",
        "plain": f"The program did not come to what belongs to line {line}.",
    }
    return WhyNot(False, line, 0, because[opened.kind])


def _stayed(record: Record, came: dict[int, int], block: Block, begun: list[int], line: int) -> WhyNot:
    """A statement in front of the line in its block, behind which the program did not come."""
    first, last = block.statements[max(begun, default=0)]
    since = came.get(first, 0)
    broke = next((event for event in record.events if event.kind in ("error", "limit")), None)
    if broke is not None:
        told = (
            f"Line {broke.line} broke the program off at {_at(broke.tick)}, before it came to line {line}: {broke.text}"
        )
        return WhyNot(False, broke.line, broke.tick, told)
    bars = [bar for bar in record.program if first <= bar.line <= last and bar.stop >= record.ended_at]
    if bars:
        told = f"The program was still at line {bars[-1].line} when it ended at {_at(record.ended_at)}"
        return WhyNot(False, bars[-1].line, bars[-1].start, f"{told}, and line {line} comes after it.")
    told = f"What begins in line {first} led elsewhere each time (it returns, breaks off or goes on with a loop)"
    return WhyNot(False, first, since, f"{told}, and not to line {line}.")
