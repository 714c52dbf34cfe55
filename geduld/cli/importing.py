"""The commands about recordings: one from elsewhere is read, and a motor's sweep is fitted."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import replace
from pathlib import Path

from geduld.cli.files import write
from geduld.cli.printing import DONE
from geduld.errors import InputError, Place, TraceError
from geduld.language.quantities import show
from geduld.recordings.reading import Report, rate_of
from geduld.recordings.recipe import Recipe, recipe_from_json
from geduld.recordings.text import MOST_BYTES, too_large
from geduld.recordings.understanding import Understanding, understood
from geduld.rig.reader import read_rig
from geduld.rig.values import Values
from geduld.worlds.recording import read_trace
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import trace_to_csv

MOST_RECIPE_BYTES = 1_000_000


def import_(options: argparse.Namespace) -> int:
    """Says what a recording was understood as, and writes it as a trace."""
    rig = read_rig(options.rig)
    data = _bytes(options.recording)
    recipe = _recipe(options.recipe) if options.recipe else None
    found = understood(data, rig, recipe)
    changed = found.recipe
    if options.bad_rows:
        changed = replace(changed, bad_rows=options.bad_rows)
    if options.rate:
        changed = replace(changed, timing=replace(changed.timing, column="", rate=options.rate))
    if changed != found.recipe:
        found = replace(understood(data, rig, changed), time_because=found.time_because, because=found.because)
    _tell(found)
    if options.save_recipe:
        write(options.save_recipe, json.dumps(found.recipe.as_json(), indent=2, ensure_ascii=False) + "\n")
    if found.problem is not None:
        raise found.problem.in_file(options.recording.name)
    assert found.trace is not None and found.report is not None
    _tell_trace(found.trace, found.report)
    if options.trace:
        write(options.trace, trace_to_csv(found.trace, rig))
    return DONE


def sweep(options: argparse.Namespace) -> int:
    """Says a motor's rate, dead zone and lag, as a recording of it shows them."""
    from geduld.calibration.sweep import sweep_of

    rig = read_rig(options.rig)
    found = sweep_of(read_trace(options.trace, rig), options.motor)
    lag = found.lag.scaled(1000)
    for word, value, unit, places in (
        ("rate", found.rate, "deg/s for each % above the dead zone", 3),
        ("dead zone", found.dead_zone, "%", 2),
        ("lag", lag, "ms", 1),
    ):
        ends = f"{show(value.low, '', places)} to {show(value.high, '', places)}"
        print(f"{word}: {show(value.value, '', places)} ({ends}) {unit}")
    print(f"its angle lies {show(found.residual, 'deg', 2)} beside that, usually")
    return DONE


def _bytes(path: Path) -> bytes:
    try:
        if path.stat().st_size >= MOST_BYTES:
            raise too_large().in_file(path.name)
        return path.read_bytes()
    except OSError as problem:
        message = f"The recording cannot be opened: {problem.strerror}."
        raise InputError("cannot-open", message, place=Place(str(path))) from None


def _recipe(path: Path) -> Recipe:
    values = Values(TraceError, "recipe")
    return values.file(path, lambda data: recipe_from_json(values.document(data, MOST_RECIPE_BYTES)))


def _tell(found: Understanding) -> None:
    layout, timing = found.recipe.layout, found.recipe.timing
    print(f"form: {layout.form}, {found.encoding}{', packed' if found.packed else ''}")
    if found.table is None:
        return
    time = (
        f'"{timing.column}" in {timing.unit}' if timing.column else show(timing.rate, "Hz") if timing.rate else "none"
    )
    print(f"time: {time} ({found.time_because})")
    uses = [use for use in found.recipe.uses if use.channel]
    for use in uses:
        absent = f", no reading: {', '.join(f'{code:g}' for code in use.absent)}" if use.absent else ""
        unit = f" [{use.unit}]" if use.unit else ""
        print(f'"{use.column}"{unit} is {use.channel}{absent} ({found.because.get(use.column, "as the recipe says")})')
    used = {use.column for use in uses}
    left = [column.name for column in found.table.columns if column.name not in used | {timing.column, timing.date}]
    if left:
        print(f"left out: {', '.join(left)}")


def _tell_trace(trace: Trace, report: Report) -> None:
    rate = rate_of(trace)
    every = f", {show(rate, 'Hz', 1)}" if rate is not None else ""
    print(f"{trace.samples:,} samples, {show(trace.duration_us / 1e6, 's')}{every}")
    for channel, codes in report.absent.items():
        print(f"{channel}: no reading where {', '.join(f'{code} ({count:,})' for code, count in codes.items())} stands")
    for row in report.bad.rows:
        print(f"row {row.line} left out: {row.why}", file=sys.stderr)
    untold = report.bad.count - len(report.bad.rows)
    if untold > 0:
        print(f"and {untold:,} more rows", file=sys.stderr)
