"""Files the command line reads and writes."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path

from geduld.binding.library import Library, library_of
from geduld.errors import InputError, Place, ProgramError
from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.bundle import folder_files, program_in, zip_files
from geduld.readers.reading import language_of
from geduld.rig.model import Rig
from geduld.wordbook.binder import good_wordbook


def program_bytes(path: Path) -> bytes:
    """A program's bytes, and one more than a program may have, so that a longer one is noticed."""
    try:
        with path.open("rb") as file:
            return file.read(MOST_TEXT_BYTES + 1)
    except OSError as problem:
        message = f"The file cannot be opened: {problem.strerror}."
        raise InputError("cannot-open", message, place=Place(str(path))) from None


def program_at(path: Path, begins: str = "") -> tuple[bytes, str]:
    """A program's bytes and its language: a file, or a folder or zip with one of several files."""
    if path.is_dir():
        return program_in(folder_files(path), begins)
    if path.suffix.lower() != ".zip":
        return program_bytes(path), language_of(path.name)
    try:
        return program_in(zip_files(path.read_bytes()), begins)
    except OSError as problem:
        message = f"The file cannot be opened: {problem.strerror}."
        raise InputError("cannot-open", message, place=Place(str(path))) from None
    except ValueError as problem:
        raise InputError("cannot-open", str(problem), "Pack it again, or name the folder.", Place(str(path))) from None


def library_beside(program: Path, folder: Path | None) -> Library:
    """The libraries in a folder, or in the folder `library` beside a program where there is one."""
    if folder is not None and not folder.is_dir():
        raise InputError("cannot-open", "There is no such folder of libraries.", place=Place(str(folder)))
    found = sorted((folder or program.parent / "library").glob("*.geduld"))
    return library_of(program_bytes(path) for path in found)


def wordbooks(paths: Sequence[Path], rig: Rig) -> list[str]:
    """The texts of wordbooks. Raises ProgramError with the errors of one that has some."""
    texts = []
    for path in paths:
        try:
            text = program_bytes(path).decode("utf-8-sig")
        except UnicodeDecodeError:
            raise InputError(
                "not-utf8", "This wordbook is not UTF-8 text.", "Save it as UTF-8.", Place(str(path))
            ) from None
        try:
            good_wordbook(text, rig)
        except ProgramError as problem:
            raise InputError(problem.code, str(problem), problem.remedy, Place(str(path))) from None
        texts.append(text)
    return texts


def write(path: Path, text: str) -> None:
    """Writes a file whole or not at all."""
    part = path.with_name(path.name + ".part")
    try:
        part.write_text(text, encoding="utf-8", newline="\n")
        os.replace(part, path)
    except OSError as problem:
        message = f"The file cannot be written: {problem.strerror}."
        raise InputError("cannot-write", message, place=Place(str(path))) from None
