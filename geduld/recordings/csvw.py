"""What stands in the columns of a trace's CSV, as CSV on the Web has it (W3C, Metadata Vocabulary for Tabular Data)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from geduld.language.quantities import TEXT, TRUTH
from geduld.rig.model import Rig
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import COUNTS, headings

METADATA = "-metadata.json"  # what belongs behind a file's name
Notes = Sequence[tuple[float, str]]


def metadata(trace: Trace, rig: Rig, file: str, title: str, notes: Notes) -> dict[str, Any]:
    """The metadata of a trace that is written as `file`; it belongs beside it as `FILE-metadata.json`.

    `notes` are moments in s with what was written to them.
    """
    names = [name for name in trace.channels if not name.endswith(COUNTS)]
    columns: list[dict[str, Any]] = [
        {"name": "time", "titles": "time [s]", "datatype": "decimal", "required": True, "schema:unitText": "s"}
    ]
    for name, heading in zip(names, headings(trace, rig), strict=True):
        part = rig.channels[name]
        datatype: Any = "double"
        if part.dimension == TEXT:
            datatype = "string"
        elif part.dimension == TRUTH:
            datatype = {"base": "integer", "minimum": 0, "maximum": 1}
        column = {"name": name.replace(".", "_"), "titles": heading, "datatype": datatype, "null": ""}
        unit = heading.partition("[")[2].rstrip("]")
        columns.append(column | ({"schema:unitText": unit} if unit else {}))
    return {
        **described(file, title, notes),
        "dc:description": f"Readings of the robot {rig.name}; an empty cell is an absent reading.",
        "dialect": {"delimiter": ",", "header": True, "encoding": "utf-8", "lineTerminators": ["\n"]},
        "tableSchema": {"columns": columns, "primaryKey": "time"},
    }


def described(file: str, title: str, notes: Notes) -> dict[str, Any]:
    """What a trace that is written as `file` is called, and what was written to its moments; nothing of its columns."""
    return {
        "@context": "http://www.w3.org/ns/csvw",
        "url": file,
        "dc:title": title,
        "notes": [{"schema:startOffset": at, "schema:text": text} for at, text in notes],
    }


def title_and_notes(document: Any) -> tuple[str, tuple[tuple[float, str], ...]]:
    """What metadata says a trace is called, and the notes to its moments (s). What is no such thing says nothing."""
    if not isinstance(document, dict):
        return "", ()
    title, notes = document.get("dc:title"), document.get("notes")
    found = []
    for note in notes if isinstance(notes, list) else ():
        at, text = (note.get("schema:startOffset"), note.get("schema:text")) if isinstance(note, dict) else (None, None)
        if isinstance(at, int | float) and 0 <= at < 1e6 and isinstance(text, str) and text.strip():
            found.append((float(at), text))
    return title.strip() if isinstance(title, str) else "", tuple(found)
