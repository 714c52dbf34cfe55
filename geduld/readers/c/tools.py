"""What a C program's lane may use beside the engine: C's own operations and functions."""

from __future__ import annotations

import math
import re
import struct
from bisect import bisect_right
from collections.abc import Mapping
from typing import Any

from geduld.readers.c.types import Int
from geduld.script.ends import Left
from geduld.script.machine import Machine

_FORMAT = re.compile(r"%([-+ #0]*)(\d*)(?:\.(\d*))?(?:hh|h|ll|l|z|L)?([diufFeEgGxXoscp%])")
MOST_WIDTH = 200


def cut(value: float, bits: int, signed: bool) -> int:
    """A number with a point as a whole one. What does not fit is not defined in C; here it wraps."""
    if not math.isfinite(value):
        return -(1 << (bits - 1)) if signed else 0
    return Int(bits, signed).wrapped(int(value))


def single(value: float) -> float:
    """A number as a `float` keeps it."""
    try:
        found: float = struct.unpack("f", struct.pack("f", value))[0]
    except OverflowError:
        return math.inf if value > 0 else -math.inf
    return found


def divide(left: int, right: int) -> int:
    """A whole division, cut towards nothing. Raises ZeroDivisionError."""
    if right == 0:
        raise ZeroDivisionError("a whole number is divided by 0")
    found = abs(left) // abs(right)
    return found if (left < 0) == (right < 0) else -found


def remainder(left: int, right: int) -> int:
    """What a whole division leaves; its sign is that of `left`. Raises ZeroDivisionError."""
    return left - right * divide(left, right)


def quotient(left: float, right: float) -> float:
    """A division of numbers with a point, as IEEE 754 has it."""
    if right == 0:
        if left == 0 or left != left:
            return math.nan
        return math.copysign(math.inf, left) * math.copysign(1.0, right)
    return left / right


def at(values: Any, index: int) -> Any:
    """An item of an array. Raises IndexError outside of it."""
    if 0 <= index < len(values):
        return values[index]
    raise IndexError(f"place {index} is outside the array, which has {len(values)} places, from 0 on")


def put(values: Any, index: int, value: Any) -> Any:
    """Sets an item of an array; the value. Raises IndexError outside of it."""
    if not 0 <= index < len(values):
        raise IndexError(f"place {index} is outside the array, which has {len(values)} places, from 0 on")
    values[index] = value
    return value


def copied(value: Any) -> Any:
    """A struct or an array, copied."""
    return [copied(item) if isinstance(item, list) else item for item in value]


def compared(one: Any, other: Any, most: int | None = None) -> int:
    """`strcmp`, `strncmp`. Raises TypeError where there is no text."""
    if not isinstance(one, str) or not isinstance(other, str):
        raise TypeError("a text that is not there is compared")
    one, other = one[:most], other[:most]
    return int(one > other) - int(one < other)


def letter(text: Any, index: int) -> int:
    """A letter of a text; 0 behind the last. Raises IndexError outside of it."""
    if not isinstance(text, str) or not 0 <= index <= len(text):
        raise IndexError(f"place {index} is outside the text")
    return ord(text[index]) if index < len(text) else 0


def rounded(value: float) -> float:
    """`round`: halves go away from nothing."""
    if not math.isfinite(value):
        return value
    return math.copysign(math.floor(abs(value) + 0.5), value)


def _safe(name: str) -> Any:
    function = getattr(math, name)

    def work(*given: float) -> float:
        try:
            return float(function(*given))
        except (ValueError, OverflowError):
            return math.nan

    return work


def _least(one: float, other: float) -> float:
    """`fmin`: the other value where one is no number."""
    return min(one, other) if one == one and other == other else (other if one != one else one)


def _most(one: float, other: float) -> float:
    """`fmax`: the other value where one is no number."""
    return max(one, other) if one == one and other == other else (other if one != one else one)


def _exit() -> None:
    raise Left


def _chosen(table: Mapping[Any, Any], key: Any, word: str) -> Any:
    found = table.get(key)
    if found is None:
        raise ValueError(f"{word} cannot be used with this part")
    return found


class CMachine(Machine):
    """What one run of a C program works with. `ports` are the parts by what names them."""

    ports: Mapping[str | int, str] = {}

    def port(self, value: Any, word: str) -> str:
        """The part that a program names. Raises ValueError when there is none."""
        found = self.ports.get(value) if isinstance(value, str | int) else None
        if found is None:
            raise ValueError(f"{word}: there is no part or port {value!r}")
        return found

    def print(self, now: int, line: int, template: Any, *given: Any) -> int:
        """`printf`: a note. How many letters it has."""
        values = list(given)

        def filled(match: re.Match[str]) -> str:
            flags, width, places, kind = match.groups()
            if kind == "%":
                return "%"
            value = values.pop(0) if values else 0
            spec = f"%{flags}{min(int(width or 0), MOST_WIDTH) or ''}"
            if kind in "sp":
                return (spec + "s") % (value,)
            if kind == "c":
                return (spec + "s") % chr(int(value) & 0x10FFFF)
            if kind in "feEgGF":
                return (spec + (f".{min(int(places or 0), MOST_WIDTH)}" if places is not None else "") + kind) % value
            kind = "d" if kind in "diu" else kind
            return (spec + kind) % int(value)

        text = _FORMAT.sub(filled, str(template))
        self.say(now, line, [text.removesuffix("\n")])
        return len(text)

    def rand(self) -> int:
        """`rand`: a whole number from 0 to 32767."""
        return self.random.draw().randrange(32_768)

    def seeded(self, value: int) -> None:
        """`srand`."""
        self.random.source.seed(value)


MACHINE_METHODS = {"port_": "port", "print_": "print", "rand_": "rand", "srand_": "seeded"}
_MATH = "sqrt sin cos tan asin acos atan atan2 exp log log10 pow fmod floor ceil fabs hypot trunc"
TOOLS: dict[str, Any] = {
    "cut_": cut,
    "single_": single,
    "divide_": divide,
    "remainder_": remainder,
    "quotient_": quotient,
    "at_": at,
    "put_": put,
    "copied_": copied,
    "compared_": compared,
    "letter_": letter,
    "rounded_": rounded,
    "abs_": abs,
    "len_": len,
    "min_": min,
    "max_": max,
    "chosen_": _chosen,
    "exit_": _exit,
    "bisect_": bisect_right,
    "math_fmin": _least,
    "math_fmax": _most,
    **{f"math_{name}": _safe(name) for name in _MATH.split()},
}
