"""Cases: the worlds that hand-ins of an exercise are tried in, and how they are read from its folder."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from geduld.binding.library import Library, library_of
from geduld.errors import ExerciseError, FloorError, Place, ProgramError, TraceError
from geduld.language.messages import listed
from geduld.language.quantities import TIME, exact, microseconds, unit_from_text
from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.notation import good_program, runner_for
from geduld.rig.model import Rig
from geduld.rig.reader import read_rig
from geduld.run.together import LEAST_DELAY_US, Alone, Link, Partner, TogetherWorld
from geduld.run.world import FLOOR_LIMIT_US, LONGEST_US, FloorWorld, TraceWorld, TravelWorld, World, bare
from geduld.worlds.floor.faults import EXAMPLES, read_faults
from geduld.worlds.floor.reader import read_floor
from geduld.worlds.inputs import Inputs, read_inputs
from geduld.worlds.recording import read_trace

PLACES = ("trace", "floor", "lasts")
CASE_KEYS = ("name", *PLACES, "follow", "start", "inputs", "seed", "faults", "limit", "partner")
PARTNER_KEYS = (
    "name", "rig", "program", "libraries", *PLACES, "follow", "start", "inputs", "seed", "faults", "limit", "delay",
    "lost",
)  # fmt: skip


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
    _known(entry, CASE_KEYS, path, "A case")
    main = _alone(folder, rig, entry, path)
    if "partner" not in entry:
        return Case(entry["name"], main)
    seed = _seed(entry.get("seed", 0), f"{path}.seed")
    return Case(entry["name"], TogetherWorld(main, _partner(folder, entry["partner"], main, seed, f"{path}.partner")))


def _known(entry: dict[str, Any], keys: tuple[str, ...], path: str, what: str) -> None:
    for key in entry:
        if key not in keys:
            raise wrong(f"{path}.{key}", f'"{key}" is not known here.', f"{what} has {listed(keys)}.")


def _alone(folder: Path, rig: Rig, entry: dict[str, Any], path: str, otherwise_us: int | None = None) -> Alone:
    """One device's world: a trace, a floor, or nothing but time; `otherwise_us` is how long where nothing says."""
    if sum(key in entry for key in PLACES) > 1 or not (any(key in entry for key in PLACES) or otherwise_us):
        message = 'A case has a trace or a floor, one of them, or a time that it "lasts".'
        raise wrong(path, message, "Name one file.")
    longest = limit(entry["limit"], f"{path}.limit") if "limit" in entry else None
    if "floor" in entry:
        return _on_floor(folder, rig, entry, path, longest)
    for key in ("start", "seed", "faults"):
        if key in entry and not (key == "seed" and "partner" in entry):
            raise wrong(f"{path}.{key}", f"A trace has no {key}: a floor has one.", "Leave it out.")
    inputs = _inputs(folder, rig, entry, path, [])
    if "trace" not in entry:
        lasts = limit(entry["lasts"], f"{path}.lasts") if "lasts" in entry else otherwise_us or LONGEST_US
        if lasts > LONGEST_US:
            raise wrong(
                f"{path}.lasts", f"A run without a recording lasts at most {LONGEST_US // 1_000_000} s.", '"60 s"'
            )
        return TraceWorld(bare(rig, lasts), rig, inputs, longest)
    trace = read_trace(inside(folder, entry, "trace", f"{path}."), rig)
    if entry.get("follow", "time") not in ("time", "travel"):
        raise wrong(f"{path}.follow", "A trace follows the time or the travel.", 'Write "time" or "travel".')
    if entry.get("follow") != "travel":
        return TraceWorld(trace, rig, inputs, longest)
    try:
        return TravelWorld(trace, rig, inputs, longest).tried()
    except TraceError as problem:
        raise problem.in_file(entry["trace"]) from None


def _partner(folder: Path, entry: Any, main: Alone, seed: int, path: str) -> Partner:
    """The other device of a case: its rig, its program, its place, and how messages go; `seed` is the case's."""
    if not isinstance(entry, dict):
        raise wrong(path, "A partner has a rig and a program.", '{"rig": "sender.json", "program": "sender.geduld"}')
    _known(entry, PARTNER_KEYS, path, "A partner")
    rig = read_rig(inside(folder, entry, "rig", f"{path}."))
    file = inside(folder, entry, "program", f"{path}.")
    text = file.read_text(encoding="utf-8", errors="replace")
    library = read_library(folder, entry, f"{path}.")
    try:
        good_program(text, rig, library)
    except ProgramError as problem:
        raise wrong(f"{path}.program", f"{file.name}: {problem.message}", problem.remedy) from None
    world = _alone(folder, rig, entry, path, lasting(main))
    if main.rig.radio is None and rig.radio is None:
        raise wrong(
            path,
            "Neither of the two devices has a radio, so nothing joins them.",
            'Give one a part of the kind "radio".',
        )
    link = Link(
        _delay(entry.get("delay", "20 ms"), f"{path}.delay"),
        _share(entry.get("lost", "0 %"), f"{path}.lost"),
        seed,
    )
    return Partner(str(entry.get("name", rig.name)), world, partial(runner_for, text, rig, library), text, link)


def read_library(folder: Path, table: dict[str, Any], before: str = "") -> Library:
    """The libraries that a table names. Raises ExerciseError for a file that is none."""
    names = table.get("libraries", [])
    if not isinstance(names, list):
        raise wrong(f"{before}libraries", "The libraries are a list of files.", '["garden-moves.geduld"]')
    texts = [
        text_of(inside(folder, {"file": name}, "file", f"{before}libraries[{k}].")) for k, name in enumerate(names)
    ]
    found = library_of(texts)
    if len(found) < len(names):
        message = "One of these files is not a library, or two have one title."
        raise wrong(f"{before}libraries", message, 'A library starts with: library "garden moves"')
    return found


def lasting(world: Alone) -> int:
    """How long a world lasts, in ticks."""
    if isinstance(world, FloorWorld):
        return world.limit_us or FLOOR_LIMIT_US
    return min(world.limit_us or world.trace.duration_us, world.trace.duration_us)


def _delay(text: Any, path: str) -> int:
    delay = limit(text, path)
    if not LEAST_DELAY_US <= delay <= 10_000_000:
        raise wrong(path, "A message takes 1 ms to 10 s.", 'For example: "30 ms"')
    return delay


def _share(text: Any, path: str) -> float:
    number, _, word = text.partition(" ") if isinstance(text, str) else ("", "", "")
    try:
        share = float(number) if word == "%" else -1.0
    except ValueError:
        share = -1.0
    if not 0 <= share <= 100:
        raise wrong(path, "What is lost is a share of the messages, 0 % to 100 %.", 'For example: "5 %"')
    return share / 100


def _seed(seed: Any, path: str) -> int:
    if not isinstance(seed, int) or isinstance(seed, bool) or not 0 <= seed < 2**32:
        raise wrong(path, "A seed is a whole number from 0 on.", "For example: 1")
    return seed


def _on_floor(folder: Path, rig: Rig, entry: dict[str, Any], path: str, longest: int | None) -> FloorWorld:
    file = inside(folder, entry, "floor", f"{path}.")
    floor = read_floor(file)
    seed = None if entry.get("seed") is None else _seed(entry["seed"], f"{path}.seed")
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
    if unit is None or unit.dimension != TIME or not 0 < seconds <= 1e6:
        raise wrong(path, "A limit is a time with its unit.", 'For example: "60 s"')
    return microseconds(seconds)


def text_of(path: Path) -> str:
    """A file's text. Raises ExerciseError for one that is not UTF-8, or larger than any text may be."""
    data = path.read_bytes()
    if len(data) > MOST_TEXT_BYTES:
        message = f"A text of an exercise has at most {MOST_TEXT_BYTES:,} bytes."
        raise ExerciseError("text-too-large", message, "Leave out what it does not need.", Place(path.name))
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise ExerciseError("not-utf8", "This file is not UTF-8 text.", "Save it as UTF-8.", Place(path.name)) from None


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
