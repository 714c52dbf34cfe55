"""Reads checks: a title, its points, and one sentence."""

from __future__ import annotations

from geduld.language import tree
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.lexer import Line
from geduld.language.messages import Problem, error

_EXAMPLE = 'Write for example: check "Stops at the barrel", 3 points:'
_SENTENCE = "Write for example: after nose is pressed, within 100 ms, drive = 0 %"


def check_step(line: Line) -> tree.Check:
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
    cursor.expect(":", "at the end of the line", _EXAMPLE)
    cursor.expect_end()
    span = line.tokens[0].span.to(line.tokens[-1].span)
    if len(line.children) != 1 or line.children[0].children:
        message = "A check has one sentence under it." if line.children else "This check has no sentence under it."
        raise Problem(error("check-sentence", span, message, _SENTENCE))
    sentence = line.children[0]
    return tree.Check(
        title.text[1:-1],
        points.text,
        _pattern(sentence),
        sentence.before,
        sentence.comment,
        sentence.trailing,
        span=span,
        before=without_gap(line.before),
        comment=line.comment,
    )


def without_gap(before: tuple[str, ...]) -> tuple[str, ...]:
    """Comment lines without a blank line in front, where the standard form has one anyway."""
    return before[1:] if before and not before[0] else before


def _pattern(line: Line) -> tree.Pattern:
    cursor = Cursor(line)
    start = cursor.token.span
    if cursor.take("after"):
        pattern = _after(cursor)
    elif cursor.take("never"):
        condition = expression(cursor)
        wanted = expression(cursor) if cursor.take("while") else None
        pattern = tree.Pattern("never", condition, (), wanted)
    elif cursor.take("always"):
        pattern = tree.Pattern("always", expression(cursor))
    elif cursor.take("at", "the", "end"):
        cursor.expect(",", "behind at the end", "Write for example: at the end, drive = 0 %")
        pattern = tree.Pattern("at the end", wanted=expression(cursor))
    else:
        pattern = _lasts(cursor)
    cursor.expect_end()
    return tree.Pattern(pattern.kind, pattern.condition, pattern.times, pattern.wanted, span=cursor.since(start))


def _after(cursor: Cursor) -> tree.Pattern:
    condition = expression(cursor)
    cursor.expect(",", "behind the trigger", _SENTENCE)
    cursor.expect("within", "behind the comma", _SENTENCE)
    within = arithmetic(cursor)
    cursor.expect(",", "behind the time", _SENTENCE)
    return tree.Pattern("after", condition, (within,), expression(cursor))


def _lasts(cursor: Cursor) -> tree.Pattern:
    example = "Write for example: valve > 0 % lasts 1.5 s +- 0.2 s"
    condition = expression(cursor)
    if not cursor.take("lasts"):
        raise cursor.unexpected(
            '"lasts"', f"A check's sentence starts with after, never, always or at the end. {example[10:]}"
        )
    time = arithmetic(cursor)
    cursor.expect("+-", "and the tolerance", example)
    return tree.Pattern("lasts", condition, (time, arithmetic(cursor)))
