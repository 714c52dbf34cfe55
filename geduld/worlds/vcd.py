"""Reads a value change dump (IEEE 1364, section 18), as logic analysers and simulators write it, as a trace."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from geduld.errors import TraceError
from geduld.language.messages import listed
from geduld.language.quantities import TEXT, TRUTH
from geduld.rig.model import Rig
from geduld.worlds.pins import changes_of, channels_of_lines, known_lines
from geduld.worlds.signal import Signal, instants
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import COUNTS, row_place, times_in_reach

MOST_CHANGES, MOST_SAMPLES = 10_000_000, 2_000_000
_SECONDS = {b"s": 1.0, b"ms": 1e-3, b"us": 1e-6, b"ns": 1e-9, b"ps": 1e-12, b"fs": 1e-15}
_SECTION = re.compile(rb"\$(\w+)\b(.*?)\$end", re.DOTALL)
_DECLARATION = re.compile(rb"\$(?:date|version|timescale|comment|scope|upscope|var|enddefinitions|dumpvars)\b")
_NUMBERED = re.compile(r"(?:line|pin|gpio|d|p|io)?[ _]?(\d+)", re.IGNORECASE)


@dataclass(frozen=True)
class _Meaning:
    """What a variable of the dump is: a line of the controller, or a channel of the rig."""

    name: str
    is_line: bool


def is_vcd(data: bytes) -> bool:
    """Whether a recording is a value change dump."""
    return _DECLARATION.match(data[:1000].lstrip(b"\xef\xbb\xbf \t\r\n")) is not None


def trace_from_vcd(data: bytes, rig: Rig) -> Trace:
    """The trace in a value change dump. Its variables are lines of the controller (`7`, `D7`, a port), or parts.

    The levels of lines become what their drivers make of them, and contacts; a variable that is none of the rig's is
    passed over. Raises TraceError with the line.
    """
    head, _, body = data.partition(b"$enddefinitions")
    if not _:
        raise TraceError("not-vcd", "This dump has no $enddefinitions.", "Export it again.", row_place(1))
    scale, meanings = _head(head, rig)
    changes, end = _changes(body.partition(b"$end")[2], head.count(b"\n") + 1, set(meanings))
    levels: dict[str, Signal] = {}
    channels: dict[str, Signal] = {}
    for code, (ticks, values) in changes.items():
        meaning = meanings[code]
        steps = _at_ticks(ticks, values, scale)
        if meaning.is_line:
            levels[meaning.name] = steps
        else:
            part = rig.channels[meaning.name]
            if part.dimension == TRUTH and not np.isin(steps.values[~np.isnan(steps.values)], (0, 1)).all():
                message = f'"{meaning.name}" is a contact, and the dump has other values than 0 and 1 for it.'
                raise TraceError("bad-contact", message, "Record it as a line.", row_place(1))
            channels[meaning.name] = Signal(steps.times, part.unit.to_base(1.0) * steps.values) if part.unit else steps
    channels |= channels_of_lines(levels, {}, rig)
    if not channels:
        raise TraceError("no-samples", "Nothing of this rig changes in the dump.", "Record its lines.", row_place(1))
    times = instants([0, round(end * scale * 1e6)], *(steps.times for steps in channels.values()))
    times_in_reach(times / 1e6)
    if len(times) > MOST_SAMPLES:
        message = f"What the parts of this rig do changes more than {MOST_SAMPLES:,} times in the dump."
        raise TraceError("trace-too-large", message, "Cut the recording up.")
    return Trace(times, {name: steps.at(times) for name, steps in channels.items()})


def _at_ticks(ticks: list[int], values: list[float], scale: float) -> Signal:
    """Changes in microseconds; of several within one the last one holds."""
    times = np.rint(np.array(ticks, np.float64) * (scale * 1e6)).astype(np.int64)
    last = np.append(times[1:] != times[:-1], True)
    return changes_of(times[last], np.array(values)[last])


def _head(head: bytes, rig: Rig) -> tuple[float, dict[bytes, _Meaning]]:
    """How many seconds a step of the dump is, and what its variables are, by their codes."""
    scale, found, seen = 1e-9, dict[bytes, _Meaning](), list[str]()
    for match in _SECTION.finditer(head):
        row, words = head[: match.start()].count(b"\n") + 1, match[2].split()
        if match[1] == b"timescale":
            number = re.fullmatch(rb"(\d+)([a-z]+)", b"".join(words))
            if number is None or number[2] not in _SECONDS or not int(number[1]):
                message = "This is no time scale; a number and a unit belong here."
                raise TraceError("not-vcd", message, "For example: $timescale 1 us $end", row_place(row))
            scale = int(number[1]) * _SECONDS[number[2]]
        elif match[1] == b"var":
            if len(words) < 4:
                message = "This variable has no type, size, code and name."
                raise TraceError("not-vcd", message, "For example: $var wire 1 ! D7 $end", row_place(row))
            name = b" ".join(words[3:]).decode("utf-8", "replace").partition("[")[0].strip()
            seen.append(name)
            meaning = _meaning(name, rig)
            if meaning is not None and meaning not in found.values():
                found[words[2]] = meaning
    if not found:
        message = f"None of the dump's variables is of this rig: {listed(seen[:12]) or 'there are none'}."
        known = [*known_lines(rig), *(name for name in rig.channels if "." not in name)]
        raise TraceError("channel-without-part", message, f"It has {listed(known)}.", row_place(1))
    return scale, found


def _meaning(name: str, rig: Rig) -> _Meaning | None:
    lines = known_lines(rig)
    if name in lines:
        return _Meaning(name, True)
    part = rig.channels.get(name)
    if part is not None and not name.endswith(COUNTS) and part.dimension != TEXT:
        return _Meaning(name, False)
    numbered = _NUMBERED.fullmatch(name)
    if numbered is not None and numbered[1].lstrip("0") in lines:
        return _Meaning(numbered[1].lstrip("0"), True)
    return None


_Changes = dict[bytes, tuple[list[int], list[float]]]


def _changes(body: bytes, row: int, codes: set[bytes]) -> tuple[_Changes, int]:
    """Each variable's changes, and the last instant, in steps of the dump. `row` is the line that it begins in."""
    found: _Changes = {code: ([], []) for code in codes}
    first: int | None = None
    now = count = 0
    waiting: float | None = None
    in_comment = False
    for number, line in enumerate(body.split(b"\n"), row):
        for word in line.split():
            sign = word[:1]
            if in_comment or word == b"$comment":
                in_comment = word != b"$end"
            elif waiting is not None:
                _note(found, word, now, waiting)
                waiting = None
            elif sign == b"#":
                moment = _moment(word, number)
                first = moment if first is None else first
                if moment - first < now:
                    raise TraceError(
                        "time-goes-back", "The time goes back here.", "Export it again.", row_place(number)
                    )
                now = moment - first
            elif sign in b"01xXzZ" and len(word) > 1:
                _note(found, word[1:], now, float(sign) if sign in b"01" else np.nan)
            elif sign in b"bBrR" and len(word) > 1:
                waiting = _number(word, number)
            elif sign != b"$":
                message = f'"{word[:20].decode("utf-8", "replace")}" is no change of a value.'
                raise TraceError("not-vcd", message, "Export the recording again.", row_place(number))
            count += 1
            if count > MOST_CHANGES:
                message = f"This dump has more than {MOST_CHANGES:,} changes."
                raise TraceError("trace-too-large", message, "Cut the recording up.", row_place(number))
    return {code: changes for code, changes in found.items() if changes[0]}, now


def _note(found: _Changes, code: bytes, now: int, value: float) -> None:
    changes = found.get(code)
    if changes is not None:
        changes[0].append(now)
        changes[1].append(value)


def _moment(word: bytes, row: int) -> int:
    if not word[1:].isdigit() or len(word) > 30:
        raise TraceError("not-vcd", "This is no instant.", "An instant is # and a whole number.", row_place(row))
    return int(word[1:])


def _number(word: bytes, row: int) -> float:
    """The number of a real or of several bits; absent where a bit is unknown."""
    text = word[1:]
    try:
        if word[:1] in b"rR":
            value = float(text)
            return value if np.isfinite(value) else np.nan
        return np.nan if text.strip(b"01") else float(int(text[-64:], 2))
    except ValueError:
        message = f'"{text[:20].decode("utf-8", "replace")}" is not a number.'
        raise TraceError("not-vcd", message, "Export the recording again.", row_place(row)) from None
