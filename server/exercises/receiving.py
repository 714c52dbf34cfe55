"""Keeps what students handed in: files, zips, or a folder of the whole class."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import PurePath, PurePosixPath

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.utils import timezone
from rest_framework.exceptions import ValidationError

from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.bundle import begins_with, by_student, program_in, zip_files
from geduld.readers.reading import ENDINGS, NOTATION, language_of
from geduld.worlds.recording import RECORDINGS
from server.exercises.models import Exercise, HandIn

MOST_NAME = 100
MOST_FILES, MOST_RECORDED, MOST_ZIP = settings.MOST_FILES_AT_ONCE, 4_000_000, 4_000_000


@dataclass(frozen=True)
class Received:
    """What came from one student; `source` is what it came in, for messages."""

    student: str
    source: str
    data: bytes
    language: str = NOTATION
    recorded: bool = False


@transaction.atomic
def receive(exercise: Exercise, uploads: Sequence[UploadedFile], paths: Sequence[str] = ()) -> list[HandIn]:
    """Keeps uploaded programs and recorded runs, one a student. A newer one replaces the old.

    A file's or a zip's name is its student. `paths` are where the files stand in a folder that was chosen as a whole:
    each file or folder in it is a student. Raises ValidationError when there are too many files, one is larger than
    any program may be, or two are of one student: nobody knows which of these is meant.
    """
    if not 1 <= len(uploads) <= MOST_FILES:
        raise ValidationError({"files": [f"Choose 1 to {MOST_FILES} files."]})
    if paths and len(paths) != len(uploads):
        raise ValidationError({"paths": ["Name each file's path once, or none."]})
    found = list(_of_a_folder(uploads, paths) if paths else _of_files(uploads))
    if not found:
        raise ValidationError({"files": ["There is no program among these files."]})
    named: dict[str, str] = {}
    for item in found:
        if len(item.student) > MOST_NAME:
            raise ValidationError({"files": [f"The name {item.source[:40]}… is longer than {MOST_NAME} characters."]})
        if item.student in named:
            first = named[item.student]
            what = f"{first} and {item.source}" if first != item.source else f"Two files {first}"
            raise ValidationError({"files": [f"{what} are both of the student {item.student}. Send one of them."]})
        named[item.student] = item.source
        if len(item.data) > (MOST_RECORDED if item.recorded else MOST_TEXT_BYTES):
            most = MOST_RECORDED if item.recorded else MOST_TEXT_BYTES
            raise ValidationError({"files": [f"{item.source} is larger than {most:,} bytes."]})
    return [_kept(exercise, item) for item in found]


def _kept(exercise: Exercise, item: Received) -> HandIn:
    values = {"data": item.data, "recorded": item.recorded, "language": item.language, "received": timezone.now()}
    return HandIn.objects.update_or_create(exercise=exercise, student=item.student, defaults=values)[0]


def _of_files(uploads: Sequence[UploadedFile]) -> Iterator[Received]:
    """Files that were chosen one by one."""
    for upload in uploads:
        name = upload.name or ""
        path = PurePath(name)
        if path.suffix.lower() == ".zip":
            yield from _of_zip(path.stem, name, _read(upload, MOST_ZIP))
            continue
        recorded = path.suffix.lower() in RECORDINGS
        student = path.stem if recorded or path.suffix.lower() in ENDINGS else path.name
        data = _read(upload, MOST_RECORDED if recorded else MOST_TEXT_BYTES)
        yield Received(student or "without a name", name, data, language_of(name), recorded)


def _of_zip(student: str, name: str, data: bytes) -> Iterator[Received]:
    try:
        files = zip_files(data)
    except ValueError as problem:
        raise ValidationError({"files": [f"{name}: {problem}"]}) from None
    # a zip without a program is kept too: its student is told so
    for owner, own in (by_student(files, student, False) or {student: {}}).items():
        yield Received(owner, name, *program_in(own))


def _of_a_folder(uploads: Sequence[UploadedFile], paths: Sequence[str]) -> Iterator[Received]:
    """All files of a folder: the class's, or one student's."""
    files: dict[str, bytes] = {}
    root = PurePosixPath(paths[0]).parts[0] if PurePosixPath(paths[0]).parts else ""
    for upload, path in zip(uploads, paths, strict=True):
        inner = PurePosixPath(path)
        if inner.suffix.lower() in RECORDINGS and len(inner.parts) == 2:
            yield Received(inner.stem, path, _read(upload, MOST_RECORDED), NOTATION, True)
        elif inner.suffix.lower() == ".zip" and len(inner.parts) == 2:
            yield from _of_zip(inner.stem, path, _read(upload, MOST_ZIP))
        else:
            files[path] = _read(upload, MOST_TEXT_BYTES)
    for student, own in by_student(files, root, True).items():
        yield Received(student, f"{root}/{student}", *program_in(own))


def _read(upload: UploadedFile, most: int) -> bytes:
    if (upload.size or 0) > most:
        raise ValidationError({"files": [f"{upload.name} is larger than {most:,} bytes."]})
    data: bytes = upload.read()
    return data


def begin_with(hand_in: HandIn, file: str) -> None:
    """Says with which of its files a program begins. Raises ValidationError when it has no such file."""
    try:
        hand_in.data = begins_with(bytes(hand_in.data), file, hand_in.language)
        hand_in.shown = hand_in.data  # type: ignore[attr-defined]  # what the query has read of it
    except KeyError:
        raise ValidationError({"begins": [f"This hand-in has no file {file}."]}) from None
