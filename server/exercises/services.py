"""Calls the core for exercises."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from geduld.checks.judge import judge_all
from geduld.grading.cases import Case as CoreCase
from geduld.grading.exercise import Exercise as CoreExercise
from geduld.grading.exercise import build_exercise, checks_for
from geduld.rig.model import Rig as CoreRig
from geduld.run.record.record import recorded
from geduld.worlds.recording import trace_from
from server.exercises.models import Case, Exercise, HandIn, partner_rig
from server.shelf.lanes import lanes, window
from server.shelf.runs import run_json
from server.shelf.services import core_rig, library_for
from server.shelf.worlds import core_world


def core_cases(exercise: Exercise, rig: CoreRig) -> list[CoreCase]:
    """The cases as the core knows them. Raises an InputError for one that cannot be run any more."""
    found = []
    for case in exercise.cases.select_related("trace", "floor", "partner__rig").defer("trace__data"):
        world = core_world(rig, case_values(case))
        assert world is not None
        found.append(CoreCase(case.name, world))
    return found


def case_values(case: Case) -> dict[str, Any]:
    """A case as the values of a world, times in s."""
    kept = ("trace", "follow", "floor", "start", "inputs", "seed", "faults", "partner", "lost")
    seconds = {"limit": case.limit_us, "lasts": case.lasts_us, "delay": case.delay_us}
    values = {name: getattr(case, name) for name in kept}
    return {**values, **{name: ticks / 1e6 if ticks else None for name, ticks in seconds.items()}}


def core_exercise(exercise: Exercise) -> CoreExercise:
    """The exercise as the core knows it. Raises ProgramError or ExerciseError when it is not complete."""
    rig = core_rig(exercise.rig)
    return build_exercise(
        exercise.title,
        exercise.brief,
        rig,
        exercise.reference,
        exercise.checks,
        core_cases(exercise, rig),
        exercise.over_cases,
        library_for(exercise.rig),
        exercise.rules,
        word_texts(exercise),
    )


def word_texts(exercise: Exercise) -> list[str]:
    """The texts of an exercise's wordbooks."""
    return list(exercise.wordbooks.order_by("id").values_list("text", flat=True))


def look_at(exercise: int) -> None:
    """Raises what keeps an exercise from being graded."""
    core_exercise(Exercise.objects.select_related("rig").get(pk=exercise))


def recording_json(key: int, stretch: Mapping[str, Any]) -> dict[str, Any]:
    """A recorded hand-in between two seconds: what it read and did, and what the checks say of it.

    Raises TraceError when the recording cannot be read.
    """
    hand_in = HandIn.objects.select_related("exercise__rig").get(pk=key)
    rig = core_rig(hand_in.exercise.rig)
    trace = trace_from(bytes(hand_in.data), rig)
    record = recorded(trace, rig)
    seen = window(stretch, record.lasted)
    other = partner_rig(hand_in.exercise.cases.select_related("partner__rig"))
    checks = checks_for(hand_in.exercise.checks, rig, None if other is None else core_rig(other))
    return {
        "run": {**run_json(record, rig, seen), "readings": lanes(trace, rig, *seen)},
        "checks": [verdict.as_json() for verdict in judge_all(checks.checks, record)] if checks.good else [],
    }
