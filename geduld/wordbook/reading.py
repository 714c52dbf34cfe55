"""Reads wordbooks. Errors never hide each other: every line is read."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from geduld.language import tree
from geduld.language.cursor import Cursor
from geduld.language.expressions import expression, number
from geduld.language.lexer import Line, Token
from geduld.language.messages import Hint, Problem, Span, error, listed
from geduld.language.nodes import changed
from geduld.language.parser import Parsed, lines_of, not_top_level, parsed
from geduld.language.quantities import UNITS
from geduld.language.steps import StepReader
from geduld.language.tree import without_gap
from geduld.wordbook import tree as words

MOST_WORDS = 400
# What stands behind these is the notation's own, whatever it is called.
_KEEP_AFTER = ("turn", "by", "about", ".", "each")
_WORD = "word wheels(left in %, right in %):"
_TYPES = ("unsigned", "signed", "char", "short", "int", "long", "float", "double", "bool")


def parse_wordbook(source: str | bytes) -> Parsed[words.Wordbook]:
    """The tree of a wordbook. Never raises on any text: what cannot be read is left out and said in `hints`."""
    roots, trailing, hints = lines_of(source)
    return parsed(_Reader(hints).wordbook(roots, trailing), hints)


def is_wordbook(source: bytes) -> bool:
    """Whether a text starts as wordbooks do."""
    for line in source.removeprefix(b"\xef\xbb\xbf").splitlines():
        if line.strip() and not line.lstrip().startswith(b"#"):
            return line.split()[0] == b"wordbook"
    return False


class _Reader:
    def __init__(self, hints: list[Hint]) -> None:
        self.hints = hints
        self.title: str | None = None
        self.title_comments: tuple[tuple[str, ...], str] = ((), "")
        self.heads: list[words.Head] = []
        self.found: list[words.Word | words.Thing] = []
        self.names: set[str] = set()

    def wordbook(self, roots: list[Line], trailing: tuple[str, ...]) -> words.Wordbook:
        readable = not self.hints or bool(roots)
        for line in roots:
            try:
                self._section(line)
            except Problem as problem:
                self.hints.append(problem.hint)
        if readable:
            self._missing()
        return words.Wordbook(self.title or "", tuple(self.heads), tuple(self.found), *self.title_comments, trailing)

    def _section(self, line: Line) -> None:
        cursor = Cursor(line)
        first = cursor.next()
        for token in _tokens(line):
            if words.PARAMETER in token.text and token.kind == "word":
                message = "This name has a letter that no name has."
                raise Problem(error("stray-character", token.span, message, "Delete it."))
        word = first.text
        if word == "wordbook":
            self._once(self.title is not None, first)
            self.title = cursor.quoted('wordbook "cart words"')
            self.title_comments = without_gap(line.before), line.comment
        elif word in _HEADS:
            values = _HEADS[word](cursor)
            once = word not in ("module", "header")
            self._once(once and any(head.what == word for head in self.heads), first)
            self.heads.append(words.Head(word, values, line.before, line.comment, span=first.span))
        elif word in ("word", "object"):
            if len(self.names) >= MOST_WORDS:
                message = f"A wordbook has at most {MOST_WORDS} words."
                raise Problem(error("too-long", first.span, message, "Take out those that no program uses."))
            found = self._word(line, cursor) if word == "word" else self._thing(line, cursor)
            if words.stands_alone(found) or not self.found or words.stands_alone(self.found[-1]):
                found = changed(found, before=without_gap(found.before))
            self.found.append(found)
            return
        else:
            known = ("wordbook", "word", "object", *_HEADS)
            raise not_top_level(line, known, "word halt():")
        if line.children:
            span = line.children[0].tokens[0].span
            self.hints.append(error("indent", span, "Nothing can stand under this line.", "Do not indent it."))

    def _once(self, already: bool, token: Token) -> None:
        if already:
            message = f'There is a second "{token.text}" here.'
            raise Problem(error("twice", token.span, message, "Keep one of them."))

    def _missing(self) -> None:
        top = Span(1, 1, 1, 2)
        if self.title is None:
            remedy = 'Write on the first line, for example: wordbook "cart words"'
            self.hints.append(error("no-title", top, "The wordbook does not say its name.", remedy))
        if not any(head.what == "reads" for head in self.heads):
            remedy = "Write: reads python, or: reads c"
            self.hints.append(error("no-language", top, "The wordbook does not say which language it is for.", remedy))

    def _taken(self, name: str, span: Span, known: set[str]) -> None:
        if name in known:
            raise Problem(error("name-taken", span, f'"{name}" is a word already.', "Give each word its own name."))
        known.add(name)

    def _thing(self, line: Line, cursor: Cursor) -> words.Thing:
        name = _name(cursor, "object Motor(port):")
        self._taken(name.text, name.span, self.names)
        given = _parameters(cursor, "object Motor(port):") if cursor.at("(") else ()
        cursor.expect(":", "at the end of the line", "Write for example: object Motor(port):")
        cursor.expect_end()
        if not given:
            message = "An object has a parameter that names its part, or the port it is plugged into."
            raise Problem(error("object-part", name.span, message, "Write for example: object Motor(port):"))
        inside: list[words.Word] = []
        known: set[str] = set()
        for child in line.children:
            try:
                inner = Cursor(child)
                if not inner.take("word"):
                    raise not_top_level(child, ("word",), "word power(level in %):")
                inside.append(self._word(child, inner, given[0].name, known))
            except Problem as problem:
                self.hints.append(problem.hint)
        if not line.children:
            raise Problem(error("empty-block", name.span, "This object has no words.", "Indent its words under it."))
        trailing = line.children[-1].trailing
        head = line.tokens[0].span.to(line.tokens[-1].span)
        return words.Thing(
            name.text, given, tuple(inside), trailing, name.span, span=head, before=line.before, comment=line.comment
        )

    def _word(self, line: Line, cursor: Cursor, part: str = "", known: set[str] | None = None) -> words.Word:
        name = _name(cursor, _WORD)
        spelled, span = name.text, name.span
        while cursor.take("."):
            spelled += "." + _name(cursor, "word pins.high(pin):").text
            span = cursor.since(name)
        self._taken(spelled, span, self.names if known is None else known)
        given = _parameters(cursor, _WORD) if cursor.at("(") else None
        answer = _answer(cursor)
        renamed = {parameter.name: parameter.name for parameter in given or ()}
        if part:
            renamed |= {words.PART: words.PART, part: words.PART}
        body = value = None
        if cursor.take("="):
            rest = _renamed(Line(line.number, line.indent, line.tokens[cursor.position :]), renamed)
            if not rest.tokens:
                raise cursor.unexpected("a value", "Write for example: word gap() in cm = range")
            value = _value(Cursor(rest))
            if line.children:
                message = "A word with a value has no steps under it."
                raise Problem(error("indent", line.children[0].tokens[0].span, message, "Delete them."))
        else:
            if given is None:
                raise cursor.unexpected('"(" or "="', f"Write for example: {_WORD}")
            cursor.expect(":", "at the end of the line, or = and a value", f"Write for example: {_WORD}")
            cursor.expect_end()
            if not line.children:
                message = "This word has no steps under it."
                raise Problem(error("empty-block", span, message, "Indent its steps by 4 spaces under it."))
            body = _Steps(self.hints, frozenset(renamed)).steps([_renamed(child, renamed) for child in line.children])
        head = line.tokens[0].span.to(line.tokens[-1].span)
        return words.Word(
            spelled, given, answer, body, value, span, span=head, before=line.before, comment=line.comment
        )


def _tokens(line: Line) -> Iterator[Token]:
    """The tokens of a line and of those under it."""
    yield from line.tokens
    for child in line.children:
        yield from _tokens(child)


def _name(cursor: Cursor, example: str) -> Token:
    token = cursor.take_kind("word")
    if token is None:
        raise cursor.unexpected("a name", f"Write for example: {example}")
    return token


def _parameters(cursor: Cursor, example: str) -> tuple[words.Parameter, ...]:
    cursor.expect("(", "behind the name", f"Write for example: {example}")
    found: list[words.Parameter] = []
    while not cursor.at(")"):
        if found:
            cursor.expect(",", "between two parameters", f"Write for example: {example}")
        name = _name(cursor, example)
        if any(name.text == other.name for other in found):
            raise Problem(error("name-taken", name.span, "Two of these names are the same.", "Rename one."))
        unit = scale = default = None
        if cursor.take("in"):
            unit = _unit(cursor)
        elif cursor.take("from"):
            scale = _scale(cursor)
        if cursor.take("="):
            default = _literal(cursor, "Write for example: power in % = 40")
        found.append(words.Parameter(name.text, unit or "", scale, default, span=cursor.since(name)))
    cursor.expect(")", "behind the parameters", f"Write for example: {example}")
    return tuple(found)


def _unit(cursor: Cursor) -> str:
    if cursor.text not in UNITS:
        raise (
            cursor.unknown_unit() if cursor.token.kind == "word" else cursor.unexpected("a unit", "For example: in cm")
        )
    unit = cursor.next().text
    while cursor.at("/") and cursor.position + 1 < len(cursor.tokens) and cursor.texts[cursor.position + 1] in UNITS:
        cursor.next()
        unit += "/" + cursor.next().text
    return unit


def _scale(cursor: Cursor) -> tuple[str, str]:
    example = "Write for example: from 0 to 255"
    start = cursor.token
    low = _signed(cursor, example)
    cursor.expect("to", "between the two ends of the scale", example)
    high = _signed(cursor, example)
    if float(low) == float(high):
        raise Problem(error("scale-ends", cursor.since(start), "The two ends of a scale differ.", example))
    return low, high


def _signed(cursor: Cursor, example: str) -> str:
    sign = "-" if cursor.take("-") else ""
    token = cursor.take_kind("number")
    if token is None:
        raise cursor.unexpected("a number", example)
    return sign + token.text


def _literal(cursor: Cursor, example: str) -> str:
    text = cursor.take_kind("text")
    return text.text if text else _signed(cursor, example)


def _answer(cursor: Cursor) -> words.Answer:
    """How a value comes back, and how long the call takes: in any order, with commas between."""
    answer = words.Answer()
    start = cursor.token
    while not (cursor.at("=") or cursor.at(":") or cursor.token.kind == "end"):
        cursor.take(",")
        if cursor.take("in"):
            answer = changed(answer, unit=_unit(cursor))
        elif cursor.take("from"):
            answer = changed(answer, scale=_scale(cursor))
        elif cursor.take("whole"):
            answer = changed(answer, whole=True)
        elif cursor.take("absent", "is"):
            text = cursor.take_kind("text")
            absent = text.text if text else _signed(cursor, "Write for example: absent is -1")
            answer = changed(answer, absent=absent)
        elif cursor.take("takes"):
            if cursor.token.kind != "number":
                raise cursor.unexpected("a time", "Write for example: takes 12 ms")
            answer = changed(answer, takes=number(cursor))
        elif cursor.take("as"):
            kind: list[str] = []
            while cursor.text in _TYPES:
                kind.append(cursor.next().text)
            if not kind:
                raise cursor.unexpected(listed(_TYPES), "Write for example: as unsigned long")
            answer = changed(answer, kind=" ".join(kind))
        else:
            wanted = "in, from, whole, absent is, takes, as, = or :"
            raise cursor.unexpected(wanted, "Write for example: word gap() in cm, absent is -1 = range")
    return changed(answer, span=cursor.since(start)) if cursor.position else answer


def _value(cursor: Cursor) -> tree.Expression:
    start = cursor.token
    value: tree.Expression
    if cursor.at("line") and cursor.position + 1 < len(cursor.tokens):
        cursor.next()
        pin = expression(cursor)
        value = words.Line(pin, span=cursor.since(start))
    else:
        value = expression(cursor)
    cursor.expect_end()
    return value


def _renamed(line: Line, names: dict[str, str]) -> Line:
    """A line and those under it, in which parameters are marked as such."""
    tokens = []
    for index, token in enumerate(line.tokens):
        before = line.tokens[index - 1].text if index else ""
        new = names.get(token.text) if token.kind == "word" and before not in _KEEP_AFTER else None
        tokens.append(token if new is None else token._replace(text=new + words.PARAMETER))
    return replace(line, tokens=tokens, children=[_renamed(child, names) for child in line.children])


class _Steps(StepReader):
    """Reads the steps of a word: those of the notation, and those that only words have."""

    def __init__(self, hints: list[Hint], names: frozenset[str]) -> None:
        super().__init__(hints)
        self.names = names
        self.readers["line"] = self._line
        self.readers["each"] = self._each_time

    def _line(self, line: Line, cursor: Cursor) -> tree.Step:
        pin = expression(cursor)
        cursor.expect("at", "behind the line", "Write for example: line pin at level")
        level = expression(cursor)
        cursor.expect_end()
        return words.SetLine(pin, level)

    def _each_time(self, line: Line, cursor: Cursor) -> tree.Step:
        example = "Write for example: each time part is pressed, handler"
        cursor.expect("time", "behind each", example)
        condition = expression(cursor)
        cursor.expect(",", "behind the condition", example)
        if cursor.token.kind != "word" or not cursor.text.endswith(words.PARAMETER):
            raise cursor.unexpected("the parameter that is performed", example)
        name = cursor.next().text
        cursor.expect_end()
        return words.EachTime(condition, name)

    def _send(self, line: Line, cursor: Cursor) -> tree.Step:
        return self._given("send", cursor) or super()._send(line, cursor)

    def _note(self, line: Line, cursor: Cursor) -> tree.Step:
        return self._given("note", cursor) or super()._note(line, cursor)

    def _given(self, what: str, cursor: Cursor) -> tree.Step | None:
        """`send text` where the text is a parameter."""
        if cursor.token.kind != "word" or not cursor.text.endswith(words.PARAMETER):
            return None
        name = cursor.next().text
        cursor.expect_end()
        return words.SendGiven(what, name)


def _for(cursor: Cursor) -> tuple[str, ...]:
    cursor.expect("rig", "behind for", 'Write for example: for rig "glasshouse-cart"')
    return (cursor.quoted('for rig "glasshouse-cart"'),)


def _reads(cursor: Cursor) -> tuple[str, ...]:
    if cursor.text not in words.LANGUAGES:
        raise cursor.unexpected(listed(words.LANGUAGES), "Write: reads python, or: reads c")
    language = cursor.next().text
    cursor.expect_end()
    return (language,)


def _module(cursor: Cursor) -> tuple[str, ...]:
    name = _name(cursor, "module cart").text
    while cursor.take("."):
        name += "." + _name(cursor, "module cart").text
    cursor.expect_end()
    return (name,)


def _header(cursor: Cursor) -> tuple[str, ...]:
    return (cursor.quoted('header "cart.h"'),)


def _whole(cursor: Cursor) -> tuple[str, ...]:
    example = "Write for example: whole numbers of 16 bits"
    cursor.expect("numbers", "behind whole", example)
    cursor.expect("of", "behind numbers", example)
    if cursor.text not in ("16", "32"):
        raise cursor.unexpected("16 or 32", example)
    bits = cursor.next().text
    cursor.expect("bits", "behind the number", example)
    cursor.expect_end()
    return (bits,)


def _starts(cursor: Cursor) -> tuple[str, ...]:
    example = "starts with prepare, then again and again turn"
    cursor.expect("with", "behind starts", f"Write for example: {example}")
    first = _name(cursor, example).text
    if cursor.token.kind == "end":
        return (first,)
    cursor.take(",")
    for word in ("then", "again", "and", "again"):
        cursor.expect(word, "behind the first function", f"Write for example: {example}")
    second = _name(cursor, example).text
    cursor.expect_end()
    return first, second


_HEADS = {"for": _for, "reads": _reads, "module": _module, "header": _header, "whole": _whole, "starts": _starts}
