"""Terms as Python expressions over the locals of a generated lane."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from geduld.binding import terms

_NAMES = {"<": "<", "<=": "<=", ">": ">", ">=": ">=", "=": "=="}
_TOOLS = {"abs": "_abs", "min": "_least", "max": "_most", "clamp": "_clamp", "round": "_round"}


class Names:
    """What the terms of one program are called in its lane: `c0[i]` for a channel, `v0` or `kept[0]` for a value."""

    def __init__(self, shared: bool) -> None:
        self.shared = shared
        self.channels: dict[str, int] = {}

    def variable(self, index: int) -> str:
        """A value that `set` keeps: a local, or an item that all lanes and the executor see."""
        return f"kept[{index}]" if self.shared else f"v{index}"

    def channel(self, name: str) -> str:
        """A channel's value at the sample that holds now."""
        return f"c{self.channels.setdefault(name, len(self.channels))}[i]"

    def seen(self, index: int) -> str:
        """How often a contact had changed when it was last looked at."""
        return f"j{index}"

    def scalar(self, term: terms.Term) -> str:
        """The term as an expression."""
        return _WRITERS[type(term)](self, term)


class SharedNames(Names):
    """What terms are called outside their lane, where all that is kept is shared."""

    def __init__(self) -> None:
        super().__init__(True)

    def seen(self, index: int) -> str:
        """As the wait began, or the guard."""
        return self.variable(index)


def _const(names: Names, term: terms.Const) -> str:
    return repr(term.value) if term.value >= 0 else f"({term.value!r})"


def _arithmetic(names: Names, term: terms.Arithmetic) -> str:
    left, right = names.scalar(term.left), names.scalar(term.right)
    return f"_divide({left}, {right})" if term.sign == "/" else f"({left} {term.sign} {right})"


def _compare(names: Names, term: terms.Compare) -> str:
    left, right = names.scalar(term.left), names.scalar(term.right)
    if term.sign == "!=":
        return f"({left} < {right} or {left} > {right})"
    return f"({left} {_NAMES[term.sign]} {right})"


def _absent(names: Names, term: terms.Absent) -> str:
    value = names.scalar(term.value)
    return f"({value} != {value})"


_WRITERS: dict[type, Callable[[Names, Any], str]] = {
    terms.Const: _const,
    terms.Encoder: lambda names, term: f"encoder({term.part!r}, now, i)",
    terms.Reading: lambda names, term: names.channel(term.part),
    terms.Variable: lambda names, term: names.variable(term.index),
    terms.Clock: lambda names, term: "(now / 1000000)",
    terms.Now: lambda names, term: "now",
    terms.Timer: lambda names, term: f"((now - {names.variable(term.index)}) / 1000000)",
    terms.Just: lambda names, term: f"({names.channel(term.counter)} > {names.seen(term.index)})",
    terms.Arithmetic: _arithmetic,
    terms.Function: lambda names, term: f"{_TOOLS[term.name]}({', '.join(map(names.scalar, term.values))})",
    terms.Compare: _compare,
    terms.Junction: lambda names, term: f"({names.scalar(term.left)} {term.word} {names.scalar(term.right)})",
    terms.Opposite: lambda names, term: f"(not {names.scalar(term.value)})",
    terms.Absent: _absent,
}
