"""Hints about counters and timers in loops."""

from __future__ import annotations

from collections.abc import Iterator

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import show
from geduld.rig.model import Rig


def not_reset(loop: terms.Repeat, rig: Rig, lines: Lines) -> Iterator[Hint]:
    """Waits in a loop for a count, an angle or a timer that nothing in the loop starts anew.

    After the first pass the condition holds already, so the wait is none.
    """
    inside = [step for step, _ in terms.walk_steps(loop.body)]
    fresh = {step.index for step in inside if isinstance(step, terms.Assign)}
    for step in inside:
        ending = getattr(step, "ending", None)
        if not isinstance(ending, terms.Until) or not isinstance(ending.condition, terms.Compare):
            continue
        name = _counted(ending.condition, fresh, rig)
        if name:
            message = f"From the second pass on this holds already, because {name} counts on."
            remedy = f"Write before it: {'start' if name == 'the timer' else 'reset'} …, inside the loop."
            indent = lines.indent(step.line)
            known = name != "the timer" and lines.shows_until(step.line)
            fix = None if not known else f"reset {name}\n{indent}{lines.text(step.line)}"
            yield lines.warning("counter-not-reset", step.line, message, remedy, fix)


def overflow(step: terms.Step, condition: terms.Term, rig: Rig, lines: Lines) -> Iterator[Hint]:
    """A motor's angle compared with one at which its encoder's counter has run over."""
    for term in condition.walk():
        if not isinstance(term, terms.Compare) or not isinstance(term.right, terms.Const):
            continue
        for asked in term.left.walk():
            if not isinstance(asked, terms.Encoder) or asked.part.endswith(".speed"):
                continue
            most = rig.parts[asked.motor].greatest_angle
            if abs(term.right.value) > most:
                turns = f"{show(most, 'deg', 0)}, which is {show(most / 360, places=1)} turns"
                message = f"The counter of {asked.motor} runs over at {turns}, and goes on from below nothing."
                remedy = f"Reset {asked.part} more often, and count the rounds with a value."
                yield lines.warning("counter-overflow", step.line, message, remedy)


def _counted(condition: terms.Compare, fresh: set[int], rig: Rig) -> str:
    """What a comparison with a fixed value counts, when nothing resets it; empty when it is no such comparison."""
    if condition.sign not in (">", ">=", "=") or not isinstance(condition.right, terms.Const):
        return ""
    left = condition.left
    if isinstance(left, terms.Timer):
        return "" if left.index in fresh else "the timer"
    if isinstance(left, terms.Arithmetic) and left.sign == "-" and isinstance(left.right, terms.Variable):
        if left.right.index in fresh:
            return ""
        left = left.left
    if not isinstance(left, terms.Reading) or not rig.channels[left.part].counts:
        return ""
    return left.part
