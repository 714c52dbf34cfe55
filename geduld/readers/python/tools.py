"""What a Python program's lane may use beside the engine: Python's own functions, and calls of what nobody knows."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Generator, Mapping
from types import GeneratorType
from typing import Any

from geduld.readers.python.builtins import KINDS, MATH, Builtins, RandomModule
from geduld.readers.python.enums import AUTO, EnumKind, complete
from geduld.readers.python.operations import Operations
from geduld.run.program.functions import Finished, StepsExhausted, Stuck
from geduld.run.record.journal import EventsExhausted
from geduld.script.ends import CAUGHT, RAISED, Idle, Left, TooMuch
from geduld.script.telling import plain

ENDS = (GeneratorExit, Idle, TooMuch, StepsExhausted, EventsExhausted, Finished, Stuck)
_OWN = (str, list, tuple, dict, set, int, float)


class PythonMachine(Operations):
    """What one run of a Python program works with. `ports` are the parts by what names them."""

    ports: Mapping[str | int, str] = {}

    def __init__(self, *given: Any) -> None:
        super().__init__(*given)
        self.builtins = Builtins(self)
        self.drawing = RandomModule(self)

    def port(self, value: Any, word: str) -> str:
        """The part that a program names. Raises ValueError when there is none."""
        found = self.ports.get(value) if isinstance(value, str | int) else None
        if found is None:
            raise ValueError(f"{word}: there is no part or port {self.teller.shown(value)}")
        return found

    def method(self, value: Any, name: str, /, *given: Any, **named: Any) -> Any:
        """A method of a value of Python's own, or of an object of the program."""
        if isinstance(value, _OWN):
            return self.builtins.methods.call(value, name, given, named)
        return getattr(value, f"m_{name}")(*given, **named)

    def either(self, value: Any, name: str, /, *given: Any, **named: Any) -> Any:
        """A method that Python's own values have, and objects of the program as well."""
        if isinstance(value, _OWN):
            plain = {key.removeprefix("s_"): item for key, item in named.items()}
            return self.builtins.methods.call(value, name, given, plain)
        return getattr(value, f"m_{name}")(*given, **named)

    def either_timed(self, value: Any, name: str, /, *given: Any, **named: Any) -> Generator[Any, Any, Any]:
        """As `either`, where the program's own takes time."""
        return (yield from _finished(self.either(value, name, *given, **named)))

    def same_fields(self, one: Any, other: Any) -> Any:
        """Whether two objects of a `@dataclass` are equal: of one class, with equal fields."""
        if type(one) is not type(other):
            return NotImplemented
        self.work(30 + len(vars(one)))
        return self.compare("==", list(vars(one).values()), list(vars(other).values()))

    def told_fields(self, one: Any, fields: tuple[str, ...]) -> str:
        """An object of a `@dataclass` as Python tells it."""
        parts = [f"{name}={self.teller.shown(getattr(one, f'm_{name}'))}" for name in fields]
        return self.teller.joined([plain(type(one).__name__), "(", ", ".join(parts), ")"])

    def bound(self, value: Any, name: str) -> Any:
        """A method of a value as a value itself."""
        if isinstance(value, type) and value in KINDS.values():
            return lambda first, *given: self.builtins.methods.call(first, name, given, {})
        if isinstance(value, _OWN):
            return lambda *given: self.builtins.methods.call(value, name, given, {})
        return getattr(value, f"m_{name}")

    def call(self, callee: Any, /, *given: Any, **named: Any) -> Any:
        """A call of what nobody knows beforehand."""
        if isinstance(callee, type):
            for name, kind in KINDS.items():
                if callee is kind:
                    return getattr(self.builtins, name)(*given)
            return self.make(callee, *given, **named)
        if not callable(callee):
            raise TypeError(f"{self.named(callee)} is no function, so it cannot be called")
        return callee(*given, **named)

    def call_timed(self, callee: Any, /, *given: Any, **named: Any) -> Generator[Any, Any, Any]:
        """A call of what nobody knows beforehand, and which may take time."""
        if isinstance(callee, type) and hasattr(callee, "m___init__"):
            return (yield from self.make_timed(callee, *given, **named))
        return (yield from _finished(self.call(callee, *given, **named)))

    def make(self, kind: Any, /, *given: Any, **named: Any) -> Any:
        """A new object of a class of the program; of an `Enum` the member that has a value."""
        self.memory.grow(400)
        if isinstance(kind, EnumKind):
            return kind(*given, **named)
        if kind.__init__ is not object.__init__:
            return kind(*given, **named)  # an object of the wordbook
        made = kind()
        begin = getattr(kind, "m___init__", None)
        if begin is not None:
            begin(made, *given, **named)
        elif given or named:
            raise TypeError(f"{self.named(made)} takes no values")
        return made

    def make_timed(self, kind: Any, /, *given: Any, **named: Any) -> Generator[Any, Any, Any]:
        """A new object, where to make one takes time."""
        self.memory.grow(400)
        if isinstance(kind, EnumKind):
            return kind(*given, **named)
        made = kind()
        yield from _finished(kind.m___init__(made, *given, **named))
        return made


def _finished(value: Any) -> Generator[Any, Any, Any]:
    if type(value) is GeneratorType:
        return (yield from value)
    return value


def _missing(name: str) -> Any:
    raise NameError(f"name '{name}' is not defined")


def _exit(*given: Any) -> Any:
    raise Left(*given)


def _kind_name(kind: type) -> str:
    return plain(kind.__name__)


def _args(value: Any) -> Any:
    """What an error was made with."""
    return value.args if isinstance(value, BaseException) else value.m_args


def _chosen(table: Mapping[Any, Any], key: Any, word: str) -> Any:
    found = table.get(key)
    if found is None:
        raise ValueError(f"{word} cannot be used with this part")
    return found


MACHINE_METHODS = {
    "port_": "port", "method_": "method", "bound_": "bound", "either_": "either", "either_timed_": "either_timed",
    "call_": "call", "call_timed_": "call_timed", "make_": "make", "make_timed_": "make_timed",
    "same_fields_": "same_fields",
    "told_fields_": "told_fields", "format_": "teller.formatted", "joined_": "teller.joined",
}  # fmt: skip
TOOLS: dict[str, Any] = {
    "missing_": _missing,
    "exit_": _exit,
    "args_": _args,
    "chosen_": _chosen,
    "kind_name_": _kind_name,
    "bisect_": bisect_right,
    "property_": property,
    "static_": staticmethod,
    "class_": classmethod,
    "set_": set,
    "slice": slice,
    "ENDS": ENDS,
    "auto_": AUTO,
    "enum_kind_": EnumKind,
    "enum_complete_": complete,
    **{f"kind_{name}": kind for name, kind in KINDS.items()},
    **{f"error_{name}": kind for name, kind in RAISED.items()},
    **{f"caught_{name}": kinds for name, kinds in CAUGHT.items()},
    **{f"math_{name}": value for name, value in MATH.items()},
}
