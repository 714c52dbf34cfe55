"""Classes from pasted names, and from the CSV files of OneRoster 1.2."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass

from django.db import IntegrityError, transaction
from rest_framework.exceptions import ValidationError

from geduld.readers.owners import plain_name
from server.classes.codes import OF_STUDENT, new_code
from server.classes.models import SchoolClass, Student

MOST_STUDENTS, MOST_NAME, MOST_BYTES, MOST_FILES = 400, 100, 5_000_000, 40
NEEDED = {
    "users.csv": ("sourcedId", "givenName", "familyName"),
    "classes.csv": ("sourcedId", "title"),
    "enrollments.csv": ("classSourcedId", "userSourcedId", "role"),
}


@dataclass(frozen=True)
class Listed:
    """A student as a list has it."""

    name: str
    sourced_id: str = ""


def names_in(text: str) -> list[Listed]:
    """Names that were pasted, one a line, or between semicolons; what a numbered list puts before them goes."""
    found: dict[str, Listed] = {}
    for line in text.replace(";", "\n").splitlines():
        name = plain_name(line.strip().lstrip("0123456789.)\t "))[:MOST_NAME]
        if name:
            found.setdefault(name, Listed(name))
    return list(found.values())


@transaction.atomic
def add_students(school_class: SchoolClass, listed: list[Listed]) -> int:
    """Adds who is not in the class yet, each with a code; how many are new. Raises ValidationError for too many."""
    known = {student.name: student for student in school_class.students.all()}
    by_id = {student.sourced_id: student for student in known.values() if student.sourced_id}
    new = [item for item in listed if item.sourced_id not in by_id and item.name not in known]
    if len(known) + len(new) > MOST_STUDENTS:
        raise ValidationError({"names": [f"A class has at most {MOST_STUDENTS} students."]})
    for item in listed:
        student = known.get(item.name)
        if student is not None and item.sourced_id and not student.sourced_id:
            student.sourced_id = item.sourced_id
            student.save()
    for item in new:
        _with_code(Student(school_class=school_class, name=item.name, sourced_id=item.sourced_id[:255]))
    return len(new)


def _with_code(student: Student) -> None:
    """Keeps a new student under a code that nobody has."""
    for _ in range(20):
        student.code = new_code(OF_STUDENT)
        try:
            with transaction.atomic():
                student.save()
            return
        except IntegrityError:
            student.pk = None
    raise ValidationError({"names": ["No code was free. Try again."]})


def new_student_code(student: Student) -> None:
    """Another code for a student; the one before is worth nothing any more."""
    student.code = new_code(OF_STUDENT)
    student.save()


def rosters_in(data: bytes) -> dict[tuple[str, str], list[Listed]]:
    """The classes in a zip of OneRoster's files: sourcedId and title, with the students enrolled.

    Raises ValidationError that names the file, its row and what was expected.
    """
    tables = _tables(data)
    people = {
        row["sourcedId"]: plain_name(f"{row['givenName']} {row['familyName']}")[:MOST_NAME]
        for row in tables["users.csv"]
        if row.get("status", "active") != "tobedeleted"
    }
    titles = {
        row["sourcedId"]: plain_name(row["title"])[:MOST_NAME] or row["sourcedId"][:MOST_NAME]
        for row in tables["classes.csv"]
        if row.get("status", "active") != "tobedeleted"
    }
    found: dict[tuple[str, str], list[Listed]] = {(key, title): [] for key, title in titles.items()}
    for number, row in enumerate(tables["enrollments.csv"], 2):
        if row["role"].strip().lower() != "student" or row.get("status", "active") == "tobedeleted":
            continue
        where, who = row["classSourcedId"], row["userSourcedId"]
        if where not in titles or who not in people:
            missing = f"the class {where}" if where not in titles else f"the user {who}"
            raise _wrong(f"enrollments.csv, row {number}: {missing} stands in no other file.")
        found[where, titles[where]].append(Listed(people[who] or who[:MOST_NAME], who))
    if not any(found.values()):
        raise _wrong("Nobody is enrolled as a student in these files.")
    return {key: _apart(listed) for key, listed in found.items() if listed}


def _apart(listed: list[Listed]) -> list[Listed]:
    """The same students; of those with one name each carries its identifier too."""
    names = [item.name for item in listed]
    return [
        item if names.count(item.name) == 1 else Listed(f"{item.name} ({item.sourced_id})"[:MOST_NAME], item.sourced_id)
        for item in listed
    ]


def _wrong(message: str) -> ValidationError:
    return ValidationError({"file": [message]})


def _tables(data: bytes) -> dict[str, list[Mapping[str, str]]]:
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except zipfile.BadZipFile:
        raise _wrong("This is no zip. OneRoster's files come as one zip of CSV files.") from None
    found: dict[str, list[Mapping[str, str]]] = {}
    entries = archive.infolist()
    if len(entries) > MOST_FILES:
        raise _wrong(f"A zip of OneRoster's has at most {MOST_FILES} files.")
    for entry in entries:
        name = entry.filename.rsplit("/", 1)[-1].lower()
        if name not in NEEDED:
            continue
        if entry.flag_bits & 1 or entry.file_size > MOST_BYTES:
            raise _wrong(f"{name} is locked, or has more than {MOST_BYTES:,} bytes.")
        with archive.open(entry) as file:
            content = file.read(MOST_BYTES + 1)
        if len(content) > MOST_BYTES:
            raise _wrong(f"{name} has more than {MOST_BYTES:,} bytes.")
        found[name] = _rows(name, content)
    missing = [name for name in NEEDED if name not in found]
    if missing:
        raise _wrong(f"In this zip {', '.join(missing)} is missing.")
    return found


def _rows(name: str, content: bytes) -> list[Mapping[str, str]]:
    try:
        reader = csv.DictReader(io.StringIO(content.decode("utf-8-sig"), newline=""), strict=True)
        missing = [column for column in NEEDED[name] if column not in (reader.fieldnames or ())]
        if missing:
            raise _wrong(f"{name} has no column {', '.join(missing)}.")
        return [{key: value or "" for key, value in row.items() if key} for row in reader]
    except (UnicodeDecodeError, csv.Error) as problem:
        raise _wrong(f"{name} is no CSV in UTF-8: {problem}") from None
