"""The trash: what is put there is gone from everywhere, can be put back, and goes for good after some time."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Any

from django.db import models, transaction
from django.db.models import ProtectedError
from django.utils import timezone
from rest_framework.exceptions import APIException

from server.config.space import shrink
from server.shelf.models import OnShelf

KEPT_FOR = timedelta(days=30)


class InUse(APIException):
    """Something that other things still need."""

    status_code = 409
    default_code = "in-use"


def kinds() -> dict[str, type[OnShelf]]:
    """The kinds of what lies on the shelf."""
    found: list[Any] = OnShelf.__subclasses__()
    return {model.kind: model for model in found}


@transaction.atomic
def put_in_trash(row: OnShelf) -> None:
    """Puts a row into the trash, with all that belongs to it. Raises InUse while something on the shelf needs it."""
    user = next(_users(row), None)
    if user is not None:
        raise InUse(f'The {_word(user)} "{user.called}" still needs this. Delete it first, or take this out of it.')
    now = timezone.now()
    for item in (row, *_belonging(row)):
        type(item).with_trash.filter(pk=item.pk, trashed__isnull=True).update(trashed=now)
    empty_old(row.owner_id)


@transaction.atomic
def put_back(row: OnShelf) -> list[OnShelf]:
    """Takes a row out of the trash, with all that went there with it and all that it needs: those that were there."""
    found: list[OnShelf] = []
    together = [item for item in _belonging(row) if item.trashed == row.trashed]
    waiting = [row, *together]
    while waiting:
        item = waiting.pop()
        if item.trashed is None or item in found:
            continue
        found.append(item)
        waiting += _needed(item)
    for item in found:
        type(item).with_trash.filter(pk=item.pk).update(trashed=None)
    return found


def destroy(row: OnShelf) -> None:
    """Deletes a row for good. Raises InUse while something needs it, in the trash or out of it."""
    if not _destroyed([row]):
        raise InUse("Something else in the trash still needs this. Delete that first, or empty the trash.")


def empty(owner: int | None, before: datetime | None = None) -> int:
    """Deletes for good what was put into the trash (`before` a time, of one owner), and gives how many rows.

    What something else still needs stays.
    """
    asked: dict[str, Any] = {} if owner is None else {"owner": owner}
    asked |= {"trashed__isnull": False} if before is None else {"trashed__lt": before}
    rows = [row for model in kinds().values() for row in model.with_trash.filter(**asked).only("pk", "owner")]
    return _destroyed(rows)


def empty_old(owner: int | None = None) -> int:
    """Deletes for good what has been in the trash for longer than it is kept, and gives how many rows."""
    return empty(owner, timezone.now() - KEPT_FOR)


def _destroyed(rows: list[OnShelf]) -> int:
    """Deletes rows in the order in which they need each other; gives how many are gone."""
    gone = 0
    while rows:
        left = []
        for row in rows:
            try:
                if _is_listed(row):
                    left.append(row)
                else:
                    row.delete()
            except ProtectedError:
                left.append(row)
        gone += len(rows) - len(left)
        if len(left) == len(rows):
            break
        rows = left
    if gone:
        transaction.on_commit(shrink)
    return gone


def _is_listed(row: OnShelf) -> bool:
    """Whether a list of something else has a row, in the trash or out of it: deleting would take it out unseen."""
    lists = (link for link in _relations(row) if link.many_to_many)
    return any(link.related_model._base_manager.filter(**{link.field.name: row}).exists() for link in lists)


def _relations(row: models.Model) -> list[Any]:
    """The relations by which other rows name this one, those without a name of their own too."""
    found: list[Any] = row._meta.get_fields(include_hidden=True)
    return [link for link in found if link.auto_created and not link.concrete and not _is_through(link.related_model)]


def _is_through(model: type[models.Model]) -> bool:
    """Whether a table is but the list behind a field."""
    return bool(model._meta.auto_created)


def _word(row: OnShelf) -> str:
    return str(type(row)._meta.verbose_name)


def _users(row: OnShelf) -> Iterator[OnShelf]:
    """What is on the shelf and needs a row: by a link that keeps it from being deleted, or by a list with it."""
    for link in _relations(row):
        protects = link.many_to_many or link.on_delete is models.PROTECT
        if not protects:
            continue
        for found in _light(link.related_model._default_manager.filter(**{link.field.name: row})):
            user = found if isinstance(found, OnShelf) else _owner_of(found)
            if user is not None and user.trashed is None:
                yield user


def _owner_of(part: models.Model) -> OnShelf | None:
    """What a part, such as a case, belongs to."""
    for field in _links(type(part)):
        if field.many_to_one and field.remote_field.on_delete is models.CASCADE:
            whole: OnShelf = getattr(part, field.name)
            return whole
    return None


def _belonging(row: OnShelf) -> Iterator[OnShelf]:
    """What lies on the shelf itself, and goes when a row goes."""
    for link in _relations(row):
        if not link.many_to_many and link.on_delete is models.CASCADE and issubclass(link.related_model, OnShelf):
            yield from _light(link.related_model.with_trash.filter(**{link.field.name: row}))


def _needed(row: OnShelf) -> Iterator[OnShelf]:
    """What a row cannot be without: what it is linked to, or its parts are."""
    yield from _linked(row)
    for link in _relations(row):
        if link.many_to_many or link.on_delete is not models.CASCADE or issubclass(link.related_model, OnShelf):
            continue
        if any(field != link.field for field in _links(link.related_model)):
            for part in link.related_model._base_manager.filter(**{link.field.name: row}):
                yield from _linked(part)


def _linked(row: models.Model) -> Iterator[OnShelf]:
    """What a row is linked to."""
    for field in _links(type(row)):
        if field.many_to_many:
            one, other = str(row._meta.model_name), field.related_model._meta.model_name
            keys = getattr(type(row), field.name).through._base_manager.filter(**{one: row.pk}).values_list(other)
            yield from _light(field.related_model.with_trash.filter(pk__in=keys))
        else:
            yield from _light(field.related_model.with_trash.filter(pk=getattr(row, field.attname)))


def _links(model: type[models.Model]) -> list[Any]:
    """A model's own links to what lies on the shelf."""
    forward = [
        field for field in model._meta.get_fields() if field.concrete and (field.many_to_one or field.many_to_many)
    ]
    return [field for field in forward if field.related_model and issubclass(field.related_model, OnShelf)]


def _light(rows: models.QuerySet[Any]) -> models.QuerySet[Any]:
    """Rows without the bytes of their recordings."""
    large = [field.name for field in rows.model._meta.concrete_fields if isinstance(field, models.BinaryField)]
    return rows.defer(*large)
