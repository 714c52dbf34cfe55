"""Reads a line on behind its first error: as if that one were mended, so that the next one is said too."""

from __future__ import annotations

from dataclasses import replace

from geduld.language.lexer import Line, Token
from geduld.language.messages import Hint

MOST_ERRORS = 5
ODD_UNIT = "odd unit"


def mended(line: Line, hint: Hint) -> Line | None:
    """The line with the place of an error put right; None where nobody knows what was meant.

    A unit that is none stays, as an odd one: whoever asks for its value gets the error again, and what stands around
    it can be looked at.
    """
    if hint.line != line.number:
        return None
    inside = [k for k, token in enumerate(line.tokens) if hint.column <= token.column < hint.end_column]
    if not inside:
        return None
    if hint.code == "unknown-unit":
        words = [(ODD_UNIT, line.tokens[inside[0]].text)]
    elif hint.code == "reserved-name":
        words = [("word", "named_otherwise")]
    elif hint.code == "too-much":
        # what stands in front of the rest is a whole step; a colon at the end still opens its block
        words = [("sign", ":")] if line.tokens[-1].text == ":" else []
    elif hint.fix is not None:
        words = [("word" if word.isalpha() else "sign", word) for word in hint.fix.split()]
    else:
        return None
    first, last = line.tokens[inside[0]], line.tokens[inside[-1]]
    # The new tokens stand where the old ones stood, so that what follows keeps its columns.
    new = [Token(kind, text, line.number, first.column, last.end) for kind, text in words]
    tokens = [*line.tokens[: inside[0]], *new, *line.tokens[inside[-1] + 1 :]]
    return replace(line, tokens=tokens) if tokens else None
