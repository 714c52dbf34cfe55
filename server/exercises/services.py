"""Calls the core for exercises."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import PurePath
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.utils import timezone
from rest_framework.exceptions import ValidationError

from geduld.checks.judge import judge_all
from geduld.grading.cases import Case as CoreCase
from geduld.grading.exercise import Exercise as CoreExercise
from geduld.grading.exercise import build_exercise, checks_for
from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.reading import ENDINGS, language_of
from geduld.rig.model import Rig as CoreRig
from geduld.run.record.record import recorded
from geduld.worlds.trace_csv import trace_from_csv
from server.exercises.models import Exercise, HandIn
from server.shelf.lanes import lanes, window
from server.shelf.runs import run_json
from server.shelf.services import core_rig, library_for
from server.shelf.worlds import core_world

MOST_NAME = 100
MOST_FILES, MOST_RECORDED = settings.MOST_FILES_AT_ONCE, 4_000_000


def core_cases(exercise: Exercise, rig: CoreRig) -> list[CoreCase]:
    """The cases as the core knows them. Raises an InputError for one that cannot be run any more."""
    found = []
    for case in exercise.cases.select_related("trace", "floor").defer("trace__data"):
        values = {name: getattr(case, name) for name in ("trace", "follow", "floor", "start", "inputs", "seed")}
        world = core_world(rig, {**values, "limit": case.limit_us / 1e6 if case.limit_us else None})
        assert world is not None
        found.append(CoreCase(case.name, world))
    return found


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


@transaction.atomic
def receive(exercise: Exercise, files: Iterable[UploadedFile]) -> list[HandIn]:
    """Keeps uploaded programs and recorded runs, one a student: the file's name. A newer one replaces the old.

    Raises ValidationError when there are too many files, one is larger than any program may be, or two of them are of
    one student: nobody knows which of these is meant.
    """
    uploads = list(files)
    if not 1 <= len(uploads) <= MOST_FILES:
        raise ValidationError({"files": [f"Choose 1 to {MOST_FILES} files."]})
    named: dict[str, str] = {}
    for upload in uploads:
        file, student = upload.name or "", _student(upload)
        if len(student) > MOST_NAME:
            raise ValidationError({"files": [f"The name {file[:40]}… is longer than {MOST_NAME} characters."]})
        if student in named:
            what = f"{named[student]} and {file}" if named[student] != file else f"Two files {file}"
            raise ValidationError({"files": [f"{what} are both of the student {student}. Send one of them."]})
        named[student] = file
    kept = []
    for upload in uploads:
        recorded, name = (upload.name or "").endswith(".csv"), _student(upload)
        most = MOST_RECORDED if recorded else MOST_TEXT_BYTES
        if (upload.size or 0) > most:
            raise ValidationError({"files": [f"{upload.name} is larger than {most:,} bytes."]})
        language = language_of(upload.name or "")
        values = {"data": upload.read(), "recorded": recorded, "language": language, "received": timezone.now()}
        kept.append(HandIn.objects.update_or_create(exercise=exercise, student=name, defaults=values)[0])
    return kept


def _student(upload: UploadedFile) -> str:
    path = PurePath(upload.name or "")
    known = path.suffix.lower() in ENDINGS or path.suffix == ".csv"
    return (path.stem if known else path.name) or "without a name"


def recording_json(key: int, stretch: Mapping[str, Any]) -> dict[str, Any]:
    """A recorded hand-in between two seconds: what it read and did, and what the checks say of it.

    Raises TraceError when the recording cannot be read.
    """
    hand_in = HandIn.objects.select_related("exercise__rig").get(pk=key)
    rig = core_rig(hand_in.exercise.rig)
    trace = trace_from_csv(bytes(hand_in.data), rig)
    record = recorded(trace, rig)
    seen = window(stretch, record.lasted)
    checks = checks_for(hand_in.exercise.checks, rig)
    return {
        "run": {**run_json(record, rig, seen), "readings": lanes(trace, rig, *seen)},
        "checks": [verdict.as_json() for verdict in judge_all(checks.checks, record)] if checks.good else [],
    }
