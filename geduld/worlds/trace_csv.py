"""Reads a trace from CSV: fast where the file is plain, with the exact cell where it is not.

The numbers are read by `numpy.loadtxt`. Only when that fails, or when the file holds characters that
plain numbers never have, a slower pass checks every cell and names the first bad one.
"""

from __future__ import annotations

import csv
import io
import re

import numpy as np

from geduld.errors import Place, TraceError
from geduld.language.messages import listed, nearest
from geduld.language.quantities import RATIO, TEXT, TIME, TRUTH, Unit, text_code, unit_from_text
from geduld.rig.model import Part, Rig
from geduld.worlds.counting import COUNTED
from geduld.worlds.pins import channels_of_lines, known_lines
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Floats, Ticks, Trace

MOST_TRACE_BYTES = 500_000_000
MOST_LETTERS = 200
COUNTS = tuple(f".{word}" for word in COUNTED)
_PLAIN = b"0123456789+-.eE,\r\n \tna"
LINE = "line "
RAW = ".raw"
HEADING = re.compile(rf"\s*((?:{LINE})?[^\s\[\]]+)\s*(?:\[([^\]]*)\])?\s*")
NUMBER = re.compile(r"[+-]?[0-9]+(?:\.[0-9]*)?(?:[eE][+-]?[0-9]+)?|nan", re.ASCII)


def trace_from_csv(data: bytes, rig: Rig) -> Trace:
    """The trace in a CSV text: a header `time [s],nose,range [cm]`, then one row a sample.

    Times rise and start at 0 or later; contacts are 0 or 1; an empty cell is an absent reading; every
    channel is a part of the rig, or a line of its controller (`line 7` with 0 or 1, `line 5 [%]`): what hangs on lines
    does what its driver's table says. Raises TraceError with the row (the header is row 1) and the column.
    """
    if len(data) > MOST_TRACE_BYTES:
        raise TraceError("trace-too-large", f"A trace has at most {MOST_TRACE_BYTES:,} bytes.", "Cut the recording up.")
    if data.startswith(b"\xef\xbb\xbf"):
        data = data[3:]
    head, _, body = data.partition(b"\n")
    columns = _columns(head, rig)
    texts: dict[float, str] = {}
    said = any(part is not None and part.dimension == TEXT for _, _, part in columns)
    table = None if said else _fast(body, len(columns))
    if table is None:
        table = _checked(data, columns, texts)
    if not len(table):
        raise TraceError("no-samples", "The trace has a header and no samples.", "Add one row a sample.", row_place(2))
    return _trace(table, columns, texts, rig)


Column = tuple[str, Unit | None, Part | None]


def row_place(row: int, column: int | None = None) -> Place:
    """A place in a CSV file."""
    return Place(row=row, column=column)


def _columns(head: bytes, rig: Rig) -> list[Column]:
    try:
        cells = next(csv.reader([head.decode("utf-8").rstrip("\r")]), [])
    except (UnicodeDecodeError, csv.Error):
        remedy = "Save the trace as CSV in UTF-8, without NUL bytes."
        raise TraceError("not-csv", "The header is not CSV text.", remedy, row_place(1)) from None
    columns: list[Column] = []
    for number, cell in enumerate(cells, 1):
        match = HEADING.fullmatch(cell)
        if match is None:
            remedy = "Write for example: time [s],nose,range [cm]"
            message = f'"{cell[:40]}" is not a heading; a name and its unit in brackets belong here.'
            raise TraceError("trace-heading", message, remedy, row_place(1, number))
        name, unit_text = match.group(1), match.group(2)
        if number == 1:
            column = time_column(name, unit_text)
        elif name.startswith(LINE):
            column = _line_column(name, unit_text, rig, number)
        else:
            column = channel_column(name, unit_text, rig, number)
        if column[0] and any(column[0] == other[0] for other in columns):
            raise TraceError("channel-twice", f'Channel "{name}" stands twice.', "Delete one.", row_place(1, number))
        columns.append(column)
    if len(columns) < 2:
        remedy = "Write for example: time [s],nose,range [cm]"
        raise TraceError("trace-heading", "The header names no channel.", remedy, row_place(1))
    return columns


def time_column(name: str, unit_text: str | None) -> Column:
    """The first column: the time. Raises TraceError when it is not."""
    unit = unit_from_text(unit_text) if unit_text else None
    if name != "time" or unit is None or unit.dimension != TIME:
        message = "The first column must be the time with its unit."
        raise TraceError("trace-heading", message, "Head it: time [s]", row_place(1, 1))
    return name, unit, None


def _line_column(name: str, unit_text: str | None, rig: Rig, number: int) -> Column:
    """A column that is a line of the controller: its level, or the share of time at high in %."""
    known = known_lines(rig)
    if name.removeprefix(LINE) not in known:
        message = f'Nothing of the rig "{rig.name}" hangs on "{name}".'
        raise TraceError("channel-without-part", message, f"It has the lines {listed(known)}.", row_place(1, number))
    unit = unit_from_text(unit_text) if unit_text else None
    if unit_text and (unit is None or unit.dimension != RATIO):
        message = f'"[{unit_text}]" is not a unit that a line can have.'
        raise TraceError("channel-unit", message, "A line has no unit (0 or 1), or [%].", row_place(1, number))
    return name, unit, None


def channel_column(name: str, unit_text: str | None, rig: Rig, number: int) -> Column:
    """A column that is a channel of the rig. Raises TraceError when there is no such channel."""
    part = rig.channels.get(name)
    if name.endswith(RAW) and unit_text is None:
        part = rig.parts.get(name.removesuffix(RAW))
        if part is not None and part.raw_unit is not None:
            return part.name, part.raw_unit, part
    if part is None and not rig.sensors:
        return "", None, None  # only the time axis is of use to a rig that senses nothing
    if part is None or name.endswith(COUNTS):
        known = [other for other in rig.channels if not other.endswith(COUNTS)]
        like = nearest(name, known)
        remedy = f'Did you mean "{like}"?' if like else f"What this rig can record is {listed(known)}."
        message = f'Channel "{name}" is not a part of the rig "{rig.name}".'
        raise TraceError("channel-without-part", message, remedy, row_place(1, number))
    if unit_text is None:
        return name, part.unit, part
    unit = unit_from_text(unit_text)
    if unit is None or unit.dimension != part.dimension:
        wanted = f"[{part.unit_word}]" if part.unit else "no unit"
        message = f'"[{unit_text}]" is not a unit that "{name}" can have.'
        raise TraceError("channel-unit", message, f"A {part.kind.word} has {wanted}.", row_place(1, number))
    return name, unit, part


def _fast(body: bytes, width: int) -> Floats | None:
    """All cells as floats, or None when the slower pass must look."""
    if body.translate(None, _PLAIN):
        return None
    if b",," in body or b",\n" in body or b",\r" in body or body.endswith(b","):
        body = body.replace(b",,", b",nan,").replace(b",,", b",nan,")
        body = body.replace(b",\r", b",nan\r").replace(b",\n", b",nan\n")
        body = body + b"nan" if body.endswith(b",") else body
    if not body.strip():
        return np.empty((0, width))
    try:
        table = np.loadtxt(io.BytesIO(body), delimiter=",", ndmin=2, comments=None)
    except ValueError:
        return None
    return table if table.shape[1] == width and np.isfinite(table[:, 0]).all() else None


def _checked(data: bytes, columns: list[Column], texts: dict[float, str]) -> Floats:
    """Every cell, one by one; messages go into `texts`. Raises TraceError at the first that is wrong."""
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as problem:
        row = data[: problem.start].count(b"\n") + 1
        raise TraceError("not-csv", "This row is not UTF-8 text.", "Save it as UTF-8.", row_place(row)) from None
    rows: list[list[float]] = []
    reader = csv.reader(io.StringIO(text, newline=""))
    try:
        for cells in reader:
            if reader.line_num == 1 or not cells:
                continue
            rows.append(_checked_row(cells, columns, reader.line_num, texts))
    except csv.Error:
        message = "This row is not CSV."
        raise TraceError("not-csv", message, "Check its quotation marks.", row_place(reader.line_num)) from None
    return np.array(rows) if rows else np.empty((0, len(columns)))


def _checked_row(cells: list[str], columns: list[Column], row: int, texts: dict[float, str]) -> list[float]:
    if len(cells) != len(columns):
        message = f"This row has {len(cells)} cells, and the header has {len(columns)}."
        remedy = "Fill the row up; an absent reading is an empty cell between commas."
        raise TraceError("row-length", message, remedy, row_place(row, min(len(cells), len(columns)) + 1))
    values = []
    for number, cell in enumerate(cells, 1):
        text = cell.strip(" \t")
        part = columns[number - 1][2]
        if part is not None and part.dimension == TEXT and text:
            code = text_code(text[:MOST_LETTERS])
            texts[code] = text[:MOST_LETTERS]
            values.append(code)
        elif NUMBER.fullmatch(text) and (number > 1 or text != "nan"):
            values.append(float(text))
        elif text == "" and number > 1:
            values.append(np.nan)
        else:
            name = columns[number - 1][0]
            message = f'"{cell[:40]}" is not a number; a plain number such as 12.5 was expected for "{name}".'
            remedy = "Write it with a point and no spaces or _; leave the cell empty for an absent reading."
            raise TraceError("bad-cell", message, remedy, row_place(row, number))
    return values


def _trace(table: Floats, columns: list[Column], texts: dict[float, str], rig: Rig) -> Trace:
    unit = columns[0][1]
    assert unit is not None
    seconds = unit.to_base(1.0) * table[:, 0]
    times_in_reach(seconds)
    times = np.rint(seconds * 1e6).astype(np.int64)
    times_rise(times)
    channels: dict[str, Floats] = {}
    levels: dict[str, Signal] = {}
    shares: dict[str, Signal] = {}
    for number, (name, channel_unit, part) in enumerate(columns[1:], 1):
        if not name:
            continue
        values = np.ascontiguousarray(table[:, number])
        if np.isinf(values).any():
            row = int(np.isinf(values).argmax())
            remedy = "Leave the cell empty for an absent reading."
            raise TraceError("bad-cell", "This number is too large.", remedy, row_place(row + 2, number + 1))
        if (part is None and channel_unit is None) or (part is not None and part.dimension == TRUTH):
            _only_contacts(name, values, number + 1)
        if channel_unit is not None and not channel_unit.is_base:
            values = channel_unit.to_base(values)
        if part is not None and part.kind.full_turn:
            values = values % part.kind.full_turn
        if part is not None and part.dimension == TEXT:
            channels[f"{name}.messages"] = arrivals(values)
            values = held(values)
        if part is None:
            (levels if channel_unit is None else shares)[name.removeprefix(LINE)] = Signal(times, values)
        else:
            channels[name] = values
    for name, steps in channels_of_lines(levels, shares, rig).items():
        if name in channels:
            message = f'"{name}" stands in the recording, and the lines that it hangs on do too.'
            raise TraceError("channel-twice", message, "Delete one of them.", row_place(1))
        channels[name] = steps.at(times)
    return Trace(times, channels, texts)


def arrivals(values: Floats) -> Floats:
    """How many messages have come up to each sample: one begins with each cell that is not like the one before."""
    before = np.concatenate(([np.nan], values[:-1]))
    return np.cumsum(~np.isnan(values) & ~(values == before)).astype(np.float64)


def held(values: Floats) -> Floats:
    """A message stays until the next one comes: an empty cell is no new message."""
    last = np.maximum.accumulate(np.where(np.isnan(values), -1, np.arange(len(values))))
    return np.where(last < 0, np.nan, values[np.maximum(last, 0)])


def times_in_reach(seconds: Floats) -> None:
    """Refuses times that no run has."""
    wrong = (seconds < 0) | (seconds > 1e6)
    if wrong.any():
        row = int(wrong.argmax())
        message = f"The time {seconds[row]:g} s is not between 0 s and 1,000,000 s."
        raise TraceError("time-out-of-reach", message, "Let the recording start at 0 s.", row_place(row + 2, 1))


def times_rise(times: Ticks) -> None:
    """Refuses times that do not rise from row to row."""
    back = np.diff(times) <= 0
    if back.any():
        row = int(back.argmax()) + 1
        before, now = times[row - 1] / 1e6, times[row] / 1e6
        message = f"The time goes from {before:g} s to {now:g} s; each row must be later than the one before."
        remedy = "Sort the rows by time and delete doubled ones."
        raise TraceError("time-goes-back", message, remedy, row_place(row + 2, 1))


def _only_contacts(name: str, values: Floats, column: int) -> None:
    odd = ~(np.isnan(values) | (values == 0) | (values == 1))
    if odd.any():
        row = int(odd.argmax())
        what, means = (
            ("line", "high and 0 for low") if name.startswith(LINE) else ("contact", "pressed and 0 for released")
        )
        message = f'"{name}" is a {what}, and {values[row]:g} is neither 0 nor 1.'
        raise TraceError("bad-contact", message, f"Write 1 for {means}.", row_place(row + 2, column))


def trace_to_csv(trace: Trace, rig: Rig) -> str:
    """A trace as CSV text in the rig's units; absent readings are empty cells."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for name in trace.channels:
        if name not in rig.channels and not name.endswith(COUNTS):
            message = f'The rig has no "{name}" any more, so nobody knows the unit of this channel.'
            raise TraceError("unknown-channel", message, "Give the rig that part again.")
    columns = [_cells(rig.channels[name], trace) for name in trace.channels if not name.endswith(COUNTS)]
    writer.writerow(["time [s]", *(heading for heading, _ in columns)])
    times = [f"{tick / 1e6:.6f}".rstrip("0").rstrip(".") for tick in trace.times.tolist()]
    writer.writerows(zip(times, *(cells for _, cells in columns), strict=True))
    return out.getvalue()


def headings(trace: Trace, rig: Rig) -> list[str]:
    """The headings of the channels of a trace that is written as CSV, without the time's."""
    return [_cells(rig.channels[name], trace)[0] for name in trace.channels if not name.endswith(COUNTS)]


def _cells(part: Part, trace: Trace) -> tuple[str, list[str]]:
    """A channel's heading and its cells: as few digits as give the same numbers when they are read again."""
    values = trace.channels[part.name]
    if part.dimension == TEXT:
        # Written only where it comes: when it is read again, the same messages come at the same instants.
        count = trace.column(f"{part.name}.messages")
        comes = np.diff(values if count is None else count, prepend=0.0) != 0
        texts = [trace.texts.get(value, "") if new else "" for value, new in zip(values.tolist(), comes, strict=True)]
        return part.name, texts
    # by their bits, so that -0 stays what it was
    bits, which = np.unique(np.ascontiguousarray(values).view(np.int64), return_inverse=True)
    distinct = bits.view(np.float64)
    base = unit_from_text(part.dimension.unit) if part.unit and not part.unit.is_base else None
    for unit in filter(None, (part.unit, base)):
        shown = [_shortest(value, unit) for value in distinct.tolist()]
        if None not in shown or unit is base or base is None:
            cells = [
                text or f"{value:.17g}" for text, value in zip(shown, unit.from_base(distinct).tolist(), strict=True)
            ]
            break
    else:
        unit, cells = None, [_shortest(value, None) or "" for value in distinct.tolist()]
    cells = ["" if value != value else cell for value, cell in zip(distinct.tolist(), cells, strict=True)]
    heading = f"{part.name} [{unit.word}]" if unit is not None and unit.word else part.name
    return heading, [cells[place] for place in which.tolist()]


def _shortest(value: float, unit: Unit | None) -> str | None:
    """A value in a unit, with as few digits as give the same value again; None where none do."""
    if value != value:
        return ""
    shown = unit.from_base(value) if unit is not None else value
    for digits in (6, 9, 12, 15, 16, 17):
        text = f"{shown:.{digits}g}"
        if (unit.to_base(float(text)) if unit is not None else float(text)) == value:
            return text
    return None
