"""Whose a file is, by its name: as learning platforms and file managers write names around a student's own."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass

_MONTH = r"(?:jan|feb|mar|apr|may|mai|jun|jul|aug|sep|oct|okt|nov|dec|dez)\w*\.?"
# What stands in a name beside the student's own: ids, dates and times, and the words of those who collect.
_ADDED = re.compile(
    rf"""(?: \d{{3,}}(?:-\d+)* | (?=\w*\d)[0-9a-f]{{8,}}
      | \d{{4}}[-.]\d{{1,2}}[-.]\d{{1,2}}(?:[-T\ ,.].*)? | \d{{1,2}}[-.]\d{{1,2}}[-.]\d{{2,4}}(?:[-T\ ,.].*)?
      | \d{{1,2}}\.?\ {_MONTH},?\ \d{{4}}.* | {_MONTH}\ \d{{1,2}},?\ \d{{4}}.*
      | \d{{1,2}}[-.h:]\d{{2}}(?:[-.:]\d{{2}})?(?:\ ?[ap]m)?
      | assign(?:ment)?submission | onlinetext | online\ text | file | late | attempt | submission | submitted
      | attachments? | (?:version|attempt|submission)\ ?\d+ )""",
    re.VERBOSE | re.IGNORECASE,
)
_SHORT_NUMBER = re.compile(r"\d{1,2}")
_BETWEEN = re.compile(r"_+|\s+[-\u2013]\s+")
_COPY = re.compile(r"(?:\s*\(\d{1,2}\)|\s+-\s+(?:copy|kopie|copie)(?:\s*\(\d{1,2}\))?)$", re.IGNORECASE)
_TASK = re.compile(r"(?:assignment|exercise|homework|task|lab)\s*\d*", re.IGNORECASE)


@dataclass(frozen=True)
class Owner:
    """The student that a name tells, the id beside it, when it was handed in, and the file's own name behind them.

    `added` says whether anything stands beside the student's name.
    """

    student: str
    id: str = ""
    when: str = ""
    own: str = ""
    added: bool = False


def plain_name(name: str) -> str:
    """A student's name as one text: composed letters, single spaces, and no sign that nobody sees."""
    shown = unicodedata.normalize("NFC", name)
    shown = "".join(sign for sign in shown if unicodedata.category(sign) not in ("Cf", "Cc", "Cs", "Co", "Cn"))
    return " ".join(shown.split())


def owners(names: Iterable[str]) -> dict[str, Owner]:
    """Whose each of some names (without their endings) is: those of folders or files that stand side by side.

    What all of them begin with is the task's name, where more is left of each.
    """
    pieces = {name: [piece.strip() for piece in _BETWEEN.split(plain_name(name)) if piece.strip()] for name in names}
    told = {name: _kinds(split) for name, split in pieces.items()}
    added = any(any(kinds) for kinds in told.values())
    shared = _shared(list(pieces.values())) if added else 0
    return {name: _owner(name, split[shared:], told[name][shared:]) for name, split in pieces.items()}


def _kinds(split: list[str]) -> list[bool]:
    """Which pieces are none of a student's name; a short number is an id where it stands beside another such piece."""
    kinds = [_ADDED.fullmatch(piece) is not None for piece in split]
    for place, piece in enumerate(split):
        beside = kinds[max(place - 1, 0) : place + 2]
        if _SHORT_NUMBER.fullmatch(piece) and any(beside) and place > 0:
            kinds[place] = True
    return kinds


def _shared(splits: list[list[str]]) -> int:
    """How many pieces all names begin with, as a task's name does; of each at least one is left."""
    shortest = min((len(split) for split in splits), default=0)
    if shortest < 3 or (len(splits) < 3 and not _TASK.fullmatch(splits[0][0])):
        return 0  # of two the first piece may be the name of a family
    if len(splits) == 1:
        return 1
    same = 0
    while same < shortest - 1 and len({split[same] for split in splits}) == 1:
        same += 1
    return same


def _owner(name: str, split: list[str], kinds: list[bool]) -> Owner:
    begin = next((place for place, added in enumerate(kinds) if not added), len(kinds))
    end = next((place for place in range(begin, len(kinds)) if kinds[place]), len(kinds))
    behind = next((place for place in range(end, len(kinds)) if not kinds[place]), len(kinds))
    if not any(kinds) or begin == len(kinds):
        return Owner(_without_copy(plain_name(name)) or plain_name(name))
    beside = [piece for place, piece in enumerate(split) if kinds[place] and (place < begin or end <= place < behind)]
    ids = [
        piece for piece in beside if re.fullmatch(r"\d+(?:-\d+)*", piece) and not re.fullmatch(r"\d{4}-\d\d?-.*", piece)
    ]
    dates = [piece for piece in beside if re.match(r"\d{4}[-.]\d", piece)]
    return Owner(
        " ".join(split[begin:end]), ids[0] if ids else "", dates[0] if dates else "", "_".join(split[behind:]), True
    )


def _without_copy(name: str) -> str:
    return _COPY.sub("", name)
