"""Keeps what students handed in: files, zips, or a folder of the whole class."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import PurePath, PurePosixPath
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.utils import timezone
from rest_framework.exceptions import ValidationError

from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.bundle import begins_with, is_hidden
from geduld.readers.collected import ZIP, Collected, class_zip, collected, one_program
from geduld.readers.owners import plain_name
from geduld.readers.reading import ENDINGS, language_of
from geduld.worlds.recording import RECORDINGS
from server.exercises.models import Exercise, HandIn

MOST_NAME = 100
MOST_FILES, MOST_RECORDED, MOST_ZIP = settings.MOST_FILES_AT_ONCE, 4_000_000, 40_000_000
NAMELESS = "without a name"


@dataclass(frozen=True)
class Upload:
    """What was sent: files, where they stand in a folder that was chosen as a whole (`paths`, or none), which zips are
    one student's program (`single`), and under which name to keep what (`names`, by source; None: as told)."""

    files: Sequence[UploadedFile]
    paths: Sequence[str] = ()
    single: Sequence[str] = ()
    names: Mapping[str, str] | None = None


@transaction.atomic
def receive(exercise: Exercise, upload: Upload) -> list[HandIn]:
    """Keeps uploaded programs and recorded runs, one a student. A newer one replaces the old.

    Raises ValidationError when there are too many files, one is larger than any program may be, or two are of one
    student: nobody knows which of these is meant.
    """
    found = gathered(upload)
    if upload.names is not None:
        found = [(source, item) for source, item in found if source in upload.names]
    if not found:
        raise ValidationError({"files": ["There is no program among these files."]})
    named: dict[str, str] = {}
    kept = []
    for source, item in found:
        student = plain_name(upload.names[source]) if upload.names is not None else item.student
        if not student:
            raise ValidationError({"students": [f"{source} has no student yet. Write the student's name."]})
        if len(student) > MOST_NAME:
            raise ValidationError({"files": [f"The name {source[:40]}… is longer than {MOST_NAME} characters."]})
        if student in named:
            first = named[student]
            what = f"{first} and {source}" if first != source else f"Two files {first}"
            raise ValidationError({"files": [f"{what} are both of the student {student}. Send one of them."]})
        named[student] = source
        if too_large(item):
            raise ValidationError({"files": [f"{source} is larger than {_most(item):,} bytes."]})
        kept.append((student, item))
    return [_kept(exercise, student, item) for student, item in kept]


def looked_at(exercise: Exercise, upload: Upload) -> list[dict[str, Any]]:
    """What an upload would be kept as; nothing is kept. Raises ValidationError as `gathered`."""
    there = set(exercise.hand_ins.values_list("student", flat=True))
    return [
        {
            "came_as": source,
            "student": item.student,
            "language": item.language,
            "recorded": item.recorded,
            "files": item.files,
            "trouble": f"It is larger than {_most(item):,} bytes." if too_large(item) else item.trouble,
            "can_be_kept": not too_large(item),
            "replaces": item.student in there,
        }
        for source, item in gathered(upload)
    ]


def gathered(upload: Upload) -> list[tuple[str, Collected]]:
    """What came, by its place among the files that were sent. Raises ValidationError for too many or too large ones."""
    files, paths = upload.files, upload.paths
    if not 1 <= len(files) <= MOST_FILES:
        raise ValidationError({"files": [f"Choose 1 to {MOST_FILES} files."]})
    if paths and len(paths) != len(files):
        raise ValidationError({"paths": ["Name each file's path once, or none."]})
    return list(_of_a_folder(files, paths) if paths else _of_files(upload))


def too_large(item: Collected) -> bool:
    """Whether what a student handed in is larger than any program, or any recorded run, may be."""
    return len(item.data) > _most(item)


def _most(item: Collected) -> int:
    return MOST_RECORDED if item.recorded else MOST_TEXT_BYTES


def _kept(exercise: Exercise, student: str, item: Collected) -> HandIn:
    values = {"data": item.data, "recorded": item.recorded, "language": item.language, "received": timezone.now()}
    return HandIn.objects.update_or_create(exercise=exercise, student=student, defaults=values)[0]


def _of_files(upload: Upload) -> Iterator[tuple[str, Collected]]:
    """Files that were chosen one by one; zips are looked into."""
    zips = sum(PurePath(file.name or "").suffix.lower() == ZIP for file in upload.files)
    for file in upload.files:
        name = file.name or ""
        path = PurePath(name)
        if path.suffix.lower() == ZIP:
            yield from _of_zip(name, _read(file, MOST_ZIP), name in upload.single, zips == 1)
            continue
        recorded = path.suffix.lower() in RECORDINGS
        student = plain_name(path.stem if recorded or path.suffix.lower() in ENDINGS else path.name)
        data = _read(file, MOST_RECORDED if recorded else MOST_TEXT_BYTES)
        yield name, Collected(student or NAMELESS, name, data, language_of(name), recorded)


def _of_zip(name: str, data: bytes, single: bool, alone: bool) -> Iterator[tuple[str, Collected]]:
    stem = PurePath(name).stem
    try:
        files = class_zip(data)
        found = [one_program(files, stem)] if single else collected(files, stem, alone)
    except ValueError as problem:
        raise ValidationError({"files": [f"{name}: {problem}"]}) from None
    for item in found:
        yield name if item.source == stem else f"{name}/{item.source}", item


def _of_a_folder(uploads: Sequence[UploadedFile], paths: Sequence[str]) -> Iterator[tuple[str, Collected]]:
    """All files of a folder: the class's, or one student's."""
    files: dict[str, bytes] = {}
    root = PurePosixPath(paths[0]).parts[0] if PurePosixPath(paths[0]).parts else ""
    for upload, path in zip(uploads, paths, strict=True):
        if not is_hidden(path):
            files[path] = _read(upload, MOST_RECORDED)
    try:
        found = collected(files, root)
    except ValueError as problem:
        raise ValidationError({"files": [f"{root}: {problem}"]}) from None
    for item in found:
        yield root if item.source == root else f"{root}/{item.source}", item


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
