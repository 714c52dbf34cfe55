"""What trees are made of: values that nobody changes, made by the thousand each time a text is read."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def node(kind: type[T]) -> type[T]:
    """A dataclass that is not to be changed.

    The type checker holds it frozen; at run time it is not, because a frozen one takes three times as long to make.
    """
    return dataclass(unsafe_hash=True)(kind)


def changed(value: T, /, **changes: Any) -> T:
    """A copy of a node with some fields changed; quicker than `dataclasses.replace`, which makes it anew."""
    copy = object.__new__(type(value))
    copy.__dict__ = {**value.__dict__, **changes}
    return copy
