"""Headings as people write them: a name, and a unit in any usual form behind it."""

from __future__ import annotations

import re
from dataclasses import dataclass

from geduld.language.quantities import UNITS, unit_from_text

# How units are written elsewhere, by Geduld's word for them.
_SPELLINGS = {
    "%": ("percent", "pct", "prozent", "per cent"),
    "cm": ("centimeter", "centimetre", "centimeters", "centimetres", "zentimeter"),
    "mm": ("millimeter", "millimetre", "millimeters", "millimetres"),
    "m": ("meter", "metre", "meters", "metres"),
    "inch": ("in", "inches", "zoll", '"', "″"),
    "deg": ("°", "degree", "degrees", "grad", "degs"),
    "rev": ("turns", "turn", "revs", "revolutions", "umdrehungen"),
    "s": ("sec", "secs", "second", "seconds", "sek", "sekunden"),
    "ms": ("msec", "millis", "millisec", "millisecond", "milliseconds", "millisekunden"),
    "us": ("µs", "μs", "usec", "micros", "microsec", "microsecond", "microseconds", "mikrosekunden"),
    "min": ("mins", "minute", "minutes"),
    "h": ("hour", "hours", "hr"),
    "lx": ("lux",),
    "Hz": ("hz", "hertz"),
    "rpm": ("u/min", "rev/min"),
    "deg/s": ("°/s", "degs/s", "dps"),
    "cm/s": (),
    "mm/s": (),
    "m/s": (),
    "m/s2": ("m/s²", "m/s^2"),
    "g": (),
}
_BY_SPELLING = {word: word for word in (*UNITS, *_SPELLINGS)} | {
    spelling: word for word, others in _SPELLINGS.items() for spelling in others
}
RAW_WORDS = ("raw", "adc", "counts", "count", "digits", "ticks", "pulses", "steps", "lsb", "roh", "bit")
_BRACKETS = re.compile(r"\s*(.*?)\s*[\[(<{]\s*([^\])>}]*)\s*[\])>}]\s*")
_SLASH = re.compile(r"\s*(.+?)\s*(?:/|,|\bin\b|:)\s*(\S+)\s*")
_BEHIND = re.compile(r"\s*(.*[^\W_])[_\-. ]+([^\W\d_]+[0-9]?|%|°)\s*")
# Words that stand behind a name as often as they are a unit.
_UNSURE = ("in", "g", "h", "turn", "min")
_CAMEL = re.compile(r"(.*[a-z0-9])(Cm|CM|Mm|MM|Ms|MS|Us|US|Deg|DEG|Lux|Hz|Pct|Sec|Raw|Adc)")


@dataclass(frozen=True)
class Heading:
    """What a heading says: the name, its unit (a word of Geduld's, empty where none stands there), and whether its
    numbers are those of a converter or a counter."""

    name: str
    unit: str = ""
    raw: bool = False


def unit_word(text: str) -> str:
    """Geduld's word for a unit as it is written elsewhere; empty when it is no unit that is known."""
    text = text.strip()
    found = _BY_SPELLING.get(text) or _BY_SPELLING.get(text.lower(), "")
    return found or (text if unit_from_text(text) else "")


def heading_of(text: str) -> Heading:
    """What a heading says: `Abstand (mm)`, `dist_mm`, `range [cm]`, `rangeCm`, `Zeit in ms`, `angle/deg`."""
    text = text.strip().strip("\"'").strip()
    for pattern, sure in ((_BRACKETS, True), (_SLASH, False), (_BEHIND, False), (_CAMEL, False)):
        match = pattern.fullmatch(text)
        if match is None:
            continue
        name, behind = match[1].strip(), match[2].strip()
        if pattern is _BEHIND and behind.lower() in _UNSURE:
            continue
        if word := unit_word(behind):
            return Heading(name or text, word)
        if behind.lower() in RAW_WORDS:
            return Heading(name or text, raw=True)
        if sure:
            return Heading(name or text)
    return Heading(text)
