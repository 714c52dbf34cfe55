"""The lines of a program, for hints that are about a whole step."""

from __future__ import annotations

from dataclasses import replace

from geduld.language.messages import Hint, Span, error


class Lines:
    """The text of a program by lines, counted from 1."""

    def __init__(self, text: str) -> None:
        self.lines = text.split("\n")

    def text(self, line: int) -> str:
        """A line without its indentation and its comment."""
        if not 1 <= line <= len(self.lines):
            return ""
        return self.lines[line - 1].split("#")[0].strip()

    def span(self, line: int) -> Span:
        """The step on a line."""
        text = self.lines[line - 1] if 1 <= line <= len(self.lines) else ""
        first = len(text) - len(text.lstrip()) + 1
        return Span(line, first, line, first + max(1, len(self.text(line))))

    def shows_until(self, line: int) -> bool:
        """Whether a step's own `until` stands on its line: not behind a band's colon, nor in a library it performs."""
        text = self.text(line)
        return " until " in text and ": " not in text

    def indent(self, line: int) -> str:
        """The spaces before a line."""
        text = self.lines[line - 1]
        return text[: len(text) - len(text.lstrip())]

    def warning(self, code: str, line: int, message: str, remedy: str, fix: str | None = None) -> Hint:
        """A hint about a step that will probably not do what was meant; `fix` is the step as it should be."""
        return replace(error(code, self.span(line), message, remedy, fix), level="warning")

    def advice(self, code: str, line: int, message: str, remedy: str, fix: str | None = None) -> Hint:
        """A hint about a step that works here and may not on a real robot."""
        return replace(error(code, self.span(line), message, remedy, fix), level="advice")
