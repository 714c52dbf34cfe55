"""What stands in the columns of a trace's CSV, as CSV on the Web has it (W3C, Metadata Vocabulary for Tabular Data)."""

from __future__ import annotations

from typing import Any

from geduld.language.quantities import TEXT, TRUTH
from geduld.rig.model import Rig
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import COUNTS, headings


def metadata(trace: Trace, rig: Rig, file: str, title: str, notes: list[tuple[float, str]]) -> dict[str, Any]:
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
        "@context": "http://www.w3.org/ns/csvw",
        "url": file,
        "dc:title": title,
        "dc:description": f"Readings of the robot {rig.name}; an empty cell is an absent reading.",
        "dialect": {"delimiter": ",", "header": True, "encoding": "utf-8", "lineTerminators": ["\n"]},
        "tableSchema": {"columns": columns, "primaryKey": "time"},
        "notes": [{"schema:startOffset": at, "schema:text": text} for at, text in notes],
    }
