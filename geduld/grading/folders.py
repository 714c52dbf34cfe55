"""Hand-ins from a folder, marks to a file."""

from __future__ import annotations

import csv
import io
import os
from collections.abc import Iterable, Mapping
from dataclasses import asdict
from datetime import datetime
from pathlib import Path
from typing import Any

from geduld.errors import ExerciseError, Place
from geduld.grading.grade import Graded, HandIn
from geduld.grading.point_rules import moment
from geduld.grading.points import NO_RULES, PointRules, Points, counted
from geduld.readers.bundle import folder_files, program_in, zip_files
from geduld.readers.files import no_program
from geduld.readers.reading import PYTHON, language_of
from geduld.worlds.recording import RECORDINGS

MOST_HAND_IN_BYTES = 1_000_000
MOST_RECORDED = 60_000_000
COLUMNS = ("hand_in", "check", "case", "verdict", "points", "of", "margin", "unit", "at", "because")


def read_hand_ins(folder: Path, begins: str = "") -> list[HandIn]:
    """One hand-in for each file, zip or folder; its name is the student's. A `.csv` or `.vcd` file is a recorded run.

    A folder or a zip holds one program, of one file or of several; one that does not is kept, so that its student sees
    why. `begins` names the file with which programs of several files begin, where that cannot be told from them.
    Files whose names start with a dot are passed over. Raises ExerciseError when the folder cannot be read.
    """
    try:
        entries = sorted(entry for entry in folder.iterdir() if not entry.name.startswith("."))
    except OSError as problem:
        message = f"The hand-ins cannot be opened: {problem.strerror}."
        raise ExerciseError("cannot-open", message, "Name a folder of programs.", Place(str(folder))) from None
    hand_ins: dict[str, HandIn] = {}
    for entry in entries:
        name = _written(entry.name if entry.is_dir() else entry.stem)
        if name in hand_ins:
            name = _written(entry.name)
        data, language = _program(entry, begins)
        hand_ins[name] = HandIn(name, data, entry.suffix.lower() in RECORDINGS, language)
    return list(hand_ins.values())


def _written(name: str) -> str:
    """A file's name as text that can be written: what is not UTF-8 in it becomes a mark."""
    return os.fsencode(name).decode("utf-8", "replace")


def _program(entry: Path, begins: str) -> tuple[bytes, str]:
    """A hand-in's bytes, and their language."""
    if entry.is_dir():
        return program_in(folder_files(entry), begins)
    if entry.suffix.lower() != ".zip":
        return _data(entry), language_of(entry.name)
    try:
        return program_in(zip_files(entry.read_bytes()), begins)
    except ValueError as problem:
        return no_program(str(problem)), PYTHON


def _data(entry: Path) -> bytes:
    with entry.open("rb") as file:
        return file.read(MOST_RECORDED if entry.suffix.lower() in RECORDINGS else MOST_HAND_IN_BYTES)


def marks_csv(graded: Iterable[Graded]) -> str:
    """All marks as CSV text: a row for each check in each case, and one for `all` cases together."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for result in graded:
        for mark in result.marks:
            row = asdict(mark)
            writer.writerow([cell(row[column]) for column in COLUMNS])
    return out.getvalue()


def cell(value: Any) -> Any:
    """A cell's value. A text that a spreadsheet would take for a formula gets a ' in front."""
    if value is None:
        return ""
    if isinstance(value, float):
        return f"{value:.6f}".rstrip("0").rstrip(".")
    if isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t", "\r")):
        return "'" + value
    return value


def read_received(path: Path) -> dict[str, datetime]:
    """When each hand-in came, from a CSV with the columns `hand_in` and `received` (a moment with its time zone).

    Raises ExerciseError with the row of what is wrong.
    """
    try:
        rows = list(csv.DictReader(io.StringIO(path.read_bytes().decode("utf-8-sig"))))
    except OSError as problem:
        message = f"The file cannot be opened: {problem.strerror}."
        raise ExerciseError("cannot-open", message, place=Place(str(path))) from None
    except (UnicodeDecodeError, csv.Error):
        message, remedy = "This is not a CSV in UTF-8.", "It starts with: hand_in,received"
        raise ExerciseError("not-csv", message, remedy, Place(path.name)) from None
    received = {}
    for number, row in enumerate(rows, 2):
        when, name = moment(row.get("received")), row.get("hand_in")
        if when is None or not name:
            message = "A hand-in's name and a moment with its time zone were expected."
            remedy = "For example: ada-lindqvist,2026-11-20T15:30:00+01:00"
            raise ExerciseError("received-value", message, remedy, Place(path.name, row=number))
        received[name] = when
    return received


def points_of(graded: Graded, received: Mapping[str, datetime], rules: PointRules) -> Points:
    """A hand-in's points after the teacher's rules."""
    return counted(graded.points, received.get(graded.name), rules)


def marks_json(
    graded: Iterable[Graded], rules: PointRules = NO_RULES, received: Mapping[str, datetime] | None = None
) -> dict[str, Any]:
    """All marks as a JSON value. `points` are those that count after the rules, `earned` those of the marks."""
    return {
        "geduld": "marks/1",
        "hand_ins": [
            {
                "name": result.name,
                "graded": not result.failed,
                "problem": result.problem,
                "points": points.counting,
                "of": sum(mark.of for mark in result.totals),
                "earned": points.earned,
                "late_days": points.late_days,
                "because": points.because,
                "marks": [asdict(mark) for mark in result.marks],
            }
            for result in graded
            for points in [points_of(result, received or {}, rules)]
        ],
    }
