"""Reads a recording with a recipe: a trace of the rig, and a report of all that happened on the way."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from geduld.errors import Place, TraceError
from geduld.language.messages import listed, nearest
from geduld.language.quantities import RATIO, TEXT, TRUTH, Unit, text_code, unit_from_text
from geduld.recordings.cells import Column
from geduld.recordings.contacts import CONTACT_WORDS
from geduld.recordings.forms.table import WORD as ROWS
from geduld.recordings.layout import BadRows, Table
from geduld.recordings.matching import channels_of, part_of
from geduld.recordings.nothing import NOTHING
from geduld.recordings.proposal import COUNTS, meaning_of
from geduld.recordings.recipe import HOLD, STOP, Recipe, Use
from geduld.recordings.sizes import RAW_UNIT
from geduld.recordings.timing import ticks_of
from geduld.rig.model import Part, Rig
from geduld.worlds.pins import channels_of_lines
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Floats, Trace
from geduld.worlds.trace_csv import LINE, MOST_LETTERS, RAW, arrivals, held


@dataclass
class Report:
    """What happened while a recording was read: rows that were left out, and how often each channel had no reading, by
    what stood there."""

    rows: int = 0
    bad: BadRows = field(default_factory=BadRows)
    absent: dict[str, Counter[str]] = field(default_factory=dict)
    held: int = 0


def read(table: Table, recipe: Recipe, rig: Rig) -> tuple[Trace, Report]:
    """The trace that a recipe makes of a table.

    Raises TraceError, with the place of the first bad row where the recipe stops at such rows.
    """
    uses = _checked(recipe, table, rig)
    bad = BadRows(list(table.bad.rows), Counter(table.bad.kinds))
    report = Report(table.rows + table.bad.count, bad)
    if not table.rows:
        raise _nothing(report, recipe)
    if not recipe.timing.column and not recipe.timing.rate:
        message = "No column of this recording is a time."
        raise TraceError("no-time", message, "Choose the column, or say how many rows were taken each second.")
    ticks, kept, reasons = ticks_of(table, recipe.timing, _taken(table, recipe, uses))
    for which, why in reasons:
        _note(report, table, which, why, recipe.timing.column)
    values: dict[str, Floats] = {}
    texts: dict[float, str] = {}
    for use in uses:
        column = table.column(use.column)
        part = part_of(use.channel, rig)
        if part is not None and part.dimension == TEXT:
            values[use.channel] = _messages(column, use, texts)
            continue
        found, wrong = _values(column, use, part, report)
        _note(report, table, wrong & kept, _why_wrong(part), use.column, column)
        kept &= ~wrong
        values[use.channel] = found
    if recipe.bad_rows == STOP and report.bad.count:
        _stop(report.bad)
    if not kept.any():
        raise _nothing(report, recipe)
    times = ticks[kept]
    if recipe.missing == HOLD:
        unsaid = {use.channel: table.column(use.column).is_word("") for use in uses}
        values = {name: _filled(found, unsaid[name], report) for name, found in values.items()}
    return _trace(times, {name: found[kept] for name, found in values.items()}, uses, texts, rig), report


def _checked(recipe: Recipe, table: Table, rig: Rig) -> list[Use]:
    """The recipe's uses of columns that the table has. Raises TraceError for what the rig or the table has not."""
    names = [column.name for column in table.columns]
    for name in filter(None, (recipe.timing.column, recipe.timing.date)):
        if name not in names:
            message = f'The recording has no column "{name}" for the time.'
            raise TraceError("no-time", message, f"It has {listed(names[:20])}." if names else "It is empty.")
    known = channels_of(rig)
    uses = [use for use in recipe.uses if use.channel and use.column in names]
    taken: dict[str, str] = {}
    for use in uses:
        if use.channel not in known:
            like = nearest(use.channel, known)
            remedy = f'Did you mean "{like}"?' if like else f"It has {listed(known[:20])}."
            message = f'The rig "{rig.name}" has no "{use.channel}" for the column "{use.column}".'
            raise TraceError("channel-without-part", message, remedy)
        base = use.channel.removesuffix(RAW)
        if base in taken:
            message = f'"{taken[base]}" and "{use.column}" are both to be "{base}".'
            raise TraceError("channel-twice", message, "Leave one of them out.")
        taken[base] = use.column
        _unit_fits(use, rig)
    if not uses and rig.sensors:
        message = "None of the recording's columns is used for a part of the rig."
        remedy = f"Choose what they are: {listed(names[:12])}." if names else "The recording is empty."
        raise TraceError("channel-without-part", message, remedy)
    return uses


def _unit_fits(use: Use, rig: Rig) -> None:
    part = part_of(use.channel, rig)
    unit = unit_from_text(use.unit) if use.unit else None
    if use.unit == RAW_UNIT and (use.points or (part is not None and part.raw_unit is not None)):
        return
    if use.unit == COUNTS and part is not None and part.counts_per_turn and use.channel.endswith(".angle"):
        return
    dimension = RATIO if part is None else part.dimension
    if use.unit and (unit is None or unit.dimension != dimension):
        own = part.unit_word if part is not None else "%"
        remedy = f'Choose another unit, for example "{own}".' if own else "It has no unit."
        if use.unit == RAW_UNIT:
            remedy = "Say what two of its numbers mean, or give the part the ends of its converter (raw)."
        message = f'"{use.unit}" is not a unit that "{use.channel}" can have.'
        raise TraceError("channel-unit", message, remedy)


def _values(column: Column, use: Use, part: Part | None, report: Report) -> tuple[Floats, NDArray[np.bool_]]:
    """A column's values in base units, NaN where there is no reading, and where a cell cannot be read."""
    numbers = column.numbers.copy()
    contact = (part is not None and part.dimension == TRUTH) or (part is None and not use.unit)
    absent: Counter[str] = Counter()
    wrong = np.zeros(len(numbers), np.bool_)
    words = {word.lower() for word in use.absent_words}
    for code, word in enumerate(column.words):
        if not code:
            continue
        at = column.codes == code
        low = word.lower()
        if contact and low in CONTACT_WORDS and low not in words:
            numbers[at] = CONTACT_WORDS[low]
        elif low in NOTHING or low in words:
            absent[word or "an empty cell"] += int(at.sum())
        else:
            wrong |= at
    for number in use.absent:
        at = numbers == number
        if at.any():
            absent[f"{number:g}"] += int(at.sum())
            numbers[at] = np.nan
    if absent:
        report.absent[use.channel] = absent
    if contact:
        wrong |= ~(np.isnan(numbers) | (numbers == 0) | (numbers == 1))
        return (1 - numbers if use.inverted else numbers), wrong
    if use.points:
        (low_raw, low_value), (high_raw, high_value) = use.points
        numbers = low_value + (numbers - low_raw) * ((high_value - low_value) / (high_raw - low_raw))
        unit: Unit | None = part.unit if part is not None else None
    else:
        unit = meaning_of(use.unit, part, use.channel)
    if unit is not None and not unit.is_base:
        numbers = unit.to_base(numbers)
    if part is not None and part.kind.full_turn:
        numbers = numbers % part.kind.full_turn
    wrong |= np.isinf(numbers)
    return numbers, wrong


def _messages(column: Column, use: Use, texts: dict[float, str]) -> Floats:
    """A column of messages as numbers that stand for them."""
    known = [np.nan]
    absent = {word.lower() for word in use.absent_words} | {""}
    for word in column.words[1:]:
        text = word[:MOST_LETTERS]
        if text.lower() in absent:
            known.append(np.nan)
            continue
        known.append(text_code(text))
        texts[known[-1]] = text
    values = np.array(known)[column.codes]
    plain = np.flatnonzero((column.codes == 0) & np.isfinite(column.numbers))
    for number in np.unique(column.numbers[plain]).tolist():  # a message may be a number
        text = f"{number:g}"
        texts[text_code(text)] = text
        values[plain[column.numbers[plain] == number]] = text_code(text)
    return values


def _filled(values: Floats, unsaid: NDArray[np.bool_], report: Report) -> Floats:
    """Values held where a row does not say them; one that says there is no reading is not passed over."""
    said = np.where(unsaid, -1, np.arange(len(values)))
    last = np.maximum.accumulate(said)
    filled = np.where(last < 0, np.nan, values[np.maximum(last, 0)])
    report.held += int((unsaid & ~np.isnan(filled)).sum())
    return filled


def _trace(
    times: NDArray[np.int64], values: dict[str, Floats], uses: list[Use], texts: dict[float, str], rig: Rig
) -> Trace:
    channels: dict[str, Floats] = {}
    levels: dict[str, Signal] = {}
    shares: dict[str, Signal] = {}
    for use in uses:
        found = np.ascontiguousarray(values[use.channel])
        part = part_of(use.channel, rig)
        if part is None:
            (shares if use.unit else levels)[use.channel.removeprefix(LINE)] = Signal(times, found)
        elif part.dimension == TEXT:
            channels[f"{use.channel}.messages"] = arrivals(found)
            channels[use.channel] = held(found)
        else:
            channels[use.channel.removesuffix(RAW)] = found
    for name, steps in channels_of_lines(levels, shares, rig).items():
        if name in channels:
            message = f'"{name}" stands in the recording, and the lines that it hangs on do too.'
            raise TraceError("channel-twice", message, "Leave one of them out.")
        channels[name] = steps.at(times)
    return Trace(times, channels, texts)


def _why_wrong(part: Part | None) -> str:
    if part is None or part.dimension == TRUTH:
        return "neither 0 nor 1"
    return "no number"


def _note(
    report: Report, table: Table, which: NDArray[np.bool_], why: str, name: str, column: Column | None = None
) -> None:
    """Notes rows that cannot be used."""
    rows = np.flatnonzero(which)
    if not len(rows):
        return
    kind = f'{why} in "{name}"' if name and column is not None else why
    room = max(0, 200 - len(report.bad.rows))
    for row in rows[:room].tolist():
        shown = "" if column is None else _shown(column, row)
        report.bad.add(
            int(table.lines[row]), kind, f'"{shown}" is {why} for "{name}".' if shown else f"It has {why}.", shown
        )
    report.bad.kinds[kind] += max(0, len(rows) - room)


def _shown(column: Column, row: int) -> str:
    code = int(column.codes[row])
    return (column.words[code] if code else f"{column.numbers[row]:g}")[:40]


def _stop(bad: BadRows) -> None:
    first = min(bad.rows, key=lambda row: row.line)
    more = f" So are {bad.count - 1:,} more rows: {_kinds(bad)}." if bad.count > 1 else ""
    message = f"This row cannot be used: {first.why}{more}"
    raise TraceError("bad-row", message, "Mend the file, or choose to leave such rows out.", Place(row=first.line))


def _kinds(bad: BadRows) -> str:
    return ", ".join(f"{count:,} with {kind}" for kind, count in bad.kinds.most_common(4))


def _taken(table: Table, recipe: Recipe, uses: list[Use]) -> NDArray[np.bool_] | None:
    """Which rows say anything of what is read, shape (n,), where a board prints other lines too; else None."""
    if recipe.layout.form == ROWS or not uses:
        return None
    found: NDArray[np.bool_] = np.logical_or.reduce([~table.column(use.column).is_word("") for use in uses])
    return found


def _nothing(report: Report, recipe: Recipe) -> TraceError:
    told = f" {report.bad.count:,} rows cannot be used: {_kinds(report.bad)}." if report.bad.count else ""
    return TraceError("no-samples", f"No row of this recording can be used.{told}", "Look at how it is laid out.")


def rate_of(trace: Trace) -> float | None:
    """How many samples a second a trace usually has; None where there is one sample."""
    steps = np.diff(trace.times)
    return 1e6 / float(np.median(steps)) if len(steps) else None
