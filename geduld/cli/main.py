"""The command line: reads the arguments, calls the core, prints, and chooses the exit code."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from geduld.checks.judge import judge_all
from geduld.cli.files import library_beside, program_bytes, write
from geduld.errors import InputError, Place, ProgramError
from geduld.grading.exercise import good_checks, read_exercise, runner_for
from geduld.grading.folders import marks_csv, marks_json, points_of, read_hand_ins, read_received
from geduld.grading.kept import KeptMarks
from geduld.grading.proofreading import prove
from geduld.grading.resume import grade_with
from geduld.grading.roster import Result, results_csv
from geduld.hints.about import hints_in_a_world, program_hints
from geduld.language.formatter import format_plan
from geduld.language.messages import Hint
from geduld.language.parser import parse
from geduld.language.quantities import microseconds, show
from geduld.rig.model import Rig
from geduld.rig.reader import read_rig
from geduld.run.record import Record
from geduld.run.record_csv import channels_csv
from geduld.run.record_json import record_from_text, record_to_json
from geduld.run.world import FloorWorld, TraceWorld, TravelWorld, World
from geduld.worlds.floor.reader import read_floor
from geduld.worlds.inputs import Inputs, read_inputs
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
    _world_options(hints, "say also what is risky on this", required=False)
    hints.add_argument("--json", action="store_true", help="print the hints as JSON")

    form = command("format", _format, "Bring a program into its standard form.")
    form.add_argument("program", type=Path)
    form.add_argument("--check", action="store_true", help="change nothing; exit with 1 if it would change")

    run = command("run", _run, "Run a program on a trace or on a floor.")
    run.add_argument("program", type=Path)
    run.add_argument("--rig", type=Path, required=True)
    _world_options(run, "run it on this", required=True)
    run.add_argument("--record", type=Path, metavar="R.json", help="write the record")
    run.add_argument("--channels", type=Path, metavar="C.csv", help="write readings and commands as CSV")

    check = command("check", _check, "Judge checks on a record.")
    check.add_argument("checks", type=Path)
    check.add_argument("--record", type=Path, required=True)
    check.add_argument("--reference", type=Path, metavar="R2.json", help="the reference's record in the same world")
    check.add_argument("--json", action="store_true", help="print the verdicts as JSON")

    grade = command("grade", _grade, "Grade a folder of hand-ins.")
    grade.add_argument("exercise", type=Path, metavar="EXERCISE_DIR")
    grade.add_argument("hand_ins", type=Path, metavar="HANDINS_DIR")
    grade.add_argument("--marks", type=Path, required=True, metavar="M.csv")
    grade.add_argument("--report", type=Path, metavar="M.json")
    grade.add_argument("--results", type=Path, metavar="R.csv", help="write the points for a school's register")
    grade.add_argument("--received", type=Path, metavar="T.csv", help="when each hand-in came: hand_in,received")
    grade.add_argument("--workers", type=int, metavar="N", help="processes to grade in (default: as the work is worth)")
    grade.add_argument(
        "--scheduler",
        metavar="ADDRESS",
        default=os.environ.get("GEDULD_SCHEDULER", ""),
        help="grade on the Dask cluster there (default: what GEDULD_SCHEDULER says)",
    )

    proof = command("prove", _prove, "Proofread an exercise: plant the usual mistakes, and see which go unnoticed.")
    proof.add_argument("exercise", type=Path, metavar="EXERCISE_DIR")
    proof.add_argument("--json", action="store_true", help="print the proof as JSON")
    return parser


def _world_options(parser: argparse.ArgumentParser, what: str, required: bool) -> None:
    """The options of every command that looks at a program in a world: the same for all, so that they speak of one."""
    world = parser.add_mutually_exclusive_group(required=required)
    world.add_argument("--trace", type=Path, metavar="T.csv", help=f"{what} trace")
    world.add_argument("--floor", type=Path, metavar="F.json", help=f"{what} floor")
    parser.add_argument("--follow", choices=["time", "travel"], default="time", help="what the trace's readings follow")
    parser.add_argument("--limit", type=_seconds, metavar="SECONDS", help="end the run after this time (a floor: 60 s)")
    parser.add_argument("--library", type=Path, metavar="DIR", help=_LIBRARY)
    parser.add_argument("--inputs", type=Path, metavar="I.csv", help="what hands do during the run")
    parser.add_argument("--start", metavar="MARK", help="start at this mark of the floor")
    parser.add_argument("--seed", type=_seed, metavar="N", help="let the floor's sensors be noisy, by this seed")


def _seed(text: str) -> int:
    value = int(text)
    if not 0 <= value < 2**32:
        raise argparse.ArgumentTypeError("a whole number from 0 to 4294967295 was expected")
    return value


def _seconds(text: str) -> float:
    value = float(text)
    if not 0 < value < 1e6:
        raise argparse.ArgumentTypeError("a time in seconds above 0 was expected")
    return value


def _hints(options: argparse.Namespace) -> int:
    rig = read_rig(options.rig)
    text = program_bytes(options.program)
    library = library_beside(options.program, options.library)
    world = _world(options, rig)
    if world:
        hints = hints_in_a_world(text, rig, world, library)
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
    world = _world(options, rig)
    assert world is not None  # the parser asks for one
    record, _ = world.run(runner, data.decode("utf-8-sig"))
    if options.record:
        write(options.record, json.dumps(record_to_json(record)) + "\n")
    if options.channels:
        write(options.channels, channels_csv(record))
    if record.hit_limit:
        print(record.events[-1].text, file=sys.stderr)
        return LIMIT
    said = f' "{record.said}"' if record.said else ""
    what = {"finished": "finished", "stopped": "was stopped by hand"}.get(record.why, "was still running")
    ended, lasted = show(record.ended_at / 1e6, "s"), show(record.lasted / 1e6, "s")
    print(f"The program {what}{said} at {ended}; the run lasted {lasted}.")
    return DONE


_OF_A_FLOOR, _OF_A_TRACE, _OF_A_WORLD = ("start", "seed"), ("follow",), ("inputs", "limit")


def _world(options: argparse.Namespace, rig: Rig) -> World | None:
    """The trace or the floor that the options name, with what hands do; None where they name none.

    Raises InputError for an option that the world named, or none, has no use for.
    """
    wrong: tuple[str, ...] = _OF_A_TRACE if options.floor else _OF_A_FLOOR
    wrong += () if options.trace or options.floor else (*_OF_A_TRACE, *_OF_A_WORLD)
    for name in wrong:
        if getattr(options, name) not in (None, "time"):
            needed = "--trace" if name == "follow" else "--floor" if name in _OF_A_FLOOR else "--trace or --floor"
            message = f"--{name} has no meaning without {needed}."
            raise InputError("no-such-world", message, "Name one, or leave it out.")
    if not options.trace and not options.floor:
        return None
    limit = microseconds(options.limit) if options.limit else None
    floor = read_floor(options.floor) if options.floor else None
    things = [thing.name for thing in floor.movable] if floor else []
    inputs = read_inputs(options.inputs, rig, things) if options.inputs else Inputs()
    if floor:
        floor = floor.started_from(options.start) if options.start else floor
        return FloorWorld(floor, rig, inputs, options.seed, limit)
    kind = TravelWorld if options.follow == "travel" else TraceWorld
    return kind(read_trace(options.trace, rig), rig, inputs, limit)


def _check(options: argparse.Namespace) -> int:
    options.program_name = options.checks.name
    record = _record(options.record)
    reference = _record(options.reference) if options.reference else None
    checks = good_checks(program_bytes(options.checks), record.rig)
    verdicts = judge_all(checks.checks, record, reference)
    if options.json:
        print(json.dumps({"checks": [verdict.as_json() for verdict in verdicts]}, indent=2, ensure_ascii=False))
        return DONE
    for verdict in verdicts:
        print(f"{verdict.verdict:13} {show(verdict.points)} of {show(verdict.of)}  {verdict.title}. {verdict.because}")
    return DONE


def _record(path: Path) -> Record:
    try:
        return record_from_text(path.read_bytes())
    except OSError as problem:
        message = f"The record cannot be opened: {problem.strerror}."
        raise InputError("cannot-open", message, place=Place(str(path))) from None
    except InputError as problem:
        raise problem.in_file(path.name) from None


def _prove(options: argparse.Namespace) -> int:
    proof = prove(read_exercise(options.exercise))
    if options.json:
        print(json.dumps(proof.as_json(), indent=2, ensure_ascii=False))
        return DONE if proof.proves else PROGRAM_ERRORS
    for mark in proof.reference.totals:
        print(f"reference  {mark.verdict:13} {mark.check}. {mark.because}")
    for item in proof.planted:
        by = f" by {', '.join(item.caught_by)}" if item.caught_by else ""
        print(f"{item.outcome:10} {item.mistake.kind}, line {item.mistake.line}: {item.mistake.what}{by}")
    for hidden in proof.hidden:
        print(f"hidden     {hidden.kind}, line {hidden.line}: {hidden.what}; it changes nothing in these cases")
    for left in proof.left_out:
        print(f"left out   {left.kind}, line {left.line}: {left.what}; {left.why}")
    if proof.no_place:
        print(f"no place   for {', '.join(proof.no_place)}: the reference has nothing of the kind")
    for rewritten in proof.rewritten:
        lost = "; ".join(f"{mark.check}: {mark.because}" for mark in rewritten.lost)
        print(f"rewrite    {rewritten.what}: {lost or 'full marks'}")
    print(f"{proof.score:.0%} caught. {proof.sentence}")
    return DONE if proof.proves else PROGRAM_ERRORS


def _grade(options: argparse.Namespace) -> int:
    exercise = read_exercise(options.exercise)
    received = read_received(options.received) if options.received else {}
    kept = KeptMarks(options.marks.with_name(options.marks.name + ".kept"))
    graded = grade_with(kept, exercise, read_hand_ins(options.hand_ins), options.workers, options.scheduler)
    points = [points_of(result, received, exercise.rules) for result in graded]
    write(options.marks, marks_csv(graded))
    if options.report:
        report = marks_json(graded, exercise.rules, received)
        write(options.report, json.dumps(report, indent=2, ensure_ascii=False) + "\n")
    if options.results:
        item, now = options.exercise.resolve().name, datetime.now(UTC)
        pairs = zip(graded, points, strict=True)
        rows = [
            Result(f"{item}-{g.name}", item, g.name, p.counting, now, g.problem or p.because)
            for g, p in pairs
            if not g.failed
        ]
        write(options.results, results_csv(rows))
    for result, counting in zip(graded, points, strict=True):
        said = f"{result.problem} {counting.because}".strip()
        of = sum(mark.of for mark in result.totals)
        if result.failed:
            print(f"not graded  {result.name}  {result.problem}")
            continue
        print(f"{show(counting.counting, places=2)} of {show(of)}  {result.name}  {said}".rstrip())
    return DONE
