"""What a recording that waits is understood as, told as JSON: worked out in a process of its own."""

from __future__ import annotations

import contextlib
from dataclasses import replace
from typing import Any

from geduld.errors import TraceError
from geduld.language.quantities import TRUTH, UNITS, show
from geduld.recordings.forms import VCD
from geduld.recordings.laying_out import DELIMITERS
from geduld.recordings.matching import channels_of, part_of
from geduld.recordings.proposal import COUNTS
from geduld.recordings.reading import rate_of, read
from geduld.recordings.recipe import Recipe, layout_from_json, recipe_from_json
from geduld.recordings.sizes import RAW_UNIT
from geduld.recordings.text import ENCODINGS
from geduld.recordings.timing import DROP
from geduld.recordings.understanding import Understanding, understood
from geduld.rig.model import Rig as CoreRig
from geduld.rig.reader import rig_from_json
from geduld.worlds.doubts import doubts
from geduld.worlds.trace_csv import RAW
from server.recordings.models import Recording
from server.shelf.importing import Imported, kept
from server.shelf.lanes import lanes

LANE_COLUMNS = 500


def understanding_of(pk: int, rig: Any, recipe: Any, known: list[Any], layout: Any) -> dict[str, Any]:
    """What a recording is understood as with a recipe, one of the `known` ones, a layout, or what is found out.

    `rig` is a rig's JSON source. Raises TraceError for a file or a recipe that cannot be read at all.
    """
    core = rig_from_json(rig)
    data = bytes(Recording.objects.values_list("data", flat=True).get(pk=pk))
    laid_out = layout_from_json(layout) if layout else None
    chosen = recipe_from_json(recipe) if recipe else None
    found = understood(data, core, chosen, map(recipe_from_json, known), laid_out)
    return _told(found, core)


def understanding_of_bytes(data: bytes, rig: Any, recipe: Any) -> dict[str, Any]:
    """What some bytes are understood as with a recipe, or as it is found out. `rig` is a rig's JSON source."""
    core = rig_from_json(rig)
    return _told(understood(data, core, recipe_from_json(recipe) if recipe else None), core)


def imported_recording(pk: int, rig: Any, recipe: Any) -> Imported:
    """The trace that a recipe makes of a recording. Raises TraceError where it makes none."""
    core = rig_from_json(rig)
    data = bytes(Recording.objects.values_list("data", flat=True).get(pk=pk))
    found = understood(data, core, recipe_from_json(recipe))
    if found.trace is None:
        assert found.problem is not None
        raise found.problem
    return kept(found.trace, core)


def _told(found: Understanding, rig: CoreRig) -> dict[str, Any]:
    trace, report, problem = found.trace, found.report, found.problem
    if problem is not None and problem.code == "bad-row" and found.table is not None:
        # what it would become without them is shown all the same
        with contextlib.suppress(TraceError):
            trace, report = read(found.table, replace(found.recipe, bad_rows=DROP), rig)
    bad = report.bad if report else found.table.bad if found.table else None
    return {
        "said": _said(found),
        "recipe": found.recipe.as_json(),
        "remembered": found.remembered,
        "time_because": found.time_because,
        "columns": [
            {
                "name": column.name,
                "sample": column.sample(),
                "because": found.because.get(column.name, ""),
                "words": column.is_words,
            }
            for column in (found.table.columns if found.table else ())
        ],
        "lines": _lines(found.head, found.recipe, {row.line for row in bad.rows} if bad else set()),
        "offers": _offers(rig),
        "rows": report.rows if report else found.table.rows if found.table else 0,
        "bad_count": bad.count if bad else 0,
        "bad_kinds": [{"word": word, "count": count} for word, count in bad.kinds.most_common()] if bad else [],
        "bad_rows": [
            {"line": row.line, "why": row.why, "text": row.text} for row in sorted(bad.rows, key=lambda r: r.line)
        ]
        if bad
        else [],
        "absent": [
            {"channel": name, "codes": [{"word": word, "count": count} for word, count in codes.most_common()]}
            for name, codes in (report.absent if report else {}).items()
        ],
        "held": report.held if report else 0,
        "doubts": [doubt.sentence for doubt in doubts(trace, rig)] if trace is not None else [],
        "problem": None
        if problem is None
        else {"code": problem.code, "message": problem.message, "remedy": problem.remedy, "row": problem.place.row},
        "samples": trace.samples if trace is not None else 0,
        "duration": trace.duration_us / 1e6 if trace is not None else 0.0,
        "rate": rate_of(trace) if trace is not None else None,
        "lanes": lanes(trace, rig, 0, trace.duration_us, LANE_COLUMNS) if trace is not None else [],
    }


def _said(found: Understanding) -> str:
    """One sentence of what a file was understood as."""
    layout = found.recipe.layout
    packed = ", packed with gzip" if found.packed else ""
    encoding = ENCODINGS.get(found.encoding, found.encoding)
    if layout.form == VCD:
        return f"A value change dump{packed}."
    if layout.form == "pairs":
        what = "Lines of names and values"
    elif layout.form == "json":
        what = "JSON objects"
    else:
        sign = DELIMITERS.get(layout.delimiter, f'"{layout.delimiter}"') if layout.delimiter else ""
        what = f"A table with {sign}s between its cells" if sign else "A list of single values"
        what += f", names in line {layout.heading}" if layout.heading else ", without names"
    comma = ", decimal commas" if layout.numbers.decimal == "comma" else ""
    clock = ", a serial monitor's clock before each line" if layout.stamped else ""
    timing = found.recipe.timing
    time = f'the time is "{timing.column}" in {timing.unit}'
    if timing.unit == "clock":
        time = f'the time is the clock in "{timing.column}"'
    if not timing.column:
        time = f"{show(timing.rate, 'rows a second')}" if timing.rate else "no column is a time"
    return f"{what}{comma}{clock}; {encoding}{packed}; {time}."


def _lines(head: tuple[str, ...], recipe: Recipe, bad: set[int]) -> list[dict[str, Any]]:
    """A file's first lines, with what each was taken for."""
    if recipe.layout.form == VCD:
        return []
    layout, told = recipe.layout, []
    for number, line in enumerate(head, 1):
        if number == layout.heading:
            role = "heading"
        elif number == layout.units:
            role = "units"
        elif not line.strip():
            role = "empty"
        elif layout.comment and line.lstrip().startswith(layout.comment):
            role = "comment"
        elif number < layout.first:
            role = "before"
        else:
            role = "bad" if number in bad else "row"
        told.append({"number": number, "text": line[:200].replace("\x00", "�"), "role": role})
    return told


def _offers(rig: CoreRig) -> list[dict[str, Any]]:
    """What a column can be."""
    told = []
    for channel in channels_of(rig):
        part = part_of(channel, rig)
        if part is None:
            told.append({"channel": channel, "kind": "line", "unit": "", "units": ["%"], "contact": True})
            continue
        if channel.endswith(RAW):
            told.append(
                {"channel": channel, "kind": part.kind.word, "unit": RAW_UNIT, "units": [RAW_UNIT], "contact": False}
            )
            continue
        units = [unit.word for unit in UNITS.values() if part.unit is not None and unit.dimension == part.dimension]
        if part.unit is not None and part.unit.word and part.unit.word not in units:
            units.insert(0, part.unit.word)
        units += [COUNTS] if part.counts_per_turn else []
        units += [RAW_UNIT] if part.unit is not None and not part.is_output else []
        contact = part.dimension == TRUTH
        told.append(
            {"channel": channel, "kind": part.kind.word, "unit": part.unit_word, "units": units, "contact": contact}
        )
    return told
