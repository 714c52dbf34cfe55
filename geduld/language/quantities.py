"""Dimensions and units.

Inside Geduld every value is a float in its dimension's base unit: %, cm, deg, s, lx. A unit's factor is
an exact fraction of whole numbers, applied to whole or decimal numbers with one correctly rounded
division, so `400 mm` and `40 cm` are the same float.
"""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from functools import cached_property, lru_cache
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

N = TypeVar("N", float, NDArray[np.float64])
# What the difference of two values may be off, in base units: 58 is within 6 of 64 on any scale.
ROUNDING = 1e-9
BASES = ("%", "cm", "deg", "s", "lx")


Powers = tuple[int, int, int, int, int]


@dataclass(frozen=True, eq=False)
class Dimension:
    """Powers of the base units (ratio, length, angle, time, light); all zero is a plain count.

    There is one of each, made by `dimension`, so that two are the same when they are the same object: binding a
    program compares them at every step.
    """

    powers: Powers
    special: str

    def __reduce__(self) -> tuple[object, tuple[Powers, str]]:
        return dimension, (self.powers, self.special)

    def __mul__(self, other: Dimension) -> Dimension:
        a, b = self.powers, other.powers
        return dimension((a[0] + b[0], a[1] + b[1], a[2] + b[2], a[3] + b[3], a[4] + b[4]))

    def __truediv__(self, other: Dimension) -> Dimension:
        a, b = self.powers, other.powers
        return dimension((a[0] - b[0], a[1] - b[1], a[2] - b[2], a[3] - b[3], a[4] - b[4]))

    @property
    def unit(self) -> str:
        """The base unit as text: `cm`, `%/cm`, and nothing for a count, a truth or a text."""
        over = _product(self.powers, 1)
        under = _product(self.powers, -1)
        if not under:
            return over
        return f"{over or '1'}/{under}"

    def __str__(self) -> str:
        if self.special:
            return self.special
        name = _NAMES.get(self.powers)
        if name is None:
            return f"a value in {self.unit}"
        return f"{name} ({self.unit})" if self.unit else name


def _product(powers: tuple[int, ...], sign: int) -> str:
    words = []
    for base, power in zip(BASES, powers, strict=True):
        size = power * sign
        if size > 0:
            words.append(base if size == 1 else f"{base}^{size}")
    return "*".join(words)


_DIMENSIONS: dict[tuple[Powers, str], Dimension] = {}


def dimension(powers: Powers, special: str = "") -> Dimension:
    """The dimension with these powers."""
    return _DIMENSIONS.setdefault((powers, special), Dimension(powers, special))


COUNT = dimension((0, 0, 0, 0, 0))
RATIO = dimension((1, 0, 0, 0, 0))
LENGTH = dimension((0, 1, 0, 0, 0))
ANGLE = dimension((0, 0, 1, 0, 0))
TIME = dimension((0, 0, 0, 1, 0))
LIGHT = dimension((0, 0, 0, 0, 1))
SPEED = LENGTH / TIME
TURN_RATE = ANGLE / TIME
ACCELERATION = SPEED / TIME
FREQUENCY = COUNT / TIME
TRUTH = dimension((0, 0, 0, 0, 0), "a yes or no")
TEXT = dimension((0, 0, 0, 0, 0), "a text")

_NAMES = {
    COUNT.powers: "a plain number",
    RATIO.powers: "a ratio",
    LENGTH.powers: "a length",
    ANGLE.powers: "an angle",
    TIME.powers: "a time",
    LIGHT.powers: "a light level",
    SPEED.powers: "a speed",
    TURN_RATE.powers: "a turning speed",
    ACCELERATION.powers: "an acceleration",
    FREQUENCY.powers: "a frequency",
}


@dataclass(frozen=True)
class Unit:
    """A unit: its word, its dimension, and how many base units it is; `zero` is the number of it that is nothing.

    The numbers of a converter or of a motor's own scale have no word.
    """

    word: str
    dimension: Dimension
    factor: Fraction
    zero: float = 0.0

    @cached_property
    def is_base(self) -> bool:
        """Whether it is a base unit, or a quotient of such."""
        return self.factor == 1 and not self.zero

    def to_base(self, value: N) -> N:
        """A number in this unit, or an array of them, in base units."""
        above = value - self.zero if self.zero else value
        return above * self.factor.numerator / self.factor.denominator

    def from_base(self, value: N) -> N:
        """A number in base units, or an array of them, in this unit."""
        number = value * self.factor.denominator / self.factor.numerator
        return number + self.zero if self.zero else number


def _units() -> dict[str, Unit]:
    rows: list[tuple[str, Dimension, Fraction]] = [
        ("%", RATIO, Fraction(1)),
        ("cm", LENGTH, Fraction(1)),
        ("mm", LENGTH, Fraction(1, 10)),
        ("m", LENGTH, Fraction(100)),
        ("inch", LENGTH, Fraction(254, 100)),
        ("deg", ANGLE, Fraction(1)),
        ("rev", ANGLE, Fraction(360)),
        ("s", TIME, Fraction(1)),
        ("ms", TIME, Fraction(1, 1000)),
        ("us", TIME, Fraction(1, 1_000_000)),
        ("s2", TIME * TIME, Fraction(1)),
        ("g", ACCELERATION, Fraction(980_665, 1_000)),
        ("min", TIME, Fraction(60)),
        ("h", TIME, Fraction(3600)),
        ("lx", LIGHT, Fraction(1)),
        ("Hz", FREQUENCY, Fraction(1)),
        ("kHz", FREQUENCY, Fraction(1000)),
        ("rpm", TURN_RATE, Fraction(6)),
    ]
    return {word: Unit(word, dimension, factor) for word, dimension, factor in rows}


UNITS = _units()


@lru_cache(maxsize=256)
def unit_from_text(text: str) -> Unit | None:
    """The unit written as `text` (`cm`, `%/cm`, `cm/s`), or None when there is no such unit."""
    words = [word.strip() for word in text.split("/")]
    if any(word not in UNITS for word in words):
        return None
    unit = UNITS[words[0]]
    for word in words[1:]:
        below = UNITS[word]
        unit = Unit(text, unit.dimension / below.dimension, unit.factor / below.factor)
    return unit


def exact(number: str, unit: Unit | None) -> float:
    """A decimal number as written, in base units, rounded once from its exact value."""
    if unit is None or unit.is_base:
        return float(number)
    value = Decimal(number)
    if not -400 < value.adjusted() < 400:
        return math.inf if value.adjusted() > 0 else 0.0
    fraction = Fraction(value) * unit.factor
    try:
        return fraction.numerator / fraction.denominator
    except OverflowError:
        return math.inf


def microseconds(seconds: float) -> int:
    """Seconds as whole microseconds, to the nearest; more than 1e12 s are that much."""
    return round(min(seconds, 1e12) * 1_000_000)


def text_code(text: str) -> float:
    """A text as a number that stands for it in a channel: 48 bits of its hash."""
    return float(int.from_bytes(hashlib.sha256(text.encode()).digest()[:6], "big"))


def show(value: float, unit: str = "", places: int = 3) -> str:
    """A number for people: at most `places` decimals, no trailing zeros, its unit behind a space."""
    text = f"{value:.{places}f}" if math.isfinite(value) else str(value)
    text = text.rstrip("0").rstrip(".") if "." in text else text
    text = "0" if text == "-0" else text
    return f"{text} {unit}".rstrip()
