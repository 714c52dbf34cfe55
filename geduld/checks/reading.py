"""Reads check texts: lets, and checks with a title, points, and one sentence each."""

from __future__ import annotations

from dataclasses import replace

from geduld.checks.pattern import Pattern
from geduld.checks.patterns import PATTERNS
from geduld.checks.sheet import Check, CheckSheet, Sentence
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.lexer import Line
from geduld.language.messages import Problem, Span, error, listed
from geduld.language.parser import Parsed, lines_of, not_top_level, parsed, read_let
from geduld.language.tree import Expression, Let, without_gap
from geduld.language.words import OVER_CASES

MOST_POINTS = 1_000
MOST_TITLE = 200
_EXAMPLE = 'Write for example: check "Stops at the barrel", 3 points:'
_EXAMPLE_OF_ONE = "Write for example: after nose is pressed, within 100 ms, drive = 0 %"


def parse_checks(source: str | bytes) -> Parsed[CheckSheet]:
    """The tree of a check text. Never raises on any text."""
    roots, trailing, hints = lines_of(source)
    lets: list[Let] = []
    checks: list[Check] = []
    for line in roots:
        try:
            word = line.tokens[0].text
            if word == "let":
                lets.append(read_let(line, False))
            elif word == "check":
                checks.append(_check(line))
            else:
                raise not_top_level(line, ("check", "let"), 'check "Stops", 2 points:')
        except Problem as problem:
            hints.append(problem.hint)
    if not checks and not hints:
        remedy = 'Write for example: check "Stops", 2 points:'
        hints.append(error("no-checks", Span(1, 1, 1, 2), "There is no check here yet.", remedy))
    return parsed(CheckSheet(tuple(lets), tuple(checks), trailing), hints)


def _check(line: Line) -> Check:
    """A `check` line with its sentence under it."""
    cursor = Cursor(line)
    cursor.next()
    title = cursor.take_kind("text")
    if title is None:
        raise cursor.unexpected("the check's title in quotation marks", _EXAMPLE)
    cursor.expect(",", "behind the title", _EXAMPLE)
    points = cursor.take_kind("number")
    if points is None:
        raise cursor.unexpected("the points it is worth", _EXAMPLE)
    if not (cursor.take("points") or cursor.take("point")):
        raise cursor.unexpected('"points"', _EXAMPLE)
    if float(points.text) > MOST_POINTS:
        message = f"A check is worth at most {MOST_POINTS:,} points."
        raise Problem(error("too-many-points", points.span, message, "Write for example: 3 points"))
    if len(title.text) - 2 > MOST_TITLE:
        message = f"This title has {len(title.text) - 2} characters; a check's title has at most {MOST_TITLE}."
        raise Problem(error("title-too-long", title.span, message, "Say it shorter."))
    over, private, fading, whole = _options(cursor)
    cursor.expect(":", "at the end of the line", _EXAMPLE)
    cursor.expect_end()
    span = line.tokens[0].span.to(line.tokens[-1].span)
    if not line.children:
        raise Problem(error("check-sentence", span, "This check has no sentence under it.", _EXAMPLE_OF_ONE))
    sentence, last = line.children[0], line.children[-1]
    return Check(
        title.text[1:-1],
        points.text,
        _sentence(line.children, span),
        sentence.before,
        sentence.comment,
        last.trailing if not last.children else (),
        over,
        private,
        fading,
        whole,
        span=span,
        before=without_gap(line.before),
        comment=line.comment,
    )


def _options(cursor: Cursor) -> tuple[str, bool, Expression | None, bool]:
    """`, least over cases`, `, fading over 10 cm`, `, all or nothing`, `, private`."""
    over, private, whole = "", False, False
    fading: Expression | None = None
    while cursor.take(","):
        if cursor.take("private"):
            private = True
            continue
        if cursor.take("fading", "over"):
            fading = arithmetic(cursor)
            continue
        if cursor.take("all", "or", "nothing"):
            whole = True
            continue
        word = next((word for word in OVER_CASES if cursor.take(word)), "")
        if not word or not cursor.take("over", "cases"):
            what = "private, fading over, all or nothing, or how points come from several cases"
            raise cursor.unexpected(what, 'Write for example: check "Stops", 3 points, least over cases, private:')
        over = word
    if whole and fading is not None:
        message = "Points that fade keep a part, and all or nothing keeps none."
        raise Problem(error("fading-and-whole", fading.span, message, "Leave out one of them."))
    return over, private, fading, whole


def _sentence(lines: list[Line], check: Span) -> Sentence:
    cursor = Cursor(lines[0])
    start = cursor.token.span
    found = _begun(cursor)
    if found is not None and found.block:
        return replace(found.read_block(cursor, lines), span=start.to(lines[0].tokens[-1].span))
    if len(lines) != 1 or lines[0].children:
        raise Problem(error("check-sentence", check, "A check has one sentence under it.", _EXAMPLE_OF_ONE))
    if found is not None:
        sentence = found.read(cursor, None)
    else:
        first = expression(cursor)
        sentence = _going_on(cursor).read(cursor, first)
    cursor.expect_end()
    return replace(sentence, span=cursor.since(start))


def _begun(cursor: Cursor) -> Pattern | None:
    """The pattern whose first words stand here, which are taken; None when the sentence starts with a condition."""
    starts = [pattern for pattern in PATTERNS.values() if pattern.start[:1] == (cursor.text,)]
    for pattern in sorted(starts, key=lambda pattern: -len(pattern.start)):
        if cursor.take(*pattern.start):
            return pattern
    if starts:
        cursor.next()
        raise cursor.unexpected("what it does", f"Write for example: {starts[0].forms[0].example}")
    return None


def _going_on(cursor: Cursor) -> Pattern:
    """The pattern whose words stand behind a first condition or value; they are taken."""
    behind = [pattern for pattern in PATTERNS.values() if pattern.behind]
    for pattern in behind:
        if cursor.take(*pattern.behind):
            return pattern
    first = dict.fromkeys(pattern.start[0] for pattern in PATTERNS.values() if pattern.start)
    starts = f"A check's sentence starts with {listed(first)}, or goes on like this: valve > 0 % lasts 1.5 s +- 0.2 s"
    words = listed([f'"{pattern.behind[0]}"' for pattern in behind])
    raise cursor.unexpected(words, starts)
