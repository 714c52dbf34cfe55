"""What Geduld understood of a student's program, in the notation's words: for the teacher to check the reading."""

from __future__ import annotations

from geduld.readers.c.program import CProgram
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
            return python_aloud(program)
        if isinstance(program, CProgram):
            return c_aloud(program)
    except RecursionError:
        return (Line(1, 0, "This program nests its expressions deeper than can be read aloud."),)
    return ()
