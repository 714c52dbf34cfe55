"""What hands do, as the web tells it: one doing after another; kept as inputs CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.language.quantities import TEXT
from geduld.rig.model import Rig as CoreRig
from geduld.worlds.inputs import LET_GO, inputs_from_csv, inputs_to_csv
from geduld.worlds.trace_csv import MOST_LETTERS
from server.shelf.services import core_rig

MOST_DOINGS, MOST_NAMES = 20_000, 100
COORDINATES = (".x", ".y")


@extend_schema_field({"type": ["number", "string", "null"]})
class DoingValue(serializers.JSONField):
    """A number, a text, or null."""


class DoingSerializer(serializers.Serializer):
    """At an instant (s) a hand gives a channel a value in the part's unit, or lets go of it (null)."""

    at = serializers.FloatField(min_value=0, max_value=1e6)
    name = serializers.CharField(max_length=100)
    value = DoingValue(allow_null=True)

    def validate(self, doing: dict[str, Any]) -> dict[str, Any]:
        """Whole: a change of what stands around it changes no part of a doing. A value is one number or one text."""
        missing = {str(name): ["This field is required."] for name in self.fields if str(name) not in doing}
        if missing:
            raise serializers.ValidationError(missing)
        if not isinstance(doing["value"], int | float | str | None):
            raise serializers.ValidationError({"value": ["A number, a text, or null was expected."]})
        if len(str(doing["value"])) > MOST_LETTERS:
            raise serializers.ValidationError({"value": [f"A value has at most {MOST_LETTERS} characters."]})
        return doing


class DoingsField(serializers.ListField):
    """Doings in any order; of two for one channel at one instant the last counts."""

    def __init__(self, **options: Any) -> None:
        super().__init__(child=DoingSerializer(), max_length=MOST_DOINGS, **options)

    def get_attribute(self, row: Any) -> list[dict[str, Any]]:
        """The doings that a row keeps as CSV; its `hands` are the CSV and the rig. Raises TraceError."""
        text, rig = row.hands
        return doings_of(text, core_rig(rig))

    def to_internal_value(self, data: Any) -> list[dict[str, Any]]:
        """The doings. Their number and that of the channels they name are looked at before anything else."""
        if isinstance(data, list):
            if len(data) > MOST_DOINGS:
                raise serializers.ValidationError([f"Hands do at most {MOST_DOINGS:,} things in a run."])
            names = {doing["name"] for doing in data if isinstance(doing, dict) and isinstance(doing.get("name"), str)}
            if len(names) > MOST_NAMES:
                raise serializers.ValidationError([f"Hands touch at most {MOST_NAMES} channels in a run."])
        found: list[dict[str, Any]] = super().to_internal_value(data)
        return found


def doings_csv(doings: Sequence[dict[str, Any]], rig: CoreRig) -> str:
    """Doings as inputs CSV; what is wrong with them shows when the CSV is read."""
    if not doings:
        return ""
    names = sorted({doing["name"] for doing in doings})
    rows: dict[int, dict[str, str]] = {}
    for doing in doings:
        rows.setdefault(round(doing["at"] * 1e6), {})[doing["name"]] = _cell(doing["value"])
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["time [s]", *(_heading(name, rig) for name in names)])
    for tick, cells in sorted(rows.items()):
        writer.writerow([f"{tick / 1e6:.6f}", *(cells.get(name, "") for name in names)])
    return out.getvalue()


def doings_of(text: str, rig: CoreRig) -> list[dict[str, Any]]:
    """The doings in an inputs CSV. Raises TraceError with row and column."""
    if not text.strip():
        return []
    head = [cell.split(" ")[0] for cell in next(csv.reader(io.StringIO(text)))]
    moved = [name for name in head if name.endswith(COORDINATES) and name not in rig.channels]
    things = {name.rpartition(".")[0] for name in moved}
    rows = list(csv.reader(io.StringIO(inputs_to_csv(inputs_from_csv(text.encode(), rig, sorted(things)), rig))))
    names = [cell.split(" ")[0] for cell in rows[0]]
    return [
        {"at": float(row[0]), "name": name, "value": _value(cell, name, rig)}
        for row in rows[1:]
        for name, cell in zip(names[1:], row[1:], strict=True)
        if cell
    ]


def _heading(name: str, rig: CoreRig) -> str:
    part = rig.channels.get(name)
    if part is None:
        return f"{name} [cm]" if name.endswith(COORDINATES) else name
    return f"{name} [{part.unit.word}]" if part.unit else name


def _cell(value: Any) -> str:
    if value is None:
        return LET_GO
    return str(int(value)) if isinstance(value, bool) else str(value)


def _value(cell: str, name: str, rig: CoreRig) -> Any:
    if cell == LET_GO:
        return None
    is_text = name in rig.channels and rig.channels[name].dimension == TEXT
    return cell if is_text else float(cell)
