"""What trees are made of: values that nobody changes, made by the thousand each time a text is read."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from operator import attrgetter
from typing import Any, TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def node(kind: type[T]) -> type[T]:
    """A dataclass that is not to be changed; two of one kind with equal fields are equal, and have one hash.

    The type checker holds it frozen; at run time it is not, because a frozen one takes three times as long to make.
    What all kinds do alike is not generated anew for each, so that a command starts sooner.
    """
    made = dataclass(eq=False, repr=False)(kind)
    every = fields(made)  # type: ignore[arg-type]
    values = _values(tuple(item.name for item in every if item.compare))
    told = tuple(item.name for item in every if item.repr)

    def same(self: T, other: object) -> Any:
        return values(self) == values(other) if other.__class__ is self.__class__ else NotImplemented

    def hashed(self: T) -> int:
        return hash(values(self))

    def shown(self: T) -> str:
        return f"{type(self).__qualname__}({', '.join(f'{name}={getattr(self, name)!r}' for name in told)})"

    for name, work in (("__eq__", same), ("__hash__", hashed), ("__repr__", shown)):
        if name not in kind.__dict__:
            setattr(made, name, work)
    return made


def _values(names: tuple[str, ...]) -> Callable[[Any], tuple[Any, ...]]:
    """Some fields of a value, as quickly as can be."""
    if len(names) > 1:
        return attrgetter(*names)
    return lambda value: tuple(getattr(value, name) for name in names)


def changed(value: T, /, **changes: Any) -> T:
    """A copy of a node with some fields changed; quicker than `dataclasses.replace`, which makes it anew."""
    copy = object.__new__(type(value))
    copy.__dict__ = {**value.__dict__, **changes}
    return copy
