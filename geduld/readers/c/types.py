"""The types of C: how wide they are, what an operation's type is, and how a value becomes one of a type."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Type:
    """A type."""


@dataclass(frozen=True)
class Int(Type):
    """A whole number of some bits; `rank` orders those of one width."""

    bits: int
    signed: bool = True
    rank: int = 0

    @property
    def least(self) -> int:
        """The least value."""
        return -(1 << (self.bits - 1)) if self.signed else 0

    @property
    def greatest(self) -> int:
        """The greatest value."""
        return (1 << (self.bits - self.signed)) - 1

    def wrapped(self, value: int) -> int:
        """A value as it is kept."""
        value &= (1 << self.bits) - 1
        return value - (1 << self.bits) if self.signed and value >> (self.bits - 1) else value


@dataclass(frozen=True)
class Bool(Type):
    """A truth."""


@dataclass(frozen=True)
class Float(Type):
    """A number with a point."""

    bits: int


@dataclass(frozen=True)
class Text(Type):
    """A text that is not changed: `const char *`."""


@dataclass(frozen=True)
class Void(Type):
    """Nothing."""


@dataclass(frozen=True)
class Array(Type):
    """Several of one type."""

    of: Type
    size: int


@dataclass(frozen=True)
class Struct(Type):
    """Fields one after another, kept as a list."""

    name: str
    fields: tuple[tuple[str, Type], ...] = field(default=(), compare=False)

    def place(self, name: str) -> int | None:
        """Where a field stands."""
        return next((index for index, (key, _) in enumerate(self.fields) if key == name), None)


@dataclass(frozen=True)
class Pointer(Type):
    """The way to a variable: a list and a place in it. `reference` when it is used like the variable itself."""

    to: Type
    reference: bool = False


@dataclass(frozen=True)
class Device(Type):
    """An object of the wordbook."""

    name: str


CHAR, SHORT, LONG, LONG_LONG = Int(8, True, 1), Int(16, True, 2), Int(32, True, 4), Int(64, True, 5)
BOOL, FLOAT, DOUBLE, TEXT, VOID = Bool(), Float(32), Float(64), Text(), Void()
INT_RANK = 3
FIXED = {
    "int8_t": Int(8, True, 1), "uint8_t": Int(8, False, 1), "int16_t": Int(16, True, 2), "uint16_t": Int(16, False, 2),
    "int32_t": Int(32, True, 4), "uint32_t": Int(32, False, 4), "int64_t": LONG_LONG, "uint64_t": Int(64, False, 5),
    "size_t": Int(32, False, 4), "bool": BOOL, "_Bool": BOOL, "float": FLOAT, "double": DOUBLE, "void": VOID,
}  # fmt: skip


def int_of(bits: int, signed: bool = True) -> Int:
    """`int`, or `unsigned int`, of so many bits."""
    return Int(bits, signed, INT_RANK)


def named(words: list[str], bits: int) -> Type | None:
    """The type that words such as `unsigned long` name; None when they name none."""
    if len(words) == 1 and words[0] in FIXED:
        return FIXED[words[0]]
    left = [word for word in words if word not in ("signed", "unsigned", "int", "const", "static")]
    signed = "unsigned" not in words
    found = {
        (): int_of(bits, signed),
        ("char",): Int(8, signed, 1),
        ("short",): Int(16, signed, 2),
        ("long",): Int(32, signed, 4),
        ("long", "long"): Int(64, signed, 5),
        ("long", "double"): DOUBLE,
    }.get(tuple(left))
    return found if words else None


def promoted(kind: Type, bits: int) -> Type:
    """A type as operations have it: what is narrower than `int` becomes one."""
    if isinstance(kind, Bool):
        return int_of(bits)
    if isinstance(kind, Int) and kind.rank < INT_RANK:
        fits = kind.bits < bits or (kind.bits == bits and kind.signed)
        return int_of(bits, True) if fits else int_of(bits, False)
    return kind


def common(one: Type, other: Type, bits: int) -> Type:
    """The usual arithmetic conversions."""
    for kind in (DOUBLE, FLOAT):
        if kind in (one, other):
            return kind
    left, right = promoted(one, bits), promoted(other, bits)
    if not isinstance(left, Int) or not isinstance(right, Int):
        return left
    if left == right:
        return left
    if left.signed == right.signed:
        return left if (left.bits, left.rank) >= (right.bits, right.rank) else right
    unsigned, signed = (right, left) if left.signed else (left, right)
    if (unsigned.bits, unsigned.rank) >= (signed.bits, signed.rank):
        return unsigned
    if signed.bits > unsigned.bits:
        return signed
    return Int(signed.bits, False, signed.rank)


def places(kind: Type) -> int:
    """How many values a variable of a type keeps."""
    if isinstance(kind, Array):
        return max(kind.size, 1) * places(kind.of)
    if isinstance(kind, Struct):
        return sum(places(inner) for _, inner in kind.fields)
    return 1


def holds_letters(kind: Type) -> bool:
    """Whether it is an array of letters, or the way to one: a text that can be changed."""
    inner = (
        kind.of if isinstance(kind, Array) else kind.to if isinstance(kind, Pointer) and not kind.reference else None
    )
    return isinstance(inner, Int) and inner.bits == 8


def is_number(kind: Type) -> bool:
    """Whether it is a number or a truth."""
    return isinstance(kind, Int | Bool | Float)


def size_of(kind: Type, bits: int) -> int:
    """How many bytes a type has."""
    if isinstance(kind, Array):
        return kind.size * size_of(kind.of, bits)
    if isinstance(kind, Struct):
        return sum(size_of(inner, bits) for _, inner in kind.fields)
    if isinstance(kind, Int | Float):
        return kind.bits // 8
    return 1 if isinstance(kind, Bool) else bits // 8


def told(kind: Type) -> str:
    """A type in words."""
    match kind:
        case Int():
            name = {1: "char", 2: "short", 3: "int", 4: "long", 5: "long long"}.get(kind.rank, "int")
            return name if kind.signed else f"unsigned {name}"
        case Bool():
            return "bool"
        case Float():
            return "float" if kind.bits == 32 else "double"
        case Text():
            return "a text"
        case Void():
            return "nothing"
        case Array():
            return f"an array of {told(kind.of)}"
        case Struct():
            return f"the struct {kind.name}"
        case Pointer():
            return f"a pointer to {told(kind.to)}"
        case Device():
            return f"an object {kind.name}"
    return "something"


def converted(text: str, source: Type, target: Type) -> str:
    """A value of one type as one of another, as source."""
    if source == target:
        return text
    if isinstance(target, Bool):
        return f"({text} != 0)" if not isinstance(source, Bool) else text
    if isinstance(target, Int):
        if isinstance(source, Bool):
            return f"int_({text})"
        if isinstance(source, Float):
            return f"cut_({text}, {target.bits}, {target.signed})"
        if isinstance(source, Int):
            if target.least <= source.least and source.greatest <= target.greatest:
                return text
            return wrapped(text, target)
        return text
    if target == FLOAT and isinstance(source, Float | Int):
        return f"single_({text})"
    if isinstance(target, Float) and isinstance(source, Bool):
        return f"int_({text})"
    return text


def wrapped(text: str, kind: Int) -> str:
    """A whole number as it is kept in a type."""
    mask = (1 << kind.bits) - 1
    if not kind.signed:
        return f"({text} & {mask})"
    half = 1 << (kind.bits - 1)
    return f"((({text}) + {half} & {mask}) - {half})"
