"""Writes a behaviour out in a class's language. What its words cannot say is listed."""

from __future__ import annotations

import builtins
import keyword
import re
from dataclasses import dataclass

from geduld.binding import terms
from geduld.binding.binder import bind
from geduld.binding.library import Library
from geduld.errors import ProgramError
from geduld.language.messages import Hint
from geduld.language.parser import parse
from geduld.language.quantities import text_code
from geduld.rig.model import Rig
from geduld.translation.languages import LANGUAGES
from geduld.translation.page import Page
from geduld.translation.steps import Steps
from geduld.translation.values import Values, may_be_absent
from geduld.translation.vocabulary import Vocabulary
from geduld.wordbook.bound import BoundBook

_OF_C = """
auto break case char class const continue default delete do double else enum exit extern fabs float fmax fmin
for goto if inline int long main new private public puts register return short signed sizeof static strcmp
struct switch template this typedef union unsigned using virtual void volatile while
"""
_HEADERS = ((("puts(",), "stdio.h"), (("strcmp(",), "string.h"), (("fabs(", "fmin(", "fmax("), "math.h"))
_OURS = re.compile(r"(since|began|passes|wanted|band|last|sys|.*_way|way)(_\d+)?|.*_(now|before|there|start)")


@dataclass(frozen=True)
class Translation:
    """A program in a class's language; `left_out` is what its words cannot say, with the lines of the behaviour."""

    text: str
    left_out: tuple[Hint, ...]


def translate(text: str | bytes, rig: Rig, book: BoundBook, library: Library | None = None) -> Translation:
    """A behaviour in the language of a wordbook. Raises ProgramError when the behaviour has errors."""
    parsed = parse(text)
    found = bind(parsed.tree, rig, library) if parsed.good else None
    hints = (*parsed.hints, *(found.hints if found else ()))
    errors = [hint for hint in hints if hint.level == "error"]
    if found is None or errors:
        raise ProgramError(errors)
    language = LANGUAGES[book.book.language]
    source = text if isinstance(text, str) else text.decode("utf-8-sig")
    texts = {text_code(said): said for said in re.findall(r'"([^"\n]*)"', source)}
    values = Values(language, Vocabulary(book), _names(found.variables, book), may_be_absent(found.steps), texts)
    steps = Steps(language, values, Page(language), rig.loop_us)
    steps.page.level = 1 if language.closes else 0
    steps.block(found.steps)
    for why in dict.fromkeys(values.rough.values()):
        parts = " and ".join(part for part, said in values.rough.items() if said == why)
        message = f"Less exact than in the behaviour: {why}. It reads {parts}."
        steps.say("not-exact", 1, message, "Instants and values can differ by a little.")
    title = f"{language.comment}{parsed.tree.title}"
    lines = [title, *(_in_c(found, book, steps) if language.closes else _in_python(found, book, steps))]
    return Translation("\n".join(lines) + "\n", tuple(sorted(steps.hints, key=lambda hint: hint.line)))


def _in_python(bound: terms.Bound, book: BoundBook, steps: Steps) -> list[str]:
    values, body = steps.values, steps.page.lines
    if body and body[-1] == steps.language.ends:
        body.pop()  # the program's end is an end
    names = sorted({*values.used, *(kind for kind, _ in values.objects)})
    modules = book.book.modules[:1] if names else ()
    head = [f"from {module} import {', '.join(names)}" for module in modules]
    if any(line.strip() == steps.language.ends for line in body):
        head.append("import sys")
    first = [f"{name} = {kind}({port})" for kind, name, port in _objects(book, steps)]
    first += [f"{values.names[index]} = {steps.language.nothing}" for index in _set(bound) if index in values.unknown]
    first += [f"{name} = {value}" for name, value in steps.first.items()]
    return [*head, "", *first, *([""] if first else []), *(body or ["pass"])]


def _in_c(bound: terms.Bound, book: BoundBook, steps: Steps) -> list[str]:
    values, body = steps.values, steps.page.lines
    head = [f'#include "{header}"' for header in book.book.headers[:1]]
    for calls, header in _HEADERS:
        if any(call in line for line in body for call in calls):
            head.append(f"#include <{header}>")
    first = [f"{kind} {name}({port});" for kind, name, port in _objects(book, steps)]
    for index in _set(bound):
        first.append(f"double {values.names[index]} = 0;")
        if index in values.unknown:
            first.append(f"int {values.names[index]}_there = 0;")
    first += [f"int {name} = {value};" for name, value in steps.first.items()]
    ending = [] if body and body[-1] == "    return 0;" else ["    return 0;"]
    return [*head, "", *first, *([""] if first else []), "int main(void) {", *body, *ending, "}"]


def _objects(book: BoundBook, steps: Steps) -> list[tuple[str, str, str]]:
    """The objects that were named: class, name and port."""
    found = []
    for (kind, part), name in steps.values.objects.items():
        port = next((key for key, value in book.ports.items() if value == part and key != part), part)
        found.append((kind, name, steps.language.text(port) if isinstance(port, str) else str(port)))
    return found


def _set(bound: terms.Bound) -> list[int]:
    """The variables that are set anywhere, by number."""
    given = (step.index for step, _ in terms.walk_steps(bound.steps) if isinstance(step, terms.Assign))
    return list(dict.fromkeys(given))


def _names(variables: tuple[str, ...], book: BoundBook) -> list[str]:
    """Variables' names as both languages can write them, each its own."""
    taken = {*book.words, *book.things, *_OF_C.split(), *keyword.kwlist, *dir(builtins)}
    names: list[str] = []
    for name in variables:
        plain = name.isidentifier() and name.isascii() and not _OURS.fullmatch(name)
        names.append(name if plain and name not in taken else f"{name if plain else 'value'}_{len(names)}")
        taken.add(names[-1])
    return names
