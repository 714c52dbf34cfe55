"""Which channel of a rig a column is: by its name, its port, what it is called elsewhere, its unit."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher

import numpy as np

from geduld.language.quantities import TEXT, TRUTH, unit_from_text
from geduld.recordings.cells import Column
from geduld.recordings.contacts import CONTACT_WORDS
from geduld.recordings.headings import Heading, heading_of, unit_word
from geduld.recordings.nothing import CODES, NOTHING
from geduld.recordings.sizes import fits_none
from geduld.rig.kinds import KINDS
from geduld.rig.model import Part, Rig
from geduld.worlds.pins import known_lines
from geduld.worlds.trace_csv import COUNTS, LINE, RAW

_SIDES = {"left": ("left", "links", "l", "lft"), "right": ("right", "rechts", "r", "rgt")}
ENCODERS = ("enc", "encoder", "counts", "ticks", "pulses")
_ANGLES = (*ENCODERS, "angle", "pos", "position", "winkel", "odo", "odometer", "turned")
_SPEEDS = ("speed", "rate", "velocity", "vel", "rpm", "geschwindigkeit", "tempo")
_AXES = {"x": ("x", "pitch", "ahead", "along"), "y": ("y", "roll", "across")}
_LEAST = 40.0


@dataclass(frozen=True)
class Match:
    """A channel that a column probably is, and why; no channel when none of the rig's is like it."""

    channel: str
    why: str


def channels_of(rig: Rig) -> list[str]:
    """What a column can be: a channel, the raw numbers of one, or a line of the controller."""
    plain = [name for name in rig.channels if not name.endswith(COUNTS)]
    raw = [f"{part.name}{RAW}" for part in rig.parts.values() if part.raw_unit is not None]
    return [*plain, *raw, *(f"{LINE}{line}" for line in known_lines(rig))]


def part_of(channel: str, rig: Rig) -> Part | None:
    """The part, or property of a part, that a channel is; None for a line of the controller."""
    if channel.startswith(LINE):
        return None
    if channel.endswith(RAW):
        return rig.parts[channel.removesuffix(RAW)]
    part = rig.channels[channel]
    if channel.endswith(".angle"):
        return replace(part, counts_per_turn=rig.parts[channel.removesuffix(".angle")].counts_per_turn)
    return part


def matches(columns: Sequence[Column], rig: Rig) -> dict[str, Match]:
    """The channel of each column, by the column's name: the surest first, each channel once."""
    offers: list[tuple[float, int, str, str, str]] = []
    refused: dict[str, str] = {}
    for place, column in enumerate(columns):
        for channel in channels_of(rig):
            score, why = _score(column, channel, rig)
            if score < _LEAST or not _can_be(column, channel, rig):
                continue
            if odd := _why_not(column, channel, rig):
                refused.setdefault(column.name, f'it looks like "{channel}", but {odd}: say what it is')
            else:
                offers.append((-score, place, column.name, channel, why))
    found: dict[str, Match] = {}
    taken: set[str] = set()
    for score, _, name, channel, why in sorted(offers, key=lambda offer: offer[:2]):
        base = channel.removesuffix(RAW)
        if name in found or base in taken:
            continue
        rivals = {other for s, _, n, other, _ in offers if n == name and s == score and other not in taken}
        if len(rivals) > 1 and -score < 70:
            continue  # two are as likely: the teacher says which
        found[name] = Match(channel, why)
        taken.add(base)
    for column in columns:
        why = refused.get(column.name, "nothing in the rig is called like this")
        found.setdefault(column.name, Match("", why))
    return found


def _score(column: Column, channel: str, rig: Rig) -> tuple[float, str]:
    heading = heading_of(column.name)
    if channel.startswith(LINE):
        return _as_line(heading, channel.removeprefix(LINE))
    raw = channel.endswith(RAW)
    part = part_of(channel, rig)
    assert part is not None
    plain = channel.removesuffix(RAW)
    if column.name == channel or (heading.name == plain and heading.raw == raw):
        return 100.0, "the rig calls it so"
    if raw != (heading.raw or heading.name.lower().endswith(("_raw", ".raw", " raw"))) and (raw or part.raw_unit):
        return 0.0, ""
    owner, _, of = plain.partition(".")
    if heading.raw and not raw and rig.parts[owner].kind.spins:
        # counts are an encoder's, never a power
        if of != "angle":
            return 0.0, ""
        if _bare(heading.name) == _bare(owner):
            return 93.0, f'it counts, and "{owner}" has an encoder'
    if _bare(heading.name) == _bare(plain):
        return 95.0, f'the rig calls it "{plain}"'
    # a property has no port of its own
    if part.port and part.name in rig.parts and _bare(heading.name) in (_bare(part.port), _bare(f"pin{part.port}")):
        return 90.0, f'"{part.name}" is on port {part.port}'
    words = _words(heading.name)
    score, why = _by_words(words, part, plain, rig, heading)
    behind = {unit_word(word) for word in column.units}
    said = heading.unit or (behind.pop() if len(behind) == 1 else "")
    unit = unit_from_text(said) if said else None
    if unit is not None and part.unit is not None:
        if unit.dimension != part.dimension:
            return 0.0, ""
        if not score and _only(part, rig, lambda other: other.unit is not None and other.dimension == unit.dimension):
            return 50.0, f'"{plain}" is the only sensor that is read in {unit.word}'
        score += 4 if score else 0
    if not score:
        like = SequenceMatcher(None, _bare(heading.name), _bare(plain)).ratio()
        if like >= 0.75 and len(heading.name) > 3:
            return 40.0 + 10 * like, f'it is almost called "{plain}"'
    return score, why


def _as_line(heading: Heading, line: str) -> tuple[float, str]:
    names = (f"{LINE}{line}", f"pin {line}", f"pin{line}", f"gpio{line}", f"gpio {line}", f"d{line}", f"io{line}")
    found = heading.name.lower() in (name.lower() for name in names)
    return (88.0, f"line {line} of the controller") if found else (0.0, "")


def _by_words(words: list[str], part: Part, plain: str, rig: Rig, heading: Heading) -> tuple[float, str]:
    """By the words of a name: the part's own, what its kind is called, its side."""
    owner, _, of = plain.partition(".")
    own = _words(owner)
    base = rig.parts[owner]
    if of and not _says(of, words, heading):
        return 0.0, ""
    if not of and base.kind.spins and (_said(words, _ANGLES) or _said(words, _SPEEDS) or heading.raw):
        return 0.0, ""
    called = (base.kind.word, *base.kind.called)
    if not of and _of_another_kind(words, own, called):
        return 0.0, ""
    if of and _covers(words, own):
        return 82.0, f'it speaks of "{owner}" and of its {of}'
    if not of and _covers(words, own):
        return 80.0 - 2 * max(0, len(words) - len(own)), f'"{owner}" stands in its name'
    side = _side(words)
    sided = _side(own) or next((word for word in _SIDES if rig.drive and getattr(rig.drive, word) == owner), "")
    kind = _said(words, called)
    if side and side == sided and (kind or of):
        return 72.0, f"it is the {side} {base.kind.word}"
    if kind and (not side or not sided):
        same = [other for other in rig.parts.values() if other.kind is base.kind]
        if len(same) == 1:
            return 70.0 + 0.1 * kind, f'"{owner}" is the only {base.kind.word} of the rig'
        if not sided and not side and same[0] is base:
            return 55.0 + 0.1 * kind, f'"{owner}" is the first {base.kind.word} of the rig'
    return 0.0, ""


def _of_another_kind(words: list[str], own: list[str], called: Sequence[str]) -> bool:
    """Whether a name that holds a part's own words speaks of something else: `bump_left` is no motor called left."""
    if set(words) & set(called) or not _covers(words, own):
        return False
    others = {word for kind in KINDS.values() for word in (kind.word, *kind.called)} - set(called)
    return bool((set(words) - set(own)) & others)


def _says(of: str, words: list[str], heading: Heading) -> bool:
    """Whether some words speak of a property: its angle, its speed, one of its axes."""
    unit = heading.unit
    if of == "angle":
        return bool(_said(words, _ANGLES)) or heading.raw or unit in ("deg", "rev")
    if of == "speed":
        return bool(_said(words, _SPEEDS)) or unit in ("rpm", "deg/s")
    return of in _AXES and bool(_said(words, _AXES[of], whole=True))


def _only(part: Part, rig: Rig, like) -> bool:  # type: ignore[no-untyped-def]
    found = [other for other in rig.reads.values() if like(other)]
    return len(found) == 1 and found[0].name == part.name


def _can_be(column: Column, channel: str, rig: Rig) -> bool:
    """Whether a column's cells can be values of a channel."""
    part = part_of(channel, rig)
    known = np.unique(column.numbers[np.isfinite(column.numbers)])
    seen = {word.lower() for word in column.words[1:]}
    if part is not None and part.dimension == TEXT:
        return column.is_words
    if part is None and not channel.endswith(RAW):
        return bool(np.isin(known, (0, 1)).all()) or heading_of(column.name).unit == "%"
    if part is not None and part.dimension == TRUTH:
        numbers = column.numbers[np.isfinite(column.numbers)]
        levels = np.isin(numbers, (1.0, *CODES))
        return (not len(numbers) or float(levels.mean()) > 0.7) and (seen - set(NOTHING)) <= set(CONTACT_WORDS)
    # a column in which nothing but "no reading" stands may be any number
    return not column.is_words or seen <= set(NOTHING)


def _why_not(column: Column, channel: str, rig: Rig) -> str:
    """Why a column's numbers cannot be those of a channel that it is called like; empty when they can."""
    part = part_of(channel, rig)
    if part is None or channel.endswith(RAW):
        return ""
    unit = unit_from_text(heading_of(column.name).unit)
    return fits_none(column.numbers, part, unit if unit is not None and unit.dimension == part.dimension else None)


def _bare(name: str) -> str:
    return re.sub(r"[\s_.\-:#]", "", name).lower()


def _words(name: str) -> list[str]:
    """A name's words: `frontRange2` is front, range, 2."""
    apart = re.sub(r"([a-zäöüß])([A-ZÄÖÜ])", r"\1 \2", name)
    apart = re.sub(r"([^\W\d_])(\d)", r"\1 \2", apart)
    return [word.lower() for word in re.split(r"[\s_.\-:/,#]+", apart) if word]


def _covers(words: list[str], own: list[str]) -> bool:
    return bool(own) and all(word in words for word in own)


def _said(words: Sequence[str], known: Sequence[str], whole: bool = False) -> int:
    """How long the longest of some known words is that stands among others, 0 where none does; one of four letters or
    more may stand inside another, as in `stosstaster`."""
    found = (
        other for other in known for word in words if word == other or (not whole and len(other) > 3 and other in word)
    )
    return max(map(len, found), default=0)


def _side(words: list[str]) -> str:
    return next((side for side, others in _SIDES.items() if any(word in others for word in words)), "")
