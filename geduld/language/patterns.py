"""Reads checks: a title, its points, and one sentence."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from geduld.language import tree
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, expression
from geduld.language.lexer import Line
from geduld.language.messages import Problem, error
from geduld.language.words import OVER_CASES

MOST_POINTS = 1_000
MOST_TITLE = 200
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
    if float(points.text) > MOST_POINTS:
        message = f"A check is worth at most {MOST_POINTS:,} points."
        raise Problem(error("too-many-points", points.span, message, "Write for example: 3 points"))
    if len(title.text) - 2 > MOST_TITLE:
        message = f"This title has {len(title.text) - 2} characters; a check's title has at most {MOST_TITLE}."
        raise Problem(error("title-too-long", title.span, message, "Say it shorter."))
    over, private, fading = _options(cursor)
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
        over,
        private,
        fading,
        span=span,
        before=without_gap(line.before),
        comment=line.comment,
    )


def _options(cursor: Cursor) -> tuple[str, bool, tree.Expression | None]:
    """`, least over cases`, `, fading over 10 cm`, `, private`."""
    over, private = "", False
    fading: tree.Expression | None = None
    while cursor.take(","):
        if cursor.take("private"):
            private = True
            continue
        if cursor.take("fading", "over"):
            fading = arithmetic(cursor)
            continue
        word = next((word for word in OVER_CASES if cursor.take(word)), "")
        if not word or not cursor.take("over", "cases"):
            what = "private, fading over, or how points come from several cases"
            raise cursor.unexpected(what, 'Write for example: check "Stops", 3 points, least over cases, private:')
        over = word
    return over, private, fading


def without_gap(before: tuple[str, ...]) -> tuple[str, ...]:
    """Comment lines without a blank line in front, where the standard form has one anyway."""
    return before[1:] if before and not before[0] else before


def _pattern(line: Line) -> tree.Pattern:
    cursor = Cursor(line)
    start = cursor.token.span
    if cursor.at("at", "the", "end"):
        pattern = _at_the_end(cursor)
    else:
        pattern = _SENTENCES.get(cursor.text, _about_a_condition)(cursor)
    cursor.expect_end()
    return replace(pattern, span=cursor.since(start))


def _at_the_end(cursor: Cursor) -> tree.Pattern:
    cursor.take("at", "the", "end")
    cursor.expect(",", "behind at the end", "Write for example: at the end, drive = 0 %")
    return tree.Pattern("at the end", (expression(cursor),))


def _after(cursor: Cursor) -> tree.Pattern:
    cursor.next()
    condition = expression(cursor)
    cursor.expect(",", "behind the trigger", _SENTENCE)
    cursor.expect("within", "behind the comma", _SENTENCE)
    within = arithmetic(cursor)
    cursor.expect(",", "behind the time", _SENTENCE)
    return tree.Pattern("after", (condition, expression(cursor)), (within,))


def _while(cursor: Cursor) -> tree.Pattern:
    cursor.next()
    condition = expression(cursor)
    cursor.expect(",", "behind the condition", "Write for example: while range < 40 cm, drive < 30 %")
    return tree.Pattern("while", (condition, expression(cursor)))


def _never(cursor: Cursor) -> tree.Pattern:
    cursor.next()
    unwanted = expression(cursor)
    return tree.Pattern("never", (unwanted, expression(cursor)) if cursor.take("while") else (unwanted,))


def _always(cursor: Cursor) -> tree.Pattern:
    cursor.next()
    return tree.Pattern("always", (expression(cursor),))


def _before(cursor: Cursor) -> tree.Pattern:
    example = "Write for example: before knob > 62 %, never drive > 0 %"
    cursor.next()
    end = expression(cursor)
    cursor.expect(",", "behind the condition", example)
    cursor.expect("never", "behind the comma", example)
    return tree.Pattern("before", (end, expression(cursor)))


def _from(cursor: Cursor) -> tree.Pattern:
    example = "Write for example: from knob > 62 % to nose is pressed, drive > 0 %"
    cursor.next()
    start = expression(cursor)
    cursor.expect("to", "and where it ends", example)
    stop = expression(cursor)
    cursor.expect(",", "behind the end", example)
    return tree.Pattern("from", (start, stop, expression(cursor)))


def _at(cursor: Cursor) -> tree.Pattern:
    cursor.next()
    time = arithmetic(cursor)
    cursor.expect(",", "behind the time", "Write for example: at 5 s, drive = 0 %")
    return tree.Pattern("at", (expression(cursor),), (time,))


def _first(cursor: Cursor) -> tree.Pattern:
    example = "Write for example: first range < 40 cm, then nose is pressed"
    cursor.next()
    found = [expression(cursor)]
    while cursor.take(","):
        cursor.expect("then", "behind the comma", example)
        found.append(expression(cursor))
    if len(found) < 2:
        raise cursor.unexpected('", then"', example)
    return tree.Pattern("first", tuple(found))


def _ends(cursor: Cursor) -> tree.Pattern:
    example = 'Write for example: ends within 4 cm of mark "A"'
    cursor.next()
    cursor.expect("within", "behind ends", example)
    distance = arithmetic(cursor)
    if not cursor.take("of", "mark"):
        raise cursor.unexpected('"of mark"', example)
    return tree.Pattern("ends", tolerance=distance, name=_name(cursor, "the mark's name", example))


def _stays(cursor: Cursor) -> tree.Pattern:
    example = 'Write for example: stays inside "aisle"'
    cursor.next()
    cursor.expect("inside", "behind stays", example)
    return tree.Pattern("stays", name=_name(cursor, "the corridor's name", example))


def _touches(cursor: Cursor) -> tree.Pattern:
    example = 'Write for example: touches "barrel" at most 1 time'
    cursor.next()
    name = "" if cursor.take("anything") else _name(cursor, "a name, or anything,", example)
    bound, count = _times(cursor, example)
    return tree.Pattern("touches", name=name, bound=bound, count=count)


def _program(cursor: Cursor) -> tree.Pattern:
    example = "Write for example: program uses repeat"
    cursor.next()
    if cursor.take("uses"):
        return tree.Pattern("uses", name=_word(cursor, example))
    if cursor.take("does", "not", "use"):
        return tree.Pattern("does not use", name=_word(cursor, example))
    if cursor.take("has", "at", "most"):
        count = _count(cursor, "Write for example: program has at most 12 steps")
        if not (cursor.take("steps") or cursor.take("step")):
            raise cursor.unexpected('"steps"', "Write for example: program has at most 12 steps")
        return tree.Pattern("steps", count=count)
    if cursor.take("has", "no", "hint"):
        return tree.Pattern(
            "hint", name=_name(cursor, "the hint's name", 'Write for example: program has no hint "chatter"')
        )
    raise cursor.unexpected("what the program does", example)


def _about_a_condition(cursor: Cursor) -> tree.Pattern:
    """The sentences that start with a condition or a value."""
    condition = expression(cursor)
    if cursor.take("lasts"):
        time = arithmetic(cursor)
        cursor.expect("+-", "and the tolerance", "Write for example: valve > 0 % lasts 1.5 s +- 0.2 s")
        return tree.Pattern("lasts", (condition,), (time, arithmetic(cursor)))
    if cursor.take("happens"):
        bound, count = _times(cursor, "Write for example: nose is pressed happens 3 times")
        return tree.Pattern("happens", (condition,), bound=bound, count=count)
    if cursor.take("matches"):
        return _matches(cursor, condition)
    starts = (
        "A check's sentence starts with after, while, never, always, before, from, first or at, or goes on like this"
    )
    raise cursor.unexpected('"lasts", "happens" or "matches"', f"{starts}: valve > 0 % lasts 1.5 s +- 0.2 s")


def _matches(cursor: Cursor, value: tree.Expression) -> tree.Pattern:
    example = "Write for example: left matches reference.left within 5 %, shifted by at most 150 ms"
    reference = arithmetic(cursor)
    cursor.expect("within", "and the tolerance", example)
    tolerance = arithmetic(cursor)
    times: tuple[tree.Expression, ...] = ()
    if cursor.take(","):
        if not cursor.take("shifted", "by", "at", "most"):
            raise cursor.unexpected('"shifted by at most"', example)
        times = (arithmetic(cursor),)
    return tree.Pattern("matches", (value, reference), times, tolerance)


def _times(cursor: Cursor, example: str) -> tuple[str, str]:
    """`3 times`, `at least 3 times`, `at most 3 times`: the bound and the count."""
    bound = "at least" if cursor.take("at", "least") else "at most" if cursor.take("at", "most") else ""
    count = _count(cursor, example)
    if not (cursor.take("times") or cursor.take("time")):
        raise cursor.unexpected('"times"', example)
    return bound, count


def _count(cursor: Cursor, example: str) -> str:
    token = cursor.take_kind("number")
    if token is None or not token.text.isdigit() or len(token.text) > 6:
        raise cursor.unexpected("a whole number", example)
    return token.text


def _name(cursor: Cursor, what: str, example: str) -> str:
    token = cursor.take_kind("text")
    if token is None:
        raise cursor.unexpected(f"{what} in quotation marks", example)
    return token.text[1:-1]


def _word(cursor: Cursor, example: str) -> str:
    token = cursor.take_kind("word")
    if token is None:
        raise cursor.unexpected("a word of the notation or a name", example)
    return token.text


_SENTENCES: dict[str, Callable[[Cursor], tree.Pattern]] = {
    "after": _after,
    "while": _while,
    "never": _never,
    "always": _always,
    "before": _before,
    "from": _from,
    "at": _at,
    "first": _first,
    "ends": _ends,
    "stays": _stays,
    "touches": _touches,
    "program": _program,
}
