"""Constants, simple function-like macros and conditions of the preprocessor. Lines stay where they are."""

from __future__ import annotations

import ast
import operator
import re
from collections.abc import Callable, Collection
from dataclasses import dataclass, field

from geduld.language.messages import Hint, Span, error
from geduld.readers.files import SourceFile, files_in, is_header

MOST_DEPTH, MOST_LETTERS = 40, 400_000
_MAIN = re.compile(r"\bmain\s*\([^;{]*\)\s*\{")
_KEPT_APART = re.compile(r"^\s*static\s+(?!inline\b|const\b|constexpr\b)[^(;{]*[;=\[]", re.MULTILINE)
_TOKEN = re.compile(
    r"""(?P<comment>//[^\n]*|/\*.*?\*/)
    |(?P<text>"(?:\\.|[^"\\\n])*"|'(?:\\.|[^'\\\n])*')
    |(?P<name>[A-Za-z_]\w*)
    |(?P<number>\.?\d(?:[eEpP][+-]|[\w.])*)
    |(?P<space>[ \t]+)
    |(?P<sign>.)""",
    re.VERBOSE | re.DOTALL,
)
_COMMENT = re.compile(r"//[^\n]*|/\*.*?\*/|\"(?:\\.|[^\"\\\n])*\"|'(?:\\.|[^'\\\n])*'", re.DOTALL)


@dataclass(frozen=True)
class Macro:
    """A macro: what it stands for, its parameters where it has brackets, and its line."""

    body: str
    parameters: tuple[str, ...] | None = None
    line: int = 0


@dataclass
class Preprocessed:
    """A text without its directives, what it includes, with the lines, and what is wrong with it.

    `macros` are those of the source that is followed, `defined` all that there ever were. `order` are the lines with
    which its files begin, in the order in which a compiler comes by them.
    """

    text: str
    includes: list[tuple[str, int]] = field(default_factory=list)
    hints: list[Hint] = field(default_factory=list)
    macros: dict[str, Macro] = field(default_factory=dict)
    defined: dict[str, Macro] = field(default_factory=dict)
    order: list[int] = field(default_factory=list)


def preprocess(text: str, theirs: Collection[str] = ()) -> Preprocessed:
    """Follows the directives of a text. Comments become spaces, so that only the program is left.

    In a program of several files, the one that begins and all other sources are followed, with the headers that they
    include; headers among `theirs` are the class's and Python's own, also where copies of them lie beside the program.
    """
    found = Preprocessed("")
    files = files_in(text)
    out = [""] * (text.count("\n") + 1)
    reading = _Reading(found, out, {file.name: file for file in files if file.name.rsplit("/", 1)[-1] not in theirs})
    sources = [file for file in files[1:] if not is_header(file.name) and not _MAIN.search(file.text)]
    for file in [files[0], *sources]:
        found.macros = {}
        reading.seen = set()
        reading.file(file)
    found.text = "\n".join(out)
    return found


@dataclass
class _Reading:
    """The files as they are followed. `written` are those whose text is out already; `seen` those of this source."""

    found: Preprocessed
    out: list[str]
    files: dict[str, SourceFile]
    written: set[str] = field(default_factory=set)
    seen: set[str] = field(default_factory=set)

    def file(self, file: SourceFile) -> None:
        """One file, and at each of its includes the file that is meant."""
        again = file.name in self.written
        if again and _KEPT_APART.search(_without_comments(file.text)):
            span = Span(file.first, 1, file.first, 2)
            message = f'Several files include "{file.name}", and each would get static variables of its own from it.'
            self.found.hints.append(error("not-read", span, message, "Declare them in one of the sources."))
        self.written.add(file.name)
        self.seen.add(file.name)
        lines = _without_comments(file.text).split("\n")
        # for each condition around: whether it holds; None when an earlier branch of it has held
        kept: list[bool | None] = [True]
        number = 0
        while number < len(lines):
            line, joined, place = lines[number], 1, file.first + number
            while line.endswith("\\") and number + joined < len(lines):
                line = line[:-1] + " " + lines[number + joined]
                joined += 1
            if line.lstrip().startswith("#"):
                included = len(self.found.includes)
                _directive(line.strip()[1:].strip(), place, self.found, kept)
                self._follow(included, file)
            elif all(kept) and not again:
                self.out[place - 1] = _expanded(line, self.found, place)
            number += joined
        if len(kept) > 1:
            message = "An #if or #ifdef above has no #endif."
            span = Span(place, 1, place, 2)
            self.found.hints.append(error("directive", span, message, "Write #endif behind it."))
        if not again:
            self.found.order.append(file.first)

    def _follow(self, included: int, file: SourceFile) -> None:
        """The program's own files among what was just included."""
        for name, line in self.found.includes[included:]:
            beside = f"{file.name.rpartition('/')[0]}/{name}".removeprefix("/")
            own = self.files.get(_tidy(beside)) or self.files.get(_tidy(name))
            if own is None or not own.name:
                continue
            self.found.includes.remove((name, line))
            if own.name not in self.seen:
                self.file(own)


def _tidy(path: str) -> str:
    """A path without steps up and steps on the spot."""
    steps: list[str] = []
    for step in path.split("/"):
        if step == ".." and steps:
            steps.pop()
        elif step not in (".", ".."):
            steps.append(step)
    return "/".join(steps)


def _without_comments(text: str) -> str:
    """Comments as spaces; lines and columns stay."""

    def blank(match: re.Match[str]) -> str:
        piece = match[0]
        return re.sub(r"[^\n]", " ", piece) if piece[0] == "/" else piece

    return _COMMENT.sub(blank, text)


def _directive(text: str, line: int, found: Preprocessed, kept: list[bool | None]) -> None:
    word, _, rest = text.partition(" ") if " " in text else (text, "", "")
    match = re.match(r"[A-Za-z_]+", text)
    word = match[0] if match else ""
    rest = text[len(word) :].strip()
    span = Span(line, 1, line, 2 + len(text))
    if word in ("ifdef", "ifndef"):
        kept.append((rest.split(" ")[0] in found.macros) == (word == "ifdef"))
    elif word == "if":
        kept.append(_holds(rest, found, span))
    elif word == "elif" and len(kept) > 1:
        kept[-1] = None if kept[-1] is not False else _holds(rest, found, span)
    elif word == "else" and len(kept) > 1:
        kept[-1] = kept[-1] is False
    elif word == "endif" and len(kept) > 1:
        kept.pop()
    elif not all(kept):
        return
    elif word == "include":
        name = re.fullmatch(r"[<\"]([^>\"]+)[>\"]", rest)
        if name is None:
            message = "This #include names no file."
            found.hints.append(error("directive", span, message, 'Write for example: #include "cart.h"'))
        else:
            found.includes.append((name[1], line))
    elif word == "define":
        _define(rest, span, found)
    elif word == "undef":
        found.macros.pop(rest, None)
    elif word not in ("pragma", "line", ""):
        found.hints.append(error("not-read", span, f"Geduld does not read #{word}.", "Leave it out."))


def _holds(rest: str, found: Preprocessed, span: Span) -> bool:
    text = re.sub(r"defined\s*\(?\s*(\w+)\s*\)?", lambda match: str(int(match[1] in found.macros)), rest)
    text = re.sub(r"\b([A-Za-z_]\w*)\b", "0", _expanded(text, found, span.line))  # as C has it for unknown names
    text = re.sub(r"\b(\d+)[uUlL]*\b", r"\1", text.replace("&&", " and ").replace("||", " or "))
    try:
        return bool(_worked_out(ast.parse(re.sub(r"!(?!=)", " not ", text).strip(), mode="eval").body))
    except (SyntaxError, ValueError, ArithmeticError, RecursionError, MemoryError):
        message = "This condition is more than Geduld reads here."
        found.hints.append(error("not-read", span, message, "Use #ifdef with one name."))
        return True


_WORKS_OUT: dict[type[ast.AST], Callable[[int, int], int]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Mod: operator.mod,
    ast.Eq: operator.eq, ast.NotEq: operator.ne, ast.Lt: operator.lt, ast.LtE: operator.le, ast.Gt: operator.gt,
    ast.GtE: operator.ge,
}  # fmt: skip


def _worked_out(node: ast.expr) -> int:
    """A condition of whole numbers. Raises ValueError for anything else."""
    if isinstance(node, ast.Constant) and type(node.value) is int:
        return node.value
    if isinstance(node, ast.BoolOp):
        values = [bool(_worked_out(value)) for value in node.values]
        return int(all(values) if isinstance(node.op, ast.And) else any(values))
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        inner = _worked_out(node.operand)
        return int(not inner) if isinstance(node.op, ast.Not) else -inner
    if isinstance(node, ast.BinOp) and type(node.op) in _WORKS_OUT:
        return _WORKS_OUT[type(node.op)](_worked_out(node.left), _worked_out(node.right))
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _WORKS_OUT:
        return int(_WORKS_OUT[type(node.ops[0])](_worked_out(node.left), _worked_out(node.comparators[0])))
    raise ValueError("no condition of whole numbers")


def _define(rest: str, span: Span, found: Preprocessed) -> None:
    match = re.match(r"([A-Za-z_]\w*)(\(([^)]*)\))?", rest)
    if match is None:
        found.hints.append(error("directive", span, "This #define names nothing.", "Write: #define LIMIT 40"))
        return
    given = None if match[2] is None else tuple(name.strip() for name in match[3].split(",") if name.strip())
    body = rest[match.end() :].strip()
    if "#" in re.sub(r"\"[^\"]*\"", "", body):
        message = "Geduld does not read # in a macro."
        found.hints.append(error("not-read", span, message, "Write a function instead."))
        return
    found.macros[match[1]] = found.defined[match[1]] = Macro(body, given, span.line)


def _expanded(line: str, found: Preprocessed, number: int) -> str:
    """A line in which macros are put in."""
    if not found.macros or not any(name in line for name in found.macros):
        return line
    text = _expand(line, found, frozenset(), number)
    if len(text) > MOST_LETTERS:
        message = "The macros of this line become too long."
        found.hints.append(error("not-read", Span(number, 1, number, 2), message, "Write functions instead."))
        return ""
    return text


def _expand(text: str, found: Preprocessed, hidden: frozenset[str], line: int) -> str:
    if len(hidden) > MOST_DEPTH:
        return text
    out: list[str] = []
    tokens = list(_TOKEN.finditer(text))
    index = size = 0
    while index < len(tokens):
        token = tokens[index]
        macro = found.macros.get(token[0]) if token.lastgroup == "name" and token[0] not in hidden else None
        index += 1
        if macro is None:
            piece = token[0]
        elif macro.parameters is None:
            piece = _expand(macro.body, found, hidden | {token[0]}, line)
        else:
            given, behind = _values(tokens, index)
            if given is None:
                piece = token[0]
            else:
                index = behind
                piece = _filled(macro, [_expand(value, found, hidden, line) for value in given])
                piece = _expand(piece, found, hidden | {token[0]}, line)
        out.append(piece)
        size += len(piece)
        if size > MOST_LETTERS:
            break
    return "".join(out)


def _values(tokens: list[re.Match[str]], index: int) -> tuple[list[str] | None, int]:
    """The values in brackets behind a macro's name, and what comes after; None where there are none."""
    while index < len(tokens) and tokens[index].lastgroup == "space":
        index += 1
    if index >= len(tokens) or tokens[index][0] != "(":
        return None, index
    depth, values = 0, [""]
    while index < len(tokens):
        piece = tokens[index][0]
        index += 1
        if piece == "(":
            depth += 1
            if depth == 1:
                continue
        elif piece == ")":
            depth -= 1
            if depth == 0:
                return [value.strip() for value in values if len(values) > 1 or value.strip()], index
        elif piece == "," and depth == 1:
            values.append("")
            continue
        values[-1] += piece
    return None, index


def _filled(macro: Macro, given: list[str]) -> str:
    """A macro's body with its values in the places of its parameters."""
    values = dict(zip(macro.parameters or (), given, strict=False))
    return "".join(values.get(token[0], token[0]) for token in _TOKEN.finditer(macro.body))
