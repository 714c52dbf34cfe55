"""The functions and names of C's standard headers, as far as classroom programs use them."""

from __future__ import annotations

from typing import Protocol

from tree_sitter import Node

from geduld.readers.c import types
from geduld.readers.c.syntax import line_of, not_read
from geduld.readers.c.tools import LETTERS
from geduld.readers.c.types import DOUBLE, FLOAT, LONG, LONG_LONG, TEXT, VOID, Int, Type, converted, wrapped
from geduld.readers.c.value import Value


class Writer(Protocol):
    """Who writes expressions: the class's `int`, its width, and the values of a call as source."""

    def wrong_count(self, name: str, wanted: int, count: int, node: Node) -> None:
        """Raises the Problem that a call has another number of values than it wants."""

    def expression(self, node: Node) -> Value:
        """An expression."""

    def as_text(self, value: Value) -> Value:
        """What stands in an array of letters; any other value as it is."""

    def value(self, node: Node, kind: Type) -> str:
        """An expression as a value of a type."""

    def last_first(self, texts: list[str]) -> tuple[str, list[str]]:
        """Values of a call of which one does something, worked out from the last to the first."""

    bits: int
    int: Int


CONSTANTS: dict[str, tuple[str, Type]] = {
    "M_PI": ("3.141592653589793", DOUBLE),
    "NULL": ("None", TEXT),
    "NAN": ("nan", DOUBLE),
    "INFINITY": ("inf", DOUBLE),
    "HUGE_VAL": ("inf", DOUBLE),
}
_INT = types.int_of(32)  # stands for the class's own `int`
_SIZE = Int(32, False, 4)
LETTERS_OF = types.Pointer(types.CHAR)
_MATH = {
    "sqrt": 1, "sin": 1, "cos": 1, "tan": 1, "asin": 1, "acos": 1, "atan": 1, "atan2": 2, "exp": 1, "log": 1,
    "log10": 1, "pow": 2, "fmod": 2, "floor": 1, "ceil": 1, "fabs": 1, "hypot": 2, "trunc": 1,
    "fmin": 2, "fmax": 2,
}  # fmt: skip
# What is called for each function, the types of what it takes, and of what it gives.
_PLAIN: dict[str, tuple[str, tuple[Type, ...], Type]] = {
    **{name: (f"math_{name}", (DOUBLE,) * count, DOUBLE) for name, count in _MATH.items()},
    **{name: (f"{name}_of_", (DOUBLE,), _INT) for name in ("isnan", "isinf", "isfinite")},
    **{name: (f"{name}_of_", (_INT,), _INT) for name in LETTERS},
    "round": ("rounded_", (DOUBLE,), DOUBLE),
    "atoi": ("atoi_", (TEXT,), _INT),
    "strcmp": ("compared_", (TEXT, TEXT), _INT),
    "strncmp": ("compared_", (TEXT, TEXT, _INT), _INT),
    "strchr": ("from_there_", (TEXT, _INT), TEXT),
    "strstr": ("from_there_", (TEXT, TEXT), TEXT),
    "strlen": ("len_", (TEXT,), _SIZE),
    "rand": ("rand_", (), _INT),
    "srand": ("srand_", (_INT,), VOID),
}
# What writes letters to the array that is named first: its tool, and the types of what else it takes.
FILLS: dict[str, tuple[str, tuple[Type, ...]]] = {
    "strcpy": ("copy_text_", (TEXT,)),
    "strncpy": ("copy_letters_", (TEXT, _INT)),
    "strcat": ("add_text_", (TEXT,)),
    "strncat": ("add_text_", (TEXT, _INT)),
    "memset": ("fill_", (_INT, _INT)),
}
_NONE_OF = ("malloc", "free", "scanf", "memcpy", "fopen")


def constant(name: str, kind: Int) -> int | None:
    """The whole number that a name of the headers stands for, `kind` being the class's `int`; None for other names."""
    known = {
        "INT_MAX": kind.greatest,
        "INT_MIN": kind.least,
        "RAND_MAX": 32_767,
        "EXIT_SUCCESS": 0,
        "EXIT_FAILURE": 1,
    }
    return known.get(name)


def standard(writer: Writer, name: str, given: list[Node], node: Node) -> Value | None:
    """A call of a function of the standard headers; None where there is none of that name.

    Raises Problem for a wrong number of values, and for those that are not read.
    """
    if name in _PLAIN:
        tool, takes, gives = _PLAIN[name]
        if len(given) != len(takes):
            writer.wrong_count(name, len(takes), len(given), node)
        texts = [
            writer.value(item, writer.int if kind is _INT else kind) for item, kind in zip(given, takes, strict=True)
        ]
        return Value(f"{tool}({', '.join(texts)})", writer.int if gives is _INT else gives)
    if name[-1:] == "f" and name[:-1] in (*_MATH, "round"):
        exact = standard(writer, name[:-1], given, node)
        return exact and Value(converted(exact.text, DOUBLE, FLOAT), FLOAT)
    if name in ("lround", "llround"):
        exact, kind = standard(writer, "round", given, node), LONG if name == "lround" else LONG_LONG
        return exact and Value(converted(exact.text, DOUBLE, kind), kind)
    if name in FILLS and given:
        tool, takes = FILLS[name]
        if len(given) != len(takes) + 1:
            writer.wrong_count(name, len(takes) + 1, len(given), node)
        texts = [writer.value(given[0], LETTERS_OF)]
        texts += [
            writer.value(item, writer.int if kind is _INT else kind)
            for item, kind in zip(given[1:], takes, strict=True)
        ]
        return Value(f"{tool}({', '.join(texts)})", LETTERS_OF)
    if name in ("sprintf", "snprintf") and len(given) > 1 + (name == "snprintf"):
        bound = 1 + (name == "snprintf")
        most = writer.value(given[1], writer.int) if bound == 2 else "None"
        shown = [writer.as_text(writer.expression(item)).text for item in given[bound:]]
        return Value(f"written_({writer.value(given[0], LETTERS_OF)}, {most}, {', '.join(shown)})", writer.int)
    if name in ("printf", "puts", "putchar"):
        return _printed(writer, name, given, node)
    if name in ("abs", "labs") and len(given) == 1:
        value = writer.expression(given[0])
        promoted = types.promoted(value.kind, writer.bits)
        text = f"abs_({converted(value.text, value.kind, promoted)})"
        return Value(wrapped(text, promoted) if isinstance(promoted, Int) else text, promoted)
    if name in ("min", "max") and len(given) == 2:
        values = [writer.expression(item) for item in given]
        common = types.common(values[0].kind, values[1].kind, writer.bits)
        return Value(f"{name}_({', '.join(converted(v.text, v.kind, common) for v in values)})", common)
    if name in ("exit", "abort"):
        return Value("exit_()", VOID)
    if name in _NONE_OF:
        raise not_read(node, f"{name}()", "Use variables and arrays; a robot program needs none of it.")
    return None


def _printed(writer: Writer, name: str, given: list[Node], node: Node) -> Value:
    """`printf`, `puts` and `putchar`: a note."""
    values = [writer.as_text(writer.expression(item)) for item in given]
    first, texts = writer.last_first([value.text for value in values] or ["''"])
    if name != "printf":
        texts = [f"'%{'c' if name == 'putchar' else 's'}'", *texts]
    call = f"print_({', '.join(texts)}, now, {line_of(node)})"
    return Value(f"({first}{call})[-1]" if first else call, writer.int)
