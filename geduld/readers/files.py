"""Programs of several files as one text: each file stands behind a line that names it, the one that begins comes first.

So lines, places, hashes and what is kept of a hand-in are those of one text, whatever it was made of.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

_SIGNS = {"python": "#", "c": "//", "notation": "#"}
_MARK = re.compile(r"(?:#|//) ==== file: (.+) ====")
_ENDING = re.compile(r"\.[^./]*$")
_UNCLEAR = "which of these files begins?"
_NO_PROGRAM = re.compile(r"# ==== no program: (.+) ====\n?")


@dataclass(frozen=True)
class SourceFile:
    """A file of a program: its name, its text, and the line of the whole text with which it begins."""

    name: str
    text: str
    first: int = 1

    @property
    def stop(self) -> int:
        """The line behind its last one."""
        return self.first + self.text.count("\n") + 1

    @property
    def stem(self) -> str:
        """Its name without its ending."""
        return _ENDING.sub("", self.name)


def joined(files: Mapping[str, bytes], begins: str | None, language: str) -> bytes:
    """Several files as one text. `begins` is the one with which the program begins, None where nobody knows."""
    sign = _SIGNS[language].encode()
    order = sorted(files, key=lambda name: (name != begins, name))
    parts = [] if begins is not None else [sign + f" ==== {_UNCLEAR} ====\n".encode()]
    for name in order:
        data = files[name].removeprefix(b"\xef\xbb\xbf")
        end = b"" if data.endswith(b"\n") or not data else b"\n"
        parts.append(sign + b" ==== file: " + _safe(name) + b" ====\n" + data + end)
    return b"".join(parts)


def _safe(name: str) -> bytes:
    """A name that stays on its line."""
    plain = "".join(letter if letter.isprintable() else "?" for letter in name)
    return plain[:200].encode("utf-8", "replace")


def no_program(why: str) -> bytes:
    """What is kept of a hand-in in which there is no program: the sentence that says why."""
    return f"# ==== no program: {why} ====\n".encode()


def why_no_program(text: str) -> str:
    """That sentence; empty for a text that may be one."""
    match = _NO_PROGRAM.fullmatch(text)
    return match[1] if match else ""


def files_in(text: str) -> list[SourceFile]:
    """The files of a program; one without a name where it is a single text."""
    lines = text.split("\n")
    first = 0 if _MARK.fullmatch(lines[0]) else 1 if begins_unclear(text) else None
    if first is None:
        return [SourceFile("", text)]
    marks = [(number, match[1]) for number, line in enumerate(lines) if (match := _MARK.fullmatch(line))]
    ends = [*(number for number, _ in marks[1:]), len(lines)]
    found = []
    for (number, name), end in zip(marks, ends, strict=True):
        found.append(SourceFile(name, "\n".join(lines[number + 1 : end]), number + 2))
    return found


def begins_unclear(text: str) -> bool:
    """Whether it is a program of several files, and nobody knows with which it begins."""
    return text.partition("\n")[0] in [f"{sign} ==== {_UNCLEAR} ====" for sign in _SIGNS.values()]


def may_begin(files: Iterable[SourceFile]) -> list[str]:
    """The files with which a program may begin."""
    return [file.name for file in files if file.name and not is_header(file.name)]


def is_header(name: str) -> bool:
    """Whether a file is one that others include."""
    return name.lower().endswith((".h", ".hpp"))


def place_in(text: str, line: int) -> tuple[str, int]:
    """The file that a line of the whole text belongs to, and which line it is there."""
    for file in files_in(text):
        if file.name and file.first <= line < file.stop:
            return file.name, line - file.first + 1
    return "", line
