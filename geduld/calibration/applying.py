"""Writes what was found out into a rig's description, with the day and the surface; the rest stays as it is."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from typing import Any

from geduld.calibration.findings import DIAMETER, TRACK, TRAVEL, TRIM, TURNING, Findings
from geduld.calibration.measurements import BY_TIME, STRAIGHT, TURN, Sheet
from geduld.calibration.models import rows_for, usual_power
from geduld.errors import InputError
from geduld.language.quantities import show
from geduld.rig.model import Rig

APPLICABLE = (DIAMETER, TRACK, TRAVEL, TURNING, TRIM)


def applied(rig: Rig, sheet: Sheet, findings: Findings, words: list[str], day: str) -> dict[str, Any]:
    """The rig's description with some findings in it. `day` is written beside them, as `2026-11-27`.

    Raises InputError for a word that nothing was found out about.
    """
    source: dict[str, Any] = copy.deepcopy(dict(rig.source))
    drive = source["drive"]
    calibration: dict[str, Any] = dict(source.get("calibration", {}))
    for word in words:
        finding = findings.get(word)
        if finding is None or word not in APPLICABLE:
            message = f'Nothing was found out about "{word}" that a rig can say.'
            raise InputError("no-finding", message, "Measure it first.")
        value = finding.found.value
        if word == DIAMETER:
            drive["wheel_diameter"] = show(value, "cm", 3)
        elif word == TRACK:
            drive["track_width"] = show(value, "cm", 3)
        elif word == TRIM:
            _trim(source, rig, value)
        else:
            kind, key, what, unit = (
                (STRAIGHT, "travel", "distance", "cm") if word == TRAVEL else (TURN, "turn", "angle", "deg")
            )
            calibration[key] = {
                "power": show(usual_power(rows_for(sheet.rows, kind, BY_TIME)), "%", 3),
                what: show(value, unit, 3),
                "time": "1 s",
            }
    for move, key, unit in ((STRAIGHT, "ways", "cm"), (TURN, "angles", "deg")):
        made = [row.measured for row in sheet.rows if row.move == move and row.measured and not row.kept_out]
        if made:
            calibration[key] = [show(min(made), unit, 1), show(max(made), unit, 1)]
    if sheet.surface:
        calibration["surface"] = sheet.surface
    calibration["note"] = f"measured {day}: {', '.join(words)}"
    return {**source, "calibration": calibration}


def _trim(source: dict[str, Any], rig: Rig, left_over_right: float) -> None:
    """The weaker wheel's gain: so the floor's robot bends as the real one does."""
    assert rig.drive is not None
    weaker, share = (
        (rig.drive.left, left_over_right) if left_over_right < 100 else (rig.drive.right, 1e4 / left_over_right)
    )
    for motor, gain in ((rig.drive.left, 100.0), (rig.drive.right, 100.0), (weaker, share)):
        part: Mapping[str, Any] = source["parts"][motor]
        physics = {**part.get("physics", {}), "gain": show(gain, "%", 2)}
        source["parts"][motor] = {**part, "physics": physics}
