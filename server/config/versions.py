"""Texts that several may change at once: who saves says which text it started from."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from rest_framework.exceptions import APIException


class Changed(APIException):
    """What is to be replaced is not any more what the change started from: both are told, and nothing is replaced."""

    status_code = 409
    default_code = "changed-elsewhere"
    default_detail = "This was changed elsewhere in the meantime, so nothing is replaced. Choose which one stays."

    def __init__(self, field: str, mine: Any, theirs: Any) -> None:
        super().__init__()
        self.mine = mine
        self.more = {"field": field, "theirs": theirs, "version": version_of(theirs)}


def version_of(value: Any) -> str:
    """A short hash that tells one text, or one JSON value, from another."""
    text = value if isinstance(value, str) else json.dumps(value, sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def unchanged(field: str, mine: Any, theirs: Any, started_from: str | None) -> None:
    """Raises Changed when a change started from something else than what is kept, and is not what is kept.

    Without `started_from` the change does not ask.
    """
    if started_from is not None and mine != theirs and started_from != version_of(theirs):
        raise Changed(field, mine, theirs)
