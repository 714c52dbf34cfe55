"""What would not go with a rig any more if the rig were changed."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from geduld.binding.library import Library
from geduld.errors import GeduldError
from geduld.grading.exercise import checks_for
from geduld.language.messages import Hint, ordered
from geduld.readers.notation import NotationProgram
from geduld.readers.reading import NOTATION
from geduld.rig.model import Rig as CoreRig
from geduld.rig.renaming import renamed_rig_in_text
from geduld.worlds.trace_csv import COUNTS
from server.shelf.doings import doings_of
from server.shelf.models import Rig
from server.shelf.services import core_rig, library_for

MOST_SAID = 5
MOST_LOOKED_AT = 60
PAST_RANGE = "past-range"
LIBRARY_ALONE = "library-alone"  # a library is run by those who include it


def what_breaks(rig: Rig, new: CoreRig) -> list[str]:
    """A sentence for each recording, test by hand, case and exercise that needs the rig as it is."""
    try:
        old: CoreRig | None = core_rig(rig)
    except GeduldError:
        old = None  # a broken one can only be mended
    found = [*_hand_ins(rig, new), *_traces(rig, new, old), *_inputs(rig, new), *_exercises(rig, new, old)]
    more = len(found) - MOST_SAID
    return [*found[:MOST_SAID], f"And {more} more."] if more > 0 else found


@dataclass(frozen=True)
class Misfit:
    """The first thing in a behaviour that its rig cannot do: where it stands, the parts its line names, and why."""

    behaviour: int
    title: str
    line: int
    parts: tuple[str, ...]
    message: str
    remedy: str


def misfits(rig: Rig, new: CoreRig) -> list[Misfit]:
    """The behaviours used last that do not go with the rig as it would be.

    A kept speed without an encoder, an angle outside a servo's range, a part that is gone.
    """
    library, found = library_for(rig), []
    for behaviour in rig.behaviours.order_by("-updated")[:MOST_LOOKED_AT]:
        text = renamed_rig_in_text(behaviour.text, rig.name, new.name)
        program = NotationProgram(text, new, library)
        if any(hint.level == "error" for hint in program.parsed.hints):
            continue  # a text that is still being written says nothing about the rig
        told = (hint for hint in program.bound.hints if hint.level == "error" or hint.code == PAST_RANGE)
        error = next((hint for hint in ordered(told) if hint.code != LIBRARY_ALONE), None)
        if error is None:
            continue
        words = set(re.findall(r"\w+", text.splitlines()[error.line - 1]))
        parts = tuple(name for name in new.parts if name in words)
        found.append(Misfit(behaviour.pk, behaviour.title, error.line, parts, error.message, error.remedy))
    return found


def _hand_ins(rig: Rig, new: CoreRig) -> list[str]:
    """Hand-ins that are for the rig by its name; they stay as they were handed in."""
    if new.name == rig.name:
        return []
    found = []
    for exercise in rig.exercises.all():
        texts = exercise.hand_ins.filter(recorded=False, language=NOTATION).values_list("data", flat=True)
        count = sum(f'for rig "{rig.name}"'.encode() in bytes(text) for text in texts)
        if count:
            what = "1 hand-in is" if count == 1 else f"{count} hand-ins are"
            found.append(f'{what} for rig "{rig.name}" in "{exercise.title}", and could not be run any more.')
    return found


def _traces(rig: Rig, new: CoreRig, old: CoreRig | None) -> list[str]:
    found = []
    for name, channels in rig.traces.values_list("name", "channels"):
        for channel in channels:
            if channel.endswith(COUNTS):
                continue
            part, before = new.channels.get(channel), old.channels.get(channel) if old else None
            if part is None:
                found.append(f'The trace "{name}" has the channel "{channel}", which the rig would not have any more.')
            elif before is not None and before.dimension != part.dimension:
                what = f"which is {before.dimension} there and would be {part.dimension}"
                found.append(f'The trace "{name}" has the channel "{channel}", {what}.')
    return found


def _inputs(rig: Rig, new: CoreRig) -> list[str]:
    found = []
    for name, text in rig.inputs.values_list("name", "text"):
        try:
            doings_of(text, new)
        except GeduldError as problem:
            found.append(f'The test by hand "{name}": {problem.message}')
    return found


def _exercises(rig: Rig, new: CoreRig, old: CoreRig | None) -> list[str]:
    found = []
    library = library_for(rig)
    for exercise in rig.exercises.all():
        for name, inputs in exercise.cases.values_list("name", "inputs"):
            try:
                doings_of(inputs, new)
            except GeduldError as problem:
                found.append(f'The case "{name}" of "{exercise.title}": {problem.message}')
        for what in ("reference", "checks"):
            before = [] if old is None else _errors(exercise, what, old, library)
            now = _errors(exercise, what, new, library, rig.name)
            if now and not before and old is not None:
                found.append(f'The {what} of "{exercise.title}", line {now[0].line}: {now[0].message}')
    return found


def _errors(exercise: Any, what: str, core: CoreRig, library: Library, named: str = "") -> list[Hint]:
    """What is wrong with one of an exercise's texts on a rig, when it is for the rig by the name it had."""
    if what == "reference":
        hints = NotationProgram(renamed_rig_in_text(exercise.reference, named, core.name), core, library).hints
    else:
        other = next((case.partner.rig for case in exercise.cases.all() if case.partner is not None), None)
        hints = checks_for(exercise.checks, core, None if other is None else core_rig(other)).hints
    return [hint for hint in hints if hint.level == "error"]
