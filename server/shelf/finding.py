"""Lists of what lies on the shelf: searched, by tag, put away or not, in an order."""

from __future__ import annotations

import unicodedata
from typing import Any

from django.db.backends.signals import connection_created
from django.db.models import CharField, F, Func, QuerySet, Value
from django.db.models.functions import Concat
from rest_framework.filters import BaseFilterBackend
from rest_framework.request import Request

MOST_WORDS = 10
ORDERS = {
    "changed": ("-updated", "-id"),
    "used": (F("used").desc(nulls_last=True), "-updated", "-id"),
    "made": ("-created", "-id"),
}
BY_NAME = "name"


def plain(text: str | None) -> str:
    """A text without capitals and accents, as it is searched and sorted."""
    if not text or text.isascii():
        return (text or "").lower()
    parts = unicodedata.normalize("NFKD", text.casefold())
    return "".join(sign for sign in parts if not unicodedata.combining(sign))


def _teach(connection: Any, **_: Any) -> None:
    """Lets the database search and sort as people do: its own words know capitals in ASCII alone."""
    connection.connection.create_function("plain", 1, plain, deterministic=True)


def teach_connections() -> None:
    """Teaches every connection that is opened from now on."""
    connection_created.connect(_teach, dispatch_uid="plain")


class Plain(Func):
    """`plain` in the database."""

    function = "plain"
    output_field = CharField()


class Finding(BaseFilterBackend):
    """Rows that hold each word of `search`, with a `tag`, put away or not, in the order `sort`.

    A view says in `searched` in which of its fields, beside the tags, the words may stand; the first is the name.
    """

    def filter_queryset(self, request: Request, queryset: QuerySet[Any], view: Any) -> QuerySet[Any]:
        """The rows that are asked for."""
        asked = request.query_params
        name, *others = view.searched
        words = plain(asked.get("search")).split()[:MOST_WORDS]
        if words:
            fields = [F(name), *(item for field in ("tags", *others) for item in (Value("\n"), F(field)))]
            queryset = queryset.alias(_words=Plain(Concat(*fields, output_field=CharField())))
            for word in words:
                queryset = queryset.filter(_words__contains=word)
        if asked.get("tag"):
            queryset = queryset.filter(tags__contains=f"\n{asked['tag']}\n")
        if asked.get("archived") in ("yes", "no"):
            queryset = queryset.filter(archived=asked["archived"] == "yes")
        if asked.get("sort") == BY_NAME:
            return queryset.order_by(Plain(F(name)), "id")
        return queryset.order_by(*ORDERS[asked["sort"]]) if asked.get("sort") in ORDERS else queryset

    def get_schema_operation_parameters(self, view: Any) -> list[dict[str, Any]]:
        """The parameters, for the description of the interface."""

        def one(name: str, description: str, **schema: Any) -> dict[str, Any]:
            kind = {"type": "string", **schema}
            return {"name": name, "in": "query", "required": False, "description": description, "schema": kind}

        return [
            one("search", "words that all stand in its name, its tags or its text"),
            one("tag", "a tag that it has"),
            one("archived", "whether it is put away (default: all)", enum=["yes", "no", "all"]),
            one("sort", "the order, the newest first (default: changed)", enum=[*ORDERS, BY_NAME]),
        ]
