"""Lists: page by page, and never without an answer because of one bad row."""

from __future__ import annotations

import logging
from typing import Any

from rest_framework.pagination import LimitOffsetPagination
from rest_framework.relations import PKOnlyObject
from rest_framework.response import Response
from rest_framework.utils.urls import replace_query_param

from geduld.errors import GeduldError

log = logging.getLogger(__name__)
MOST_ROWS = 200  # of a page for which nobody says how many
_UNKNOWN = "Geduld cannot read this any more."


class Pages(LimitOffsetPagination):
    """A list in pages of at most `limit` rows: the array itself, and the way to the next page in the header Link."""

    default_limit = MOST_ROWS
    max_limit = 500
    following: tuple[str, int, int] | None = None

    def paginate_queryset(self, queryset: Any, request: Any, view: Any = None) -> list[Any]:
        """One page. One row more is asked for, to know whether there is a next page: counting all would cost more."""
        limit = self.get_limit(request) or MOST_ROWS
        offset = min(self.get_offset(request), 2**62)
        rows = list(queryset[offset : offset + limit + 1])
        self.following = (request.build_absolute_uri(), limit, offset + limit) if len(rows) > limit else None
        return rows[:limit]

    def get_paginated_response(self, data: Any) -> Response:
        """The page."""
        response = Response(data)
        if self.following is not None:
            address, limit, offset = self.following
            for name, value in (("limit", limit), ("offset", offset)):
                address = replace_query_param(address, name, value)
            response["Link"] = f'<{address}>; rel="next"'
        return response

    def get_paginated_response_schema(self, schema: dict[str, Any]) -> dict[str, Any]:
        """The array itself."""
        return schema


class BrokenRow:
    """A serializer whose rows can break: what was kept by an older version, say, or depends on what was changed.

    Such a row is shown with `broken`, the reason why, and for each field that cannot be worked out with what is
    `in_place` of it; it can be mended by PATCH, or deleted. Rows that are whole have `broken` null.
    """

    in_place: dict[str, Any]

    def to_representation(self, row: Any) -> dict[str, Any]:
        """The row as JSON, field by field."""
        told: dict[str, Any] = {}
        broken: str | None = None
        for field in self._readable_fields:  # type: ignore[attr-defined]
            name = field.field_name
            if name == "broken":
                continue
            try:
                told[name] = _value(field, row)
            except GeduldError as problem:
                broken = broken or f"{problem.message} {problem.remedy}".strip()
                told[name] = self.in_place[name]
            except Exception:
                log.exception("%s of row %s of %s cannot be read", name, row.pk, type(row).__name__)
                broken = broken or _UNKNOWN
                told[name] = self.in_place.get(name)
        return {**told, "broken": broken}


def _value(field: Any, row: Any) -> Any:
    attribute = field.get_attribute(row)
    known = attribute.pk if isinstance(attribute, PKOnlyObject) else attribute
    return None if known is None else field.to_representation(attribute)
