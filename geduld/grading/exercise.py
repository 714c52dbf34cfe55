"""An exercise: rig, reference behaviour, cases and checks."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from geduld.binding.binder import bind
from geduld.binding.library import Library, library_of
from geduld.checks.binder import BoundChecks, bind_checks
from geduld.errors import ExerciseError, Place, ProgramError
from geduld.language.messages import listed, nearest
from geduld.language.parser import parse, parse_checks
from geduld.language.quantities import TIME, exact, microseconds, unit_from_text
from geduld.rig.model import Rig
from geduld.rig.reader import read_rig
from geduld.run.executor import Runner
from geduld.worlds.trace import Trace
from geduld.worlds.trace_csv import read_trace

FORMAT = "exercise/1"
MOST_CASES = 100
OVER_CASES = ("mean", "least")
EXERCISE_KEYS = ("geduld", "title", "brief", "rig", "reference", "checks", "cases", "points_over_cases", "libraries")


@dataclass(frozen=True)
class Case:
    """One world that hand-ins are tried in. `limit_us` ends the run earlier than the trace does."""

    name: str
    trace: Trace
    limit_us: int | None = None


@dataclass(frozen=True)
class Exercise:
    """A task that can be graded.

    `over_cases` says how a check's points come from several cases; `library` what its programs may include.
    """

    title: str
    brief: str
    rig: Rig
    reference: str
    checks: BoundChecks
    checks_text: str
    cases: tuple[Case, ...]
    over_cases: str = "mean"
    library: Library = field(default_factory=dict)


def runner_for(text: str | bytes, rig: Rig, library: Library | None = None) -> Runner:
    """A program ready to run; `library` holds what it may include.

    Raises ProgramError with every hint when it has errors.
    """
    parsed = parse(text)
    bound = bind(parsed.tree, rig, library)
    hints = sorted((*parsed.hints, *bound.hints), key=lambda hint: hint.order)
    errors = [hint for hint in hints if hint.level == "error"]
    if errors:
        raise ProgramError(errors)
    return Runner.of(bound, rig)


def checks_for(text: str | bytes, rig: Rig) -> BoundChecks:
    """The checks of a text, bound to a rig, with every hint from reading and from binding."""
    parsed = parse_checks(text)
    bound = bind_checks(parsed.tree, rig)
    hints = tuple(sorted((*parsed.hints, *bound.hints), key=lambda hint: hint.order))
    return BoundChecks(bound.checks, hints, bound.thresholds)


def good_checks(text: str | bytes, rig: Rig) -> BoundChecks:
    """Checks ready to judge with. Raises ProgramError with every hint when they have errors."""
    checks = checks_for(text, rig)
    errors = [hint for hint in checks.hints if hint.level == "error"]
    if errors:
        raise ProgramError(errors)
    return checks


def build_exercise(
    title: str,
    brief: str,
    rig: Rig,
    reference: str,
    checks_text: str,
    cases: Sequence[Case],
    over_cases: str = "mean",
    library: Library | None = None,
) -> Exercise:
    """An exercise from its pieces. Raises ProgramError when the reference or the checks have errors."""
    runner_for(reference, rig, library)
    checks = good_checks(checks_text, rig)
    if not cases:
        raise ExerciseError("no-cases", "The exercise has no case to try programs in.", "Add a trace as a case.")
    return Exercise(title, brief, rig, reference, checks, checks_text, tuple(cases), over_cases, library or {})


def read_exercise(folder: Path) -> Exercise:
    """The exercise in a folder. Raises an InputError with the file and the place in it."""
    source = _source(folder)
    rig = read_rig(_inside(folder, source, "rig"))
    cases = [_case(folder, rig, index, entry) for index, entry in enumerate(_cases(source))]
    names = [case.name for case in cases]
    twice = [name for name in names if names.count(name) > 1]
    if twice:
        raise _wrong("cases", f'Two cases are called "{twice[0]}".', "Give each its own name.")
    over = source.get("points_over_cases", "mean")
    if over not in OVER_CASES:
        raise _wrong("points_over_cases", f"Points over cases are {listed(OVER_CASES)}.", 'Write "mean".')
    texts = {key: _text(_inside(folder, source, key)) for key in ("reference", "checks")}
    library = _library(folder, source)
    reads: dict[str, Callable[[], object]] = {
        "reference": lambda: runner_for(texts["reference"], rig, library),
        "checks": lambda: good_checks(texts["checks"], rig),
    }
    for key, read in reads.items():
        try:
            read()
        except ProgramError as problem:
            place = Place(str(source[key]), problem.hints[0].line, problem.hints[0].column)
            raise ExerciseError(f"{key}-has-errors", problem.hints[0].message, problem.remedy, place) from None
    brief = str(source.get("brief", ""))
    return build_exercise(str(source["title"]), brief, rig, texts["reference"], texts["checks"], cases, over, library)


def _library(folder: Path, source: dict[str, Any]) -> Library:
    names = source.get("libraries", [])
    if not isinstance(names, list):
        raise _wrong("libraries", "The libraries are a list of files.", '["garden-moves.geduld"]')
    texts = [_text(_inside(folder, {"file": name}, "file", f"libraries[{k}].")) for k, name in enumerate(names)]
    found = library_of(texts)
    if len(found) < len(names):
        message = "One of these files is not a library, or two have one title."
        raise _wrong("libraries", message, 'A library starts with: library "garden moves"')
    return found


def _wrong(path: str, message: str, remedy: str) -> ExerciseError:
    return ExerciseError("exercise-value", message, remedy, Place("exercise.json", path=path))


def _source(folder: Path) -> dict[str, Any]:
    path = folder / "exercise.json"
    try:
        source = json.loads(path.read_bytes())
    except OSError as problem:
        message = f"The exercise cannot be opened: {problem.strerror}."
        raise ExerciseError("cannot-open", message, "Name a folder with an exercise.json.", Place(str(path))) from None
    except json.JSONDecodeError as problem:
        place = Place("exercise.json", problem.lineno, problem.colno)
        raise ExerciseError("not-json", f"This is not JSON: {problem.msg}.", "Mend it there.", place) from None
    except (UnicodeDecodeError, RecursionError):
        raise ExerciseError("not-json", "This is not JSON text.", place=Place("exercise.json")) from None
    if not isinstance(source, dict) or source.get("geduld") != FORMAT:
        raise _wrong("geduld", "This JSON does not say that it is an exercise.", f'Start with "geduld": "{FORMAT}".')
    for key in source:
        if key not in EXERCISE_KEYS:
            like = nearest(key, EXERCISE_KEYS)
            remedy = f'Did you mean "{like}"?' if like else f"Known here: {listed(EXERCISE_KEYS)}."
            raise _wrong(key, f'"{key}" is not known here.', remedy)
    if not isinstance(source.get("title"), str) or not source["title"].strip():
        raise _wrong("title", "The exercise needs a title.", 'For example: "Dock at the barrel"')
    return source


def _cases(source: dict[str, Any]) -> list[Any]:
    entries = source.get("cases")
    if not isinstance(entries, list) or not 1 <= len(entries) <= MOST_CASES:
        raise _wrong("cases", f"The exercise needs 1 to {MOST_CASES} cases.", '[{"name": …, "trace": …}]')
    return entries


def _case(folder: Path, rig: Rig, index: int, entry: Any) -> Case:
    path = f"cases[{index}]"
    if not isinstance(entry, dict) or not isinstance(entry.get("name"), str) or not entry["name"].strip():
        raise _wrong(path, "A case needs a name and a trace.", '{"name": "dry day", "trace": "dry-day.csv"}')
    for key in entry:
        if key not in ("name", "trace", "limit", "seed"):
            raise _wrong(f"{path}.{key}", f'"{key}" is not known here.', "A case has name, trace, limit and seed.")
    trace = read_trace(_inside(folder, entry, "trace", f"{path}."), rig)
    limit = _limit(entry["limit"], f"{path}.limit") if "limit" in entry else None
    return Case(entry["name"], trace, limit)


def _limit(text: Any, path: str) -> int:
    number, _, word = text.partition(" ") if isinstance(text, str) else ("", "", "")
    unit = unit_from_text(word)
    try:
        seconds = exact(number, unit)
    except ArithmeticError:
        unit = None
    if unit is None or unit.dimension != TIME or not 0 < seconds < 1e6:
        raise _wrong(path, "A limit is a time with its unit.", 'For example: "60 s"')
    return microseconds(seconds)


def _inside(folder: Path, table: dict[str, Any], key: str, before: str = "") -> Path:
    """A file the exercise names; it must lie inside the folder."""
    name = table.get(key)
    if not isinstance(name, str) or not name:
        raise _wrong(f"{before}{key}", f"The exercise must name its {key}.", "Write the file's name.")
    path = (folder / name).resolve()
    if not path.is_relative_to(folder.resolve()):
        raise _wrong(f"{before}{key}", f'"{name}" lies outside the exercise\'s folder.', "Copy it into the folder.")
    if not path.is_file():
        raise _wrong(f"{before}{key}", f'There is no file "{name}" in the folder.', "Check its name.")
    return path


def _text(path: Path) -> str:
    try:
        return path.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError:
        raise ExerciseError("not-utf8", "This file is not UTF-8 text.", "Save it as UTF-8.", Place(path.name)) from None
