"""Reads what a browser sends."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser


class Json(JSONParser):
    """JSON whose texts can be kept: half of a surrogate pair, which JSON can spell, is no character."""

    def parse(
        self, stream: IO[bytes], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """The value that was sent. Raises ParseError."""
        value = super().parse(stream, media_type, parser_context)
        try:
            json.dumps(value, ensure_ascii=False).encode()
        except UnicodeEncodeError:
            raise ParseError("A text in this request holds half a character. Type it anew.") from None
        return value
