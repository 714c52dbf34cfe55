"""Writes an exercise's pieces as the files of a folder that can be graded."""

from __future__ import annotations

import csv
import io
import json
import re
import unicodedata
from collections.abc import Callable
from decimal import Decimal
from typing import Any

from geduld.grading.folders import cell
from geduld.grading.parcel.pieces import CasePiece, HandInPiece, PartnerPiece, Pieces, Surroundings, TracePiece
from geduld.grading.points import PointRules
from geduld.language.parser import parse
from geduld.readers.reading import NOTATION, PYTHON, C
from geduld.recordings.csvw import METADATA, described
from geduld.run.world import LONGEST_US
from geduld.wordbook.reading import parse_wordbook
from geduld.worlds.vcd import is_vcd

EXERCISE, HAND_INS, LISTED = "exercise.json", "hand-ins", "hand-ins.csv"
LIST_COLUMNS = ("hand_in", "received", "file", "language", "due", "sourced_id")
ENDING = {NOTATION: ".geduld", PYTHON: ".py", C: ".c"}
_RESERVED = re.compile(r"(con|prn|aux|nul|com\d|lpt\d)", re.IGNORECASE)
_MOST_NAME = 60


class Files:
    """Files by their names; the same file that is put twice is one."""

    def __init__(self) -> None:
        self.found: dict[str, bytes] = {}

    def put(
        self, wanted: str, ending: str, data: bytes, beside: Callable[[str], bytes] | None = None, folder: str = ""
    ) -> str:
        """Keeps a file under a name like the wanted one, in a folder of the exercise's, and gives its name.

        The whole of the wanted name is made safe: a slash in it leads nowhere.

        `beside` makes the metadata that belongs to a file of that name: with other metadata it is another file.
        """
        stem = f"{folder}/{_safe(wanted)}" if folder else _safe(wanted)
        number, name = 1, f"{stem}{ending}"
        taken = {known.casefold(): known for known in self.found}
        while name.casefold() in taken:
            known = taken[name.casefold()]
            if self.found[known] == data and (not beside or self.found.get(known + METADATA) == beside(known)):
                return known
            number += 1
            name = f"{stem}-{number}{ending}"
        self.found[name] = data
        if beside:
            self.found[name + METADATA] = beside(name)
        return name


def _safe(name: str) -> str:
    """A name that a file may have on any system: letters, digits and dashes."""
    plain = unicodedata.normalize("NFC", name).replace("_", "-")
    words = re.sub(r"[^\w]+", "-", plain).strip("-").lower()[:_MOST_NAME].strip("-")
    return f"{words}-file" if not words or _RESERVED.fullmatch(words) else words


def exercise_files(pieces: Pieces) -> dict[str, bytes]:
    """The files of a folder that `geduld grade` takes: `exercise.json`, and beside it all that it names."""
    files = Files()
    files.found[EXERCISE] = b""  # it stands first, and its name is taken
    source: dict[str, Any] = {
        "geduld": "exercise/1",
        "title": pieces.title,
        "brief": pieces.brief,
        "rig": files.put("rig", ".json", _json(pieces.rig)),
        "reference": files.put("reference", ".geduld", pieces.reference.encode()),
        "checks": files.put("checks", ".geduld", pieces.checks.encode()),
        "points_over_cases": pieces.over_cases,
        **_rules(pieces.rules),
    }
    if pieces.libraries:
        source["libraries"] = _libraries(pieces.libraries, files)
    if pieces.words:
        source["words"] = [
            files.put(parse_wordbook(text).tree.title, ".geduld", text.encode()) for text in pieces.words
        ]
    source["cases"] = [_case(case, files) for case in pieces.cases]
    files.found[EXERCISE] = _json(source)
    if pieces.hand_ins:
        _hand_ins(pieces.hand_ins, files)
    return files.found


def _json(source: Any) -> bytes:
    return (json.dumps(source, indent=2, ensure_ascii=False) + "\n").encode()


def _libraries(texts: tuple[str, ...], files: Files) -> list[str]:
    return [files.put(parse(text).tree.title, ".geduld", text.encode()) for text in texts]


def _rules(rules: PointRules) -> dict[str, Any]:
    told: dict[str, Any] = {}
    if rules.due is not None:
        told["due"] = rules.due.isoformat()
    late = {}
    if rules.late_per_day:
        late["per_day"] = f"{_plain(_exact(rules.late_per_day) * 100)} %"
    if rules.late_at_most != 1.0:
        late["at_most"] = f"{_plain(_exact(rules.late_at_most) * 100)} %"
    if late:
        told["late"] = late
    if rules.round_to:
        told["round_to"] = f"{_plain(_exact(rules.round_to))} points"
    return told


def _exact(number: float) -> Decimal:
    """The shortest decimal that is read as this number again."""
    return Decimal(repr(float(number)))


def _plain(number: Decimal) -> str:
    """A decimal without an exponent, and without noughts at its end."""
    text = f"{number:f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def _case(case: CasePiece, files: Files) -> dict[str, Any]:
    told = {"name": case.name, **_surroundings(case.surroundings, case.name, files)}
    partner = case.partner
    if partner is None:
        return told
    if case.surroundings.seed is not None:
        told["seed"] = case.surroundings.seed  # it also chooses the messages that are lost
    return {**told, "partner": _partner(partner, files)}


def _partner(partner: PartnerPiece, files: Files) -> dict[str, Any]:
    told: dict[str, Any] = {
        "name": partner.name,
        "rig": files.put(str(partner.rig.get("name", "rig")), ".json", _json(partner.rig)),
        "program": files.put(partner.name, ".geduld", partner.program.encode()),
    }
    if partner.libraries:
        told["libraries"] = _libraries(partner.libraries, files)
    told |= _surroundings(partner.surroundings, partner.name, files)
    return {**told, "delay": _time(partner.delay_us), "lost": f"{_plain(_exact(partner.lost))} %"}


def _surroundings(around: Surroundings, name: str, files: Files) -> dict[str, Any]:
    """The keys of one device's world, those alone that mean something in it."""
    told: dict[str, Any] = {}
    if around.trace is not None:
        told["trace"] = _trace(around.trace, files)
        if around.follow != "time":
            told["follow"] = around.follow
    elif around.floor is not None:
        told["floor"] = files.put(str(around.floor.get("name", "floor")), ".json", _json(around.floor))
        if around.start:
            told["start"] = around.start
        if around.seed is not None:
            told["seed"] = around.seed
        if around.faults:
            told["faults"] = list(around.faults)
    elif around.lasts_us is not None:
        told["lasts"] = _time(around.lasts_us)
    if around.inputs.strip():
        told["inputs"] = files.put(f"hands in {name}", ".csv", around.inputs.encode())
    if around.limit_us is not None:
        most = around.limit_us if around.floor is None else LONGEST_US  # nothing lasts longer on a floor
        told["limit"] = _time(min(around.limit_us, most))
    return told


def _time(ticks: int) -> str:
    return f"{_plain(Decimal(ticks) / 1000)} ms" if ticks < 1_000_000 else f"{_plain(Decimal(ticks) / 1_000_000)} s"


def _trace(trace: TracePiece, files: Files) -> str:
    def beside(file: str) -> bytes:
        return _json(described(file, trace.name, trace.notes))

    return files.put(trace.name, ".vcd" if is_vcd(trace.data) else ".csv", trace.data, beside)


def _hand_ins(hand_ins: tuple[HandInPiece, ...], files: Files) -> None:
    out = io.StringIO()
    writer = csv.writer(out)  # with RFC 4180's ends of lines, so that a name with a break in it is quoted
    writer.writerow(LIST_COLUMNS)
    for item in hand_ins:
        recorded = ".vcd" if is_vcd(item.data) else ".csv"
        ending = recorded if item.recorded else ENDING[item.language]
        file = files.put(item.student, ending, item.data, folder=HAND_INS)
        due = item.due.isoformat() if item.due else ""
        row = (item.student, item.received.isoformat(), file, item.language, due, item.sourced_id)
        writer.writerow([cell(value) for value in row])
    files.found[LISTED] = out.getvalue().encode()
