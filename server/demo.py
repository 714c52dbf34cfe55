"""Loads the demonstration data from the open files in `demo/`."""

from __future__ import annotations

import json
from pathlib import Path

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from server.exercises.models import Case, Exercise, HandIn
from server.shelf.models import Behaviour, Rig, Trace
from server.shelf.services import import_trace, save_text, titled


@transaction.atomic
def load_demo(folder: Path, teacher: User) -> None:
    """Puts the glasshouse on the teacher's shelf: rig, traces, behaviours, one exercise with hand-ins."""
    source = json.loads((folder / "rigs" / "glasshouse-cart.json").read_text())
    rig = Rig.objects.create(owner=teacher, name=source["name"], source=source)
    traces = {}
    for path in sorted((folder / "traces").glob("*.csv")):
        name = path.stem.replace("-", " ").capitalize()
        traces[path.name] = import_trace(rig, name, path.read_bytes())
    for path in sorted((folder / "behaviours").rglob("*.geduld"), reverse=True):
        _behaviour(teacher, rig, path)
    _exercise(folder, teacher, rig, traces)


def _behaviour(teacher: User, rig: Rig, path: Path) -> None:
    text = path.read_text()
    behaviour = Behaviour.objects.create(owner=teacher, rig=rig, title=titled(text, path.stem), text=text)
    save_text(behaviour, text)


def _exercise(folder: Path, teacher: User, rig: Rig, traces: dict[str, Trace]) -> None:
    place = folder / "dock-at-the-barrel"
    source = json.loads((place / "exercise.json").read_text())
    exercise = Exercise.objects.create(
        owner=teacher,
        rig=rig,
        title=source["title"],
        brief=source["brief"],
        reference=(place / source["reference"]).read_text(),
        checks=(place / source["checks"]).read_text(),
        over_cases=source["points_over_cases"],
    )
    for case in source["cases"]:
        Case.objects.create(exercise=exercise, name=case["name"], trace=traces[case["trace"]])
    for path in sorted((folder / "hand-ins").glob("*.geduld")):
        HandIn.objects.create(exercise=exercise, student=path.stem, data=path.read_bytes(), received=timezone.now())
