"""Calls the core for exercises."""

from __future__ import annotations

from collections.abc import Iterable

from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.utils import timezone
from rest_framework.exceptions import ValidationError

from geduld.grading.exercise import Case as CoreCase
from geduld.grading.exercise import Exercise as CoreExercise
from geduld.grading.exercise import build_exercise
from geduld.language.source import MOST_BYTES
from server.exercises.models import Exercise, HandIn
from server.shelf.services import core_rig, core_trace, library_for

MOST_FILES = 200


def core_exercise(exercise: Exercise) -> CoreExercise:
    """The exercise as the core knows it. Raises ProgramError or ExerciseError when it is not complete."""
    cases = [
        CoreCase(case.name, core_trace(case.trace), case.limit_us)
        for case in exercise.cases.select_related("trace").defer("trace__data")
    ]
    return build_exercise(
        exercise.title,
        exercise.brief,
        core_rig(exercise.rig),
        exercise.reference,
        exercise.checks,
        cases,
        exercise.over_cases,
        library_for(exercise.rig),
    )


@transaction.atomic
def receive(exercise: Exercise, files: Iterable[UploadedFile]) -> list[HandIn]:
    """Keeps uploaded programs, one a student; the file's name is the student. A newer one replaces the old.

    Raises ValidationError when there are too many files or one is larger than any program may be.
    """
    uploads = list(files)
    if not 1 <= len(uploads) <= MOST_FILES:
        raise ValidationError({"files": [f"Choose 1 to {MOST_FILES} files."]})
    kept = []
    for upload in uploads:
        name = (upload.name or "").removesuffix(".geduld")[:100] or "without a name"
        if (upload.size or 0) > MOST_BYTES:
            raise ValidationError({"files": [f"{upload.name} is larger than {MOST_BYTES:,} bytes."]})
        values = {"data": upload.read(), "received": timezone.now()}
        kept.append(HandIn.objects.update_or_create(exercise=exercise, student=name, defaults=values)[0])
    return kept
