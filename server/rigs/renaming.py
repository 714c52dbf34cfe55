"""Another name for a part of a rig, in everything that uses it: planned first, then made in one step."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.db import transaction

from geduld.rig.reader import rig_from_json
from geduld.rig.renaming import renamed_channel, renamed_in_worktop, renamed_inputs, renamed_part, renamed_text
from geduld.worlds.packing import pack, unpack
from geduld.worlds.trace import Trace as CoreTrace
from server.exercises.models import Case, Exercise, HandIn
from server.recordings.models import Drawing, Recipe
from server.shelf.models import Behaviour, Floor, Inputs, Rig, Trace, Wordbook
from server.shelf.services import core_rig, save_rig, save_text


@dataclass(frozen=True)
class Change:
    """One thing that would change: what it is, its name, in how many places; and how it is made."""

    what: str
    name: str
    places: int
    make: Callable[[], None]


def planned(rig: Rig, old: str, new: str) -> tuple[list[Change], list[str]]:
    """All that another name for a part would change, and what would stay and not go with it any more, in sentences.

    Raises RigError where the name cannot be had.
    """
    source = renamed_part(rig.source, old, new)
    rig_from_json(source)
    found = [Change("rig", rig.name, 1, lambda: save_rig(rig, source, f"{old} is called {new}"))]
    found += _texts(rig, old, new)
    found += _elsewhere(rig, old, new)
    found += _traces(rig, old, new)
    return found, list(_staying(rig, old, new))


@transaction.atomic
def rename(rig: Rig, old: str, new: str) -> list[Change]:
    """Gives a part another name everywhere. Raises RigError where the name cannot be had."""
    changes, _ = planned(rig, old, new)
    for change in changes:
        change.make()
    return changes


def _texts(rig: Rig, old: str, new: str) -> Iterator[Change]:
    # what is in the trash too: it may be put back
    for behaviour in Behaviour.with_trash.filter(rig=rig):
        changed = renamed_text(behaviour.text, old, new)
        if changed != behaviour.text:
            places = _places(behaviour.text, changed)
            yield Change("behaviour", behaviour.title, places, partial(_save_behaviour, behaviour, changed))
    for book in Wordbook.with_trash.filter(rig=rig):
        changed = renamed_text(book.text, old, new)
        if changed != book.text:
            yield Change("wordbook", book.title, _places(book.text, changed), partial(_save, book, "text", changed))
    for exercise in Exercise.with_trash.filter(rig=rig):
        for field, what in (("reference", "reference of"), ("checks", "checks of")):
            before = getattr(exercise, field)
            changed = renamed_text(before, old, new)
            if field == "checks" and exercise.cases.filter(partner__rig=rig).exists():
                changed = renamed_text(changed, old, new, of_partner=True)
            if changed != before:
                yield Change(what, exercise.title, _places(before, changed), partial(_save, exercise, field, changed))
    for case in Case.objects.filter(exercise__rig=rig):
        changed = renamed_inputs(case.inputs, old, new)
        if changed != case.inputs:
            yield Change("hands in the case", case.name, 1, partial(_save, case, "inputs", changed))
        faults = [renamed_text(phrase, old, new) for phrase in case.faults]
        if faults != case.faults:
            yield Change("faults of the case", case.name, 1, partial(_save, case, "faults", faults))
    for inputs in Inputs.with_trash.filter(rig=rig):
        changed = renamed_inputs(inputs.text, old, new)
        if changed != inputs.text:
            yield Change("test by hand", inputs.name, 1, partial(_save, inputs, "text", changed))


def _elsewhere(rig: Rig, old: str, new: str) -> Iterator[Change]:
    """Checks of other rigs' exercises that ask for a partner with this rig, and worktops whose loads it moves."""
    asking = Exercise.with_trash.filter(cases__partner__rig=rig).exclude(rig=rig).distinct()
    for exercise in asking:
        changed = renamed_text(exercise.checks, old, new, of_partner=True)
        if changed != exercise.checks:
            places = _places(exercise.checks, changed)
            yield Change("checks of", exercise.title, places, partial(_save, exercise, "checks", changed))
    motors = {part.name for part in core_rig(rig).outputs if part.kind.spins}
    for place in Floor.with_trash.filter(owner=rig.owner):
        moving = _motors_of(place.source)
        used_by = set(Case.objects.filter(floor=place).values_list("exercise__rig", flat=True))
        if old in moving and moving <= motors and used_by <= {rig.pk}:
            changed_source = renamed_in_worktop(place.source, old, new)
            yield Change("loads on", place.name, 1, partial(_save, place, "source", changed_source))


def _motors_of(source: dict[str, Any]) -> set[str]:
    """The motors that a worktop's loads are moved by."""
    loads = source.get("loads", [])
    moving = {load[key] for load in loads for key in ("lifted_by", "gripped_by")}
    return moving | {name for load in loads for lies in load["lies"] for name in lies if name != "name"}


def _save_behaviour(behaviour: Behaviour, text: str) -> None:
    before, behaviour.text = behaviour.text, text
    behaviour.save()
    save_text(behaviour, text, before)


def _save(row: Any, field: str, value: Any) -> None:
    """Changes one field; the others may have been changed in the same step."""
    setattr(row, field, value)
    row.save(update_fields=[field, "updated"] if hasattr(row, "updated") else [field])


def _traces(rig: Rig, old: str, new: str) -> Iterator[Change]:
    for trace in Trace.with_trash.filter(rig=rig).defer("data"):
        names = [renamed_channel(name, old, new) for name in trace.channels]
        if names != trace.channels:
            yield Change("trace", trace.name, 1, partial(_rename_channels, trace, old, new))
    for recipe in Recipe.objects.filter(rig=rig):
        columns = [use | {"channel": renamed_channel(use["channel"], old, new)} for use in recipe.source["columns"]]
        if columns != recipe.source["columns"]:
            changed = recipe.source | {"columns": columns}
            yield Change("recipe for recordings", rig.name, 1, partial(_save, recipe, "source", changed))
    for drawing in Drawing.objects.filter(trace__rig=rig):
        channels = {renamed_channel(name, old, new): drawn for name, drawn in drawing.source["channels"].items()}
        if channels.keys() != drawing.source["channels"].keys():
            changed = drawing.source | {"channels": channels}
            yield Change("drawing of", drawing.trace.name, 1, partial(_save, drawing, "source", changed))


def _rename_channels(trace: Trace, old: str, new: str) -> None:
    core = unpack(bytes(trace.data))
    channels = {renamed_channel(name, old, new): values for name, values in core.channels.items()}
    changed = CoreTrace(core.times, channels, core.texts)
    trace.channels, trace.data, trace.fingerprint = list(channels), pack(changed), changed.fingerprint
    trace.save()


def _staying(rig: Rig, old: str, new: str) -> Iterator[str]:
    """Hand-ins stay as they were handed in."""
    for exercise in Exercise.with_trash.filter(rig=rig):
        count = 0
        for hand_in in HandIn.objects.filter(exercise=exercise, recorded=False, language="notation"):
            text = bytes(hand_in.data).decode("utf-8", "replace")
            count += renamed_text(text, old, new) != text
        if count:
            what = "1 hand-in names" if count == 1 else f"{count} hand-ins name"
            stay = "They stay as they were handed in, and could not be run any more."
            yield f'{what} "{old}" in "{exercise.title}". {stay}'


def _places(before: str, after: str) -> int:
    """In how many lines two texts differ."""
    return sum(a != b for a, b in zip(before.split("\n"), after.split("\n"), strict=False))
