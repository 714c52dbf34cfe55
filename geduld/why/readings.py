"""What readings were at an instant, and how near a condition ever came, in words."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from geduld.binding import terms
from geduld.language.quantities import TEXT, show
from geduld.rig.model import Part
from geduld.run.record.record import Record

_ENDS = re.compile(r",\s*(?:held|patience|keep going)\b|:\s*(?:#.*)?$|\s#.*$")
_BEGINS = re.compile(r"\b(?:until|unless|while|if)\s+")


@dataclass(frozen=True)
class Seen:
    """A reading at an instant: its value in the part's unit, None where absent or a text, and in words."""

    part: str
    value: float | None
    words: str


def parts_in(term: terms.Term) -> tuple[str, ...]:
    """The sensors that a condition asks for, in its order."""
    return tuple(dict.fromkeys(item.part for item in term.walk() if isinstance(item, terms.Reading)))


def condition_words(line: str) -> str:
    """The condition of a step as its line says it; empty where it says none."""
    found = _BEGINS.search(line)
    return _ENDS.split(line[found.end() :])[0].strip() if found else ""


def seen_at(record: Record, names: Iterable[str], tick: int) -> tuple[Seen, ...]:
    """What the readings of these names were at an instant, of those that the record has."""
    found = []
    for name in names:
        part, signal = record.rig.channels.get(name), record.readings.get(name)
        if part is not None and signal is not None:
            value = float(signal.at(np.array([tick]))[0])
            shown = None if value != value or part.dimension == TEXT else _shown(part, value)
            found.append(Seen(name, shown, _words(record, part, value)))
    return tuple(found)


def were(seen: Iterable[Seen]) -> str:
    """Readings as a clause: `range was 39.8 cm and nose was released`."""
    return " and ".join(f"{item.part} was {item.words}" for item in seen)


def nearest(record: Record, term: terms.Term, start: int, stop: int) -> str:
    """How near the comparisons of a condition came between two instants, as a sentence; empty where none tells it."""
    found = []
    for item in term.walk():
        if not isinstance(item, terms.Compare) or item.sign not in ("<", "<=", ">", ">="):
            continue
        sides = [(item.left, item.right, item.sign in ("<", "<=")), (item.right, item.left, item.sign in (">", ">="))]
        for reading, number, wants_less in sides:
            if isinstance(reading, terms.Reading) and isinstance(number, terms.Const):
                found += _extreme(record, reading.part, wants_less, start, stop)
    return " ".join(dict.fromkeys(found))


def _extreme(record: Record, name: str, least: bool, start: int, stop: int) -> list[str]:
    part, signal = record.rig.channels.get(name), record.readings.get(name)
    if part is None or signal is None:
        return []
    first = max(0, int(np.searchsorted(signal.times, start, "right")) - 1)
    last = int(np.searchsorted(signal.times, stop, "right"))
    times, values = signal.times[first:last], signal.values[first:last]
    if not len(values) or np.isnan(values).all():
        return [f"{name} had no reading then."]
    index = int(np.nanargmin(values) if least else np.nanargmax(values))
    when = show(max(int(times[index]), start) / 1e6, "s", 2)
    return [
        f"The {'least' if least else 'greatest'} {name} was {_words(record, part, float(values[index]))}, at {when}."
    ]


def _shown(part: Part, value: float) -> float:
    return float(part.unit.from_base(value)) if part.unit else value


def _words(record: Record, part: Part, value: float) -> str:
    if value != value:
        return "absent"
    if part.dimension == TEXT:
        return f'"{record.texts.get(value, "")}"'
    if part.kind.is_contact and part.kind.whole and "." not in part.name:
        return "pressed" if value else "released"
    return show(_shown(part, value), part.unit_word, 2)
