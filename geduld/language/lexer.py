"""From lines of text to a tree of lines: tokens, comments and indentation."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import NamedTuple

from geduld.language.messages import Hint, Span, error

MOST_DEPTH = 16

MOST_NUMBER = 1e30
_TOKEN = re.compile(
    r"""(?P<word>[^\W\d]\w*)
    |(?P<number>[0-9]+(?:\.[0-9]+)?(?:[eE][+-]?[0-9]+)?)
    |(?P<sign><=|>=|!=|\+-|[-+*/<>=(),:.%])
    |(?P<text>"[^"]*")
    |(?P<comment>\#.*)
    """,
    re.VERBOSE,
)


_new = tuple.__new__  # as Token(…) does, without its detour: there are many


class Token(NamedTuple):
    """One word, number, text or sign. `kind` is `word`, `number`, `text`, `sign` or `end`.

    Columns count from 1; `end` is the first one behind it.
    """

    kind: str
    text: str
    line: int
    column: int
    end: int

    @property
    def span(self) -> Span:
        """Where it stands."""
        return _new(Span, (self.line, self.column, self.line, self.end))


@dataclass(slots=True)
class Line:
    """A line with its tokens, the comments before and behind it, and the lines indented under it."""

    number: int
    indent: int
    tokens: list[Token]
    before: tuple[str, ...] = ()
    comment: str = ""
    children: list[Line] = field(default_factory=list)
    trailing: tuple[str, ...] = ()


def read_lines(lines: list[str]) -> tuple[list[Line], tuple[str, ...], list[Hint]]:
    """A tree of lines, the comments behind the last one, and what could not be read."""
    hints: list[Hint] = []
    flat: list[Line] = []
    waiting: list[tuple[int, str]] = []
    for number, text in enumerate(lines, 1):
        line = _read_line(number, text, hints)
        if not line.tokens:
            if line.comment or flat or waiting:
                waiting.append((line.indent if line.comment else -1, line.comment))
            continue
        if waiting:
            _hand_out_comments(flat, line, waiting)
            waiting = []
        flat.append(line)
    while waiting and not waiting[-1][1]:
        waiting.pop()
    end = Line(len(lines) + 1, 0, [])
    _hand_out_comments(flat, end, waiting)
    return _nest(flat, hints), end.before, hints


def _hand_out_comments(flat: list[Line], line: Line, waiting: list[tuple[int, str]]) -> None:
    """Comments indented deeper than the next line close the block before it; the others stand before it."""
    cut = 0
    if flat and flat[-1].indent > line.indent:
        for index, (indent, text) in enumerate(waiting):
            if text and indent > line.indent:
                cut = index + 1
    if cut:
        flat[-1].trailing = _squeeze([text for _, text in waiting[:cut]])
    line.before = _squeeze([text for _, text in waiting[cut:]])


def _squeeze(comments: list[str]) -> tuple[str, ...]:
    """Comment lines with at most one blank line between them."""
    kept: list[str] = []
    for text in comments:
        if text or not kept or kept[-1]:
            kept.append(text)
    return tuple(kept)


def _read_line(number: int, text: str, hints: list[Hint]) -> Line:
    body = text.lstrip(" \t")
    lead = text[: len(text) - len(body)]
    if "\t" in lead and body:
        column = lead.index("\t") + 1
        span = Span(number, column, number, column + 1)
        hints.append(error("tab", span, "A tab stands where spaces belong.", "Use 4 spaces for each level.", "    "))
    line = Line(number, len(lead.expandtabs(4)), [])
    position, tokens = len(lead), line.tokens
    for match in _TOKEN.finditer(text, position):
        start, end = match.span()
        if text[position:start] not in ("", " ") and not _between(number, position, start, text, hints):
            return line
        position, kind = end, match.lastgroup or ""
        if kind == "comment":
            line.comment = match[0].rstrip()
        else:
            if kind == "number" and float(match[0]) > MOST_NUMBER:
                hints.append(_too_large(number, start, end))
            tokens.append(_new(Token, (kind, match[0], number, start + 1, end + 1)))
    if position < len(text):
        _between(number, position, len(text), text, hints)
    return line


def _between(number: int, position: int, stop: int, text: str, hints: list[Hint]) -> bool:
    """What stands between two tokens: spaces, or what has no meaning; False when the rest of the line has none."""
    while gap := text[position:stop].lstrip(" \t"):
        position = stop - len(gap)
        hints.append(_stray(number, position, text))
        if gap[0] == '"':
            return False
        position = stop - len(gap.lstrip(gap[0]))
    return True


def _too_large(number: int, start: int, end: int) -> Hint:
    message = f"This number is greater than {MOST_NUMBER:g}, which nothing here can be."
    return error("number-too-large", Span(number, start + 1, number, end + 1), message, "Write a smaller number.")


def _stray(number: int, position: int, text: str) -> Hint:
    character = text[position]
    if character == '"':
        span = Span(number, position + 1, number, len(text) + 1)
        return error("text-not-closed", span, "This text has no closing quotation mark.", 'Put a " at its end.')
    span = Span(number, position + 1, number, position + 2)
    if character == ";":
        return error("stray-character", span, '";" is not needed here.', "Delete it: a line end is enough.", "")
    message = f'"{character}" has no meaning here.' if character.isprintable() else "This has no meaning here."
    return error("stray-character", span, message, "Delete it, or put it inside a text in quotation marks.")


def _nest(flat: list[Line], hints: list[Hint]) -> list[Line]:
    roots: list[Line] = []
    stack: list[Line] = []
    too_deep = False
    for line in flat:
        left: list[Line] = []
        while stack and stack[-1].indent >= line.indent:
            left.append(stack.pop())
        level = left[-1].indent if left else None
        if level is not None and level != line.indent:
            message = "This line is indented less than the lines above it, but not as much as any earlier block."
            hints.append(error("indent", _lead(line), message, "Line it up with the step it belongs beside."))
        if len(stack) >= MOST_DEPTH:
            if not too_deep:
                message = f"Blocks stand inside blocks more than {MOST_DEPTH} deep."
                hints.append(error("too-deep", _lead(line), message, "Take some of them apart."))
                stack[-1].children.append(line)
            too_deep = True
            continue
        (stack[-1].children if stack else roots).append(line)
        stack.append(line)
    return roots


def _lead(line: Line) -> Span:
    return Span(line.number, 1, line.number, max(2, line.indent + 1))
