"""Python's `Enum` and `IntEnum`, as far as classroom programs use them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from geduld.script.telling import plain

BASES = ("Enum", "IntEnum")
AUTO = object()  # stands for `auto()` until the values in front of it are known


class EnumKind(type):
    """The kind of a class of members: it is called with a value, and gone over member by member."""

    members: dict[str, Any]

    def __call__(cls, *given: Any) -> Any:
        """The member that has a value. Raises ValueError when none has."""
        for member in cls.members.values():
            if (member.m_value,) == given:
                return member
        told = _told(given[0] if len(given) == 1 else given)
        raise ValueError(f"{told} is not a valid {plain(cls.__name__)}")

    def __getitem__(cls, name: str) -> Any:
        return cls.members[name]

    def __iter__(cls) -> Iterator[Any]:
        return iter(list(dict.fromkeys(cls.members.values())))

    def __len__(cls) -> int:
        return len(set(cls.members.values()))

    def __contains__(cls, item: Any) -> bool:
        return any(item is member or item == member.m_value for member in cls.members.values())


def complete(kind: EnumKind, names: tuple[str, ...]) -> None:
    """Makes members of the values in a class. The second name of a value is another name for its first member."""
    kind.members = {}
    whole = issubclass(kind, int)
    title = plain(kind.__name__)
    if not hasattr(kind, "m___repr__"):
        kind.m___repr__ = lambda one: f"<{title}.{one.m_name}: {_told(one.m_value)}>"  # type: ignore[attr-defined]
    if not hasattr(kind, "m___str__"):
        kind.m___str__ = lambda one: str(int(one)) if whole else f"{title}.{one.m_name}"  # type: ignore[attr-defined]
    if not whole:
        setattr(kind, "__hash__", lambda one: names.index(one.m_name))  # noqa: B010  # the same in every run
    last = 0
    for name in names:
        value = getattr(kind, f"m_{name}")
        value = last + 1 if value is AUTO else value
        last = value if isinstance(value, int) else last
        same = next((member for member in kind.members.values() if member.m_value == value), None)
        member = same if same is not None else _member(kind, name, value)
        kind.members[name] = member
        setattr(kind, f"m_{name}", member)


def _told(value: Any) -> str:
    """A value as messages have it; an object by its kind, as its place in memory is another one in every run."""
    return repr(value) if isinstance(value, str | int | float | None) else f"a {plain(type(value).__name__)}"


def _member(kind: EnumKind, name: str, value: Any) -> Any:
    member: Any = int.__new__(kind, value) if issubclass(kind, int) else object.__new__(kind)
    member.m_name, member.m_value = name, value
    begin = getattr(kind, "m___init__", None)
    if begin is not None:
        begin(member, *(value if isinstance(value, tuple) else (value,)))
    return member
