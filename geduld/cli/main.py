"""The command line: reads the arguments, calls the core, prints, and chooses the exit code."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from geduld.checks.judge import judge_all
from geduld.cli.files import library_beside, program_bytes, write
from geduld.errors import InputError, Place, ProgramError
from geduld.grading.exercise import good_checks, read_exercise, runner_for
from geduld.grading.folders import marks_csv, marks_json, read_hand_ins
from geduld.grading.grade import grade_all
from geduld.hints.about import hints_on_a_trace, program_hints
from geduld.language.formatter import format_plan
from geduld.language.messages import Hint
from geduld.language.parser import parse
from geduld.language.quantities import microseconds, show
from geduld.rig.reader import read_rig
from geduld.run.record_csv import channels_csv
from geduld.run.record_json import record_from_text, record_to_json
from geduld.worlds.trace_csv import read_trace

_LIBRARY = "the folder of libraries it may include (default: library, beside the program)"
DONE, PROGRAM_ERRORS, UNREADABLE, LIMIT = 0, 1, 2, 3


def main(arguments: Sequence[str] | None = None) -> int:
    """Runs one command and returns its exit code."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.command(options)
        return code
    except ProgramError as problem:
        _print_hints(problem.hints, options.program_name)
        return PROGRAM_ERRORS
    except InputError as problem:
        print(str(problem).replace("\n", " "), file=sys.stderr)
        return UNREADABLE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="python -m geduld", description="Robot behaviours: run, check and grade.")
    commands = parser.add_subparsers(title="commands", required=True)

    def command(name: str, run: Any, summary: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=summary, description=summary)
        sub.set_defaults(command=run, program_name="")
        return sub

    hints = command("hints", _hints, "Say what is wrong or risky in a program.")
    hints.add_argument("program", type=Path)
    hints.add_argument("--rig", type=Path, required=True)
    hints.add_argument("--trace", type=Path, help="say also what is risky on this trace")
    hints.add_argument("--library", type=Path, metavar="DIR", help=_LIBRARY)
    hints.add_argument("--json", action="store_true", help="print the hints as JSON")

    form = command("format", _format, "Bring a program into its standard form.")
    form.add_argument("program", type=Path)
    form.add_argument("--check", action="store_true", help="change nothing; exit with 1 if it would change")

    run = command("run", _run, "Run a program on a trace.")
    run.add_argument("program", type=Path)
    run.add_argument("--rig", type=Path, required=True)
    run.add_argument("--trace", type=Path, required=True)
    run.add_argument("--follow", choices=["time"], default="time", help="what the trace's readings follow")
    run.add_argument("--library", type=Path, metavar="DIR", help=_LIBRARY)
    run.add_argument("--limit", type=_seconds, metavar="SECONDS", help="end the run after this time")
    run.add_argument("--record", type=Path, metavar="R.json", help="write the record")
    run.add_argument("--channels", type=Path, metavar="C.csv", help="write readings and commands as CSV")

    check = command("check", _check, "Judge checks on a record.")
    check.add_argument("checks", type=Path)
    check.add_argument("--record", type=Path, required=True)
    check.add_argument("--json", action="store_true", help="print the verdicts as JSON")

    grade = command("grade", _grade, "Grade a folder of hand-ins.")
    grade.add_argument("exercise", type=Path, metavar="EXERCISE_DIR")
    grade.add_argument("hand_ins", type=Path, metavar="HANDINS_DIR")
    grade.add_argument("--marks", type=Path, required=True, metavar="M.csv")
    grade.add_argument("--report", type=Path, metavar="M.json")
    grade.add_argument("--workers", type=int, default=1, metavar="N", help="processes to grade in (default 1)")
    return parser


def _seconds(text: str) -> float:
    value = float(text)
    if not 0 < value < 1e6:
        raise argparse.ArgumentTypeError("a time in seconds above 0 was expected")
    return value


def _hints(options: argparse.Namespace) -> int:
    rig = read_rig(options.rig)
    text = program_bytes(options.program)
    library = library_beside(options.program, options.library)
    if options.trace:
        hints = hints_on_a_trace(text, rig, read_trace(options.trace, rig), library)
    else:
        hints = program_hints(text, rig, library)[1]
    if options.json:
        print(json.dumps({"hints": [hint.as_json() for hint in hints]}, indent=2, ensure_ascii=False))
    else:
        _print_hints(hints, options.program.name)
    return PROGRAM_ERRORS if any(hint.level == "error" for hint in hints) else DONE


def _print_hints(hints: Sequence[Hint], name: str) -> None:
    for hint in hints:
        place = f"{name}:{hint.line}:{hint.column}" if name else f"line {hint.line}, column {hint.column}"
        print(f"{place}: {hint.level} {hint.code}: {hint.message} {hint.remedy}")


def _format(options: argparse.Namespace) -> int:
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


def _run(options: argparse.Namespace) -> int:
    options.program_name = options.program.name
    rig = read_rig(options.rig)
    data = program_bytes(options.program)
    runner = runner_for(data, rig, library_beside(options.program, options.library))
    trace = read_trace(options.trace, rig)
    limit = microseconds(options.limit) if options.limit else None
    record = runner.run(trace, limit, data.decode("utf-8-sig"))
    if options.record:
        write(options.record, json.dumps(record_to_json(record)) + "\n")
    if options.channels:
        write(options.channels, channels_csv(record))
    if record.hit_limit:
        print(record.events[-1].text, file=sys.stderr)
        return LIMIT
    said = f' "{record.said}"' if record.said else ""
    what = "finished" if record.why == "finished" else "was still running when the world ended"
    ended, lasted = show(record.ended_at / 1e6, "s"), show(record.lasted / 1e6, "s")
    print(f"The program {what}{said} at {ended}; the run lasted {lasted}.")
    return DONE


def _check(options: argparse.Namespace) -> int:
    options.program_name = options.checks.name
    try:
        record = record_from_text(options.record.read_bytes())
    except OSError as problem:
        message = f"The record cannot be opened: {problem.strerror}."
        raise InputError("cannot-open", message, place=Place(str(options.record))) from None
    except InputError as problem:
        raise problem.in_file(options.record.name) from None
    checks = good_checks(program_bytes(options.checks), record.rig)
    verdicts = judge_all(checks.checks, record)
    if options.json:
        print(json.dumps({"checks": [verdict.as_json() for verdict in verdicts]}, indent=2, ensure_ascii=False))
        return DONE
    for verdict in verdicts:
        print(f"{verdict.verdict:13} {show(verdict.points)} of {show(verdict.of)}  {verdict.title}. {verdict.because}")
    return DONE


def _grade(options: argparse.Namespace) -> int:
    exercise = read_exercise(options.exercise)
    graded = grade_all(exercise, read_hand_ins(options.hand_ins), options.workers)
    write(options.marks, marks_csv(graded))
    if options.report:
        write(options.report, json.dumps(marks_json(graded), indent=2, ensure_ascii=False) + "\n")
    for result in graded:
        of = sum(mark.of for mark in result.totals)
        print(f"{show(result.points, places=2)} of {show(of)}  {result.name}  {result.problem}".rstrip())
    return DONE
