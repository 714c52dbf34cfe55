"""Hand-ins that are alike: the same text but for names and spaces, or the same behaviour in every case."""

from __future__ import annotations

import ast
import hashlib
import io
import keyword
import re
import tokenize
from typing import Any

from geduld.language.lexer import Line, read_lines
from geduld.readers.reading import NOTATION
from server.exercises.models import Exercise, HandIn
from server.marks.models import Mark

_C_TOKEN = re.compile(r"//[^\n]*|/\*.*?\*/|\"(?:\\.|[^\"\\])*\"|[A-Za-z_]\w*|\d[\w.]*|\S", re.DOTALL)
_C_WORDS = frozenset(
    {
        "if",
        "else",
        "while",
        "for",
        "do",
        "return",
        "int",
        "long",
        "short",
        "char",
        "float",
        "double",
        "bool",
        "void",
        "const",
        "unsigned",
        "signed",
        "break",
        "continue",
        "switch",
        "case",
        "default",
        "static",
        "struct",
    }
)
_DECLARED = re.compile(r"\b(?:int|long|short|char|float|double|bool|void|unsigned)\s+\**\s*([A-Za-z_]\w*)")
LEAST_TOKENS = 12  # what is shorter is alike by chance


def alike(exercise: Exercise) -> list[dict[str, Any]]:
    """Groups of hand-ins with one text or one behaviour, the largest first; a group by text is not told again."""
    texts: dict[str, list[HandIn]] = {}
    behaviours: dict[str, list[HandIn]] = {}
    told = {hand_in: _behaviour(hand_in) for hand_in in _marked(exercise)}
    for hand_in in exercise.hand_ins.filter(recorded=False):
        known = shape(bytes(hand_in.data).decode("utf-8", "replace"), hand_in.language)
        if known:
            texts.setdefault(known, []).append(hand_in)
        if told.get(hand_in.pk):
            behaviours.setdefault(told[hand_in.pk], []).append(hand_in)
    by_text = [group for group in texts.values() if len(group) > 1]
    groups = [_told("text", group) for group in by_text]
    seen = {frozenset(item.pk for item in group) for group in by_text}
    for group in behaviours.values():
        keys = frozenset(item.pk for item in group)
        if len(group) > 1 and not any(keys <= other for other in seen):
            groups.append(_told("behaviour", group))
    return sorted(groups, key=lambda group: -len(group["hand_ins"]))


def _told(how: str, group: list[HandIn]) -> dict[str, Any]:
    group = sorted(group, key=lambda item: item.student)
    return {"how": how, "hand_ins": [item.pk for item in group], "students": [item.student for item in group]}


def _marked(exercise: Exercise) -> set[int]:
    marks = Mark.objects.filter(result__hand_in__exercise=exercise, at__isnull=False)
    return set(marks.values_list("result__hand_in", flat=True))


def _behaviour(hand_in: int) -> str:
    """What a hand-in did, by its marks: every verdict, margin, instant and reason in every case."""
    marks = Mark.objects.filter(result__hand_in=hand_in).order_by("id")
    rows = list(marks.values_list("check_title", "case", "verdict", "margin", "at", "because"))
    failed = any(verdict != "pass" for _, _, verdict, *_ in rows)
    # all that is right is alike in what it does
    return hashlib.sha256(repr(rows).encode()).hexdigest() if failed else ""


def shape(text: str, language: str) -> str:
    """A hash of a text without comments and spaces, its names numbered by their order; empty for a short one."""
    tokens = _notation(text) if language == NOTATION else _python(text) if language == "python" else _c(text)
    if len(tokens) < LEAST_TOKENS:
        return ""
    return hashlib.sha256("\x00".join(tokens).encode()).hexdigest()


def _numbered() -> Any:
    names: dict[str, str] = {}
    return lambda name: names.setdefault(name, f"name{len(names)}")


def _notation(text: str) -> list[str]:
    """Words and parts stay: only what `let`, `set`, `to`, `start timer` and `lane` name is the student's."""
    tree, _, _ = read_lines(text.split("\n"))
    own = set(re.findall(r"^\s*(?:let|set|to|start timer|lane)\s+(\w+)", text, re.MULTILINE))
    numbered = _numbered()
    found: list[str] = []

    def walk(lines: list[Line]) -> None:
        for line in lines:
            words = [token.text for token in line.tokens]
            if words[:1] not in (["behaviour"], ["for"]):
                found.extend(numbered(word) if word in own else word for word in words)
                found.append("\n")
            walk(line.children)

    walk(tree)
    return found


def _python(text: str) -> list[str]:
    try:
        names = {
            node.id if isinstance(node, ast.Name) else node.arg if isinstance(node, ast.arg) else node.name
            for node in ast.walk(ast.parse(text))
            if (isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store))
            or isinstance(node, ast.arg | ast.FunctionDef)
        }
        numbered = _numbered()
        skipped = {tokenize.COMMENT, tokenize.NL, tokenize.ENCODING, tokenize.ENDMARKER}
        return [
            numbered(token.string)
            if token.type == tokenize.NAME and token.string in names and not keyword.iskeyword(token.string)
            else {tokenize.INDENT: "{", tokenize.DEDENT: "}"}.get(token.type, token.string)
            for token in tokenize.generate_tokens(io.StringIO(text).readline)
            if token.type not in skipped
        ]
    except (SyntaxError, ValueError, RecursionError, tokenize.TokenError):
        return []


def _c(text: str) -> list[str]:
    found, numbered = [], _numbered()
    declared = set(_DECLARED.findall(text))
    for token in _C_TOKEN.findall(text):
        if token.startswith(("//", "/*")):
            continue
        found.append(numbered(token) if token in declared and token not in _C_WORDS else token)
    return found
