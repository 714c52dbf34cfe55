"""The commands about a program's text: hints, format."""

from __future__ import annotations

import argparse
import json

from geduld.cli.files import library_beside, program_bytes, write
from geduld.cli.printing import DONE, PROGRAM_ERRORS, print_hints
from geduld.cli.worlds import world_of
from geduld.errors import ProgramError
from geduld.hints.about import hints_in_a_world
from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.readers.notation import NotationProgram
from geduld.rig.reader import read_rig


def hints(options: argparse.Namespace) -> int:
    """Says what is wrong or risky in a program, and in a world that is named."""
    rig = read_rig(options.rig)
    text = program_bytes(options.program)
    library = library_beside(options.program, options.library)
    world = world_of(options, rig)
    program = NotationProgram(text, rig, library)
    found = hints_in_a_world(program, world) if world else program.hints
    if options.json:
        print(json.dumps({"hints": [hint.as_json() for hint in found]}, indent=2, ensure_ascii=False))
    else:
        print_hints(found, options.program.name)
    return PROGRAM_ERRORS if any(hint.level == "error" for hint in found) else DONE


def format_(options: argparse.Namespace) -> int:
    """Brings a program into its standard form, or says that it is not."""
    options.program_name = options.program.name
    data = program_bytes(options.program)
    parsed = parse(data)
    if not parsed.good:
        raise ProgramError([hint for hint in parsed.hints if hint.level == "error"])
    text = format_plan(parsed.tree)
    if text.encode() == data:
        return DONE
    if options.check:
        print(f"{options.program}: not in its standard form")
        return PROGRAM_ERRORS
    write(options.program, text)
    return DONE
