"""An exercise's rows as the pieces of a parcel. It reads the database, and runs in a process of its own."""

from __future__ import annotations

from typing import Any

from geduld.binding.library import library_of
from geduld.grading.parcel.pieces import CasePiece, HandInPiece, PartnerPiece, Pieces, Surroundings, TracePiece
from geduld.grading.parcel.writing import exercise_files
from geduld.grading.parcel.zipped import zipped
from geduld.rig.model import Rig as CoreRig
from geduld.worlds.trace_csv import trace_to_csv
from server.exercises.models import Case, Exercise
from server.exercises.services import look_at, word_texts
from server.shelf.doings import doings_csv
from server.shelf.models import Behaviour, Floor, Rig, Trace
from server.shelf.services import core_rig, library_texts
from server.shelf.unpacked import core_trace


def parcel(exercise: int, with_hand_ins: bool) -> bytes:
    """The zip of an exercise. Raises what keeps it from being graded: such a one could not be read again."""
    look_at(exercise)
    return zipped(exercise_files(pieces_of(exercise, with_hand_ins)))


def pieces_of(key: int, with_hand_ins: bool = False) -> Pieces:
    """The pieces of an exercise."""
    exercise = Exercise.objects.select_related("rig").get(pk=key)
    rig = core_rig(exercise.rig)
    cases = exercise.cases.select_related("trace__rig", "floor", "partner__rig").defer("trace__data")
    return Pieces(
        exercise.title,
        exercise.brief,
        exercise.rig.source,
        exercise.reference,
        exercise.checks,
        tuple(_case(case, rig) for case in cases),
        exercise.over_cases,
        exercise.rules,
        libraries_of(exercise.rig),
        tuple(word_texts(exercise)),
        tuple(_hand_ins(exercise)) if with_hand_ins else (),
    )


def libraries_of(rig: Rig) -> tuple[str, ...]:
    """The texts of a rig's libraries: of two with one title the first, as programs include them."""
    found: dict[str, str] = {}
    for text in library_texts(rig):
        for title in library_of([text]):
            found.setdefault(title, text)
    return tuple(found.values())


def _case(case: Case, rig: CoreRig) -> CasePiece:
    values = {**vars(case), "trace": case.trace, "floor": case.floor}
    around = surroundings(values, rig, case.limit_us, case.lasts_us)
    partner = None if case.partner is None else _partner(case.partner, case.delay_us, case.lost)
    seed = case.seed if case.floor or partner else None
    return CasePiece(case.name, _with_seed(around, seed), partner)


def _with_seed(around: Surroundings, seed: int | None) -> Surroundings:
    return Surroundings(**{**vars(around), "seed": seed})


def surroundings(
    values: dict[str, Any], rig: CoreRig, limit_us: int | None, lasts_us: int | None = None
) -> Surroundings:
    """What one device runs in, of that alone which means something there."""
    floor = values.get("floor")
    trace = values.get("trace") if floor is None else None
    return Surroundings(
        trace=None if trace is None else _trace(trace),
        floor=None if floor is None else floor.source,
        lasts_us=lasts_us,
        follow=(values.get("follow") or "time") if trace else "time",
        start=(values.get("start") or "") if floor else "",
        inputs=values.get("inputs") or doings_csv(values.get("doings") or [], rig),
        seed=values.get("seed") if floor else None,
        faults=tuple(values.get("faults") or ()) if floor else (),
        limit_us=limit_us,
    )


def _trace(trace: Trace) -> TracePiece:
    notes = tuple((at_us / 1e6, text) for at_us, text in trace.notes.values_list("at_us", "text"))
    return TracePiece(trace.name, trace_to_csv(core_trace(trace), core_rig(trace.rig)).encode(), notes)


def _partner(behaviour: Behaviour, delay_us: int, lost: float) -> PartnerPiece:
    around = surroundings_of(behaviour)
    libraries = libraries_of(behaviour.rig)
    return PartnerPiece(behaviour.title, behaviour.rig.source, behaviour.text, around, libraries, delay_us, lost)


def surroundings_of(behaviour: Behaviour) -> Surroundings:
    """The world that a behaviour was looked at in last, as a partner runs in it."""
    kept = behaviour.world
    own = {"owner": behaviour.owner_id}
    places = {
        "floor": Floor.objects.filter(pk=kept.get("floor"), **own).first(),
        "trace": Trace.objects.defer("data").select_related("rig").filter(pk=kept.get("trace"), **own).first(),
    }
    limit_us = round(kept["limit"] * 1e6) if kept.get("limit") else None
    return surroundings({**kept, **places}, core_rig(behaviour.rig), limit_us)


def _hand_ins(exercise: Exercise) -> list[HandInPiece]:
    return [
        HandInPiece(row.student, bytes(row.data), row.received, row.language, row.recorded, row.due, row.sourced_id)
        for row in exercise.hand_ins.all()
    ]
