"""Rows as the processes that only read keep them: for as long as nobody changes the database."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any

from django.db import connection
from django.db.models import QuerySet
from rest_framework.serializers import PrimaryKeyRelatedField, ValidationError

MOST_KEPT = 256
_kept: dict[Hashable, Any] = {}
# PRAGMA data_version tells of other connections' changes alone: a process that changes rows must not keep any.
_only_reads = False
_version: int | None = None


def only_reads() -> None:
    """Says that this process never changes the database."""
    global _only_reads
    _only_reads = True


def unchanged(key: Hashable, read: Callable[[], Any]) -> Any:
    """What was read under a key, read again when the database has been changed since. Raises what `read` raises."""
    global _version
    if not _only_reads:
        return read()
    with connection.cursor() as cursor:
        version: int = cursor.execute("PRAGMA data_version").fetchone()[0]
    if version != _version or len(_kept) >= MOST_KEPT:
        _kept.clear()
        _version = version
    if key not in _kept:
        _kept[key] = read()
    return _kept[key]


def owned_row(rows: QuerySet[Any], field: str, key: int | None, teacher: int) -> Any:
    """The row of a teacher's that a field names by its key; None when it names none.

    Raises ValidationError when there is no such row.
    """

    def read() -> Any:
        row = rows.filter(owner=teacher, pk=key).first()
        if row is None:
            message = PrimaryKeyRelatedField.default_error_messages["does_not_exist"]
            raise ValidationError({field: [message.format(pk_value=key)]}, code="does_not_exist")
        return row

    return None if key is None else unchanged((rows.model, teacher, key), read)
