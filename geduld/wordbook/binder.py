"""Binds a wordbook to a rig: each word as steps or a value that the rig can do, for each part it may be given."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, replace
from functools import lru_cache
from itertools import product
from typing import Any

from geduld.binding import terms
from geduld.binding.binder import Binder, commanded
from geduld.binding.scope import Value
from geduld.errors import ProgramError
from geduld.language import tree
from geduld.language.messages import Hint, Problem, Span, error, ordered
from geduld.language.nodes import changed
from geduld.language.quantities import COUNT, RATIO, TEXT, TIME, TRUTH, Dimension, Unit, microseconds, unit_from_text
from geduld.rig.model import Part, Rig
from geduld.wordbook import bound
from geduld.wordbook import tree as words
from geduld.wordbook.bound import BoundBook, BoundThing, BoundWord, Given, Scale, Variant
from geduld.wordbook.reading import parse_wordbook

MOST_PART_PARAMETERS = 2
# What the condition of an interrupt may be made of.
_NO_NUMBERS = (bound.TEXT, bound.LINE, bound.FUNCTION)
_LOOKED_AT = (terms.Reading, terms.Const, terms.Compare, terms.Junction, terms.Opposite, terms.Absent)


def read_wordbook(source: str, rig: Rig, first: int = 0) -> BoundBook:
    """A wordbook's text on a rig; what is wrong with it is said in its hints.

    `first` is the number of the first value that its words may keep: programs use several wordbooks together.
    """
    return _read(source, _ByFingerprint(rig), first)


def good_wordbook(source: str, rig: Rig) -> BoundBook:
    """A wordbook that programs can be read with. Raises ProgramError with every error when it cannot."""
    book = read_wordbook(source, rig)
    if not book.good:
        raise ProgramError([hint for hint in book.hints if hint.level == "error"])
    return book


class _ByFingerprint:
    """A rig as a key: two of one description are the same."""

    def __init__(self, rig: Rig) -> None:
        self.rig = rig

    def __hash__(self) -> int:
        return hash(self.rig.fingerprint)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _ByFingerprint) and other.rig.fingerprint == self.rig.fingerprint


@lru_cache(maxsize=32)
def _read(source: str, rig: _ByFingerprint, first: int) -> BoundBook:
    parsed = parse_wordbook(source)
    found = bind_wordbook(parsed.tree, rig.rig, first)
    return replace(found, hints=_plain(ordered((*parsed.hints, *found.hints))))


def bind_wordbook(book: words.Wordbook, rig: Rig, first: int = 0) -> BoundBook:
    """A wordbook on a rig. Every word is looked at; a word with an error costs only itself."""
    return _BookBinder(rig, book, first).book()


def _plain(hints: tuple[Hint, ...]) -> tuple[Hint, ...]:
    """Hints in which parameters are called as they are in the text."""
    mark = words.PARAMETER
    return tuple(
        replace(hint, message=hint.message.replace(mark, ""), remedy=hint.remedy.replace(mark, "")) for hint in hints
    )


class _WordBinder(Binder):
    """Binds the steps of words, with those that only words have. `texts` are the variables of their texts."""

    def __init__(self, rig: Rig) -> None:
        super().__init__(rig, {})
        self.texts: dict[str, int] = {}

    def step(self, step: tree.Step) -> terms.Step:
        """One step. Raises Problem when the rig cannot do it."""
        if isinstance(step, words.SetLine):
            return self._set_line(step)
        if isinstance(step, words.SendGiven):
            kind = terms.Send if step.what == "send" else terms.Note
            return kind(step.span.line, self.texts[step.name])
        if isinstance(step, words.EachTime):
            return self._each_time(step)
        return super().step(step)

    def _each_time(self, step: words.EachTime) -> terms.Step:
        condition = self.scope.condition(step.condition)
        if not all(isinstance(item, _LOOKED_AT) and not isinstance(item, terms.Encoder) for item in condition.walk()):
            message = "What is performed each time waits for readings of sensors, compared with fixed values."
            remedy = "Write for example: each time part is pressed, handler"
            raise Problem(error("no-interrupt", step.condition.span, message, remedy))
        return terms.EachTime(step.span.line, condition, self.texts[step.name])

    def _set_line(self, step: words.SetLine) -> terms.Step:
        pin: str | int
        if isinstance(step.pin, tree.Name) and step.pin.name in self.texts:
            pin = self.texts[step.pin.name]
        elif isinstance(step.pin, tree.Text | tree.Number):
            pin = step.pin.text
        else:
            message = "A line is named by a parameter, or by its name."
            raise Problem(
                error("no-line", step.pin.span, message, 'Write for example: line pin at level, or: line "7" at 1')
            )
        level = self.scope.term(step.level)
        if level.dimension not in (COUNT, RATIO):
            message = f"A level is a share or a plain number, and this is {level.dimension}."
            raise Problem(error("wrong-dimension", step.level.span, message, "Write for example: level from 0 to 255"))
        return terms.SetLine(step.span.line, pin, level, level.dimension == RATIO)


class _BookBinder:
    def __init__(self, rig: Rig, book: words.Wordbook, first: int) -> None:
        self.rig = rig
        self.source = book
        self.binder = _WordBinder(rig)
        for _ in range(first):
            self.binder.hidden(COUNT)
        self.hints: list[Hint] = []
        self.ports = _ports(rig)

    def book(self) -> BoundBook:
        source, rig, scope = self.source, self.rig, self.binder.scope
        if source.rig is not None and source.rig != rig.name:
            message = f'This wordbook is written for the rig "{source.rig}", and it is tried on "{rig.name}".'
            hint = error("other-rig", Span(1, 1, 1, 2), message, "Choose that rig, or change the line for rig.")
            self.hints.append(replace(hint, level="warning"))
        for name in _resets(source, rig):
            scope.resets[name] = self.binder.hidden(rig.channels[name].dimension)
        found: dict[str, BoundWord] = {}
        things: dict[str, BoundThing] = {}
        for word in source.words:
            if isinstance(word, words.Thing):
                inside = {inner.name: self._word(inner, own_part=True) for inner in word.words}
                own = {name: inner for name, inner in inside.items() if inner}
                given: tuple[Given, ...] = (
                    Given(word.parameters[0].name, bound.PART, None, None, _default(word.parameters[0])),
                )
                given += tuple(_given(parameter, COUNT, None) for parameter in word.parameters[1:])
                things[word.name] = BoundThing(word.name, word.span.line, given, own)
            elif (one := self._word(word)) is not None:
                found[word.name] = one
        counted = [*scope.resets.values(), *scope.looks]
        start = tuple(terms.Assign(1, index, terms.Const(0.0)) for index in counted)
        return BoundBook(source, found, things, self.ports, start, len(scope.variables), ordered(self.hints))

    def _word(self, word: words.Word, own_part: bool = False) -> BoundWord | None:
        try:
            return self._bound(word, own_part)
        except Problem as problem:
            self.hints.append(problem.hint)
            return None

    def _bound(self, word: words.Word, own_part: bool) -> BoundWord:
        answer = word.answer
        if isinstance(word.value, tree.Number | tree.Minus | tree.Text) and word.parameters is None and not answer.unit:
            return BoundWord(word.name, word.span.line, word.name_span, "", None, constant=_constant(word.value))
        parameters = word.parameters or ()
        roles = _roles(word)
        given_parts = [words.PART] if own_part and _names(word, words.PART + words.PARAMETER) else []
        given_parts += [p.name for p in parameters if roles.get(p.name) == bound.PART]
        variants, hints = self._variants(word, roles, given_parts)
        plain = [p for p in parameters if p.name not in roles and not p.unit and not p.scale]
        if not variants and plain and len(given_parts) < MOST_PART_PARAMETERS:
            roles = {**roles, plain[0].name: bound.PART}
            variants, _ = self._variants(word, roles, [*given_parts, plain[0].name])
        if not variants:
            self.hints += hints
            raise Problem(hints[0])
        first = next(iter(variants.values()))
        what = "" if first.term is None else _what(first.term.dimension)
        given = None if word.parameters is None else first.given
        if own_part and not given_parts:
            variants = {(name,): first for name in dict.fromkeys(self.ports.values())}
        return BoundWord(
            word.name,
            word.span.line,
            word.name_span,
            what,
            given,
            variants,
            None,
            unit_from_text(answer.unit) if answer.unit else None,
            answer.whole,
            _absent(answer, what, word),
            self._takes(answer),
            answer.kind,
        )

    def _takes(self, answer: words.Answer) -> int:
        if answer.takes is None:
            return 0
        term = self.binder.scope.value(answer.takes, TIME, "How long the call takes")
        return microseconds(term.value) if isinstance(term, terms.Const) else 0

    def _variants(
        self, word: words.Word, roles: dict[str, str], parts: list[str]
    ) -> tuple[dict[tuple[str, ...], Variant], list[Hint]]:
        """What a word does for each choice of parts; and what is wrong with the choice that fits best, if none does."""
        if len(parts) > MOST_PART_PARAMETERS:
            message = f"A word is given at most {MOST_PART_PARAMETERS} parts."
            raise Problem(error("too-many-parts", word.name_span, message, "Write a word for each."))
        found: dict[tuple[str, ...], Variant] = {}
        worst: list[Hint] = []
        for chosen in product(self.rig.parts, repeat=len(parts)):
            names = {f"{name}{words.PARAMETER}": part for name, part in zip(parts, chosen, strict=True)}
            variant, hints = self._variant(word, roles, names)
            if variant is not None:
                found[chosen] = variant
            elif not worst or hints[0].order > worst[0].order:
                worst = hints
        return found, worst

    def _variant(
        self, word: words.Word, roles: dict[str, str], names: dict[str, str]
    ) -> tuple[Variant | None, list[Hint]]:
        """The word with certain parts, its scaled parameters in the dimension that fits."""
        scaled = any(parameter.scale for parameter in word.parameters or ())
        first: list[Hint] = []
        dimensions: list[tuple[Dimension, Part | None]] = [(RATIO, None)]
        if scaled:
            dimensions += [(part.dimension, part) for part in self.rig.outputs if part.dimension != RATIO]
        for dimension, part in dimensions:
            variant, hints = self._tried(word, roles, names, dimension, part)
            if variant is not None:
                outputs = set(commanded(variant.steps))
                if part is None or not outputs or part.name in outputs:
                    return variant, []
            first = first or hints
        return None, first

    def _tried(
        self, word: words.Word, roles: dict[str, str], names: dict[str, str], dimension: Dimension, part: Part | None
    ) -> tuple[Variant | None, list[Hint]]:
        binder, scope = self.binder, self.binder.scope
        lets: dict[str, Value] = {}
        given: list[Given] = []
        kept: list[int] = []
        binder.texts = {}
        for parameter in word.parameters or ():
            role = roles.get(parameter.name, bound.NUMBER)
            if role == bound.PART:
                given.append(Given(parameter.name, bound.PART, default=_default(parameter)))
                continue
            one = _given(parameter, dimension, part, role)
            given.append(one)
            its = TEXT if role in _NO_NUMBERS else one.unit.dimension if one.unit else dimension if one.scale else COUNT
            index = binder.hidden(its)
            kept.append(index)
            if role in _NO_NUMBERS:
                binder.texts[parameter.name + words.PARAMETER] = index
            else:
                lets[parameter.name + words.PARAMETER] = Value(terms.Variable(index, dimension=its), None, 1)
        before = len(binder.hints)
        variant = Variant(kept=tuple(kept), given=tuple(given))
        try:
            if word.body is not None:
                body = _renamed(word.body, names)
                variant = replace(variant, steps=scope.named(lets, lambda: binder.steps(body)))
            else:
                value = _renamed(word.value, names)
                variant = replace(self._value(word, value, lets), kept=tuple(kept), given=tuple(given))
        except Problem as problem:
            binder.hints.append(problem.hint)
        hints, binder.hints[before:] = binder.hints[before:], []
        if any(hint.level == "error" for hint in hints):
            return None, [hint for hint in hints if hint.level == "error"]
        return variant, []

    def _value(self, word: words.Word, value: tree.Expression, lets: dict[str, Value]) -> Variant:
        scope, answer = self.binder.scope, word.answer
        by_line = isinstance(value, words.Line)
        if isinstance(value, words.Line):
            value = value.pin  # a sensor's line is the port that it is plugged into
        if isinstance(value, tree.Text):
            return Variant(term=None)
        term = scope.named(lets, lambda: scope.term(value))
        if isinstance(term, terms.Reading) and term.dimension == TRUTH:
            # a line that is low while the contact is pressed says so
            high = 0.0 if by_line and self.binder.rig.channels[term.part].active_low else 1.0
            term = terms.Compare("=", term, terms.Const(high, dimension=TRUTH))
        if term.dimension in (TRUTH, TEXT):
            if answer.unit or answer.scale:
                raise Problem(
                    error("no-number", answer.span, f"This word's value is {term.dimension}.", "Delete this.")
                )
            return Variant(term=term)
        if answer.unit:
            unit = unit_from_text(answer.unit)
            if unit is None or unit.dimension != term.dimension:
                message = f"The value is {term.dimension}, and it is to come back in {answer.unit}."
                raise Problem(error("wrong-dimension", answer.span, message, "Choose a unit of its kind."))
            return Variant(term=term)
        part = self._read_part(term)
        if answer.scale:
            low, high = _range(part, term.dimension, value)
            scale = Scale(float(answer.scale[0]), float(answer.scale[1]), low, high)
            return Variant(term=term, scale=scale, rounds=part is not None and part.raw is not None)
        if term.dimension != COUNT:
            message = f"This word's value is {term.dimension}, and nothing says as which number it comes back."
            unit_word = term.dimension.unit
            raise Problem(error("no-unit", word.name_span, message, f"Write for example: in {unit_word}"))
        return Variant(term=term)

    def _read_part(self, term: terms.Term) -> Part | None:
        """The one part whose reading a value is."""
        return self.rig.channels.get(term.part) if isinstance(term, terms.Reading) else None


def _range(part: Part | None, dimension: Dimension, value: tree.Expression) -> tuple[float, float]:
    """The ends, in base units, of what is put on a scale."""
    if part is not None and part.low is not None and part.high is not None:
        return part.low, part.high
    if dimension == RATIO:
        return 0.0, 100.0
    message = "Nothing says where the scale of this value begins and ends."
    raise Problem(error("no-range", value.span, message, "Give the part its least and greatest, or write a unit."))


def _given(parameter: words.Parameter, dimension: Dimension, part: Part | None, role: str = bound.NUMBER) -> Given:
    unit: Unit | None = unit_from_text(parameter.unit) if parameter.unit else None
    scale = None
    if parameter.scale:
        low, high = (float(end) for end in parameter.scale)
        start, stop = part.bounds if part is not None else (-100.0 if min(low, high) < 0 else 0.0, 100.0)
        scale = Scale(low, high, start, stop)
    return Given(parameter.name, role, unit, scale, _default(parameter))


def _default(parameter: words.Parameter) -> float | int | str | None:
    default = parameter.default
    if default is None:
        return None
    return default[1:-1] if default.startswith('"') else _plain_number(default)


def _plain_number(text: str) -> float | int:
    return float(text) if any(sign in text for sign in ".eE") else int(text)


def _constant(value: tree.Expression) -> float | int | str:
    if isinstance(value, tree.Text):
        return value.text
    if isinstance(value, tree.Minus):
        return -_number(value.value)
    return _number(value)


def _number(value: tree.Expression) -> float | int:
    if not isinstance(value, tree.Number) or value.unit:
        message = "A name stands for a plain number or a text."
        raise Problem(error("no-constant", value.span, message, "Write for example: word GREEN = 2"))
    return _plain_number(value.text)


def _absent(answer: words.Answer, what: str, word: words.Word) -> float | int | str | None:
    """What comes back where there is no reading. Raises Problem for a number where the word gives a text, or turned."""
    if answer.absent is None:
        return None
    is_text = answer.absent.startswith('"')
    if is_text != (what == bound.TEXT) or what == bound.TRUTH:
        gives = {bound.TEXT: "a text", bound.TRUTH: "yes or no", "": "nothing"}.get(what, "a number")
        message = f'What "{word.name}" gives is {gives}, and {answer.absent} is none.'
        remedy = {bound.TEXT: 'Write for example: absent is ""', bound.NUMBER: "Write for example: absent is -1"}
        raise Problem(error("wrong-absent", word.name_span, message, remedy.get(what, "Leave absent is … out.")))
    return answer.absent[1:-1] if is_text else _plain_number(answer.absent)


def _what(dimension: Dimension) -> str:
    return bound.TRUTH if dimension == TRUTH else bound.TEXT if dimension == TEXT else bound.NUMBER


def _ports(rig: Rig) -> dict[str | int, str]:
    """The parts of a rig by their names and by what they are plugged into."""
    found: dict[str | int, str] = {}
    for part in rig.parts.values():
        found.setdefault(part.port, part.name)
        if part.port.isdigit():
            found.setdefault(int(part.port), part.name)
    return found | {name: name for name in rig.parts}


def _walk(item: Any) -> Iterator[tree.Node]:
    """A node and all inside it."""
    if isinstance(item, tuple):
        for inner in item:
            yield from _walk(inner)
    elif isinstance(item, tree.Node):
        yield item
        for found in fields(item):
            if found.name not in ("span", "name_span"):
                yield from _walk(getattr(item, found.name))


def _names(word: words.Word, name: str) -> bool:
    """Whether a word's steps or value name this."""
    return any(
        getattr(node, key, None) is not None and str(getattr(node, key)).partition(".")[0] == name
        for node in _walk((word.body, word.value))
        for key in ("target", "name")
    )


def _roles(word: words.Word) -> dict[str, str]:
    """What the parameters are by their use, where that is no number. Raises Problem where one is to be two things."""
    roles: dict[str, str] = {}
    names = {f"{p.name}{words.PARAMETER}": p.name for p in word.parameters or ()}

    def use(node: tree.Node, name: str, role: str) -> None:
        if name not in names:
            what = "A text that is sent or noted" if role == bound.TEXT else "What is performed each time"
            message = f"{what} is one of the word's parameters, and this is none."
            raise Problem(error("no-parameter", node.span, message, "Name a parameter of this word."))
        if roles.setdefault(names[name], role) != role:
            message = f'"{names[name]}" is used as two different things in this word.'
            raise Problem(error("two-roles", node.span, message, "Give the word a parameter for each."))

    for node in _walk((word.body, word.value)):
        if isinstance(node, words.SendGiven):
            use(node, node.name, bound.TEXT)
        elif isinstance(node, words.EachTime):
            use(node, node.name, bound.FUNCTION)
        elif isinstance(node, tree.Action | tree.Stop | tree.Ramp) and node.target in names:
            use(node, node.target, bound.PART)
        elif isinstance(node, tree.Name | tree.Reset):
            head, _, rest = node.name.partition(".")
            if rest and head in names:
                use(node, head, bound.PART)
        elif isinstance(node, tree.Is) and isinstance(node.value, tree.Name) and node.value.name in names:
            use(node, node.value.name, bound.PART)
        elif isinstance(node, words.Line) and isinstance(node.pin, tree.Name) and node.pin.name in names:
            use(node, node.pin.name, bound.PART)
        elif isinstance(node, words.SetLine) and isinstance(node.pin, tree.Name) and node.pin.name in names:
            use(node, node.pin.name, bound.LINE)
    return roles


def _renamed(item: Any, names: dict[str, str]) -> Any:
    """A tree in which the parameters for parts are called like the parts."""
    if not names:
        return item
    if isinstance(item, tuple):
        return tuple(_renamed(inner, names) for inner in item)
    if not isinstance(item, tree.Node):
        return item
    changes: dict[str, Any] = {}
    for found in fields(item):
        value = getattr(item, found.name)
        if isinstance(value, tuple | tree.Node) and found.name not in ("span", "name_span"):
            changes[found.name] = _renamed(value, names)
        elif found.name in ("target", "name") and isinstance(value, str):
            head, dot, rest = value.partition(".")
            changes[found.name] = names.get(head, head) + dot + rest
    return changed(item, **changes)


def _resets(book: words.Wordbook, rig: Rig) -> Iterator[str]:
    """Every counter that a word may reset."""
    for node in _walk(book.words):
        if isinstance(node, tree.Reset):
            head, _, rest = node.name.partition(".")
            heads = rig.parts if head.endswith(words.PARAMETER) else (head,)
            for name in heads:
                channel = rig.channels.get(f"{name}.{rest}" if rest else name)
                if channel is not None and channel.counts:
                    yield channel.name
