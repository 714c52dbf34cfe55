"""Calls the core for the shelf."""

from __future__ import annotations

import json
from datetime import timedelta
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.utils import timezone

from geduld.binding.library import Library, library_of
from geduld.language.parser import parse
from geduld.rig.model import Rig as CoreRig
from geduld.rig.reader import rig_from_json
from geduld.rig.renaming import renamed_rig_in_text
from geduld.worlds.doubts import without_doubtful
from server.shelf.importing import Imported, kept
from server.shelf.models import Behaviour, Revision, Rig, RigRevision, Trace
from server.shelf.unpacked import core_trace

REVISION_EVERY = timedelta(seconds=60)
MOST_REVISIONS = 200


def core_rig(rig: Rig) -> CoreRig:
    """The rig as the core knows it."""
    return _rig(json.dumps(rig.source))


@lru_cache(maxsize=64)
def _rig(source: str) -> CoreRig:
    return rig_from_json(json.loads(source))


@transaction.atomic
def save_rig(rig: Rig, source: dict[str, Any], why: str = "") -> None:
    """Keeps a rig's new source, and what it was to go back to.

    Changes by hand within a minute go back to what was before the first of them, so that the list stays short.
    """
    if source == rig.source:
        return
    now = timezone.now()
    last = rig.revisions.first()
    if why or last is None or last.why or now - last.saved > REVISION_EVERY:
        RigRevision.objects.create(rig=rig, source=rig.source, why=why, saved=now)
        old = rig.revisions.values_list("pk", flat=True)[MOST_REVISIONS:]
        RigRevision.objects.filter(pk__in=list(old)).delete()
    named = rig.name
    rig.source, rig.name = source, source["name"][:100]
    rig.save()
    if rig.name != named:
        _for_the_other_name(rig, named)


def _for_the_other_name(rig: Rig, named: str) -> None:
    """Lets every text that is for a rig be for its other name."""
    rows = ((rig.behaviours, "text"), (rig.wordbooks, "text"), (rig.exercises, "reference"))
    for related, field in rows:
        for row in related(manager="with_trash").all():
            changed = renamed_rig_in_text(getattr(row, field), named, rig.name)
            if changed != getattr(row, field):
                setattr(row, field, changed)
                row.save(update_fields=[field, "updated"])


def library_for(rig: Rig) -> Library:
    """The libraries that the teacher keeps for a rig, among the behaviours."""
    return library_in(library_texts(rig))


@lru_cache(maxsize=64)
def library_in(texts: tuple[str, ...]) -> Library:
    """The libraries among some texts."""
    return library_of(texts)


def libraries_by_rig(owner: int) -> dict[int, list[str]]:
    """The titles of a teacher's libraries, by the keys of their rigs."""
    texts: dict[int, list[str]] = {}
    rows = Behaviour.objects.filter(owner=owner, text__contains="library").order_by("id")
    for rig, text in rows.values_list("rig", "text"):
        texts.setdefault(rig, []).append(text)
    return {rig: list(library_in(tuple(found))) for rig, found in texts.items()}


def library_texts(rig: Rig) -> tuple[str, ...]:
    """The texts that may be libraries."""
    texts = Behaviour.objects.filter(owner=rig.owner_id, rig=rig, text__contains="library").order_by("id")
    return tuple(texts.values_list("text", flat=True))


def save_trace(rig: Rig, name: str, found: Imported) -> Trace:
    """Keeps a recording as a trace."""
    return Trace.objects.create(owner=rig.owner, rig=rig, name=name[:100], **vars(found))


def drop_doubtful(trace: Trace) -> Trace:
    """Makes what cannot be in a trace absent."""
    rig = core_rig(trace.rig)
    for key, value in vars(kept(without_doubtful(core_trace(trace), rig), rig)).items():
        setattr(trace, key, value)
    trace.save()
    return trace


def titled(text: str, otherwise: str) -> str:
    """What a program's text says it is called; the title it had when the text says nothing."""
    return parse(text).tree.title[:100] or otherwise


@transaction.atomic
def save_text(behaviour: Behaviour, text: str, before: str | None = None) -> None:
    """Keeps a behaviour's new text, and a revision to go back to.

    Typing on from the last revision, `before`, within a minute goes into that revision, so that the list stays short.
    """
    now = timezone.now()
    last = behaviour.revisions.first()
    if last is not None and last.text == text:
        return
    typing_on = last is not None and last.text == before and not last.apart and now - last.saved < REVISION_EVERY
    if last is not None and typing_on and behaviour.revisions.count() > 1:
        last.text = text
        last.save(update_fields=["text"])
    else:
        keep_revision(behaviour, text)


def keep_revision(behaviour: Behaviour, text: str, apart: bool = False) -> None:
    """A text to go back to; `apart` for one that was refused, because another had been saved in the meantime."""
    Revision.objects.create(behaviour=behaviour, text=text, saved=timezone.now(), apart=apart)
    old = behaviour.revisions.values_list("pk", flat=True)[MOST_REVISIONS:]
    Revision.objects.filter(pk__in=list(old)).delete()
