"""The commands about a program's text: hints, format."""

from __future__ import annotations

import argparse
import json

from geduld.cli.files import library_beside, program_at, program_bytes, wordbooks, write
from geduld.cli.printing import DONE, PROGRAM_ERRORS, print_hints
from geduld.cli.worlds import world_of
from geduld.errors import ProgramError
from geduld.hints.about import hints_in_a_world
from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.readers.reading import good_program_in, read_program
from geduld.rig.reader import read_rig
from geduld.understood.understood import understood
from geduld.wordbook.binder import read_wordbook
from geduld.wordbook.printing import format_wordbook
from geduld.wordbook.reading import is_wordbook, parse_wordbook


def hints(options: argparse.Namespace) -> int:
    """Says what is wrong or risky in a program, and in a world that is named."""
    rig = read_rig(options.rig)
    text, language = program_at(options.program, options.begins)
    library = library_beside(options.program, options.library)
    world = world_of(options, rig)
    if is_wordbook(text):
        found = read_wordbook(text.decode("utf-8-sig", "replace"), rig).hints
    else:
        program = read_program(text, rig, language, library, wordbooks(options.words, rig))
        found = hints_in_a_world(program, world) if world else program.hints
    if options.json:
        print(json.dumps({"hints": [hint.as_json() for hint in found]}, indent=2, ensure_ascii=False))
    else:
        print_hints(found, options.program.name, text=text)
    return PROGRAM_ERRORS if any(hint.level == "error" for hint in found) else DONE


def understood_(options: argparse.Namespace) -> int:
    """Says a student's program in the notation's words, with the student's line in front of each."""
    options.program_name = options.program.name
    rig = read_rig(options.rig)
    options.program_text, language = program_at(options.program, options.begins)
    program = good_program_in(options.program_text, rig, language, None, wordbooks(options.words, rig))
    for line in understood(program):
        print(f"{line.line:4d}  {'    ' * line.level}{line.text}")
    return DONE


def _formatted(data: bytes) -> str:
    parsed = parse(data)
    if not parsed.good:
        raise ProgramError([hint for hint in parsed.hints if hint.level == "error"])
    return format_plan(parsed.tree)


def _formatted_wordbook(data: bytes) -> str:
    parsed = parse_wordbook(data)
    if not parsed.good:
        raise ProgramError([hint for hint in parsed.hints if hint.level == "error"])
    return format_wordbook(parsed.tree)


def format_(options: argparse.Namespace) -> int:
    """Brings a program into its standard form, or says that it is not."""
    options.program_name = options.program.name
    data = program_bytes(options.program)
    text = _formatted_wordbook(data) if is_wordbook(data) else _formatted(data)
    if text.encode() == data:
        return DONE
    if options.check:
        print(f"{options.program}: not in its standard form")
        return PROGRAM_ERRORS
    write(options.program, text)
    return DONE
