"""The command that writes a behaviour in a class's language."""

from __future__ import annotations

import argparse
import sys

from geduld.cli.files import library_beside, program_bytes, wordbooks
from geduld.cli.printing import DONE, PROGRAM_ERRORS, print_hints
from geduld.rig.reader import read_rig
from geduld.translation.steps import NOT_SAID
from geduld.translation.translate import translate
from geduld.wordbook.binder import good_wordbook


def translate_(options: argparse.Namespace) -> int:
    """Prints the program; what the words cannot say goes to the standard error, and then the exit code is 1."""
    options.program_name = options.behaviour.name
    rig = read_rig(options.rig)
    (words,) = wordbooks([options.words], rig)
    library = library_beside(options.behaviour, options.library)
    translated = translate(program_bytes(options.behaviour), rig, good_wordbook(words, rig), library)
    print(translated.text, end="")
    print_hints(translated.left_out, options.behaviour.name, sys.stderr)
    return PROGRAM_ERRORS if any(hint.code == NOT_SAID for hint in translated.left_out) else DONE
