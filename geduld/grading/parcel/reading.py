"""Reads the files of an exercise's folder as its pieces."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

from geduld.errors import ExerciseError, Place
from geduld.grading.cases import inside, limit
from geduld.grading.exercise import read_exercise
from geduld.grading.folders import MOST_HAND_IN_BYTES, MOST_RECORDED
from geduld.grading.parcel.pieces import CasePiece, HandInPiece, PartnerPiece, Pieces, Source, Surroundings, TracePiece
from geduld.grading.parcel.writing import EXERCISE, LIST_COLUMNS, LISTED
from geduld.grading.point_rules import moment
from geduld.readers.reading import LANGUAGES
from geduld.recordings.csvw import METADATA, title_and_notes
from geduld.worlds.recording import RECORDINGS

MOST_LISTED = 2_000
FORMULA = ("=", "+", "-", "@", "\t", "\r")


class Folder:
    """The files of an exercise; `used` are those that it names."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder.resolve()
        self.used: set[str] = {EXERCISE}

    def data(self, table: dict[str, Any], key: str) -> bytes:
        """The file that a table names."""
        path = inside(self.folder, table, key)
        self.used.add(path.relative_to(self.folder).as_posix())
        return path.read_bytes()

    def text(self, table: dict[str, Any], key: str) -> str:
        """The file that a table names, as text; nothing where it names none."""
        return self.data(table, key).decode("utf-8-sig", "replace") if key in table else ""

    def source(self, table: dict[str, Any], key: str) -> Source:
        """The file that a table names, as JSON."""
        found: Source = json.loads(self.data(table, key).decode("utf-8-sig"))
        return found

    def beside(self, table: dict[str, Any], key: str) -> Any:
        """The metadata beside the file that a table names; None where there is none that can be read."""
        path = inside(self.folder, table, key)
        metadata = path.with_name(path.name + METADATA)
        if metadata.is_symlink() or not metadata.is_file():
            return None
        self.used.add(metadata.relative_to(self.folder).as_posix())
        try:
            return json.loads(metadata.read_bytes())
        except (ValueError, RecursionError):
            return None

    def unused(self) -> list[str]:
        """The files that nothing names."""
        found = (path.relative_to(self.folder).as_posix() for path in self.folder.rglob("*") if path.is_file())
        return sorted(set(found) - self.used)


def read_pieces(folder: Folder) -> Pieces:
    """The pieces of an exercise that can be graded. Raises an InputError with the file and the place in it."""
    exercise = read_exercise(folder.folder)
    source = folder.source({"file": EXERCISE}, "file")
    return Pieces(
        exercise.title,
        exercise.brief,
        folder.source(source, "rig"),
        folder.text(source, "reference"),
        folder.text(source, "checks"),
        tuple(_case(folder, entry) for entry in source["cases"]),
        exercise.over_cases,
        exercise.rules,
        _texts(folder, source.get("libraries", [])),
        _texts(folder, source.get("words", [])),
        tuple(_hand_ins(folder)),
    )


def _texts(folder: Folder, names: list[str]) -> tuple[str, ...]:
    return tuple(folder.text({"file": name}, "file") for name in names)


def _case(folder: Folder, entry: dict[str, Any]) -> CasePiece:
    around = _surroundings(folder, entry)
    return CasePiece(entry["name"], around, _partner(folder, entry["partner"]) if "partner" in entry else None)


def _partner(folder: Folder, entry: dict[str, Any]) -> PartnerPiece:
    rig = folder.source(entry, "rig")
    return PartnerPiece(
        str(entry.get("name", rig["name"])),
        rig,
        folder.text(entry, "program"),
        _surroundings(folder, entry),
        _texts(folder, entry.get("libraries", [])),
        limit(entry.get("delay", "20 ms"), "delay"),
        float(entry.get("lost", "0 %").split()[0]),
    )


def _surroundings(folder: Folder, entry: dict[str, Any]) -> Surroundings:
    return Surroundings(
        trace=_trace(folder, entry) if "trace" in entry else None,
        floor=folder.source(entry, "floor") if "floor" in entry else None,
        lasts_us=limit(entry["lasts"], "lasts") if "lasts" in entry else None,
        follow=entry.get("follow", "time"),
        start=str(entry.get("start", "")),
        inputs=folder.text(entry, "inputs"),
        seed=entry.get("seed"),
        faults=tuple(entry.get("faults", ())),
        limit_us=limit(entry["limit"], "limit") if "limit" in entry else None,
    )


def _trace(folder: Folder, entry: dict[str, Any]) -> TracePiece:
    title, notes = title_and_notes(folder.beside(entry, "trace"))
    stem = Path(entry["trace"]).stem.replace("-", " ").strip()
    return TracePiece(title or stem[:1].upper() + stem[1:], folder.data(entry, "trace"), notes)


def _hand_ins(folder: Folder) -> Iterator[HandInPiece]:
    """The hand-ins that `hand-ins.csv` lists, where there is one."""
    listed = folder.folder / LISTED
    if not listed.is_file():
        return
    folder.used.add(LISTED)
    try:
        rows = list(csv.DictReader(io.StringIO(listed.read_bytes().decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise _unlisted(1, "This is not a CSV in UTF-8.") from None
    if len(rows) > MOST_LISTED:
        raise _unlisted(MOST_LISTED, f"An exercise has at most {MOST_LISTED:,} hand-ins.")
    known: set[str] = set()
    for number, row in enumerate(rows, 2):
        told = {column: _uncelled(row.get(column) or "") for column in LIST_COLUMNS}
        name, received, language = told["hand_in"].strip(), moment(told["received"]), told["language"]
        if not name or received is None or not told["file"] or language not in LANGUAGES:
            raise _unlisted(number, "A name, a moment with its time zone, a file and its language were expected.")
        if name in known:
            raise _unlisted(number, f"{name} stands here twice.")
        known.add(name)
        recorded = Path(told["file"]).suffix.lower() in RECORDINGS
        data, due = _handed_in(folder, told, recorded, number), _due(told, number)
        yield HandInPiece(name, data, received, language, recorded, due, told["sourced_id"])


def _handed_in(folder: Folder, told: dict[str, str], recorded: bool, number: int) -> bytes:
    try:
        data = folder.data(dict(told), "file")
    except ExerciseError as problem:
        raise _unlisted(number, problem.message) from None
    most = MOST_RECORDED if recorded else MOST_HAND_IN_BYTES
    if len(data) > most:
        raise _unlisted(number, f"{told['file']} is larger than {most:,} bytes.")
    return data


def _due(told: dict[str, str], number: int) -> datetime | None:
    due = moment(told["due"])
    if told["due"] and due is None:
        raise _unlisted(number, "A deadline is a moment with its time zone.")
    return due


def _uncelled(value: str) -> str:
    """A cell's text as it was before a ' was put in front of what a spreadsheet would take for a formula."""
    return value[1:] if value.startswith("'") and value[1:].startswith(FORMULA) else value


def _unlisted(number: int, message: str) -> ExerciseError:
    remedy = "For example: ada-lindqvist,2026-11-20T15:30:00+01:00,hand-ins/ada-lindqvist.geduld,notation,,"
    return ExerciseError("hand-ins-value", message, remedy, Place(LISTED, row=number))
