"""Judges checks on a record."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from geduld.binding import terms
from geduld.checks import matching, moments, occurrences, throughout
from geduld.checks.about_program import about
from geduld.checks.binder import BoundCheck
from geduld.checks.evidence import quoted
from geduld.checks.places import touched
from geduld.checks.timeline import Timeline
from geduld.checks.verdicts import FAIL, PART, Findings, Verdict, gather
from geduld.language.quantities import LENGTH, show
from geduld.run.program.program import Facts, Program
from geduld.run.record.record import Record

ABOUT_PROGRAM = ("uses", "does not use", "steps", "hint")
# One failure fails these as a whole; the others are worth the share of the times that passed.
ALL_OR_NONE = ("never", "always", "stays", *ABOUT_PROGRAM)


def facts_asked(checks: Iterable[BoundCheck], program: Program) -> Facts | None:
    """What some checks ask of a program; None where none of them asks anything."""
    return program.facts if any(check.kind in ABOUT_PROGRAM for check in checks) else None


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
    findings, nothing = _findings(_plain(check), record, reference, program)
    return _faded(check, gather(check.title, check.points, findings, nothing, check.kind in ALL_OR_NONE))


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


def _plain(check: BoundCheck) -> BoundCheck:
    """A sentence about a place as one about a condition."""
    if check.kind == "ends":
        away = terms.Pose("away", check.name, dimension=LENGTH)
        near = terms.Compare("<=", away, terms.Const(check.tolerance, dimension=LENGTH))
        words = f'cart is within {show(check.tolerance, "cm")} of mark "{check.name}"'
        return replace(check, conditions=(near,), words=(words,))
    if check.kind == "stays":
        inside = terms.Pose("inside", check.name, dimension=LENGTH)
        kept = terms.Compare(">=", inside, terms.Const(0.0, dimension=LENGTH))
        return replace(check, conditions=(kept,), words=(f'cart is inside "{check.name}"',))
    return check


def _findings(
    check: BoundCheck, record: Record, reference: Record | None, program: Facts | None
) -> tuple[Findings, str]:
    """Every occurrence, and the sentence for when there is none."""
    if check.kind in ABOUT_PROGRAM:
        if program is None:
            return Findings.of([]), "The program is not at hand, only what it did."
        return about(check, program, record.lasted), ""
    timeline = Timeline(record, check.looks, reference)
    if timeline.unknown:
        return Findings.of([]), timeline.unknown
    if check.kind == "touches":
        return _touches(check, timeline)
    found = _PATTERNS[check.kind](check, timeline)
    return found, "" if found.windows else _nothing(check)


def _nothing(check: BoundCheck) -> str:
    if check.kind == "after":
        return f"{quoted(check.words[0])} never came true in this run."
    if check.kind == "first":
        return "None of these ever came true in this run."
    if check.kind == "never":
        return f"{quoted(check.words[-1])} was never so in this run."
    return f"{quoted(check.words[0])} was never so in this run." if check.words else ""


def _touches(check: BoundCheck, timeline: Timeline) -> tuple[Findings, str]:
    """`touches "barrel" at most N times`: contacts with what is nearest to where they were."""
    record = timeline.record
    if record.pose is None:
        return Findings.of([]), "This run was not on a floor, so nobody knows what the robot touched."
    contacts = [event for event in record.events if event.kind == "contact"]
    hits = [event.tick for event in contacts if not check.name or touched(event, record.pose) == check.name]
    what = f"The robot touched {quoted(check.name) if check.name else 'something'}"
    return Findings.of([occurrences.counted(check, timeline, hits, what)]), ""


_PATTERNS: dict[str, Callable[[BoundCheck, Timeline], Findings]] = {
    "after": occurrences.after,
    "lasts": occurrences.lasts,
    "happens": occurrences.happens,
    "first": occurrences.first,
    "never": throughout.never,
    "always": throughout.always,
    "stays": throughout.always,
    "while": throughout.while_,
    "before": throughout.before,
    "from": throughout.from_to,
    "at": moments.at,
    "at the end": moments.at_the_end,
    "ends": moments.at_the_end,
    "matches": matching.matches,
}
