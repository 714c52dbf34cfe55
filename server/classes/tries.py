"""Takes what students hand in: a try is kept before it is looked at, and which one counts is the hand-in."""

from __future__ import annotations

import logging
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Q
from django.utils import timezone
from rest_framework.exceptions import APIException, ValidationError

from geduld.readers.guess import guessed_language
from geduld.readers.reading import ENDINGS, language_of
from geduld.wordbook.reading import parse_wordbook
from server.classes.looking import Looked, look_at
from server.classes.models import Assignment, Extension, Student, Try
from server.classes.receipts import fingerprint
from server.config.apart import TooLong, of_students
from server.exercises.models import Exercise, HandIn
from server.exercises.services import word_texts
from server.marks.services import keep_result

log = logging.getLogger(__name__)
MOST_SECONDS = 8.0  # of a processor's time: how many others wait beside it changes nothing
MOST_KEPT = 200  # tries of one student, where they are not limited
NOTHING_TOLD: dict[str, Any] = {"problem": "", "hints": [], "understood": [], "checks": [], "picture": None}


class NoMoreTries(APIException):
    """All tries are used up, or the time is over."""

    status_code = 409
    default_code = "no-more-tries"


def could_be_run(made: Try) -> bool:
    """Whether a try is one that counts: it was not looked at yet, or it could be read and run."""
    return made.feedback is None or not made.feedback["problem"]


def due_of(assignment: Assignment, student: Student) -> datetime | None:
    """When a student's work is due."""
    until = Extension.objects.filter(assignment=assignment, student=student).values_list("until", flat=True).first()
    return assignment.due_for(until)


def tries_left(assignment: Assignment, student: Student, now: datetime) -> int | None:
    """How many tries a student has left at an instant; None for as many as one likes.

    One that could not be read or run uses up none.
    """
    given = Try.objects.filter(
        Q(feedback__isnull=True) | Q(feedback__problem=""), assignment=assignment, student=student
    )
    due = due_of(assignment, student)
    if assignment.closed:
        return 0
    if due is not None and now > due:
        return max(0, assignment.after_due - given.filter(late=True).count())
    if assignment.tries is None:
        return None
    return max(0, assignment.tries - given.filter(late=False).count())


def take(
    assignment: Assignment, student: Student, data: bytes, language: str, key: str, now: datetime | None = None
) -> Try:
    """Keeps a try that comes now; one that was sent twice is kept once. Raises NoMoreTries.

    Behind this it is there, whatever happens: its receipt holds.
    """
    with transaction.atomic():
        # one writer at a time: whoever asks at once waits here
        Student.objects.select_for_update().get(pk=student.pk)
        known = Try.objects.filter(assignment=assignment, student=student, key=key).first()
        if known is not None:
            return known
        now = now or timezone.now()
        if tries_left(assignment, student, now) == 0:
            raise NoMoreTries("No try is left. Ask your teacher if you need more time.")
        number = Try.objects.filter(assignment=assignment, student=student).count() + 1
        if number > MOST_KEPT:
            raise NoMoreTries(f"These were {MOST_KEPT} tries. Ask your teacher before you go on.")
        due = due_of(assignment, student)
        made = Try.objects.create(
            assignment=assignment,
            student=student,
            number=number,
            key=key,
            data=data,
            language=language,
            received=now,
            late=due is not None and now > due,
            fingerprint=fingerprint(assignment.code, student.code, number, now, data),
        )
        settle(assignment, student)
        return made


def look(made: Try) -> dict[str, Any]:
    """Looks at a try and keeps what came of it: what the student is told. Of its pictures the last one is kept.

    A text that takes too long is told so. What the machine had no time for is looked at when Geduld starts again.
    """
    assignment, student = made.assignment, made.student
    given = (assignment.exercise_id, student.name, bytes(made.data), made.language)
    try:
        looked: Looked = of_students(look_at, *given, limit_s=MOST_SECONDS)
    except TooLong:
        said = f"This program was stopped: it took more than {MOST_SECONDS:.0f} s to try it out. Let its loops wait."
        feedback: dict[str, Any] = {**NOTHING_TOLD, "problem": said}
        with transaction.atomic():
            _keep(made, feedback, None)
            settle(assignment, student)
        return feedback
    with transaction.atomic():
        points = None if looked.outcome.failed else looked.outcome.points
        _keep(made, looked.feedback, points)
        counts = settle(assignment, student)
        if counts is not None and counts.pk == made.pk and counts.hand_in_id is not None:
            keep_result(counts.hand_in_id, looked.outcome, looked.made_from)
    return looked.feedback


def _keep(made: Try, feedback: dict[str, Any], points: float | None) -> None:
    told, picture = {**feedback, "picture": None}, feedback["picture"]
    made.feedback, made.points = told, points
    Try.objects.filter(pk=made.pk).update(feedback=told, points=points, picture=picture)
    # pictures are large: who comes back is shown that of the last try
    earlier = Try.objects.filter(assignment=made.assignment_id, student=made.student_id, number__lt=made.number)
    earlier.filter(picture__isnull=False).update(picture=None)


def counting(assignment: Assignment, student: Student) -> Try | None:
    """The try that counts: the last, or the best of those that were looked at; of equals the first.

    One that could not be read or run never takes the place of one that could.
    """
    tries = Try.objects.filter(assignment=assignment, student=student).order_by("number")
    given = list(tries.defer("picture"))
    if not given:
        return None
    known = [item for item in given if item.points is not None]
    if assignment.counts == Assignment.LAST or not known:
        return next((item for item in reversed(given) if could_be_run(item)), given[-1])
    return max(known, key=lambda item: (item.points, -item.number))


def settle(assignment: Assignment, student: Student) -> Try | None:
    """Makes the try that counts the student's hand-in; it is given back."""
    chosen = counting(assignment, student)
    if chosen is None:
        return None
    mine = HandIn.objects.filter(exercise_id=assignment.exercise_id, given__student=student).distinct().first()
    if mine is None:
        mine = HandIn(exercise_id=assignment.exercise_id, student=_free_name(assignment, student))
    unchanged = mine.pk and bytes(mine.data) == bytes(chosen.data) and mine.received == chosen.received
    due = Extension.objects.filter(assignment=assignment, student=student).values_list("until", flat=True).first()
    if not unchanged or mine.due != due:
        mine.data, mine.language, mine.recorded = bytes(chosen.data), chosen.language, False
        mine.received, mine.due, mine.sourced_id = chosen.received, due, student.sourced_id
        mine.save()
    Try.objects.filter(assignment=assignment, student=student).exclude(hand_in=mine).update(hand_in=mine)
    chosen.hand_in = mine
    return chosen


def _free_name(assignment: Assignment, student: Student) -> str:
    """The student's name, or with the class's where another hand-in has it."""
    taken = set(HandIn.objects.filter(exercise_id=assignment.exercise_id).values_list("student", flat=True))
    names = [student.name, f"{student.name} ({assignment.school_class.name})"[:100]]
    names += [f"{student.name[:80]} ({number})" for number in range(2, 100)]
    return next(name for name in names if name not in taken)


def take_up() -> None:
    """Looks at what was handed in and not yet looked at, as when Geduld was stopped meanwhile."""
    waiting = Try.objects.filter(Q(feedback__isnull=True)).select_related("assignment__exercise", "student")
    for made in waiting.order_by("received"):
        try:
            look(made)
        except Exception:  # the next one is looked at all the same
            log.exception("try %s could not be looked at", made.pk)


def language_for(file: str, text: str, exercise: Exercise) -> str:
    """The language of a text: by its file's ending; what was pasted, by its looks, of those that the exercise reads.

    Raises ValidationError for an ending that no program has.
    """
    if not file:
        books = [parse_wordbook(words).tree.language for words in word_texts(exercise)]
        return guessed_language(text, books)
    if not any(file.lower().endswith(ending) for ending in ENDINGS):
        raise ValidationError({"file": [f"A program ends in one of {', '.join(sorted(ENDINGS))}."]})
    return language_of(file)
