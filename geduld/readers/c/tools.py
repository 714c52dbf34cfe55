"""What a C program's lane may use beside the engine: C's own operations and functions."""

from __future__ import annotations

import math
import re
import struct
from bisect import bisect_right
from collections.abc import Callable, Mapping
from itertools import zip_longest
from typing import Any

from geduld.readers.c.types import CHAR, Int
from geduld.script.ends import Left
from geduld.script.machine import Machine

_FORMAT = re.compile(r"%([-+ #0]*)(\d*)(?:\.(\d*))?(?:hh|h|ll|l|z|L)?([diufFeEgGxXoscp%])")
MOST_WIDTH = 200
_HEAVY = 8  # so many times what it costs to copy an item: it is looked at as well


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


def compared(one: Any, other: Any, most: int | None = None) -> int:
    """`strcmp`, `strncmp`: how far apart the first two letters that differ are. Raises TypeError without a text."""
    if not isinstance(one, str) or not isinstance(other, str):
        raise TypeError("a text that is not there is compared")
    pairs = zip_longest(one[:most], other[:most], fillvalue="\0")
    return next((ord(left) - ord(right) for left, right in pairs if left != right), 0)


def from_there(text: Any, wanted: Any) -> str | None:
    """`strchr` and `strstr`: a text from the first place on where a letter, or another text, stands; NULL if nowhere.

    Raises TypeError where there is no text.
    """
    wanted = chr(wanted & 255) if isinstance(wanted, int) else wanted
    if not isinstance(text, str) or not isinstance(wanted, str):
        raise TypeError("a text that is not there is searched")
    place = (text + "\0").find(wanted)
    return None if place < 0 else text[place:]


def _to_upper(code: int) -> int:
    return code - 32 if 97 <= code <= 122 else code


def _to_lower(code: int) -> int:
    return code + 32 if 65 <= code <= 90 else code


def _of_kind(test: Callable[[str], bool]) -> Callable[[int], int]:
    return lambda code: int(0 <= code < 128 and test(chr(code)))


# What `ctype.h` asks of letters, by their codes.
LETTERS: dict[str, Callable[[int], int]] = {
    "isdigit": _of_kind(str.isdigit),
    "isalpha": _of_kind(str.isalpha),
    "isalnum": _of_kind(str.isalnum),
    "isspace": _of_kind(lambda letter: letter in " \t\n\v\f\r"),
    "isupper": _of_kind(str.isupper),
    "islower": _of_kind(str.islower),
    "toupper": _to_upper,
    "tolower": _to_lower,
}


def atoi(text: Any) -> int:
    """`atoi`: the whole number with which a text begins, at most 32 bits wide. Raises TypeError where there is none."""
    if not isinstance(text, str):
        raise TypeError("a text that is not there is read")
    match = re.match(r"\s*([+-]?\d{1,10})", text)
    return max(-(1 << 31), min((1 << 31) - 1, int(match[1]))) if match else 0


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

    def print(self, template: Any, *given: Any) -> int:
        """`printf`: a note. How many letters it has. Behind the values stand the instant and the line."""
        *values, now, line = given
        text = self.formatted(template, values)
        self.say([text.removesuffix("\n")], " ", "\n", now, line)
        return len(text)

    def formatted(self, template: Any, values: list[Any]) -> str:
        """A text with values in the places that `printf` gives them."""

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

        return _FORMAT.sub(filled, str(template))

    def copied(self, value: Any) -> Any:
        """A struct or an array, copied."""
        self.items(_HEAVY * len(value))
        return [self.copied(item) if isinstance(item, list) else item for item in value]

    def text_in(self, values: Any, place: int = 0) -> str:
        """What stands in an array of letters from a place on, up to the 0 behind it. Raises IndexError without one."""
        try:
            end = values.index(0, max(place, 0))
        except ValueError:
            end = -1
        if place < 0 or end < 0:
            raise IndexError("no 0 stands at the end of the text in this array")
        found = values[place:end]
        self.items(_HEAVY * len(found))
        return "".join(chr(code & 255) for code in found)

    def letters_of(self, text: Any) -> list[int]:
        """A text as an array of letters, with a 0 behind it. Raises TypeError where there is none."""
        if not isinstance(text, str):
            raise TypeError("a text that is not there is copied")
        self.items(len(text) + 1)
        return [CHAR.wrapped(ord(letter)) for letter in text] + [0]

    def copy_text(self, to: Any, text: Any) -> Any:
        """`strcpy`; the array. Raises IndexError where it is too short."""
        return self._put_all(to, self.letters_of(text))

    def copy_letters(self, to: Any, text: Any, count: int) -> Any:
        """`strncpy`: so many letters, with 0 behind a shorter text, and none behind a longer one."""
        codes = self.letters_of(text)[:-1][: max(count, 0)]
        self.items(max(count, 0))
        return self._put_all(to, codes + [0] * (min(max(count, 0), len(to[0]) + 1) - len(codes)))

    def add_text(self, to: Any, text: Any, most: int | None = None) -> Any:
        """`strcat`, `strncat`; the array."""
        more = self.letters_of(text)[:-1][:most]
        behind = (to[0], to[1] + len(self.text_in(*to)))
        self._put_all(behind, [*more, 0])
        return to

    def fill(self, to: Any, value: int, count: int) -> Any:
        """`memset`, of an array of letters."""
        self.items(max(count, 0))
        return self._put_all(to, [CHAR.wrapped(value)] * min(max(count, 0), len(to[0]) + 1))

    def written(self, to: Any, most: int | None, template: Any, *values: Any) -> int:
        """`sprintf`, `snprintf`: how many letters the whole text has."""
        text = self.formatted(template, list(values))
        if most is None or most > 0:
            self.copy_text(to, text if most is None else text[: most - 1])
        return len(text)

    def _put_all(self, to: Any, codes: list[int]) -> Any:
        values, place = to
        if place < 0 or place + len(codes) > len(values):
            raise IndexError(f"{len(codes)} letters are written to an array with {len(values) - place} places")
        values[place : place + len(codes)] = codes
        return to

    def rand(self) -> int:
        """`rand`: a whole number from 0 to 32767."""
        return self.random.draw().randrange(32_768)

    def seeded(self, value: int) -> None:
        """`srand`."""
        self.random.source.seed(value)


MACHINE_METHODS = {
    "port_": "port", "print_": "print", "rand_": "rand", "srand_": "seeded", "text_in_": "text_in",
    "letters_": "letters_of", "copy_text_": "copy_text", "copy_letters_": "copy_letters", "add_text_": "add_text",
    "fill_": "fill", "written_": "written", "copied_": "copied", "items_": "items",
}  # fmt: skip
_MATH = "sqrt sin cos tan asin acos atan atan2 exp log log10 pow fmod floor ceil fabs hypot trunc"
TOOLS: dict[str, Any] = {
    "cut_": cut,
    "single_": single,
    "divide_": divide,
    "remainder_": remainder,
    "quotient_": quotient,
    "at_": at,
    "put_": put,
    "compared_": compared,
    "atoi_": atoi,
    **{f"{name}_of_": function for name, function in LETTERS.items()},
    "from_there_": from_there,
    "isnan_of_": lambda value: int(value != value),
    "isinf_of_": lambda value: int(value in (math.inf, -math.inf)),
    "isfinite_of_": lambda value: int(math.isfinite(value)),
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
