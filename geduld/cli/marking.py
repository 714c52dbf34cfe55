"""The commands about marks: check, grade, prove."""

from __future__ import annotations

import argparse
import json
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

from geduld.checks.judge import judge_all
from geduld.cli.files import program_bytes, wordbooks, write
from geduld.cli.printing import DONE, PROGRAM_ERRORS
from geduld.cli.worlds import trace_of
from geduld.errors import InputError
from geduld.grading.exercise import Exercise, good_checks, read_exercise
from geduld.grading.folders import marks_csv, marks_json, points_of, read_hand_ins, read_received
from geduld.grading.kept import KeptMarks
from geduld.grading.parcel.zipped import opened
from geduld.grading.proofreading import prove as proofread
from geduld.grading.resume import grade_with
from geduld.grading.roster import Result, results_csv
from geduld.language.quantities import show
from geduld.rig.reader import read_rig
from geduld.rig.values import Values
from geduld.run.record.as_json import record_from_text
from geduld.run.record.record import Record, recorded


def check(options: argparse.Namespace) -> int:
    """Judges checks on a record, or on what a robot did as its recording has it."""
    options.program_name = options.checks.name
    record = _recording(options) if options.trace else _record(options.record)
    reference = _record(options.reference) if options.reference else None
    checks = good_checks(program_bytes(options.checks), record.rig)
    verdicts = judge_all(checks.checks, record, reference)
    if options.json:
        print(json.dumps({"checks": [verdict.as_json() for verdict in verdicts]}, indent=2, ensure_ascii=False))
        return DONE
    for verdict in verdicts:
        print(f"{verdict.verdict:13} {show(verdict.points)} of {show(verdict.of)}  {verdict.title}. {verdict.because}")
    return DONE


def prove(options: argparse.Namespace) -> int:
    """Proofreads an exercise and prints what came of each mistake."""
    proof = proofread(_exercise(options))
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


def grade(options: argparse.Namespace) -> int:
    """Grades a folder of hand-ins and writes their marks."""
    exercise = _exercise(options)
    received = read_received(options.received) if options.received else {}
    kept = KeptMarks(options.marks.with_name(options.marks.name + ".kept"))
    graded = grade_with(
        kept, exercise, read_hand_ins(options.hand_ins, options.begins), options.workers, options.scheduler
    )
    points = [points_of(result, received, exercise.rules) for result in graded]
    write(options.marks, marks_csv(graded))
    if options.report:
        report = marks_json(graded, exercise.rules, received)
        write(options.report, json.dumps(report, indent=2, ensure_ascii=False) + "\n")
    if options.results:
        item, now = options.exercise.resolve().name.removesuffix(".zip"), datetime.now(UTC)
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


def _exercise(options: argparse.Namespace) -> Exercise:
    """The exercise of a folder or of a zip, with the wordbooks that are named beside its own."""
    with opened(options.exercise) as folder:
        exercise = read_exercise(folder)
    return replace(exercise, words=(*exercise.words, *wordbooks(options.words, exercise.rig)))


def _recording(options: argparse.Namespace) -> Record:
    if not options.rig:
        raise InputError("no-rig", "The parts of a trace are those of a rig.", "Name it: --rig RIG.json")
    rig = read_rig(options.rig)
    return recorded(trace_of(options, rig), rig)


def _record(path: Path) -> Record:
    return Values(InputError, "record").file(path, record_from_text)
