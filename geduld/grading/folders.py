"""Hand-ins from a folder, marks to a file."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path
from typing import Any

from geduld.errors import ExerciseError, Place
from geduld.grading.grade import Graded, HandIn

ENDING = ".geduld"
MOST_BYTES = 1_000_000
COLUMNS = ("hand_in", "check", "case", "verdict", "points", "of", "margin", "unit", "at", "because")


def read_hand_ins(folder: Path) -> list[HandIn]:
    """One hand-in for each file or folder; its name is the student's.

    A folder must hold exactly one program; one that does not is kept, so that its student sees why.
    Files whose names start with a dot are passed over. Raises ExerciseError when the folder cannot be read.
    """
    try:
        entries = sorted(entry for entry in folder.iterdir() if not entry.name.startswith("."))
    except OSError as problem:
        message = f"The hand-ins cannot be opened: {problem.strerror}."
        raise ExerciseError("cannot-open", message, "Name a folder of programs.", Place(str(folder))) from None
    hand_ins: dict[str, HandIn] = {}
    for entry in entries:
        name = entry.name if entry.is_dir() else entry.stem
        if name in hand_ins:
            name = entry.name
        hand_ins[name] = HandIn(name, _data(entry))
    return list(hand_ins.values())


def _data(entry: Path) -> bytes:
    if entry.is_dir():
        programs = sorted(path for path in entry.iterdir() if path.suffix == ENDING)
        if len(programs) != 1:
            return b""
        entry = programs[0]
    with entry.open("rb") as file:
        return file.read(MOST_BYTES)


def marks_csv(graded: Iterable[Graded]) -> str:
    """All marks as CSV text: a row for each check in each case, and one for `all` cases together."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for result in graded:
        for mark in result.marks:
            row = asdict(mark)
            writer.writerow([_cell(row[column]) for column in COLUMNS])
    return out.getvalue()


def _cell(value: Any) -> Any:
    """A cell's value. A text that a spreadsheet would take for a formula gets a ' in front."""
    if value is None:
        return ""
    if isinstance(value, float):
        return f"{value:.6f}".rstrip("0").rstrip(".")
    if isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t", "\r")):
        return "'" + value
    return value


def marks_json(graded: Iterable[Graded]) -> dict[str, Any]:
    """All marks as a JSON value."""
    return {
        "geduld": "marks/1",
        "hand_ins": [
            {
                "name": result.name,
                "problem": result.problem,
                "points": result.points,
                "of": sum(mark.of for mark in result.totals),
                "marks": [asdict(mark) for mark in result.marks],
            }
            for result in graded
        ],
    }
