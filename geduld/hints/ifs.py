"""Hints about the notation's ifs that ask for one reading, arm by arm or one behind the other."""

from __future__ import annotations

from collections.abc import Iterator

from geduld.binding import terms
from geduld.hints.bands import Arm, Tongue, told_of_block
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
    told = told_of_block(map(_arms, block), tongue, between=False)
    return (lines.warning(item.code, item.place, item.message, item.remedy) for item in told)


def _arms(step: terms.Step) -> list[Arm[int]]:
    """The arms of an if; none where one of them is about something else, or is an else."""
    found = []
    for condition, body in step.arms if isinstance(step, terms.Branches) else ():
        values = interval(condition)
        if values is None:
            return []
        found.append(Arm(step.line, step.line, values, _set(body)))
    return found


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
