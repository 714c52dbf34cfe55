"""Patterns about the program itself: what it uses, how long it is, what hints it gets."""

from __future__ import annotations

from geduld.checks.binder import BoundCheck
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.run.program.program import Facts


def about(check: BoundCheck, facts: Facts, lasted: int) -> Findings:
    """`program uses W`, `does not use W`, `has at most N steps`, `has no hint "H"`."""
    margin = float("inf")
    if check.kind == "steps":
        good, margin = facts.steps <= check.count, float(check.count - facts.steps)
        because = f"The program has {facts.steps} steps; at most {check.count} were wanted."
    elif check.kind == "hint":
        good = check.name not in facts.hints
        because = f'The program has {"no" if good else "the"} hint "{check.name}".'
    else:
        used = check.name in facts.words
        good = used == (check.kind == "uses")
        because = f'The program {"uses" if used else "does not use"} "{check.name}".'
    margin = margin if good or check.kind == "steps" else -margin
    return Findings.of([Finding(Window(0, lasted, PASS if good else FAIL), margin, "", 0, because)])
