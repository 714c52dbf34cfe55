"""Values as text: as Python's own `str` and `repr` have them, but of bounded size and the same in every run."""

from __future__ import annotations

import re
import string
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from geduld.script.ends import TooMuch

MOST_WIDTH = 1_000
MOST_TEXT = 1_000_000
_SPEC = re.compile(r"(?:.?[<>=^])?[-+ ]?[#z]?0?(?P<width>\d*)[,_]?(?:\.(?P<places>\d+))?[bcdeEfFgGnosxX%]?", re.DOTALL)
_PERCENT = re.compile(
    r"%(?:\((?P<key>[^)]*)\))?(?P<flags>[-+ #0]*)(?P<width>\*|\d*)(?:\.(?P<places>\*|\d*))?[hlL]*(?P<kind>.)", re.DOTALL
)
_OWN = re.compile(r"\b[gsmw]_(?=[^\W\d])|lane\.<locals>\.|f\d+\.<locals>\.")
_TOO_LONG = "The program makes a text of more than 1,000,000 letters, so the run was ended here."


# Stands between a file's name and the name of something in it, in a program of several files. It is a letter to Python,
# so that no compiler minds, and no keyboard has it.
DOT = "\ua78f"


def plain(text: str) -> str:
    """A message of the interpreter in which the student's names are as they wrote them."""
    return _OWN.sub("", text).replace(DOT, ".")


def _own_text(value: Any, names: tuple[str, ...]) -> str | None:
    """What an object of the program says it is told as; None where it says nothing. Raises TypeError for no text."""
    for name in names:
        method = getattr(type(value), name, None)
        if method is not None:
            text = method(value)
            if not isinstance(text, str):
                raise TypeError(f"{plain(name)} returned no text")
            return text
    return None


class Teller:
    """Makes texts of values. `charge` is told how long they are."""

    def __init__(self, charge: Callable[[int], None]) -> None:
        self.charge = charge
        self.formatter = _Formatter(self)

    def told(self, value: Any) -> str:
        """As `str` has it."""
        if isinstance(value, str):
            return value
        own = _own_text(value, ("m___str__", "m___repr__"))
        return self.shown(value) if own is None else self.joined([own])

    def shown(self, value: Any) -> str:
        """As `repr` has it."""
        parts: list[str] = []
        self._show(value, parts, [0], 0)
        return self.joined(parts)

    def joined(self, parts: Sequence[str]) -> str:
        """Texts put together."""
        length = sum(map(len, parts))
        if length > MOST_TEXT:
            raise TooMuch(_TOO_LONG)
        self.charge(length)
        return "".join(parts)

    def _show(self, value: Any, parts: list[str], size: list[int], depth: int) -> None:
        kind = type(value)
        if kind in (int, float, bool, str) or value is None:
            text = repr(value)
        elif depth > 20:
            text = "..."
        elif kind in _BRACKETS:
            opening, closing = _BRACKETS[kind]
            if kind is set and not value:
                opening, closing = "set(", ")"
            self._add(opening, parts, size)
            for index, item in enumerate(value):
                if index:
                    self._add(", ", parts, size)
                self._show(item, parts, size, depth + 1)
                if kind is dict:
                    self._add(": ", parts, size)
                    self._show(value[item], parts, size, depth + 1)
            text = "," + closing if kind is tuple and len(value) == 1 else closing
        elif kind is range:
            text = repr(value)
        elif isinstance(value, BaseException):
            text = plain(str(value)) if not depth else f"{kind.__name__}({plain(str(value))!r})"
        elif (own := _own_text(value, ("m___repr__",))) is not None:
            text = own
        else:
            name = getattr(value, "__qualname__", None)
            text = f"<function {plain(name)}>" if name else f"<{plain(kind.__name__)} object>"
        self._add(text, parts, size)

    def _add(self, text: str, parts: list[str], size: list[int]) -> None:
        size[0] += len(text)
        if size[0] > MOST_TEXT:
            raise TooMuch(_TOO_LONG)
        parts.append(text)

    def formatted(self, value: Any, spec: str = "", conversion: str = "") -> str:
        """As an f-string has it. Raises ValueError for what it does not take."""
        if conversion in ("r", "a"):
            value = self.shown(value)
        elif conversion == "s":
            value = self.told(value)
        if not spec:
            return self.told(value)
        match = _SPEC.fullmatch(spec)
        if match is None:
            raise ValueError(f"invalid format specifier {spec!r}")
        if any(number and int(number) > MOST_WIDTH for number in match.group("width", "places")):
            raise ValueError(f"a width of more than {MOST_WIDTH} is not printed")
        if isinstance(value, int) and type(value) is not bool:
            value = int(value)  # a member of an IntEnum is its number
        elif hasattr(value, "m_name") and hasattr(value, "m_value"):
            value = self.told(value)
        if type(value) not in (int, float, bool, str):
            raise TypeError(f"unsupported format string passed to {plain(type(value).__name__)}.__format__")
        return format(value, spec)

    def percent(self, template: str, given: Any) -> str:
        """`template % given`."""
        for match in _PERCENT.finditer(template):
            for number in match.group("width", "places"):
                if number and (number == "*" or int(number) > MOST_WIDTH):
                    raise ValueError(f"a width of more than {MOST_WIDTH}, or *, is not printed")
        values: Any = given
        if isinstance(given, tuple):
            values = tuple(map(self._simple, given))
        elif isinstance(given, dict):
            values = {key: self._simple(value) for key, value in given.items()}
        else:
            values = self._simple(given)
        return self.joined([template % values])

    def _simple(self, value: Any) -> Any:
        if isinstance(value, int) and type(value) is not bool:
            return int(value)
        return value if type(value) in (float, bool, str) else _Told(self.told(value), self.shown(value))

    def format(self, template: str, given: Sequence[Any], named: Mapping[str, Any]) -> str:
        """`template.format(*given, **named)`."""
        return self.joined([self.formatter.vformat(template, given, named)])


class _Told:
    """A value that can only be told."""

    def __init__(self, told: str, shown: str) -> None:
        self.told = told
        self.shown = shown

    def __str__(self) -> str:
        return self.told

    def __repr__(self) -> str:
        return self.shown


class _Formatter(string.Formatter):
    """`format` without looking into values: no attribute of ours can be reached."""

    def __init__(self, teller: Teller) -> None:
        self.teller = teller

    def get_field(self, field_name: str, args: Sequence[Any], kwargs: Mapping[str, Any]) -> Any:
        if not re.fullmatch(r"\d+|\w+", field_name):
            raise ValueError("only names and numbers stand in { }")
        key: int | str = int(field_name) if field_name.isdigit() else field_name
        if isinstance(key, int) and key >= len(args):
            raise IndexError("Replacement index out of range for positional args tuple")
        return self.get_value(key, args, kwargs), key

    def format_field(self, value: Any, format_spec: str) -> str:
        return self.teller.formatted(value, format_spec)

    def convert_field(self, value: Any, conversion: str | None) -> Any:
        if conversion == "s":
            return self.teller.told(value)
        return self.teller.shown(value) if conversion in ("r", "a") else value


_BRACKETS: dict[type, tuple[str, str]] = {list: ("[", "]"), tuple: ("(", ")"), dict: ("{", "}"), set: ("{", "}")}
