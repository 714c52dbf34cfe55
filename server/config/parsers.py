"""Reads what a browser sends."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

MOST_NESTED = 64


def _depth(value: Any) -> int:
    """How many lists and objects stand inside each other; counted no further than to what is refused."""
    depth, level = 0, [value]
    while level and depth <= MOST_NESTED:
        inner: list[Any] = []
        for item in level:
            inner += item.values() if isinstance(item, dict) else item if isinstance(item, list) else ()
        depth, level = depth + 1, inner
    return depth


class Json(JSONParser):
    """JSON whose texts can be kept: half of a surrogate pair, which JSON can spell, is no character."""

    def parse(
        self, stream: IO[bytes], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """The value that was sent. Raises ParseError."""
        try:
            value = super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError(f"This request is nested more than {MOST_NESTED} deep.") from None
        if _depth(value) > MOST_NESTED:
            raise ParseError(f"This request is nested more than {MOST_NESTED} deep.")
        try:
            json.dumps(value, ensure_ascii=False).encode()
        except UnicodeEncodeError:
            raise ParseError("A text in this request holds half a character. Type it anew.") from None
        return value
