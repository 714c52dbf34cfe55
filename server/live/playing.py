"""A program played along with what comes from a robot: what it would command. Nothing is sent to the robot."""

from __future__ import annotations

import json
from typing import Any

from geduld.readers.notation import NotationProgram
from geduld.run.world import TraceWorld
from geduld.worlds.packing import unpack
from server.shelf.bench_run import bench_answer
from server.shelf.models import Rig
from server.shelf.reading import owned_row
from server.shelf.services import core_rig, library_for

SHOWN_S = 20.0
COLUMNS = 900


def played_json(teacher: int, rig: int, text: str, packed: bytes) -> bytes:
    """The bench's answer, as JSON, for a text and what came since it is played; its last seconds.

    Raises ValidationError where there is no such rig.
    """
    row = owned_row(Rig.objects.all(), "rig", rig, teacher)
    trace = unpack(packed)
    last = trace.duration_us / 1e6
    values: dict[str, Any] = {
        "rig": row,
        "text": text,
        "checks": "",
        "reference": "",
        "doings": (),
        "window": {"from": max(0.0, last - SHOWN_S), "to": last, "columns": COLUMNS},
    }
    answer = bench_answer(values, TraceWorld(trace, core_rig(row)))
    # what a whole run shows about a program is not known while it goes on
    answer["hints"] = [hint.as_json() for hint in NotationProgram(text, core_rig(row), library_for(row)).hints]
    return json.dumps(answer, allow_nan=False, separators=(",", ":"), ensure_ascii=False).encode()
