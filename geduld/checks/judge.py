"""Judges checks on a record."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from geduld.checks.bound import BoundCheck
from geduld.checks.patterns import PATTERNS
from geduld.checks.verdicts import FAIL, PART, Verdict, gather
from geduld.language.quantities import show
from geduld.run.program.program import Facts, Program
from geduld.run.record.record import Record


def facts_asked(checks: Iterable[BoundCheck], program: Program) -> Facts | None:
    """What some checks ask of a program; None where none of them asks anything."""
    return program.facts if any(PATTERNS[check.kind].about_program for check in checks) else None


def judge_all(
    checks: Iterable[BoundCheck], record: Record, reference: Record | None = None, program: Facts | None = None
) -> list[Verdict]:
    """The verdict of each check on a record.

    `reference` is the reference behaviour's run in the same world, `program` what is known of the program's text;
    checks that need what is not given are `not exercised`.
    """
    return [judge(check, record, reference, program) for check in checks]


def judge(check: BoundCheck, record: Record, reference: Record | None = None, program: Facts | None = None) -> Verdict:
    """One check's verdict, with its margin, its windows and a sentence of evidence.

    Truths are piecewise constant and exact: a window counts its first and its last instant. What lies
    past the trust horizon of a reading the check uses is `not certain` unless it was decided before.
    """
    pattern = PATTERNS[check.kind]
    findings, nothing = pattern.findings(check, record, reference, program)
    return _faded(check, gather(check.title, check.points, findings, nothing, pattern.all_or_none, check.whole))


def _faded(check: BoundCheck, verdict: Verdict) -> Verdict:
    """A near miss keeps a part of the points, where the check says over what they fade and the margin has that unit."""
    if check.fading is None or verdict.verdict not in (FAIL, PART) or verdict.margin is None:
        return verdict
    over, unit = check.fading
    share = 1 + verdict.margin / over
    if unit != verdict.unit or not 0 < share < 1 or share * verdict.of <= verdict.points:
        return verdict
    because = f"{verdict.because} Missed by {show(-verdict.margin, unit)} of {show(over, unit)}: a part of the points."
    return replace(verdict, verdict=PART, points=round(share * verdict.of, 6), because=because)
