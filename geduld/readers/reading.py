"""Which language a program is in, and what reads it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import PurePath

from geduld.binding.library import Library
from geduld.errors import ProgramError
from geduld.readers.notation import NotationProgram
from geduld.rig.model import Rig
from geduld.run.program.program import Program

NOTATION, PYTHON, C = "notation", "python", "c"
LANGUAGES = (NOTATION, PYTHON, C)
ENDINGS = {
    ".geduld": NOTATION,
    ".py": PYTHON,
    ".c": C,
    ".cc": C,
    ".cpp": C,
    ".cxx": C,
    ".h": C,
    ".hpp": C,
}
# What may be mended without the student: by a word more in the wordbook, or by Geduld itself.
NOT_READ = ("not-read", "too-deep", "unknown-import", "unknown-module", "unknown-word", "begins-unclear", "no-program")


def language_of(name: str) -> str:
    """The language of a file by its ending; the notation where it has none that is known."""
    return ENDINGS.get(PurePath(name).suffix.lower(), NOTATION)


def read_program(
    text: str | bytes,
    rig: Rig,
    language: str = NOTATION,
    library: Library | None = None,
    words: Sequence[str] = (),
) -> Program:
    """A program as it can be run, judged and shown.

    `library` is what a text in the notation may include, `words` are the wordbooks of the class.
    """
    # A reader of another language is loaded when one is asked for: a command about the notation starts sooner.
    if language == PYTHON:
        from geduld.readers.python.program import PythonProgram

        return PythonProgram(text, rig, words)
    if language == C:
        from geduld.readers.c.program import CProgram

        return CProgram(text, rig, words)
    return NotationProgram(text, rig, library)


def good_program_in(
    text: str | bytes,
    rig: Rig,
    language: str = NOTATION,
    library: Library | None = None,
    words: Sequence[str] = (),
) -> Program:
    """A program that can be run. Raises ProgramError with every error when it cannot."""
    program = read_program(text, rig, language, library, words)
    if not program.good:
        raise ProgramError(list(program.errors))
    return program


def things_not_read(problem: ProgramError) -> tuple[str, ...]:
    """What Geduld does not read in a program, each once."""
    return tuple(dict.fromkeys(hint.message for hint in problem.hints if hint.code in NOT_READ))


def was_not_read(problem: ProgramError) -> bool:
    """Whether a program cannot be run because Geduld does not read it, and not by its student's mistake."""
    return any(hint.code in NOT_READ for hint in problem.hints)
