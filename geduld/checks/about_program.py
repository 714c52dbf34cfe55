"""Patterns about the program itself: what it uses, how long it is, what hints it gets."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any

from geduld.checks.binder import BoundCheck
from geduld.checks.verdicts import FAIL, PASS, Finding, Findings, Window
from geduld.language import tree
from geduld.language.lexer import read_lines


@dataclass(frozen=True)
class Facts:
    """What checks may ask of a program: the words that stand in it, its steps, and the codes of its hints."""

    words: frozenset[str]
    steps: int
    hints: frozenset[str]


def facts_of(text: str, plan: tree.Plan, hints: frozenset[str]) -> Facts:
    """The facts of a program: its words without texts and comments, and its steps, those of routines once."""
    lines, _, _ = read_lines(text.split("\n"))
    words: set[str] = set()
    while lines:
        line = lines.pop()
        words.update(token.text for token in line.tokens if token.kind == "word")
        lines += line.children
    return Facts(frozenset(words), sum(_steps(item) for item in (plan.begin, *(r.body for r in plan.routines))), hints)


def _steps(item: Any) -> int:
    """The steps in a block, with those in the blocks under them."""
    if isinstance(item, tuple):
        return sum(_steps(inner) for inner in item)
    if not isinstance(item, tree.Node):
        return 0
    own = int(isinstance(item, tree.Step))
    return own + sum(_steps(getattr(item, found.name)) for found in fields(item) if found.name != "span")


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
