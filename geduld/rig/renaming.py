"""Another name for a part, or for the rig: in its description, in programs and checks, in channels, in inputs."""

from __future__ import annotations

import copy
import csv
import io
import re
from typing import Any

from geduld.errors import RigError
from geduld.language.lexer import Line, Token, read_lines
from geduld.language.words import why_not_a_name
from geduld.rig.values import Values

_READ = Values(RigError, "rig")
# Behind or before these words a name is no part: `turn left`, `about left wheel`, `mark A`, `lane hands:`.
_BEFORE = ("turn", "about", "mark", "lane", "word", "object")
_WORD = re.compile(r"\s*(?:word|object)\s+\w+\s*\(([^)]*)\)")


def renamed_part(source: dict[str, Any], old: str, new: str) -> dict[str, Any]:
    """A rig's description with another name for a part. Raises RigError where the name cannot be had."""
    if old not in source.get("parts", {}):
        raise _READ.wrong(f"parts.{old}", f'The rig has no part "{old}".', "Choose one that it has.")
    why = why_not_a_name(new)
    if why or new == "all":
        raise _READ.wrong(f"parts.{new}", f"{why or new}, so no part can be called so.", "Choose another name.")
    if new in source["parts"]:
        raise _READ.wrong(f"parts.{new}", f'The rig already has a part "{new}".', "Choose another name.")
    changed = copy.deepcopy(source)
    changed["parts"] = {new if name == old else name: part for name, part in changed["parts"].items()}
    drive = changed.get("drive")
    for side in ("left", "right"):
        if isinstance(drive, dict) and drive.get(side) == old:
            drive[side] = new
    changed_groups = [[new if name == old else name for name in group] for group in changed.get("exclusive", [])]
    if changed_groups:
        changed["exclusive"] = changed_groups
    for part in changed["parts"].values():
        if part.get("physics", {}).get("on") == old:
            part["physics"]["on"] = new
    for driver in changed.get("drivers", {}).values():
        if driver.get("motor") == old:
            driver["motor"] = new
    return changed


def renamed_text(text: str, old: str, new: str, of_partner: bool = False) -> str:
    """A text of the notation (a behaviour, checks, a wordbook) with another name for a part; with `of_partner` of a
    part of the partner's.

    Comments, texts in quotation marks and the spaces stay; so does a name that means something else there: a
    direction, a mark, a part of the other device, a word's own parameter.
    """
    lines = text.split("\n")
    tree, _, _ = read_lines(lines)
    own = _own_names(lines)
    for line in _all(tree):
        if old in own[line.number - 1]:
            continue
        for token in reversed(_naming(line.tokens, old, of_partner)):
            row = lines[token.line - 1]
            lines[token.line - 1] = row[: token.column - 1] + new + row[token.end - 1 :]
    return "\n".join(lines)


def _naming(tokens: list[Token], name: str, of_partner: bool) -> list[Token]:
    """The tokens of a line that name a part."""
    found = []
    for place, token in enumerate(tokens):
        if token.kind != "word" or token.text != name:
            continue
        before = tokens[place - 1].text if place else ""
        behind = tokens[place + 1].text if place + 1 < len(tokens) else ""
        whose = tokens[place - 2].text if before == "." and place > 1 else ""
        if of_partner or whose == "partner":
            if not of_partner or whose != "partner":
                continue
        elif before == ".":
            if whose != "reference":
                continue
        elif before in _BEFORE or behind == "wheel":
            continue
        found.append(token)
    return found


def _own_names(lines: list[str]) -> list[set[str]]:
    """The names that mean something else in each line: the parameters of the word that it stands in."""
    found: list[set[str]] = []
    inside: set[str] = set()
    for line in lines:
        if line[:1].strip():
            match = _WORD.match(line)
            inside = {name.split()[0] for name in match[1].split(",") if name.split()} if match else set()
        elif match := _WORD.match(line):
            inside = inside | {name.split()[0] for name in match[1].split(",") if name.split()}
        found.append(inside)
    return found


def _all(lines: list[Line]) -> list[Line]:
    return [inner for line in lines for inner in (line, *_all(line.children))]


def renamed_in_worktop(source: dict[str, Any], old: str, new: str) -> dict[str, Any]:
    """A worktop's description with another name for a motor that lifts or grips its loads, or says where they lie."""
    changed = copy.deepcopy(source)
    for load in changed.get("loads", []):
        for key in ("lifted_by", "gripped_by"):
            if load.get(key) == old:
                load[key] = new
        load["lies"] = [{new if name == old else name: angle for name, angle in lies.items()} for lies in load["lies"]]
    return changed


def renamed_rig_in_text(text: str, old: str, new: str) -> str:
    """A text with another name for the rig that it is for."""
    return re.sub(
        rf'^(\s*for\s+rig\s+)"{re.escape(old)}"', lambda match: f'{match[1]}"{new}"', text, flags=re.MULTILINE
    )


def renamed_channel(channel: str, old: str, new: str) -> str:
    """A channel (`left`, `left.angle`, `left.raw`) of the part under its other name."""
    base, dot, rest = channel.partition(".")
    return f"{new}{dot}{rest}" if base == old else channel


def renamed_inputs(text: str, old: str, new: str) -> str:
    """Inputs, as CSV, with another name for a part in their heading."""
    head, end, body = text.partition("\n")
    if not head.strip():
        return text
    cells = next(csv.reader([head.rstrip("\r")]), [])
    shown = []
    for cell in cells:
        name, bracket, unit = cell.partition(" [")
        shown.append(renamed_channel(name, old, new) + bracket + unit)
    out = io.StringIO()
    csv.writer(out, lineterminator="").writerow(shown)
    return out.getvalue() + end + body
