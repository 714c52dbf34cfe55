"""How a check that the reference itself fails could be asked instead."""

from __future__ import annotations

from collections.abc import Sequence

from geduld.checks.bound import BoundCheck
from geduld.checks.judge import facts_asked, judge
from geduld.checks.patterns import PATTERNS
from geduld.checks.verdicts import NOT_EXERCISED, PASS, Verdict
from geduld.grading.exercise import Exercise
from geduld.grading.grade import Prepared
from geduld.readers.notation import good_program
from geduld.run.runner import Runner


def advice_about(exercise: Exercise, prepared: Prepared, verdicts: Sequence[str]) -> str:
    """A sentence about the first check that does not pass; empty where nothing better is known.

    Its other readings (`Pattern.readings`) are tried on the reference's own runs: the first that passes is told.
    """
    weak = next((number for number, verdict in enumerate(verdicts) if verdict not in (PASS, NOT_EXERCISED)), None)
    if weak is None:
        return ""
    check = exercise.checks.checks[weak]
    found = _judged(exercise, prepared, check)
    if all(verdict.verdict == PASS or verdict.left_open for verdict in found):
        return "Give the case a longer limit: its end is all that leaves this open."
    for reading, words in PATTERNS[check.kind].readings(check):
        if _passes(_judged(exercise, prepared, reading)):
            return f"It would pass with: {words}"
    return ""


def _passes(verdicts: list[Verdict]) -> bool:
    words = {verdict.verdict for verdict in verdicts}
    return PASS in words and words <= {PASS, NOT_EXERCISED}


def _judged(exercise: Exercise, prepared: Prepared, check: BoundCheck) -> list[Verdict]:
    program = good_program(exercise.reference, exercise.rig, exercise.library)
    runner, facts = Runner(program), facts_asked([check], program)
    return [
        judge(check, case.world.run(runner)[0], reference, facts)
        for case, reference in zip(exercise.cases, prepared.references, strict=True)
    ]
