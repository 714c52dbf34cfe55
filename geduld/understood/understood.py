"""What Geduld understood of a student's program, in the notation's words: for the teacher to check the reading."""

from __future__ import annotations

from geduld.readers.c.program import CProgram
from geduld.readers.files import SourceFile
from geduld.readers.python.program import PythonProgram
from geduld.run.program.program import Program
from geduld.understood.c import c_aloud
from geduld.understood.page import Line
from geduld.understood.python import python_aloud


def understood(program: Program) -> tuple[Line, ...]:
    """A program without errors, read aloud. A text of the notation says itself what it means: nothing is said of it."""
    if not program.good:
        return ()
    try:
        if isinstance(program, PythonProgram):
            return _with_files(python_aloud(program), program.files)
        if isinstance(program, CProgram):
            return _with_files(c_aloud(program), program.files)
    except RecursionError:
        return (Line(1, 0, "This program nests its expressions deeper than can be read aloud."),)
    return ()


def _with_files(lines: tuple[Line, ...], files: list[SourceFile]) -> tuple[Line, ...]:
    """With a line in front of what stands in another file than the line above."""
    if len(files) == 1:
        return lines
    told: list[Line] = []
    current = None
    for line in lines:
        file = next((item for item in reversed(files) if item.first <= line.line), files[0])
        if file is not current:
            told.append(Line(file.first - 1, 0, f"In {file.name}"))
            current = file
        told.append(line)
    return tuple(told)
