"""Cases: the worlds that hand-ins of an exercise are tried in, and how they are read from its folder."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from geduld.errors import ExerciseError, FloorError, Place, TraceError
from geduld.language.messages import listed
from geduld.language.quantities import TIME, exact, microseconds, unit_from_text
from geduld.rig.model import Rig
from geduld.run.world import LONGEST_US, FloorWorld, TraceWorld, TravelWorld, World
from geduld.worlds.floor.faults import EXAMPLES, read_faults
from geduld.worlds.floor.reader import read_floor
from geduld.worlds.inputs import Inputs, read_inputs
from geduld.worlds.recording import read_trace

CASE_KEYS = ("name", "trace", "follow", "floor", "start", "inputs", "seed", "faults", "limit")


@dataclass(frozen=True)
class Case:
    """One world that hand-ins are tried in."""

    name: str
    world: World


def read_case(folder: Path, rig: Rig, index: int, entry: Any) -> Case:
    """A case of an exercise. Raises an InputError with the file and the place in it."""
    path = f"cases[{index}]"
    if not isinstance(entry, dict) or not isinstance(entry.get("name"), str) or not entry["name"].strip():
        raise wrong(path, "A case needs a name, and a trace or a floor.", '{"name": "dry day", "trace": "dry-day.csv"}')
    for key in entry:
        if key not in CASE_KEYS:
            raise wrong(f"{path}.{key}", f'"{key}" is not known here.', f"A case has {listed(CASE_KEYS)}.")
    if ("trace" in entry) == ("floor" in entry):
        raise wrong(path, "A case has a trace or a floor, one of them.", "Name one file.")
    longest = limit(entry["limit"], f"{path}.limit") if "limit" in entry else None
    if "trace" in entry:
        for key in ("start", "seed", "faults"):
            if key in entry:
                raise wrong(f"{path}.{key}", f"A trace has no {key}: a floor has one.", "Leave it out.")
        trace = read_trace(inside(folder, entry, "trace", f"{path}."), rig)
        if entry.get("follow", "time") not in ("time", "travel"):
            raise wrong(f"{path}.follow", "A trace follows the time or the travel.", 'Write "time" or "travel".')
        inputs = _inputs(folder, rig, entry, path, [])
        if entry.get("follow") != "travel":
            return Case(entry["name"], TraceWorld(trace, rig, inputs, longest))
        try:
            return Case(entry["name"], TravelWorld(trace, rig, inputs, longest).tried())
        except TraceError as problem:
            raise problem.in_file(entry["trace"]) from None
    return Case(entry["name"], _on_floor(folder, rig, entry, path, longest))


def _on_floor(folder: Path, rig: Rig, entry: dict[str, Any], path: str, longest: int | None) -> FloorWorld:
    file = inside(folder, entry, "floor", f"{path}.")
    floor = read_floor(file)
    seed = entry.get("seed")
    if seed is not None and (not isinstance(seed, int) or isinstance(seed, bool) or not 0 <= seed < 2**32):
        raise wrong(f"{path}.seed", "A seed is a whole number from 0 on.", "For example: 1")
    phrases = entry.get("faults", [])
    if not isinstance(phrases, list):
        raise wrong(f"{path}.faults", "Faults are a list of phrases.", f'For example: ["{EXAMPLES[0]}"]')
    try:
        faults = read_faults(phrases, rig)
    except FloorError as problem:
        raise wrong(f"{path}.faults", problem.message, problem.remedy) from None
    if longest is not None and longest > LONGEST_US:
        raise wrong(f"{path}.limit", f"A run on a floor lasts at most {LONGEST_US // 1_000_000} s.", '"60 s"')
    try:
        if "start" in entry:
            floor = floor.started_from(str(entry["start"]))
        inputs = _inputs(folder, rig, entry, path, [thing.name for thing in floor.movable])
        return FloorWorld(floor, rig, inputs, seed, longest, faults).tried()
    except FloorError as problem:
        raise problem.in_file(file.name) from None


def _inputs(folder: Path, rig: Rig, entry: dict[str, Any], path: str, things: list[str]) -> Inputs:
    return read_inputs(inside(folder, entry, "inputs", f"{path}."), rig, things) if "inputs" in entry else Inputs()


def limit(text: Any, path: str) -> int:
    """A case's limit in ticks, from a text such as `60 s`. Raises ExerciseError naming `path`."""
    number, _, word = text.partition(" ") if isinstance(text, str) else ("", "", "")
    unit = unit_from_text(word)
    try:
        seconds = exact(number, unit)
    except (ArithmeticError, ValueError):
        unit = None
    if unit is None or unit.dimension != TIME or not 0 < seconds < 1e6:
        raise wrong(path, "A limit is a time with its unit.", 'For example: "60 s"')
    return microseconds(seconds)


def wrong(path: str, message: str, remedy: str) -> ExerciseError:
    """An error at a place in `exercise.json`."""
    return ExerciseError("exercise-value", message, remedy, Place("exercise.json", path=path))


def inside(folder: Path, table: dict[str, Any], key: str, before: str = "") -> Path:
    """A file the exercise names; it must lie inside the folder. Raises ExerciseError."""
    name = table.get(key)
    if not isinstance(name, str) or not name:
        raise wrong(f"{before}{key}", f"The exercise must name its {key}.", "Write the file's name.")
    try:
        path = (folder / name).resolve()
        found = path.is_file()
    except (OSError, ValueError):  # a name that no file can have
        path, found = folder.resolve(), False
    if not path.is_relative_to(folder.resolve()):
        raise wrong(f"{before}{key}", f'"{name}" lies outside the exercise\'s folder.', "Copy it into the folder.")
    if not found:
        raise wrong(f"{before}{key}", f'There is no file "{name[:80]}" in the folder.', "Check its name.")
    return path
