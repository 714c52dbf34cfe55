"""Loads the demonstration data from the open files in `demo/`."""

from __future__ import annotations

import json
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from geduld.grading.folders import read_hand_ins, read_received
from geduld.wordbook.reading import parse_wordbook
from server.classes.codes import OF_EXERCISE, new_code
from server.classes.models import Assignment, Extension, SchoolClass
from server.classes.roster import Listed, add_students
from server.classes.tries import take
from server.exercises.models import Exercise, HandIn
from server.recordings.models import Recording
from server.sharing.keeping import arrive_from, keep
from server.shelf.doings import doings_of
from server.shelf.importing import imported
from server.shelf.models import Behaviour, Floor, Inputs, Rig, Wordbook
from server.shelf.services import core_rig, save_text, save_trace, titled

HANDSET_LASTS = 30.0  # s

# An exercise and the folder of its hand-ins, the first one shown last; those of the hoist come before the cart's.
COLLECTED = "gentle-docking"
HOIST_TASKS = (("trays-to-the-shelf", "tray-class"),)
TASKS = (
    ("come-when-called", "called-class"),
    ("look-it-over", "look-class"),
    ("round-the-bed", "round-class"),
    ("dock-in-code", "code-class"),
    ("gentle-docking", "gentle-class"),
    ("dock-at-the-barrel-mended", "class"),
    ("dock-at-the-barrel", "hand-ins"),
)


@transaction.atomic
def load_demo(folder: Path, teacher: User) -> int:
    """Puts the glasshouse on the teacher's shelf: rig, traces, floors, behaviours, exercises, hand-ins.

    Gives the key of the exercise whose class is to be seen graded at once.
    """
    _handset(folder, teacher)
    floors = {}
    for path in sorted((folder / "floors").glob("*.json")):
        described = json.loads(path.read_text())
        floors[path.name] = Floor.objects.create(owner=teacher, name=described["name"], source=described)
    hoist = _rig(folder, teacher, "seed-hoist")
    _behaviours(folder / "hoist", teacher, hoist, floors, _inputs(folder / "hoist", teacher, hoist))
    for task, class_ in HOIST_TASKS:
        _hand_ins(folder, class_, _exercise(folder / task, teacher))
    rig = _rig(folder, teacher, "glasshouse-cart")
    for path in sorted((folder / "traces").glob("*.csv")):
        name = path.stem.replace("-", " ").capitalize()
        save_trace(rig, name, imported(path.read_bytes(), core_rig(rig)))
    for path in sorted((folder / "recordings").iterdir()):
        data = path.read_bytes()
        Recording.objects.create(owner=teacher, rig=rig, name=path.name, size=len(data), data=data)
    _behaviours(folder / "behaviours", teacher, rig, floors, _inputs(folder / "inputs", teacher, rig))
    for path in sorted((folder / "wordbooks").glob("*.geduld")):
        text = path.read_text()
        Wordbook.objects.create(owner=teacher, rig=rig, title=parse_wordbook(text).tree.title, text=text)
    made = {}
    for task, class_ in TASKS:
        made[task] = _exercise(folder / task, teacher)
        _hand_ins(folder, class_, made[task])
        if task == COLLECTED:
            _class(folder / "collected", teacher, made[task])
    return made[COLLECTED].pk


def _class(folder: Path, teacher: User, exercise: Exercise) -> None:
    """A class that hands in by itself: some more than once, one late, one with more time. They are looked at later."""
    now = timezone.now()
    exercise.due = now - timedelta(days=1)
    exercise.save()
    described = json.loads((folder / "class.json").read_text())
    room = SchoolClass.objects.create(owner=teacher, name=described["name"])
    add_students(room, [Listed(name) for name in described["students"]])
    assignment = Assignment.objects.create(
        exercise=exercise, school_class=room, code=new_code(OF_EXERCISE), tries=described["tries"]
    )
    for name, hours in described["extensions"].items():
        student = room.students.get(name=name)
        Extension.objects.create(assignment=assignment, student=student, until=now + timedelta(hours=hours))
    for given in described["given"]:
        student = room.students.get(name=given["student"])
        data = (folder / given["file"]).read_bytes()
        take(assignment, student, data, "notation", given["file"], now - timedelta(hours=given["hours_ago"]))


def _rig(folder: Path, teacher: User, name: str) -> Rig:
    source = json.loads((folder / "rigs" / f"{name}.json").read_text())
    return Rig.objects.create(owner=teacher, name=source["name"], source=source)


def _inputs(folder: Path, teacher: User, rig: Rig) -> dict[str, str]:
    """What hands do, kept for the rig, by its file."""
    inputs = {path.name: path.read_text() for path in sorted(folder.glob("*.csv"))}
    for file, text in inputs.items():
        name = file.removesuffix(".csv").replace("-", " ").capitalize()
        Inputs.objects.create(owner=teacher, rig=rig, name=name, text=text)
    return inputs


def _behaviours(folder: Path, teacher: User, rig: Rig, floors: dict[str, Floor], inputs: dict[str, str]) -> None:
    """The behaviours of a folder, each with the world in which it is looked at first."""
    worlds = json.loads((folder / "worlds.json").read_text())
    for path in sorted(folder.rglob("*.geduld"), reverse=True):
        world = worlds.get(path.stem, {})
        if world:
            hands = inputs.get(world.pop("inputs", ""), "")
            world |= {"floor": floors[world["floor"]].pk, "doings": doings_of(hands, core_rig(rig))}
        _behaviour(teacher, rig, path, world)


def _hand_ins(folder: Path, class_: str, exercise: Exercise) -> None:
    listed = folder / f"{class_}-received.csv"
    received = read_received(listed) if listed.exists() else {}
    for item in read_hand_ins(folder / class_):
        when = received.get(item.name) or timezone.now()
        values = {"data": item.data, "recorded": item.recorded, "language": item.language, "received": when}
        HandIn.objects.create(exercise=exercise, student=item.name, **values)


def _handset(folder: Path, teacher: User) -> None:
    """The device at the door, with its behaviour; it comes first, so that the cart is the rig used last."""
    rig = _rig(folder, teacher, "door-handset")
    calls = (folder / "come-when-called" / "call.csv").read_text()
    world = {"lasts": HANDSET_LASTS, "doings": doings_of(calls, core_rig(rig))}
    _behaviour(teacher, rig, folder / "handset" / "call-the-cart.geduld", world)


def _exercise(place: Path, teacher: User) -> Exercise:
    """The exercise of a folder; its rig, traces, floors and wordbooks are on the shelf already."""
    return keep(teacher, arrive_from(place)).exercise


def _behaviour(teacher: User, rig: Rig, path: Path, world: dict[str, Any]) -> None:
    text = path.read_text()
    title = titled(text, path.stem)
    behaviour = Behaviour.objects.create(owner=teacher, rig=rig, title=title, text=text, world=world)
    save_text(behaviour, text)
