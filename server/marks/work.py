"""Grading and proofreading, as they run in a process of their own: they read the database, and change nothing."""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Callable, Sequence
from typing import Any

from django.conf import settings

from geduld.grading.cluster import grade_somewhere
from geduld.grading.grade import HandIn as CoreHandIn
from geduld.grading.grade import prepare
from geduld.grading.keys import core_hash
from geduld.grading.proofreading import prove
from server.exercises.models import Exercise, HandIn
from server.exercises.services import core_exercise, word_texts
from server.shelf.models import Behaviour
from server.shelf.services import library_for


def exercise_hash(exercise: Exercise) -> str:
    """A hash of all that a mark is made from, but for the hand-in."""
    cases = [
        [
            case.name,
            case.trace.fingerprint if case.trace else case.floor and case.floor.source,
            *(case.follow, case.start, case.inputs, case.seed, case.faults, case.limit_us, case.lasts_us),
            *(_of_partner(case.partner), case.delay_us, case.lost),
        ]
        for case in exercise.cases.select_related("trace", "floor", "partner__rig").defer("trace__data")
    ]
    libraries = [repr(parsed.tree) for parsed in library_for(exercise.rig).values()]
    source = [core_hash(), exercise.rig.source, exercise.reference, exercise.checks, exercise.over_cases, cases]
    source += [libraries, *word_texts(exercise)]
    return hashlib.sha256(json.dumps(source, sort_keys=True).encode()).hexdigest()


def _of_partner(partner: Behaviour | None) -> Any:
    """All that a partner's runs depend on, but for the trace or floor of its world, which is named."""
    return partner and [partner.text, partner.rig.source, partner.world]


def result_hash(exercise: str, digest: str) -> str:
    """A hash of all that a hand-in's marks are made from: the exercise's, and the hand-in's."""
    return hashlib.sha256(f"{exercise} {digest}".encode()).hexdigest()


Tell = Callable[[Any], None]


def graded(tell: Tell, exercise: int, hand_ins: Sequence[int]) -> None:
    """Tells of each hand-in its key, the hash of what its marks were made from, and how it was graded."""
    found = Exercise.with_trash.select_related("rig").get(pk=exercise)
    base = exercise_hash(found)
    rows = list(HandIn.objects.filter(pk__in=hand_ins))
    tasks = [(CoreHandIn(row.student, bytes(row.data), row.recorded, row.language), None) for row in rows]
    workers = 0 if settings.WORK_INLINE else os.cpu_count() or 1
    outcomes = grade_somewhere(prepare(core_exercise(found)), tasks, workers, settings.GRADING_SCHEDULER)
    for row, outcome in zip(rows, outcomes, strict=True):
        tell((row.pk, result_hash(base, row.digest), outcome))


def proved(tell: Tell, exercise: int) -> None:
    """Tells how many of how many programs are done, each time one is, and at the end what was found."""
    found = Exercise.with_trash.select_related("rig").get(pk=exercise)
    base = exercise_hash(found)
    proof = prove(core_exercise(found), lambda done, of: tell((done, of)))
    tell({"made_from": base, "found": proof.as_json()})
