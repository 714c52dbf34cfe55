"""Hints about counters, flags and timers in loops and routines."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import islice

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import TRUTH, show
from geduld.rig.model import Rig

MOST_LOOKED_AT = 20_000  # steps, loops gone round twice


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


def done_again(steps: tuple[terms.Step, ...], lines: Lines) -> Iterator[Hint]:
    """Loops that count a value up to their end, or raise a flag, and are done again without setting it back.

    They are done again where a loop around them goes round, or where a routine that holds them is performed again.
    """
    met: dict[int, int] = {}  # by line of such a loop: how often its variable had been set elsewhere by then
    elsewhere: dict[int, int] = {}
    said: set[int] = set()
    for step in islice(_twice_round(steps, frozenset()), MOST_LOOKED_AT):
        if isinstance(step, terms.Assign):
            elsewhere[step.index] = elsewhere.get(step.index, 0) + 1
            continue
        index = _counts_to_its_end(step) if isinstance(step, terms.Repeat) else None
        if index is None:
            continue
        if met.get(step.line) == elsewhere.get(index, 0) and step.line not in said:
            said.add(step.line)
            message = "When this is done again it is over at once: what it counts or remembers is still there."
            yield lines.warning("counter-not-reset", step.line, message, "Set it back just before this repeat.")
        met[step.line] = elsewhere.get(index, 0)


def _twice_round(steps: tuple[terms.Step, ...], own: frozenset[int]) -> Iterator[terms.Step]:
    """Loops, and the steps that set values, as they are reached when each loop goes round twice.

    What a loop does to the variable that it waits for is left out: that is its own business.
    """
    for step in steps:
        if isinstance(step, terms.Assign):
            if step.index not in own:
                yield step
        elif isinstance(step, terms.Repeat):
            yield step
            index = _counts_to_its_end(step)
            inside = own if index is None else own | {index}
            for _ in range(2):
                yield from _twice_round(step.body, inside)
        else:
            for body in terms.bodies(step):
                yield from _twice_round(body, own)


def _counts_to_its_end(loop: terms.Repeat) -> int | None:
    """The variable that a loop compares with a fixed value and that its own body brings there."""
    condition = loop.value
    if (
        loop.form not in ("while", "until")
        or not isinstance(condition, terms.Compare)
        or not isinstance(condition.right, terms.Const)
    ):
        return None
    variable = condition.left
    if not isinstance(variable, terms.Variable):
        return None
    changes = [step for step, _ in terms.walk_steps(loop.body) if isinstance(step, terms.Assign)]
    own = [step for step in changes if step.index == variable.index]
    return variable.index if own else None


def every_pass(loop: terms.Repeat, rig: Rig, lines: Lines) -> Iterator[Hint]:
    """A value that is turned over, or counted up, in every pass of a loop in which a contact is pressed."""
    for step in loop.body:
        if not isinstance(step, terms.Branches):
            continue
        for condition, body in step.arms:
            pressed = _pressed(condition)
            if pressed and any(_changes_itself(inner) for inner in body) and not takes_time(body):
                message = (
                    f"As long as {pressed} is pressed this is done in every pass, about {_passes(rig)} times a second."
                )
                written = lines.text(step.line)
                once = f"{pressed} is just pressed"
                fix = written.replace(f"{pressed} is pressed", once) if f"{pressed} is pressed" in written else None
                remedy = f"Ask if {once}, or wait until it is released."
                yield lines.warning("every-pass", step.line, message, remedy, fix)


def _passes(rig: Rig) -> str:
    return show(1_000_000 / rig.loop_us, places=0)


def _pressed(condition: terms.Term | None) -> str:
    """The contact that must be pressed for a condition to hold; empty where none must."""
    if isinstance(condition, terms.Junction) and condition.word == "and":
        return _pressed(condition.left) or _pressed(condition.right)
    if (
        not isinstance(condition, terms.Compare)
        or condition.sign != "="
        or not isinstance(condition.left, terms.Reading)
    ):
        return ""
    one = condition.left.dimension == TRUTH and condition.right == terms.Const(1.0, dimension=TRUTH)
    return condition.left.part if one else ""


def _changes_itself(step: terms.Step) -> bool:
    """Whether a step sets a value from what it was: `set n to n + 1`, `set on to 1 - on`."""
    if not isinstance(step, terms.Assign):
        return False
    return isinstance(step.value, terms.Arithmetic) and terms.Variable(step.index) in (
        terms.Variable(item.index) for item in step.value.walk() if isinstance(item, terms.Variable)
    )


def takes_time(steps: Iterable[terms.Step]) -> bool:
    """Whether time may pass in some steps, or the loop around them is left."""
    return any(
        isinstance(inner, terms.Wait | terms.Follow | terms.Ramp | terms.Leave | terms.Finish)
        or (isinstance(inner, terms.Command) and inner.ending is not None)
        for inner, _ in terms.walk_steps(tuple(steps))
    )


def told_of_every_pass(contact: str) -> tuple[str, str]:
    """The message and the remedy, in a language in which what was has to be remembered by hand."""
    message = f"As long as {contact} is true this is done in every pass of the loop: once pressed, many times done."
    return message, "Remember what it was in the pass before, and do this only if it was not; or wait for its release."


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
