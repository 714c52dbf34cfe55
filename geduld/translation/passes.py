"""Passes of loops: whether time passes in one, and whether a student's language would give it the time it costs.

In the notation a pass of a `repeat` in which no time passed costs one pass of the rig's loop. In Python and C it costs
that only in a loop that is not counted, and only if a sensor was looked at or something was commanded in it.
"""

from __future__ import annotations

from geduld.binding import terms
from geduld.language.quantities import TEXT, TRUTH


def never_waits(steps: tuple[terms.Step, ...]) -> bool:
    """Whether no time passes in these steps, whatever is read."""
    return not any(
        isinstance(step, terms.Wait | terms.Follow | terms.Repeat)
        or (isinstance(step, terms.Command) and step.ending is not None)
        for step, _ in terms.walk_steps(steps)
    )


def always_waits(steps: tuple[terms.Step, ...]) -> bool:
    """Whether time passes in these steps, whatever is read, unless they leave the loop."""
    return any(
        isinstance(step, terms.Wait | terms.Command) and isinstance(step.ending, terms.Const) and step.ending.value > 0
        for step in steps
    )


def is_noticed(condition: terms.Term | None, steps: tuple[terms.Step, ...]) -> bool:
    """Whether every pass surely looks at a sensor, or commands or sends something."""
    if condition is not None and _looks(condition):
        return True
    return any(_does(step) for step in steps)


def _does(step: terms.Step) -> bool:
    match step:
        case terms.Command():
            return any(isinstance(value, terms.Const) or _looks(value) for _, value in step.settings)
        case terms.Halt() | terms.Send():
            return True
        case terms.Branches():
            return any(condition is not None and _looks(condition) for condition, _ in step.arms)
        case terms.Bands() | terms.Assign():
            return _looks(step.value)
    return False


def _looks(value: terms.Term) -> bool:
    """Whether readings are looked at before the value is worked out: those of contacts and texts are not."""
    return any(isinstance(item, terms.Reading) and item.dimension not in (TRUTH, TEXT) for item in value.walk())
