"""Reads a whole behaviour. Errors never hide each other: every line is read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Generic, TypeVar

from geduld.language import tree
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression
from geduld.language.lexer import Line, read_lines
from geduld.language.messages import Hint, Problem, Span, error, nearest
from geduld.language.source import decode, split_lines
from geduld.language.steps import StepReader, new_name

Tree = TypeVar("Tree")
MOST_HINTS = 100


@dataclass(frozen=True)
class Parsed(Generic[Tree]):
    """A tree, as far as the text could be read, and every error in the text."""

    tree: Tree
    hints: tuple[Hint, ...]

    @property
    def good(self) -> bool:
        """Whether the text has no error."""
        return not any(hint.level == "error" for hint in self.hints)


def parse(source: str | bytes) -> Parsed[tree.Plan]:
    """The plan of a behaviour's text.

    Never raises on any text: what cannot be read is left out of the plan and said in `hints`.
    """
    roots, trailing, hints = lines_of(source)
    reader = _PlanReader(hints)
    plan = reader.plan(roots, trailing)
    return parsed(plan, hints)


def lines_of(source: str | bytes) -> tuple[list[Line], tuple[str, ...], list[Hint]]:
    """The top lines of a text with what stands under them, the comments behind the last, and what is wrong so far."""
    text, hints = decode(source) if isinstance(source, bytes) else (source, [])
    if hints:
        return [], (), hints
    lines, odd = split_lines(text)
    roots, trailing, stray = read_lines(lines)
    return roots, trailing, [*odd, *stray]


def parsed(found: Tree, hints: Sequence[Hint]) -> Parsed[Tree]:
    """A tree with what was wrong, in the order of the text and so much of it as may be said."""
    return Parsed(found, tuple(sorted(hints, key=lambda hint: hint.order))[:MOST_HINTS])


def read_let(line: Line, first: bool) -> tree.Let:
    """A `let` line; `first` when nothing stands in front of it. Raises Problem."""
    cursor = Cursor(line)
    cursor.next()
    name = new_name(cursor, "let near = 40 cm")
    parameters: tuple[str, ...] = ()
    if cursor.take("("):
        parameters = _parameters(cursor, "let speed(gap) = gap * 2 %/cm")
        cursor.expect(")", "behind the names", "Write for example: let speed(gap) = gap * 2 %/cm")
    cursor.expect("=", "behind the name", "Write for example: let near = 40 cm")
    value = expression(cursor)
    cursor.expect_end()
    span = line.tokens[0].span.to(line.tokens[-1].span)
    before = tree.without_gap(line.before) if first else line.before
    return tree.Let(name.text, value, name.span, parameters, span=span, before=before, comment=line.comment)


def _parameters(cursor: Cursor, example: str, or_unit: bool = False) -> tuple[str, ...]:
    """The names that something is given; with `or_unit` a motor may be called m."""
    names = [new_name(cursor, example, or_unit)]
    while cursor.take(","):
        names.append(new_name(cursor, example, or_unit))
        if names[-1].text in [name.text for name in names[:-1]]:
            raise Problem(error("name-taken", names[-1].span, "Two of these names are the same.", "Rename one."))
    return tuple(name.text for name in names)


def not_top_level(line: Line, words: tuple[str, ...], example: str) -> Problem:
    """The error for a line that starts with none of the words that can start one here."""
    token = line.tokens[0]
    like = nearest(token.text, words)
    remedy = f"Did you mean {like}?" if like else f"Write for example: {example}"
    shown = token.text.strip(chr(34))
    return Problem(error("unknown-section", token.span, f'"{shown}" cannot stand here.', remedy, like))


class _PlanReader:
    def __init__(self, hints: list[Hint]) -> None:
        self.hints = hints
        self.title: str | None = None
        self.rig: str | None = None
        self.lets: list[tree.Let] = []
        self.routines: list[tree.Routine] = []
        self.begin: tree.Block | None = None
        self.includes: list[tree.Include] = []
        self.is_library = False
        self.comments: dict[str, tuple[tuple[str, ...], str]] = {}

    def plan(self, roots: list[Line], trailing: tuple[str, ...]) -> tree.Plan:
        readable = not self.hints or bool(roots)
        for line in roots:
            try:
                self._section(line)
            except Problem as problem:
                self.hints.append(problem.hint)
                if line.children:
                    StepReader(self.hints).steps(line.children)
        if readable:
            self._missing(roots)
        head = "library" if self.is_library else "behaviour"
        comments = tuple(self.comments.get(word, ((), "")) for word in (head, "for", "begin"))
        return tree.Plan(
            self.title or "",
            self.rig,
            tuple(self.lets),
            self.begin or tree.Block(),
            tuple(self.routines),
            comments,
            trailing,
            tuple(self.includes),
            self.is_library,
        )

    def _section(self, line: Line) -> None:
        word = line.tokens[0].text
        cursor = Cursor(line)
        cursor.next()
        if word in ("behaviour", "library"):
            self._once(word, line, self.title is not None)
            self.is_library = word == "library"
            self.title = cursor.quoted('behaviour "Dock at the barrel"')
        elif word == "include":
            name = cursor.quoted('include "garden moves"')
            before = line.before if self.includes else tree.without_gap(line.before)
            span = line.tokens[0].span.to(line.tokens[-1].span)
            self.includes.append(tree.Include(name, span=span, before=before, comment=line.comment))
        elif word == "for":
            self._once(word, line, self.rig is not None)
            cursor.expect("rig", "behind for", 'Write for example: for rig "glasshouse-cart"')
            self.rig = cursor.quoted('for rig "glasshouse-cart"')
        elif word == "let":
            self.lets.append(read_let(line, not self.lets))
        elif word == "to":
            self.routines.append(self._routine(line, cursor))
        elif word == "begin":
            self._once(word, line, self.begin is not None)
            self.begin = StepReader(self.hints).block(line, cursor)
        elif self._step_outside(line):
            message = "This step stands outside begin, so it would never run."
            remedy = "Indent it by 4 spaces under begin:"
            raise Problem(error("step-outside", line.tokens[0].span, message, remedy))
        else:
            raise not_top_level(line, ("behaviour", "library", "for", "include", "let", "to", "begin"), "begin:")
        if line.children and word not in ("begin", "to"):
            span = line.children[0].tokens[0].span
            self.hints.append(error("indent", span, "Nothing can stand under this line.", "Do not indent it."))

    def _routine(self, line: Line, cursor: Cursor) -> tree.Routine:
        example = "to dock with pace:"
        name = new_name(cursor, example)
        if cursor.token.kind == "word" and not cursor.at("with"):
            words = [
                name.text,
                *(token.text for token in line.tokens[2:] if token.kind == "word" and token.text != "with"),
            ]
            span, fix = name.span.to(cursor.token.span), f"{name.text}_{cursor.text}"
            message = f"A routine has a name of one word, and here are {len(words)}."
            raise Problem(error("two-words", span, message, f"Write for example: to {fix}:", fix))
        parameters = _parameters(cursor, example, or_unit=True) if cursor.take("with") else ()
        body = StepReader(self.hints).block(line, cursor)
        span = line.tokens[0].span.to(line.tokens[-1].span)
        before = tree.without_gap(line.before)
        return tree.Routine(name.text, parameters, body, name.span, span=span, before=before, comment=line.comment)

    def _step_outside(self, line: Line) -> bool:
        quiet: list[Hint] = []
        return bool(StepReader(quiet).steps([line]).steps) and not quiet

    def _once(self, word: str, line: Line, already: bool) -> None:
        if already:
            remedy = "Keep one of them."
            message = f'There is a second "{word}" here.'
            raise Problem(error("twice", line.tokens[0].span, message, remedy))
        before = line.before if word == "for" else tree.without_gap(line.before)
        self.comments[word] = (before, line.comment)

    def _missing(self, roots: list[Line]) -> None:
        top = Span(1, 1, 1, 2)
        started = {line.tokens[0].text for line in roots}
        if self.is_library:
            if self.begin is not None:
                message = "A library holds routines, and this one has a begin."
                remedy = 'Delete begin, or start the text with: behaviour "…"'
                line = next(line for line in roots if line.tokens[0].text == "begin")
                self.hints.append(error("library-begin", line.tokens[0].span, message, remedy))
            return
        if "behaviour" not in started:
            message = "The program does not say its name."
            remedy = 'Write on the first line, for example: behaviour "Dock at the barrel"'
            self.hints.append(replace(error("no-title", top, message, remedy), level="warning"))
        if "begin" not in started:
            number = roots[-1].number if roots else 1
            message = "The program has no begin, so nothing would run."
            span = Span(number, 1, number, 2)
            self.hints.append(error("no-begin", span, message, "Write begin: and the steps under it."))
