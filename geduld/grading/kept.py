"""Marks that are kept while a class is graded, so that grading can be stopped at any moment and gone on with."""

from __future__ import annotations

import json
import os
from collections.abc import Sequence
from dataclasses import asdict, fields
from pathlib import Path
from typing import Any

from geduld.errors import InputError, Place
from geduld.grading.grade import Graded, Mark

_FIELDS = {field.name for field in fields(Mark)}


class KeptMarks:
    """A file of JSON lines: the marks of one hand-in for one check, under their key.

    Lines are added in one write each, and a line that was cut off is as if it were not there. So a process that is
    killed loses what it was working on and nothing else, and nothing is ever counted twice: a key has one line's marks.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self._marks: dict[str, tuple[str, tuple[Mark, ...]]] = {}
        self._whole = True
        try:
            data = path.read_bytes() if path.exists() else b""
        except OSError as problem:
            message = f"The kept marks cannot be read: {problem.strerror}."
            raise InputError("cannot-open", message, "Delete the file, or name another.", Place(str(path))) from None
        self._whole = not data or data.endswith(b"\n")
        for line in data.splitlines():
            self._read(line)

    def _read(self, line: bytes) -> None:
        try:
            found = json.loads(line)
            marks = tuple(Mark(**{name: mark[name] for name in _FIELDS}) for mark in found["marks"])
            self._marks[str(found["key"])] = str(found["problem"]), marks
        except (ValueError, KeyError, TypeError):
            return  # a line that was cut off when a process was killed

    def get(self, key: str, name: str) -> tuple[str, tuple[Mark, ...]] | None:
        """The problem and the marks under a key, as those of a student; None where there are none."""
        found = self._marks.get(key)
        if found is None:
            return None
        return found[0], tuple(Mark(**{**asdict(mark), "hand_in": name}) for mark in found[1])

    def add(self, keys: Sequence[tuple[str, str]], graded: Graded) -> None:
        """Keeps a hand-in's marks: `keys` are pairs of a check's title and its key."""
        lines = []
        for title, key in keys:
            marks = tuple(mark for mark in graded.marks if mark.check == title)
            self._marks[key] = graded.problem, marks
            row: dict[str, Any] = {"key": key, "problem": graded.problem, "marks": [asdict(mark) for mark in marks]}
            lines.append(json.dumps(row) + "\n")
        text = ("" if self._whole else "\n") + "".join(lines)
        self._whole = True
        try:
            descriptor = os.open(self.path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o644)
            try:
                os.write(descriptor, text.encode())
            finally:
                os.close(descriptor)
        except OSError as problem:
            message = f"The marks cannot be kept: {problem.strerror}."
            raise InputError("cannot-write", message, place=Place(str(self.path))) from None
