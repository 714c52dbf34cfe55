"""Python's own functions and the modules that every program may import, as far as classroom programs use them."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Any

from geduld.readers.python.methods import Methods
from geduld.readers.python.operations import Operations

# How many values each takes: least and most; None where any number is taken.
_MOST_PLACES = 400


class Builtins:
    """The functions of one run."""

    def __init__(self, machine: Operations) -> None:
        self.machine = machine
        self.methods = Methods(machine)

    def abs(self, value: Any, /) -> Any:
        """`abs`."""
        return abs(value)

    def _several(self, name: str, given: tuple[Any, ...], named: dict[str, Any]) -> tuple[Iterable[Any], Any]:
        values = self.machine.whole(given[0]) if len(given) == 1 else given
        if set(named) - {"key", "default"}:
            raise TypeError(f"{name}() got an unexpected keyword argument")
        key = named.get("key")

        def counted(value: Any) -> Any:
            found = value if key is None else key(value)
            self.machine.ordered([found])
            return found

        return values, counted

    def min(self, *given: Any, **named: Any) -> Any:
        """`min`."""
        values, key = self._several("min", given, named)
        return min(values, key=key, **_default(named)) if len(given) == 1 else min(values, key=key)

    def max(self, *given: Any, **named: Any) -> Any:
        """`max`."""
        values, key = self._several("max", given, named)
        return max(values, key=key, **_default(named)) if len(given) == 1 else max(values, key=key)

    def round(self, number: Any, ndigits: Any = None) -> Any:
        """`round`."""
        if isinstance(ndigits, int) and abs(ndigits) > _MOST_PLACES:
            raise ValueError(f"round() to more than {_MOST_PLACES} places")
        return round(number) if ndigits is None else round(number, ndigits)

    def int(self, value: Any = 0, /, base: Any = 10) -> Any:
        """`int`."""
        if isinstance(value, str):
            self.machine.work(len(value))
            return self.machine.result(int(value, base))
        return self.machine.result(int(value))

    def float(self, value: Any = 0.0, /) -> Any:
        """`float`."""
        return float(value)

    def bool(self, value: Any = False, /) -> Any:
        """`bool`."""
        return bool(value)

    def str(self, value: Any = "", /) -> Any:
        """`str`."""
        return self.machine.teller.told(value)

    def repr(self, value: Any, /) -> Any:
        """`repr`."""
        return self.machine.teller.shown(value)

    def len(self, value: Any, /) -> Any:
        """`len`."""
        return len(value)

    def sum(self, values: Any, /, start: Any = 0) -> Any:
        """`sum`."""
        total = start
        for value in self.machine.whole(values):
            total = total + value if type(value) in (int, float) else self.machine.add(total, value)
        return self.machine.result(total)

    def range(self, *given: Any) -> Any:
        """`range`."""
        return range(*given)

    def enumerate(self, iterable: Any, start: Any = 0) -> Any:
        """`enumerate`, made at once."""
        return [(number, value) for number, value in enumerate(self.machine.whole(iterable), start)]

    def zip(self, *given: Any, strict: Any = False) -> Any:
        """`zip`, made at once."""
        lists = [self.machine.each(one) for one in given]
        shortest = min(lists, key=len, default=())
        self.machine.items(len(shortest) * (1 + len(lists)))
        return list(zip(*lists, strict=bool(strict)))

    def sorted(self, values: Any, /, **named: Any) -> Any:
        """`sorted`."""
        found = self.machine.list(values)
        self.methods.sort(found, named)
        return found

    def reversed(self, values: Any) -> Any:
        """`reversed`, made at once."""
        return self.machine.list(values)[::-1]

    def list(self, values: Any = ()) -> Any:
        """`list`."""
        return self.machine.list(values)

    def tuple(self, values: Any = ()) -> Any:
        """`tuple`."""
        return tuple(self.machine.whole(values))

    def set(self, values: Any = ()) -> Any:
        """`set`."""
        return set(self.machine.keys(self.machine.whole(values)))

    def dict(self, values: Any = (), /, **named: Any) -> Any:
        """`dict`."""
        self.machine.items(len(values) + len(named))
        if not isinstance(values, dict):
            self.machine.keys([pair[0] for pair in self.machine.whole(values)])
        return dict(values, **named)

    def any(self, values: Any, /) -> Any:
        """`any`."""
        return any(self.machine.whole(values))

    def all(self, values: Any, /) -> Any:
        """`all`."""
        return all(self.machine.whole(values))

    def divmod(self, left: Any, right: Any) -> Any:
        """`divmod`."""
        return divmod(left, right)

    def pow(self, base: Any, exp: Any, mod: Any = None) -> Any:
        """`pow`."""
        return self.machine.power(base, exp, mod)

    def ord(self, letter: Any, /) -> Any:
        """`ord`."""
        return ord(letter)

    def chr(self, code: Any, /) -> Any:
        """`chr`."""
        return chr(code)

    def bin(self, value: Any, /) -> Any:
        """`bin`."""
        return bin(value)

    def hex(self, value: Any, /) -> Any:
        """`hex`."""
        return hex(value)

    def callable(self, value: Any, /) -> Any:
        """`callable`."""
        return callable(value)

    def type(self, value: Any, /) -> Any:
        """`type` of a value."""
        return type(value)

    def isinstance(self, value: Any, kinds: Any) -> Any:
        """`isinstance`; the kinds are Python's own, or a class of the program."""
        return isinstance(value, kinds)


def _default(named: dict[str, Any]) -> dict[str, Any]:
    return {"default": named["default"]} if "default" in named else {}


FUNCTIONS = frozenset(name for name in vars(Builtins) if not name.startswith("_"))
KINDS: dict[str, type] = {
    "int": int, "float": float, "str": str, "bool": bool, "list": list, "tuple": tuple, "dict": dict, "set": set,
}  # fmt: skip


def _factorial(value: Any) -> int:
    if isinstance(value, int) and value > 500:
        raise OverflowError("a factorial of more than 500")
    return math.factorial(value)


_MATH = """
sqrt sin cos tan asin acos atan atan2 sinh cosh tanh exp log log2 log10 floor ceil trunc fabs fmod hypot degrees radians
copysign isnan isinf isfinite isclose gcd pi e tau inf nan modf dist pow isqrt cbrt exp2 fsum remainder log1p expm1
"""
MATH: dict[str, Callable[..., Any] | float] = {name: getattr(math, name) for name in _MATH.split()}
MATH["factorial"] = _factorial


class RandomModule:
    """The functions of `random`."""

    def __init__(self, machine: Operations) -> None:
        self.machine = machine

    def random(self) -> Any:
        """A number from 0 up to 1."""
        return self.machine.random.draw().random()

    def randint(self, low: Any, high: Any) -> Any:
        """A whole number, both ends included."""
        return self.machine.random.draw().randint(low, high)

    def randrange(self, *given: Any) -> Any:
        """A whole number of a range."""
        return self.machine.random.draw().randrange(*given)

    def uniform(self, low: Any, high: Any) -> Any:
        """A number between two."""
        return self.machine.random.draw().uniform(low, high)

    def choice(self, values: Any) -> Any:
        """One of several."""
        return self.machine.random.draw().choice(values)

    def shuffle(self, values: Any) -> Any:
        """Puts a list into another order."""
        self.machine.items(len(values))
        self.machine.random.draw().shuffle(values)

    def sample(self, values: Any, k: Any) -> Any:
        """Several of some, each once."""
        self.machine.items(len(values) + k)
        return self.machine.random.draw().sample(values, k)

    def choices(self, values: Any, weights: Any = None, k: Any = 1) -> Any:
        """Some of several, drawn again and again."""
        self.machine.items(len(values) + k)
        return self.machine.random.draw().choices(values, weights, k=k)

    def triangular(self, low: Any = 0.0, high: Any = 1.0, mode: Any = None) -> Any:
        """A number between two, the likelier the nearer it is to `mode`."""
        return self.machine.random.draw().triangular(low, high, mode)

    def gauss(self, middle: Any = 0.0, spread: Any = 1.0) -> Any:
        """A number spread around a middle."""
        return self.machine.random.draw().gauss(middle, spread)

    def seed(self, value: Any = None) -> Any:
        """Begins the numbers anew."""
        if isinstance(value, int | float | str):
            self.machine.random.source.seed(value)


RANDOM = frozenset(name for name in vars(RandomModule) if not name.startswith("_"))
