"""The command line: reads the arguments, calls the core, prints, and chooses the exit code."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Sequence
from importlib import import_module
from pathlib import Path

from geduld.cli.printing import DONE, PROGRAM_ERRORS, UNREADABLE, print_hints
from geduld.errors import InputError, ProgramError

_LIBRARY = "the folder of libraries it may include (default: library, beside the program)"

_WORDS = "a wordbook: what the words of a Python or C program mean (may be given several times)"


def main(arguments: Sequence[str] | None = None) -> int:
    """Runs one command and returns its exit code."""
    options = _parser().parse_args(arguments)
    try:
        module, function = options.command
        code: int = getattr(import_module(module), function)(options)
        sys.stdout.flush()
        return code
    except BrokenPipeError:
        # who read the output stopped reading, as `head` does; files are written before anything is printed
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return DONE
    except ProgramError as problem:
        print_hints(problem.hints, options.program_name, text=options.program_text)
        return PROGRAM_ERRORS
    except InputError as problem:
        print(str(problem).replace("\n", " "), file=sys.stderr)
        return UNREADABLE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="python -m geduld", description="Robot behaviours: run, check and grade.")
    commands = parser.add_subparsers(title="commands", required=True)

    def command(name: str, module: str, function: str, summary: str) -> argparse.ArgumentParser:
        # a command's module is loaded when it is asked for: a run needs nothing of what grading needs
        sub = commands.add_parser(name, help=summary, description=summary)
        sub.set_defaults(command=(f"geduld.cli.{module}", function), program_name="", program_text=b"")
        return sub

    hints = command("hints", "programs", "hints", "Say what is wrong or risky in a program.")
    _program_arguments(hints)
    hints.add_argument("--rig", type=Path, required=True)
    _world_options(hints, "say also what is risky on this", required=False)
    hints.add_argument("--json", action="store_true", help="print the hints as JSON")

    aloud = command("understood", "programs", "understood_", "Say what a student's program was understood as.")
    _program_arguments(aloud)
    aloud.add_argument("--rig", type=Path, required=True)
    _words_option(aloud)

    form = command("format", "programs", "format_", "Bring a program into its standard form.")
    form.add_argument("program", type=Path)
    form.add_argument("--check", action="store_true", help="change nothing; exit with 1 if it would change")

    translate = command("translate", "translating", "translate_", "Write a behaviour in a class's language.")
    translate.add_argument("behaviour", type=Path)
    translate.add_argument("--rig", type=Path, required=True)
    translate.add_argument("--words", type=Path, required=True, metavar="W.geduld", help="the class's wordbook")
    translate.add_argument("--library", type=Path, metavar="DIR", help=_LIBRARY)

    run = command("run", "running", "run", "Run a program on a trace or on a floor.")
    _program_arguments(run)
    run.add_argument("--rig", type=Path, required=True)
    _world_options(run, "run it on this", required=True)
    run.add_argument("--record", type=Path, metavar="R.json", help="write the record")
    run.add_argument("--channels", type=Path, metavar="C.csv", help="write readings and commands as CSV")

    _recording_commands(command)
    _marking_commands(command)
    return parser


Command = Callable[[str, str, str, str], argparse.ArgumentParser]


def _recording_commands(command: Command) -> None:
    """The commands about recordings from elsewhere."""
    taken = command("import", "importing", "import_", "Read a recording as robots and their tools write them.")
    taken.add_argument("recording", type=Path)
    taken.add_argument("--rig", type=Path, required=True)
    taken.add_argument("--recipe", type=Path, metavar="R.json", help="how it is read (default: it is found out)")
    taken.add_argument("--bad-rows", choices=["stop", "drop"], help="what becomes of rows that cannot be read")
    taken.add_argument("--rate", type=_rate, metavar="HZ", help="rows a second, where no column is a time")
    taken.add_argument("--trace", type=Path, metavar="T.csv", help="write the trace")
    taken.add_argument("--save-recipe", type=Path, metavar="R.json", help="write how it was read")

    swept = command("sweep", "importing", "sweep", "Say how a motor answers its power, from a recording of it.")
    swept.add_argument("trace", type=Path, metavar="T.csv", help="what it was told, and how far it turned")
    swept.add_argument("--rig", type=Path, required=True)
    swept.add_argument("--motor", required=True)


def _marking_commands(command: Command) -> None:
    """The commands that judge."""
    check = command("check", "marking", "check", "Judge checks on a record, or on a robot's recording.")
    check.add_argument("checks", type=Path)
    judged = check.add_mutually_exclusive_group(required=True)
    judged.add_argument("--record", type=Path, metavar="R.json", help="the record of a run")
    judged.add_argument("--trace", type=Path, metavar="T.csv", help="what a robot read, and what its motors did")
    check.add_argument("--rig", type=Path, help="the rig of the trace")
    _impossible_option(check)
    check.add_argument("--reference", type=Path, metavar="R2.json", help="the reference's record in the same world")
    check.add_argument("--json", action="store_true", help="print the verdicts as JSON")

    grade = command("grade", "marking", "grade", "Grade a folder of hand-ins.")
    grade.add_argument("exercise", type=Path, metavar="EXERCISE", help="its folder, or a zip of it")
    grade.add_argument("hand_ins", type=Path, metavar="HANDINS_DIR")
    grade.add_argument("--marks", type=Path, required=True, metavar="M.csv")
    grade.add_argument("--report", type=Path, metavar="M.json")
    grade.add_argument("--results", type=Path, metavar="R.csv", help="write the points for a school's register")
    grade.add_argument("--received", type=Path, metavar="T.csv", help="when each hand-in came: hand_in,received")
    grade.add_argument("--begins", default="", metavar="FILE", help="with this file programs of several files begin")
    _words_option(grade)
    grade.add_argument("--workers", type=int, metavar="N", help="processes to grade in (default: as the work is worth)")
    grade.add_argument(
        "--scheduler",
        metavar="ADDRESS",
        default=os.environ.get("GEDULD_SCHEDULER", ""),
        help="grade on the Dask cluster there (default: what GEDULD_SCHEDULER says)",
    )

    proof = command(
        "prove", "marking", "prove", "Proofread an exercise: plant the usual mistakes, and see which go unnoticed."
    )
    proof.add_argument("exercise", type=Path, metavar="EXERCISE", help="its folder, or a zip of it")
    _words_option(proof)
    proof.add_argument("--json", action="store_true", help="print the proof as JSON")


def _program_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("program", type=Path, help="a file; or a folder or zip of a program of several files")
    parser.add_argument("--begins", default="", metavar="FILE", help="with this of several files the program begins")


def _words_option(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--words", type=Path, action="append", default=[], metavar="W.geduld", help=_WORDS)


def _impossible_option(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--impossible", choices=["keep", "drop"], default="keep", help="what becomes of a trace's values that cannot be"
    )


def _world_options(parser: argparse.ArgumentParser, what: str, required: bool) -> None:
    """The options of every command that looks at a program in a world: the same for all, so that they speak of one."""
    world = parser.add_mutually_exclusive_group(required=required)
    world.add_argument("--trace", type=Path, metavar="T.csv", help=f"{what} trace")
    world.add_argument("--floor", type=Path, metavar="F.json", help=f"{what} floor")
    world.add_argument("--lasts", type=_seconds, metavar="SECONDS", help=f"{what} world of nothing but time")
    parser.add_argument("--follow", choices=["time", "travel"], default="time", help="what the trace's readings follow")
    _impossible_option(parser)
    parser.add_argument("--limit", type=_seconds, metavar="SECONDS", help="end the run after this time (a floor: 60 s)")
    parser.add_argument("--library", type=Path, metavar="DIR", help=_LIBRARY)
    _words_option(parser)
    parser.add_argument("--inputs", type=Path, metavar="I.csv", help="what hands do during the run")
    parser.add_argument("--start", metavar="MARK", help="start at this mark of the floor")
    parser.add_argument("--fault", action="append", default=[], metavar="PHRASE", help="what is wrong with the robot")
    parser.add_argument("--seed", type=_seed, metavar="N", help="let the floor's sensors be noisy, by this seed")


def _seed(text: str) -> int:
    value = int(text)
    if not 0 <= value < 2**32:
        raise argparse.ArgumentTypeError("a whole number from 0 to 4294967295 was expected")
    return value


def _rate(text: str) -> float:
    value = float(text)
    if not 0 < value <= 1e6:
        raise argparse.ArgumentTypeError("a rate in Hz above 0 was expected")
    return value


def _seconds(text: str) -> float:
    value = float(text)
    if not 0 < value < 1e6:
        raise argparse.ArgumentTypeError("a time in seconds above 0 was expected")
    return value
