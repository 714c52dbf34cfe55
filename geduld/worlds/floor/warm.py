"""Loads the physics kernel, and compiles it where it is new, so that nobody waits for it later."""

from __future__ import annotations

from geduld.rig.reader import rig_from_json
from geduld.worlds.floor.reader import floor_from_json

RIG = {"geduld": "rig/1", "name": "any", "parts": {"eye": {"kind": "range", "port": "A1"}}}
FLOOR = {"geduld": "floor/1", "name": "any", "size": ["2 m", "2 m"], "start": {"at": ["1 m", "1 m"]}}


def warm() -> None:
    """Runs a small world for a moment."""
    from geduld.worlds.floor.simulation import Simulation

    Simulation(rig_from_json(RIG), floor_from_json(FLOOR), end=1_000_000).go(1_000_000)
