"""What many tests need: the demonstration's files, a small rig, and short ways to run a text."""

import json
from contextlib import ExitStack, contextmanager
from importlib import import_module
from pathlib import Path
from unittest import mock

import numpy as np

from geduld.binding.library import library_of
from geduld.readers.notation import runner_for
from geduld.rig.reader import read_rig, rig_from_json
from geduld.run.world import FloorWorld
from geduld.script.memory import MOST_BYTES
from geduld.worlds.floor.reader import floor_from_json, read_floor
from geduld.worlds.inputs import Inputs, read_inputs
from geduld.worlds.trace import Trace

ROOT = Path(__file__).resolve().parents[1]
DEMO = ROOT / "demo"
EXERCISE = DEMO / "dock-at-the-barrel"

SMALL = {
    "geduld": "rig/1",
    "name": "small",
    "parts": {
        "left": {"kind": "motor", "port": "M1", "encoder": {"counts_per_turn": 360}, "full_speed": "600 deg/s"},
        "right": {
            "kind": "motor",
            "port": "M2",
            "reversed": True,
            "encoder": {"counts_per_turn": 360},
            "full_speed": "600 deg/s",
        },
        "lamp": {"kind": "lamp", "port": "L1"},
        "nozzle": {"kind": "servo", "port": "S1"},
        "shade": {"kind": "stepper", "port": "S2"},
        "buzzer": {"kind": "buzzer", "port": "B1"},
        "nose": {"kind": "bump", "port": "D1"},
        "range": {"kind": "range", "port": "A1", "unit": "cm"},
        "knob": {"kind": "knob", "port": "A2", "raw": [0, 1023]},
        "radio": {"kind": "radio", "port": "R1"},
    },
    "drive": {"left": "left", "right": "right", "wheel_diameter": "6.5 cm", "track_width": "14 cm"},
}


def small_rig():
    return rig_from_json(SMALL)


def yard(rig=None, limit_us=2_000_000):
    """An empty floor with a wall, with the small rig on it."""
    floor = {
        "geduld": "floor/1",
        "name": "Yard",
        "size": ["900 cm", "300 cm"],
        "start": {"at": ["50 cm", "150 cm"]},
        "walls": [{"from": ["130 cm", "0 cm"], "to": ["130 cm", "300 cm"]}],
    }
    return FloorWorld(floor_from_json(floor), rig or small_rig(), limit_us=limit_us)


def cart():
    return read_rig(DEMO / "rigs" / "glasshouse-cart.json")


def on_floors():
    """The demonstration's behaviours for floors, each in the world that it is kept with."""
    found, rig = {}, cart()
    for name, world in json.loads((DEMO / "behaviours" / "worlds.json").read_text()).items():
        floor = read_floor(DEMO / "floors" / world["floor"]).started_from(world["start"])
        things = [thing.name for thing in floor.movable]
        hands = read_inputs(DEMO / "inputs" / world["inputs"], rig, things) if "inputs" in world else Inputs()
        found[name] = FloorWorld(floor, rig, hands, world.get("seed"), round(world["limit"] * 1e6))
    return found


def garden_moves():
    return library_of(path.read_text() for path in (DEMO / "behaviours" / "library").glob("*.geduld"))


def program(steps, lets=""):
    body = "".join(f"    {line}\n" for line in steps.strip("\n").splitlines())
    return f'behaviour "Test"\n{lets}begin:\n{body}'


def trace(step_us=100_000, **channels):
    count = max(len(values) for values in channels.values())
    arrays = {name: np.array(values, float) for name, values in channels.items()}
    return Trace(np.arange(count, dtype=np.int64) * step_us, arrays)


def run(text, world, rig=None, limit_us=None):
    return runner_for(text, rig or small_rig()).run(world, limit_us)


@contextmanager
def soon_ended():
    """Runs may take a fifth of the steps and a quarter of the memory: what never ends reaches its limit sooner."""
    run, memory = "geduld.run.program.run", "geduld.script.memory"
    steps = ("LEAST_STEPS", "MOST_STEPS", "LEAST_LANE_STEPS", "MOST_LANE_STEPS")
    with ExitStack() as limits:
        for name in steps:
            limits.enter_context(mock.patch(f"{run}.{name}", getattr(import_module(run), name) // 5))
        limits.enter_context(mock.patch(f"{memory}.MOST_BYTES", MOST_BYTES // 4))
        yield


def changes(record, part):
    signal = record.commands[part]
    return list(zip(signal.times.tolist(), signal.values.tolist(), strict=True))
