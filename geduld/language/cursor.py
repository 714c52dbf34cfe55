"""A place in the tokens of one line, with the questions a parser asks."""

from __future__ import annotations

from geduld.language.lexer import Line, Token
from geduld.language.messages import Problem, Span, error, nearest
from geduld.language.quantities import UNITS


def unknown_unit(word: str, span: Span) -> Problem:
    """The error for a word that is not a unit."""
    like = nearest(word, UNITS)
    remedy = f"Did you mean {like}?" if like else f"The units are {', '.join(UNITS)}."
    return Problem(error("unknown-unit", span, f'"{word}" is not a unit.', remedy, like))


class Cursor:
    """Reads the tokens of a line one by one."""

    def __init__(self, line: Line) -> None:
        self.line = line
        self.tokens = line.tokens
        # The text of each token, and nothing behind the last. Texts keep their quotation marks, so no word is one.
        self.texts = [token.text for token in line.tokens]
        self.texts.append("")
        last = self.tokens[-1]
        self.all = [*self.tokens, Token("end", "", last.line, last.end, last.end + 1)]
        self.position = 0
        self.depth = 0
        self.signs = 0

    @property
    def token(self) -> Token:
        """The token here; past the last one, an `end` token just behind it."""
        return self.all[self.position]

    @property
    def text(self) -> str:
        """The text of the token here; empty past the last one."""
        return self.texts[self.position]

    @property
    def last_span(self) -> Span:
        """The span of the token before this one."""
        return self.tokens[max(0, self.position - 1)].span

    def since(self, first: Token | Span) -> Span:
        """From the start of a token or a span to the end of the token before this one."""
        last = self.tokens[self.position - 1] if self.position else self.tokens[0]
        return tuple.__new__(Span, (first.line, first.column, last.line, last.end))

    def at(self, *words: str) -> bool:
        """Whether these words or signs stand here, in this order."""
        if len(words) == 1:
            return self.texts[self.position] == words[0]
        return tuple(self.texts[self.position : self.position + len(words)]) == words

    def take(self, *words: str) -> bool:
        """Steps over these words when they stand here."""
        if self.texts[self.position] != words[0] or (len(words) > 1 and not self.at(*words)):
            return False
        self.position += len(words)
        return True

    def next(self) -> Token:
        """The token here, stepped over."""
        token = self.all[self.position]
        if token.kind != "end":
            self.position += 1
        return token

    def take_kind(self, kind: str) -> Token | None:
        """The token here, stepped over, when it is of this kind."""
        return self.next() if self.token.kind == kind else None

    def quoted(self, example: str) -> str:
        """A text in quotation marks that ends the line, without them."""
        text = self.take_kind("text")
        if text is None:
            raise self.unexpected("a text in quotation marks", f"Write for example: {example}")
        self.expect_end()
        return text.text[1:-1]

    def expect(self, word: str, after: str, remedy: str) -> Token:
        """Steps over `word`, or says that it is missing."""
        if self.take(word):
            return self.tokens[self.position - 1]
        raise self.unexpected(f'"{word}" {after}', remedy)

    def unexpected(self, wanted: str, remedy: str, code: str = "unexpected") -> Problem:
        """The error for a token that should have been something else."""
        token = self.token
        found = f'"{token.text.strip(chr(34))}"' if token.kind != "end" else "the line's end"
        return Problem(error(code, token.span, f"Here {found} stands, where {wanted} was expected.", remedy))

    def expect_end(self) -> None:
        """The line must be over here."""
        if self.token.kind == "end":
            return
        before = self.tokens[self.position - 1]
        if before.kind == "number" and self.token.kind == "word":
            raise self.unknown_unit()
        span = self.span_to_end()
        message = "The step is complete before this; the rest of the line has no meaning here."
        raise Problem(error("too-much", span, message, "Delete the rest, or write it on a line of its own."))

    def unknown_unit(self) -> Problem:
        """The error for a word that stands where a unit belongs."""
        return unknown_unit(self.token.text, self.token.span)

    def span_to_end(self) -> Span:
        """From here to the end of the line."""
        return self.token.span.to(self.tokens[-1].span) if self.position < len(self.tokens) else self.token.span
