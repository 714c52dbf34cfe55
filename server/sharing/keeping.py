"""Keeps the pieces of a parcel on a teacher's shelf. What is there already, and is the same, is used again."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.db import models, transaction

from geduld.errors import ExerciseError
from geduld.grading.parcel.pieces import CasePiece, PartnerPiece, Pieces, Source, Surroundings, TracePiece
from geduld.grading.parcel.reading import Folder, read_pieces
from geduld.rig.model import Rig as CoreRig
from geduld.rig.reader import rig_from_json
from geduld.wordbook.reading import parse_wordbook
from server.exercises.models import Case, Exercise, HandIn
from server.recordings.models import Note
from server.sharing.gathering import libraries_of, surroundings_of
from server.shelf.doings import doings_of
from server.shelf.importing import Imported, imported
from server.shelf.models import Behaviour, Floor, Rig, Trace, Wordbook
from server.shelf.services import core_rig, save_text, save_trace, titled

Traces = Mapping[tuple[str, bytes], Imported]


@dataclass(frozen=True)
class Arrived:
    """Pieces that came, with their recordings read; `unused` are files that nothing names."""

    pieces: Pieces
    traces: dict[tuple[str, bytes], Imported]
    unused: list[str] = field(default_factory=list)


@dataclass
class Kept:
    """What was kept: the exercise, what was made for it, and what was on the shelf already."""

    made: list[str] = field(default_factory=list)
    used: list[str] = field(default_factory=list)
    exercise: Exercise = field(default_factory=Exercise)

    def note(self, what: str, was_there: bool) -> None:
        """Notes one thing, once."""
        if what not in (*self.made, *self.used):
            (self.used if was_there else self.made).append(what)


def arrive(pieces: Pieces, unused: list[str] | None = None) -> Arrived:
    """Reads the recordings among some pieces."""
    traces: dict[tuple[str, bytes], Imported] = {}
    for source, around in _all_surroundings(pieces):
        if around.trace is not None:
            key = _trace_key(source, around.trace)
            if key not in traces:
                traces[key] = imported(around.trace.data, rig_from_json(source))
    return Arrived(pieces, traces, unused or [])


def arrive_from(folder: Path) -> Arrived:
    """Reads the folder of an exercise. Raises an InputError with the file and the place in it."""
    files = Folder(folder)
    pieces = read_pieces(files)
    return arrive(pieces, files.unused())


def _all_surroundings(pieces: Pieces) -> Iterator[tuple[Source, Surroundings]]:
    for case in pieces.cases:
        yield pieces.rig, case.surroundings
        if case.partner is not None:
            yield case.partner.rig, case.partner.surroundings


def _trace_key(rig: Source, trace: TracePiece) -> tuple[str, bytes]:
    return json.dumps(rig, sort_keys=True), trace.data


@transaction.atomic
def keep(teacher: User, arrived: Arrived) -> Kept:
    """Keeps an exercise and what it needs. Raises ExerciseError for a name that is longer than there is room for."""
    shelf = _Shelf(teacher, arrived.traces, Kept())
    pieces = arrived.pieces
    rig = shelf.rig(pieces.rig, pieces.libraries)
    made = Exercise(
        owner=teacher,
        rig=rig,
        title=pieces.title,
        brief=pieces.brief,
        reference=pieces.reference,
        checks=pieces.checks,
        over_cases=pieces.over_cases,
        **asdict(pieces.rules),
    )
    _save(made, pieces.title)
    made.wordbooks.set([shelf.wordbook(rig, text) for text in pieces.words])
    for case in pieces.cases:
        shelf.case(made, rig, case)
    for item in pieces.hand_ins:
        _save(HandIn(exercise=made, **vars(item)), item.student)
    shelf.kept.exercise = made
    return shelf.kept


def _save(row: models.Model, called: str) -> None:
    """Saves a row whose names and choices are what they may be."""
    links = [item.name for item in row._meta.get_fields() if item.is_relation and item.concrete]
    try:
        row.clean_fields(exclude=links)
    except ValidationError as problem:
        said = " ".join(f"{name}: {' '.join(texts)}" for name, texts in problem.message_dict.items())
        message = f'"{called[:60]}" cannot be kept. {said}'
        raise ExerciseError("parcel-value", message, "Shorten it in the exercise that this comes from.") from None
    row.save()


@dataclass
class _Shelf:
    """A teacher's shelf, and what comes onto it."""

    teacher: User
    traces: Traces
    kept: Kept

    def rig(self, source: Source, libraries: tuple[str, ...]) -> Rig:
        """A rig with all these libraries.

        One on the shelf that has others as well serves; one that lacks some does not: with a new library other
        exercises of it would not be graded as before.
        """
        for rig in Rig.objects.filter(owner=self.teacher, name=source["name"][:100]).order_by("id"):
            if rig.source == source and set(libraries) <= set(libraries_of(rig)):
                self.kept.note(f"rig {rig.name}", True)
                return rig
        rig = Rig(owner=self.teacher, name=source["name"][:100], source=source)
        _save(rig, rig.name)
        self.kept.note(f"rig {rig.name}", False)
        for text in libraries:
            self._new_behaviour(rig, text, "library", {})
        return rig

    def wordbook(self, rig: Rig, text: str) -> Wordbook:
        """A wordbook."""
        found = rig.wordbooks.filter(text=text).order_by("id").first()
        self.kept.note(f"wordbook {parse_wordbook(text).tree.title}", found is not None)
        if found is None:
            title = parse_wordbook(text).tree.title[:100] or "words"
            found = Wordbook(owner=self.teacher, rig=rig, title=title, text=text)
            _save(found, title)
        return found

    def case(self, exercise: Exercise, rig: Rig, piece: CasePiece) -> None:
        """A case."""
        around, partner = piece.surroundings, piece.partner
        case = Case(
            exercise=exercise,
            name=piece.name,
            trace=self.trace(rig, around.trace) if around.trace else None,
            floor=self.floor(around.floor) if around.floor else None,
            follow=around.follow,
            start=around.start,
            inputs=around.inputs,
            seed=around.seed,
            faults=list(around.faults),
            lasts_us=around.lasts_us,
            limit_us=around.limit_us,
        )
        if partner is not None:
            case.partner, case.delay_us, case.lost = self.partner(partner), partner.delay_us, partner.lost
        _save(case, piece.name)

    def trace(self, rig: Rig, piece: TracePiece) -> Trace:
        """A recording, with its notes."""
        found = self.traces[_trace_key(rig.source, piece)]
        notes = {(round(at * 1e6), text[:500]) for at, text in piece.notes}
        same = rig.traces.defer("data").filter(name=piece.name[:100], fingerprint=found.fingerprint).order_by("id")
        for trace in same:
            if notes <= set(trace.notes.values_list("at_us", "text")):
                self.kept.note(f"trace {trace.name}", True)
                return trace
        trace = save_trace(rig, piece.name, found)
        Note.objects.bulk_create(Note(trace=trace, at_us=at_us, text=text) for at_us, text in sorted(notes))
        self.kept.note(f"trace {trace.name}", False)
        return trace

    def floor(self, source: Source) -> Floor:
        """A floor."""
        name = source["name"][:100]
        same = Floor.objects.filter(owner=self.teacher, name=name).order_by("id")
        found = next((floor for floor in same if floor.source == source), None)
        self.kept.note(f"floor {name}", found is not None)
        if found is None:
            found = Floor(owner=self.teacher, name=name, source=source)
            _save(found, name)
        return found

    def partner(self, piece: PartnerPiece) -> Behaviour:
        """Another device's behaviour, with the world that it runs in."""
        rig = self.rig(piece.rig, piece.libraries)
        core = core_rig(rig)
        wanted = _compared(piece.surroundings, core)
        for behaviour in rig.behaviours.filter(text=piece.program).order_by("id"):
            if _compared(surroundings_of(behaviour), core) == wanted:
                self.kept.note(f"behaviour {behaviour.title}", True)
                return behaviour
        return self._new_behaviour(rig, piece.program, piece.name, self._world(rig, piece.surroundings))

    def _new_behaviour(self, rig: Rig, text: str, otherwise: str, world: dict[str, Any]) -> Behaviour:
        title = titled(text, otherwise)[:100]
        behaviour = Behaviour(owner=self.teacher, rig=rig, title=title, text=text, world=world)
        _save(behaviour, title)
        save_text(behaviour, text)
        self.kept.note(f"behaviour {title}", False)
        return behaviour

    def _world(self, rig: Rig, around: Surroundings) -> dict[str, Any]:
        """The world of a behaviour, as the bench asks for one."""
        world: dict[str, Any] = {"follow": around.follow, "doings": doings_of(around.inputs, core_rig(rig))}
        if around.trace:
            world["trace"] = self.trace(rig, around.trace).pk
        elif around.floor:
            world |= {"floor": self.floor(around.floor).pk, "start": around.start, "seed": around.seed}
            world["faults"] = list(around.faults)
        if around.limit_us:
            world["limit"] = around.limit_us / 1e6
        if around.lasts_us:
            world["lasts"] = around.lasts_us / 1e6
        return world


def _compared(around: Surroundings, rig: CoreRig) -> dict[str, Any]:
    """Surroundings as they are compared: what hands do by what it says, and no length where nothing else is there."""
    doings = sorted((item["at"], item["name"], str(item["value"])) for item in doings_of(around.inputs, rig))
    return {**vars(around), "inputs": doings, "lasts_us": None}
