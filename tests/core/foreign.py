"""Writes recordings as other loggers, spreadsheets and boards do, with what each of them gets wrong: it shares nothing with what reads them."""

import gzip
import json
from dataclasses import dataclass

from hypothesis import strategies as st

RANGES = {"cm": (1, 2), "mm": (10, 1), "m": (0.01, 4)}  # how many of it a cm is, and its decimals
RANGE_HEADINGS = [
    "range [{u}]",
    "Abstand ({u})",
    "dist_{u}",
    "Distance in {u}",
    "ultrasonic/{u}",
    "Range_{u}",
    "A1 [{u}]",
]
TIME_HEADINGS = ["time [{u}]", "Zeit ({u})", "t_{u}", "timestamp in {u}", "time_{u}"]
BUMP_HEADINGS = ["nose", "Nose", "D1", "NOSE"]
CLOCKS = ["clock", "iso", "german", "pm"]


@dataclass(frozen=True)
class Style:
    """One way to write a recording."""

    form: str
    delimiter: str
    comma: bool
    unit: str
    time: str
    heading: int
    absent: str
    contact: str
    encoding: str
    ends: str
    comments: bool
    preamble: bool
    units_row: bool
    packed: bool
    trailing: bool
    bad_rows: bool
    wraps: int


@st.composite
def styles(draw):
    """Ways to write a recording that can be told apart by who reads it."""
    form = draw(st.sampled_from(["table", "table", "table", "pairs", "json"]))
    delimiter = draw(st.sampled_from([";", ",", "\t", "|", " "]))
    comma = draw(st.booleans()) and delimiter != "," and form == "table"
    time = (
        draw(st.sampled_from(["s", "ms", "us", *CLOCKS]))
        if form == "table" and delimiter in ";\t"
        else draw(st.sampled_from(["ms", "us"]))
    )
    spaced = form == "table" and delimiter == " "
    return Style(
        form, delimiter, comma, draw(st.sampled_from(sorted(RANGES))), time, draw(st.integers(0, 6)),
        draw(st.sampled_from(["-1", "9999", "nan", "None"] if spaced or form == "pairs" else ["-1", "9999", "", "nan", "None", "n/a"])),
        draw(st.sampled_from(["1/0", "HIGH/LOW", "true/false", "pressed/released"])),
        draw(st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "latin-1"])), draw(st.sampled_from(["\n", "\r\n", "\r"])),
        draw(st.booleans()), draw(st.booleans()) and form == "table" and not spaced, draw(st.booleans()), draw(st.booleans()),
        draw(st.booleans()) and form == "table" and not spaced, draw(st.booleans()),
        draw(st.sampled_from([0, 0, 16, 32] if time == "ms" else [0, 32])) if time in ("ms", "us") else 0,
    )  # fmt: skip


def written(style, samples):
    """The file's bytes. `samples` are rows of an instant in us, a range in cm or None, and whether the nose is pressed."""
    factor, places = RANGES[style.unit]
    names, rows = _names(style), []
    pressed, released = style.contact.split("/")
    for number, (tick, value, nose) in enumerate(samples):
        shown = style.absent if value is None else f"{value * factor:.{places}f}"
        cells = [_time(style, tick), shown, pressed if nose else released]
        if style.comma:
            cells = [
                cell.replace(".", ",") if cell and cell[0] in "-0123456789" and ":" not in cell else cell
                for cell in cells
            ]
        rows.append(_line(style, names, cells))
        if style.bad_rows and number == len(samples) // 2:
            rows.append("Booting up")
    lines = []
    if style.preamble:
        lines += ["Logger 7", "", "Recorded by: Robin"]
    if style.comments:
        lines += ["# with love from the board"]
    if style.form == "table":
        if style.units_row and style.time in ("s", "ms", "us") and style.delimiter != " ":
            bare = ["time", "range", "nose"]
            lines += [style.delimiter.join(bare), style.delimiter.join([style.time, style.unit, "-"])]
        else:
            lines.append(style.delimiter.join(f'"{name}"' if style.heading % 2 else name for name in names))
    text = style.ends.join([*lines, *rows, ""])
    data = text.encode(style.encoding)
    return gzip.compress(data) if style.packed else data


def _names(style):
    unit = style.unit
    heading = RANGE_HEADINGS[style.heading % len(RANGE_HEADINGS)]
    time = TIME_HEADINGS[style.heading % len(TIME_HEADINGS)]
    if style.form != "table" or style.delimiter == " ":
        heading, time = "dist_{u}", "t_{u}"
    nose = BUMP_HEADINGS[style.heading % len(BUMP_HEADINGS)]
    return [time.format(u=style.time) if style.time in ("s", "ms", "us") else "Uhrzeit", heading.format(u=unit), nose]


def _time(style, tick):
    if style.time in CLOCKS:
        seconds, us = divmod(tick + 43_190_000_000, 1_000_000)
        hours, minutes, seconds = seconds // 3600, seconds // 60 % 60, seconds % 60
        fraction = f"{us:06d}"
        if style.time == "iso":
            return f"2026-11-27T{hours:02d}:{minutes:02d}:{seconds:02d}.{fraction}Z"
        if style.time == "german":
            return f"27.11.2026 {hours:02d}:{minutes:02d}:{seconds:02d},{fraction}"
        if style.time == "pm":
            return f"{(hours - 1) % 12 + 1}:{minutes:02d}:{seconds:02d}.{fraction} {'PM' if hours >= 12 else 'AM'}"
        return f"{hours:02d}:{minutes:02d}:{seconds:02d}.{fraction}"
    if style.time == "s":
        return f"{tick / 1e6:.6f}"
    number = tick // 1000 if style.time == "ms" else tick
    if style.wraps:
        number = (number + 2**style.wraps - (300 if style.time == "ms" else 300_000 % 2**style.wraps)) % 2**style.wraps
    return str(number)


def _line(style, names, cells):
    if style.form == "json":
        values = {name: _as_json(cell) for name, cell in zip(names, cells, strict=True)}
        return json.dumps(values)
    if style.form == "pairs":
        sign = "=:"[style.heading % 2]
        return " ".join(f"{name}{sign}{cell}" for name, cell in zip(names, cells, strict=True))
    quoted = style.comments and style.delimiter in ",;"
    shown = [f'"{cell}"' if quoted and place else cell for place, cell in enumerate(cells)]
    return style.delimiter.join(shown) + (style.delimiter if style.trailing else "")


def _as_json(cell):
    if cell in ("", "nan", "None", "n/a"):
        return None
    if cell in ("true", "false"):
        return cell == "true"
    try:
        return float(cell)
    except ValueError:
        return cell
