"""Hints about the notation's ifs that ask for one reading, arm by arm or one behind the other."""

from __future__ import annotations

from collections.abc import Iterator

from geduld.binding import terms
from geduld.hints.bands import Arm, Told, Tongue, told_of_ifs, told_of_one_if
from geduld.hints.intervals import interval
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.rig.model import Rig


def if_hints(block: tuple[terms.Step, ...], rig: Rig, lines: Lines) -> Iterator[Hint]:
    """Edges that are left out, values that two ifs share, and thresholds of a hysteresis that are swapped."""
    tongue = Tongue(
        "Use else for the last arm, or by with bands",
        "Write else if, so that one of them runs; or by with bands.",
        lambda part: rig.channels[part].dimension.unit,
    )
    told: list[Told[int]] = []
    for step in block:
        if isinstance(step, terms.Branches) and len(step.arms) > 1:
            arms = _arms(step)
            if len(arms) == len(step.arms):
                told += told_of_one_if(arms, tongue, between=False)
    for arms in _one_behind_the_other(block):
        told += told_of_ifs(arms, tongue)
    return (lines.warning(item.code, item.place, item.message, item.remedy) for item in told)


def _arms(step: terms.Branches) -> list[Arm[int]]:
    found = [(condition, body, interval(condition)) for condition, body in step.arms]
    return [Arm(step.line, step.line, values, _set(body)) for _, body, values in found if values is not None]


def _one_behind_the_other(block: tuple[terms.Step, ...]) -> Iterator[list[Arm[int]]]:
    """Ifs with one arm each, one behind the other, that ask for the same reading."""
    row: list[Arm[int]] = []
    for step in (*block, None):
        single = isinstance(step, terms.Branches) and len(step.arms) == 1
        arms = _arms(step) if single and isinstance(step, terms.Branches) else []
        if arms and (not row or row[0].values.part == arms[0].values.part):
            row += arms
            continue
        if len(row) > 1:
            yield row
        row = arms


def _set(body: tuple[terms.Step, ...]) -> dict[str, object]:
    """The outputs and values that a body sets, each with what it is set to last."""
    found: dict[str, object] = {}
    for step, _ in terms.walk_steps(body):
        if isinstance(step, terms.Command):
            found |= {name: _fixed(value) for name, value in step.settings}
        elif isinstance(step, terms.Halt):
            found |= dict.fromkeys(step.parts, 0.0)
        elif isinstance(step, terms.Assign):
            found[f"#{step.index}"] = _fixed(step.value)
    return found


def _fixed(value: terms.Term) -> float | None:
    return value.value if isinstance(value, terms.Const) else None
