"""What a loop that only waits for readings is, and how its passes are left out."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from geduld.script.lane import Source
from geduld.script.words import Words


class NotSoSimpleError(Exception):
    """The loop does more than wait for readings."""


@dataclass(frozen=True)
class Waiting:
    """A loop that only waits: at which samples it surely goes on, as source over `at`.

    A pass lasts `period` ticks (0: one pass of the rig's loop), and it looks `takes` ticks after it has begun. `key`
    says by the sensors' names what it looks at, and `names` are the variables that it compares with.
    """

    goes_on: str
    period: int
    takes: int
    key: str
    names: tuple[str, ...]


def waiting(
    goes_on: str, columns: Iterable[str], sleeps: int, takes: int, words: Words, names: tuple[str, ...]
) -> Waiting:
    """A loop that goes on where `goes_on` says so, and in all `columns` there is a reading."""
    told = f"({goes_on})" + "".join(f" & ({column}[at] == {column}[at])" for column in sorted(columns))
    key = told
    for name, index in words.names.channels.items():
        key = re.sub(rf"\ba{index}\b", f"<{name}>", key)
    return Waiting(told, sleeps + takes, takes, key, names)


def leave_out(source: Source, level: int, line: int, number: int, waits: Waiting) -> None:
    """Leaves out the passes in which the loop surely goes on and does nothing but wait."""
    first = f"now + {waits.takes}" if waits.takes else "now"
    key = f"({waits.key!r}, {''.join(f'{name}, ' for name in waits.names)})"
    source.add(level, f"h{number} = now")
    call = f"seek_(times, {first}, {waits.period or 'loop'}, end, kept_, {key}, lambda at: {waits.goes_on})"
    source.add(level, f"now, x = {call}")
    if waits.takes:
        source.add(level, f"now -= {waits.takes}")
    source.add(level, "if x:")
    source.add(level + 1, f"steps += 50 + x // 20; acts += 1; looped({line}, h{number}, now)")
    source.add(level + 1, "if now > end: yield nothing, now")
    source.add(level + 1, "i = bisect_(times, now) - 1")
