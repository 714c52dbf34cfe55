"""Expressions of C as source: each with its type, so that every conversion is done where C does it."""

from __future__ import annotations

import math
import re
from dataclasses import replace

from tree_sitter import Node

from geduld.language.messages import Hint, Problem, error, nearest
from geduld.readers.c import types
from geduld.readers.c.declarations import Declarations
from geduld.readers.c.names import Function, Names, Variable
from geduld.readers.c.standard import CONSTANTS, constant, standard
from geduld.readers.c.syntax import asks_only_whether, first_in, line_of, named, not_read, part, span_of, text_of
from geduld.readers.c.timing import Timing
from geduld.readers.c.tools import TOOLS, single
from geduld.readers.c.types import Array, Bool, Device, Float, Int, Pointer, Struct, Text, Type, converted, wrapped
from geduld.readers.c.value import Value
from geduld.script.lane import COUNTED, Source
from geduld.script.words import Used, Words
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundWord

_NUMBER = re.compile(r"(0[xX][0-9a-fA-F]+|0[bB][01]+|\d+)([uUlL]*)")
_POINT = re.compile(r"(\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+(?:[eE][+-]?\d+)?)([fFlL]?)")
_ESCAPES = {"n": "\n", "t": "\t", "r": "\r", "0": "\0", "\\": "\\", "'": "'", '"': '"', "a": "\a", "b": "\b"}
# What a value may do beside being worked out: call something, or change a variable.
_DOES = re.compile(r"\b[gw]_?\w*\(|:=|\b(?:put|rand|copy_text|copy_letters|add_text|fill|written)_\(")


class Expressions:
    """Expressions as source."""

    def __init__(self, names: Names, words: Words, timing: Timing) -> None:
        self.names = names
        self.words = words
        self.timing = timing
        self.bits = names.bits
        self.int = types.int_of(names.bits)
        self.declarations = Declarations(names, self.whole_constant)
        self.hints: list[Hint] = []
        self.before: list[tuple[int, str]] = []
        self.tables: dict[tuple[int, str], str] = {}
        self.source = Source()
        self.level = 2
        self.counted = 0
        self.scopes: list[dict[str, Variable]] = []
        self.assigned: set[str] = set()
        self.at_top = True
        self.less: frozenset[int] = frozenset()

    def temporary(self) -> str:
        """A name for a value in between."""
        self.counted += 1
        return f"t{self.counted}"

    # Names

    def variable(self, name: str) -> Variable | None:
        """A variable by its name, the innermost first."""
        for scope in reversed(self.scopes):
            if name in scope:
                return scope[name]
        return self.names.globals.get(name)

    def expression(self, node: Node) -> Value:
        """An expression. Raises Problem for what is not read, or breaks a rule of the language."""
        writer = getattr(self, f"_{node.type}", None)
        if writer is None:
            raise not_read(node, "this", "Write it in simpler steps.")
        found: Value = writer(node)
        return found

    def value(self, node: Node, kind: Type) -> str:
        """An expression as a value of a type."""
        return self.fitted(self.expression(node), kind, node)

    def fitted(self, value: Value, kind: Type, node: Node) -> str:
        """A value as one of a type. Raises Problem where C has no such conversion."""
        if isinstance(kind, Pointer):
            return self._address(value, kind, node)
        if types.is_number(kind) and types.is_number(value.kind):
            if isinstance(value.constant, int) and isinstance(kind, Int) and not isinstance(value.constant, bool):
                return _shown(kind.wrapped(value.constant))
            return converted(value.text, value.kind, kind)
        if isinstance(kind, Struct) and kind == value.kind:
            return f"copied_({value.text})"
        if isinstance(kind, Text) and (isinstance(value.kind, Text) or value.constant == 0):
            return value.text if isinstance(value.kind, Text) else "None"
        if isinstance(kind, Text) and types.holds_letters(value.kind):
            return self.as_text(value).text
        if isinstance(kind, Array) and types.holds_letters(kind) and isinstance(value.constant, str):
            return self.letters(kind, value, node)
        if kind == value.kind:
            return value.text
        message = f"Here {types.told(kind)} belongs, and this is {types.told(value.kind)}."
        raise Problem(error("wrong-type", span_of(node), message, "Give a value of that type."))

    def as_text(self, value: Value) -> Value:
        """What stands in an array of letters up to its end; any other value as it is."""
        if not types.holds_letters(value.kind):
            return value
        place = "" if isinstance(value.kind, Array) else "*"
        return Value(f"text_in_({place}{value.text})", types.TEXT)

    def letters(self, kind: Array, value: Value, node: Node) -> str:
        """A text that is known beforehand as an array of letters. Raises Problem where it is too long."""
        codes = [str(types.CHAR.wrapped(ord(letter))) for letter in str(value.constant)]
        size = kind.size if kind.size >= 0 else len(codes) + 1
        if len(codes) > size:
            message = f"This text has {len(codes)} letters, and there is place for {size}."
            raise Problem(error("value-count", span_of(node), message, "Make the array longer."))
        return f"[{', '.join(codes)}] + [0] * {size - len(codes)}"

    def _address(self, value: Value, kind: Pointer, node: Node) -> str:
        """The way to a variable, for a function that changes it."""
        if isinstance(value.kind, Pointer) and not value.kind.reference and not kind.reference:
            return value.text
        if kind.reference and value.kind == kind.to and isinstance(value.place, tuple):
            return f"({value.place[0]}, {value.place[1]})"
        if not kind.reference and isinstance(value.kind, Array):
            return f"({value.text}, 0)"
        if types.holds_letters(kind) and isinstance(value.kind, Text):
            return f"(letters_({value.text}), 0)"
        if kind.reference and types.is_number(value.kind):
            return f"([{converted(value.text, value.kind, kind.to)}], 0)"
        message = f"Here a variable of the type {types.told(kind.to)} belongs."
        remedy = "Give a variable." if kind.reference else "Give its address, with & in front."
        raise Problem(error("wrong-type", span_of(node), message, remedy))

    def truth(self, node: Node) -> str:
        """An expression as a condition."""
        while node.type in ("parenthesized_expression", "condition_clause"):
            inner = node.child_by_field_name("value") or first_in(node)
            if len(named(node)) != 1:
                raise not_read(node, "a declaration in a condition", "Declare the variable above.")
            node = inner
        return self.true(self.expression(node))

    def true(self, value: Value) -> str:
        """A value as a condition."""
        if isinstance(value.kind, Text):
            return f"({value.text} is not None)"
        if isinstance(value.kind, Pointer | Array):
            return "True"
        return value.text

    def whole_constant(self, node: Node) -> int:
        """A whole number that is known beforehand. Raises Problem when it is not."""
        found = self.expression(node).constant
        if isinstance(found, int):
            return int(found)
        message = "Here a whole number belongs that is known beforehand."
        raise Problem(error("no-constant", span_of(node), message, "Write a number, or a name from #define or const."))

    def _identifier(self, node: Node) -> Value:
        name = text_of(node)
        found = self.variable(name)
        if found is not None:
            return self.read(found)
        if name in self.names.constants:
            return self._known(self.names.constants[name])
        if name in CONSTANTS:
            text, kind = CONSTANTS[name]
            return Value(text, kind, 3.141592653589793 if name == "M_PI" else None)
        whole = constant(name, self.int)
        if whole is not None:
            return self._known(whole)
        word = self.names.word(name)
        if word is not None:
            if word.constant is not None:
                return self._known(word.constant)
            if word.given is None:
                return self._word(word, [], node)
            return self._function_itself(name, node)
        if name in self.names.functions:
            return self._function_itself(name, node)
        raise Problem(self.unknown(node, name))

    def _function_itself(self, name: str, node: Node) -> Value:
        """A function without its brackets: true, as its address is never nothing. A hint says what that means."""
        if asks_only_whether(node):
            return Value("True", types.BOOL)
        message = f'"{name}" is a function, and its brackets are missing: nothing is called.'
        raise Problem(error("no-brackets", span_of(node), message, f"Write: {name}()"))

    def _qualified_identifier(self, node: Node) -> Value:
        """A name of an `enum class`."""
        name = re.sub(r"\s", "", text_of(node))
        if name in self.names.constants:
            return self._known(self.names.constants[name])
        raise not_read(node, "names with :: that are none of an enum class", "Write the plain name.")

    def unknown(self, node: Node, name: str) -> Hint:
        """The message for a name that nobody knows."""
        header = self.names.header_of(name)
        like = nearest(name, self.names.known)
        remedy = f"Did you mean {like}?" if like else "Declare it above, or correct its name."
        if header:
            remedy = f'Write at the top: #include "{header}"'
        return error("unknown-name", span_of(node), f'There is nothing called "{name}" here.', remedy, like)

    def read(self, variable: Variable) -> Value:
        """A variable's value, and its place."""
        own, kind = variable.own, variable.kind
        if isinstance(kind, Pointer) and kind.reference:
            return Value(f"at_({own}[0], {own}[1])", kind.to, None, (f"{own}[0]", f"{own}[1]"))
        if variable.boxed:
            return Value(f"{own}[0]", kind, None, (own, "0"))
        if variable.constant is not None:
            text = _shown(variable.constant)
            return Value(text, kind, variable.constant, own)
        return Value(own, kind, None, own)

    def _known(self, value: int | float | str | None) -> Value:
        """A constant as a value of the type that it has in C."""
        if value is None:
            return Value("None", types.TEXT)
        if isinstance(value, str):
            return Value(repr(value), types.TEXT, value)
        if isinstance(value, float):
            return Value(_shown(value), types.DOUBLE, value)
        kind = self.int if self.int.least <= value <= self.int.greatest else types.LONG
        if not types.LONG.least <= value <= types.LONG.greatest:
            kind = types.LONG_LONG
        return Value(_shown(value), kind, value)

    # Literals

    def _number_literal(self, node: Node) -> Value:
        text = text_of(node).replace("'", "")
        sign = -1 if text.startswith("-") else 1
        text = text.lstrip("-+")
        match = _NUMBER.fullmatch(text)
        if match:
            digits, suffix = match[1], match[2].lower()
            octal = digits.isdigit() and len(digits) > 1 and digits[0] == "0"
            try:
                value = sign * (int(digits, 8) if octal else int(digits, 0))
            except ValueError:
                raise Problem(error("syntax", span_of(node), f'"{text}" is no number.', "Correct it.")) from None
            kinds: list[Int] = [types.LONG_LONG]
            if "ll" not in suffix:
                kinds = [self.int, types.LONG, types.LONG_LONG] if "l" not in suffix else [types.LONG, types.LONG_LONG]
            decimal = digits.isdigit() and not octal
            for kind in kinds:
                if decimal and "u" not in suffix:
                    fitting = [kind]
                else:
                    unsigned = Int(kind.bits, False, kind.rank)
                    fitting = [unsigned] if "u" in suffix else [kind, unsigned]
                for one in fitting:
                    if one.least <= value <= one.greatest:
                        return Value(_shown(value), one, value)
            message = f"{text} is larger than any whole number."
            raise Problem(error("too-large", span_of(node), message, "Write a smaller number."))
        match = _POINT.fullmatch(text)
        if match:
            number = sign * float(match[1])
            kind_of = types.FLOAT if match[2].lower() == "f" else types.DOUBLE
            if kind_of == types.FLOAT:
                number = single(number)
            return Value(_shown(number), kind_of, number)
        raise Problem(error("syntax", span_of(node), f'"{text}" is no number.', "Write for example 40 or 0.5."))

    def _true(self, node: Node) -> Value:
        return Value("1", types.BOOL, 1)

    def _false(self, node: Node) -> Value:
        return Value("0", types.BOOL, 0)

    def _null(self, node: Node) -> Value:
        return Value("None", types.TEXT)

    def _char_literal(self, node: Node) -> Value:
        text = _unescaped(text_of(node)[1:-1])
        value = ord(text[0]) if text else 0
        return Value(_shown(value), types.CHAR if value < 128 else self.int, value)

    def _string_literal(self, node: Node) -> Value:
        text = _unescaped(text_of(node)[1:-1])
        return Value(repr(text), types.TEXT, text)

    def _concatenated_string(self, node: Node) -> Value:
        text = "".join(str(self.expression(child).constant) for child in named(node))
        return Value(repr(text), types.TEXT, text)

    def _parenthesized_expression(self, node: Node) -> Value:
        return self.expression(first_in(node))

    # Operations

    def _binary_expression(self, node: Node) -> Value:
        operator = node.child_by_field_name("operator") or node.children[1]
        sign = "<" if operator.start_byte in self.less else text_of(operator)
        left_node, right_node = part(node, "left"), part(node, "right")
        if sign in ("&&", "||", "and", "or"):
            word = "and" if sign in ("&&", "and") else "or"
            joined = f"{self.truth(left_node)} {word} {self.truth(right_node)}"
            return Value(f"(not not ({joined}))", types.BOOL)
        left, right = self.expression(left_node), self.expression(right_node)
        return self.operation(sign, left, right, node)

    def operation(self, sign: str, left: Value, right: Value, node: Node) -> Value:
        """`left sign right`, with the conversions of C."""
        if not (types.is_number(left.kind) and types.is_number(right.kind)):
            return self._on_others(sign, left, right, node)
        bits = self.bits
        if sign in ("<<", ">>"):
            kind = types.promoted(left.kind, bits)
            if not isinstance(kind, Int) or isinstance(right.kind, Float):
                raise self._no_operation(sign, left, right, node)
            one = converted(left.text, left.kind, kind)
            by = f"({right.text} & {kind.bits - 1})"
            text = wrapped(f"{one} << {by}", kind) if sign == "<<" else f"({one} >> {by})"
            return self._folded(text, kind, left, right)
        kind = types.common(left.kind, right.kind, bits)
        one, other = converted(left.text, left.kind, kind), converted(right.text, right.kind, kind)
        if sign in ("==", "!=", "<", "<=", ">", ">="):
            return self._folded(f"({one} {sign} {other})", types.BOOL, left, right)
        if sign in ("&", "|", "^"):
            if not isinstance(kind, Int):
                raise self._no_operation(sign, left, right, node)
            return self._folded(f"({one} {sign} {other})", kind, left, right)
        if sign == "%":
            if not isinstance(kind, Int):
                raise self._no_operation(sign, left, right, node)
            return self._folded(f"remainder_({one}, {other})", kind, left, right)
        if sign == "/":
            if isinstance(kind, Int):
                return self._folded(wrapped(f"divide_({one}, {other})", kind), kind, left, right)
            known = isinstance(right.constant, int | float) and right.constant != 0
            text = f"({one} / {other})" if known else f"quotient_({one}, {other})"
            return self._folded(f"single_({text})" if kind == types.FLOAT else text, kind, left, right)
        if sign not in ("+", "-", "*"):
            raise not_read(node, f'the sign "{sign}"', "Write it in simpler steps.")
        text = f"({one} {sign} {other})"
        if isinstance(kind, Int):
            return self._folded(wrapped(f"{one} {sign} {other}", kind), kind, left, right)
        return self._folded(f"single_({text})" if kind == types.FLOAT else text, kind, left, right)

    def _folded(self, text: str, kind: Type, left: Value, right: Value) -> Value:
        """The value of an operation, worked out where both sides are known."""
        if isinstance(left.constant, int | float) and isinstance(right.constant, int | float):
            try:
                found = eval(
                    text, {"__builtins__": {}, "int_": int, "inf": math.inf, "nan": math.nan, **TOOLS}
                )  # of our own source, over two numbers
            except (ZeroDivisionError, OverflowError, ValueError):
                return Value(text, kind)
            found = int(found) if isinstance(found, bool) else found
            return Value(_shown(found), kind, found)
        return Value(text, kind)

    def _no_operation(self, sign: str, left: Value, right: Value, node: Node) -> Problem:
        message = f'"{sign}" does not go with {types.told(left.kind)} and {types.told(right.kind)}.'
        return Problem(error("wrong-type", span_of(node), message, "Look at the types of both sides."))

    def _on_others(self, sign: str, left: Value, right: Value, node: Node) -> Value:
        """An operation on what is no number: only a text may be compared with nothing."""
        nothing = [value for value in (left, right) if value.text == "None" or value.constant == 0]
        if sign in ("==", "!=") and nothing and isinstance(left.kind, Text) | isinstance(right.kind, Text):
            other = right if nothing[0] is left else left
            return Value(f"({other.text} {'is' if sign == '==' else 'is not'} None)", types.BOOL)
        letters = [isinstance(value.kind, Text) or types.holds_letters(value.kind) for value in (left, right)]
        if sign in ("==", "!=") and all(letters):
            message = "== does not compare what two texts say, but where they are kept."
            raise Problem(error("text-compared", span_of(node), message, "Write: strcmp(a, b) == 0"))
        if isinstance(left.kind, Pointer | Array) or isinstance(right.kind, Pointer | Array):
            raise not_read(node, "pointer arithmetic", "Write an index: values[i]")
        raise self._no_operation(sign, left, right, node)

    def _unary_expression(self, node: Node) -> Value:
        sign = text_of(node.child_by_field_name("operator") or node.children[0])
        inner = part(node, "argument")
        if sign in ("!", "not"):
            return Value(f"(not {self.truth(inner)})", types.BOOL)
        value = self.expression(inner)
        if not types.is_number(value.kind):
            raise self._no_operation(sign, value, value, node)
        kind = types.promoted(value.kind, self.bits)
        text = converted(value.text, value.kind, kind)
        nothing = Value("0", self.int, 0)
        if sign == "+":
            return Value(text, kind, value.constant)
        if isinstance(kind, Int):
            return self._folded(wrapped(f"{sign}{text}", kind), kind, value, nothing)
        if sign == "~":
            raise self._no_operation(sign, value, value, node)
        return self._folded(f"(-{text})", kind, value, nothing)

    def _conditional_expression(self, node: Node) -> Value:
        test, yes, no = part(node, "condition"), part(node, "consequence"), part(node, "alternative")
        one, other = self.expression(yes), self.expression(no)
        kind = one.kind
        if types.is_number(one.kind) and types.is_number(other.kind) and one.kind != other.kind:
            kind = types.common(one.kind, other.kind, self.bits)
        texts = [self.fitted(value, kind, at) for value, at in ((one, yes), (other, no))]
        return Value(f"({texts[0]} if {self.truth(test)} else {texts[1]})", kind)

    def _comma_expression(self, node: Node) -> Value:
        values = [self.expression(child) for child in named(node)]
        return Value(f"({', '.join(value.text for value in values)})[-1]", values[-1].kind)

    def _cast_expression(self, node: Node) -> Value:
        kind_node, inner = part(node, "type"), part(node, "value")
        return self.cast(kind_node, inner, node)

    def cast(self, kind_node: Node, inner: Node, node: Node) -> Value:
        """A value as one of another type, because the program says so."""
        kind = self.described(kind_node)
        value = self.expression(inner)
        if isinstance(kind, types.Void):
            return Value(value.text, kind)
        if not (types.is_number(kind) and types.is_number(value.kind)) and kind != value.kind:
            raise not_read(node, f"a cast to {types.told(kind)}", "Cast only numbers.")
        return self._folded(converted(value.text, value.kind, kind), kind, value, Value("0", self.int, 0))

    def described(self, node: Node) -> Type:
        """The type that a cast or `sizeof` names."""
        kind = self.declarations.base(node) if node.child_by_field_name("type") else self.declarations.named(node)
        declarator = node.child_by_field_name("declarator")
        if declarator is None:
            return kind
        if declarator.type == "abstract_pointer_declarator":
            return types.TEXT if kind == types.CHAR else Pointer(kind)
        raise not_read(node, "this type", "Write a simple type.")

    def _sizeof_expression(self, node: Node) -> Value:
        kind_node, letters = node.child_by_field_name("type"), 0  # of a text between quotation marks
        if kind_node is not None:
            kind = self.described(kind_node)
        else:
            bare = inner = part(node, "value")
            while bare.type == "parenthesized_expression":
                bare = first_in(bare)
            named_type = self.names.type(text_of(bare)) if bare.type == "identifier" else None
            known = named_type if named_type and self.variable(text_of(bare)) is None else None
            value = self.expression(inner) if known is None else None
            kind = known or (value.kind if value is not None else types.VOID)
            if bare.type == "string_literal" and value is not None:
                letters = len(str(value.constant)) + 1
        size = letters or types.size_of(kind, self.bits)
        return Value(_shown(size), Int(max(32, self.bits), False, 4), size)

    # Places

    def _subscript_expression(self, node: Node) -> Value:
        container, indices = part(node, "argument"), part(node, "indices")
        value, index = self.expression(container), self.expression(first_in(indices))
        if not isinstance(index.kind, Int | Bool):
            message = "An index is a whole number."
            raise Problem(error("wrong-type", span_of(indices), message, "Make it an int."))
        if isinstance(value.kind, Text):
            return Value(f"letter_({value.text}, {index.text})", types.CHAR)
        if isinstance(value.kind, Array):
            known = isinstance(index.constant, int) and 0 <= index.constant < value.kind.size
            text = f"{value.text}[{index.text}]" if known else f"at_({value.text}, {index.text})"
            return Value(text, value.kind.of, None, (value.text, index.text))
        if isinstance(value.kind, Pointer):
            held, place = f"{value.text}[0]", f"({value.text}[1] + {index.text})"
            return Value(f"at_({held}, {place})", value.kind.to, None, (held, place))
        message = f"This is {types.told(value.kind)}, and it has no places."
        raise Problem(error("wrong-type", span_of(node), message, "Only arrays have an index."))

    def _pointer_expression(self, node: Node) -> Value:
        sign, inner = text_of(node.children[0]), part(node, "argument")
        value = self.expression(inner)
        if sign == "*":
            if isinstance(value.kind, Array):
                return Value(f"at_({value.text}, 0)", value.kind.of, None, (value.text, "0"))
            if not isinstance(value.kind, Pointer):
                message = f"* goes to where a pointer points, and this is {types.told(value.kind)}."
                raise Problem(error("wrong-type", span_of(node), message, "Take the * away."))
            held, place = f"{value.text}[0]", f"{value.text}[1]"
            return Value(f"at_({held}, {place})", value.kind.to, None, (held, place))
        if not isinstance(value.place, tuple):
            if isinstance(value.kind, Array):
                return Value(f"({value.text}, 0)", Pointer(value.kind.of))
            raise not_read(node, "this address", "Give the address of a variable.")
        return Value(f"({value.place[0]}, {value.place[1]})", Pointer(value.kind))

    def _field_expression(self, node: Node) -> Value:
        inner, label = part(node, "argument"), part(node, "field")
        if inner.type == "identifier" and self.variable(text_of(inner)) is None:
            word = self.names.word(f"{text_of(inner)}.{text_of(label)}")
            if word is not None and word.constant is not None:
                return self._known(word.constant)
        value = self.expression(inner)
        kind, text = value.kind, value.text
        if isinstance(kind, Pointer):
            kind, text = kind.to, f"at_({text}[0], {text}[1])"
        if not isinstance(kind, Struct):
            message = f'This is {types.told(kind)}, and it has nothing called "{text_of(label)}".'
            raise Problem(error("wrong-type", span_of(node), message, "Look at its type."))
        place = kind.place(text_of(label))
        if place is None:
            like = nearest(text_of(label), [name for name, _ in kind.fields])
            message = f'{types.told(kind)} has nothing called "{text_of(label)}".'
            remedy = f"Did you mean {like}?" if like else "Look at the struct above."
            raise Problem(error("unknown-name", span_of(label), message, remedy))
        return Value(f"{text}[{place}]", kind.fields[place][1], None, (text, str(place)))

    # Changes

    def _assignment_expression(self, node: Node) -> Value:
        left_node, right_node = part(node, "left"), part(node, "right")
        sign = text_of(node.child_by_field_name("operator") or node.children[1])
        target = self.expression(left_node)
        if sign == "=":
            return self.store(target, self.value(right_node, target.kind), node)
        target, kept = self._once(target)
        value = self.operation(sign[:-1], target, self.expression(right_node), node)
        stored = self.store(target, self.fitted(value, target.kind, node), node)
        return Value(f"({kept}{stored.text})[-1]" if kept else stored.text, stored.kind)

    def _once(self, target: Value) -> tuple[Value, str]:
        """A place that is worked out once, and the source that does it."""
        if not isinstance(target.place, tuple) or all(re.fullmatch(r"[\w\[\]]+", part) for part in target.place):
            return target, ""
        held, place = self.temporary(), self.temporary()
        kept = f"({held} := {target.place[0]}), ({place} := {target.place[1]}), "
        return Value(f"at_({held}, {place})", target.kind, None, (held, place)), kept

    def store(self, target: Value, text: str, node: Node) -> Value:
        """Gives a place a value; the value."""
        if isinstance(target.place, str):
            if target.constant is not None:
                message = "This is const: it keeps the value that it has."
                raise Problem(error("const", span_of(node), message, "Take const away, or use another variable."))
            self.assigned.add(target.place)
            return Value(f"({target.place} := {text})", target.kind)
        if isinstance(target.place, tuple):
            return Value(f"put_({target.place[0]}, {target.place[1]}, {text})", target.kind)
        if target.text.startswith("letter_("):
            raise not_read(node, "changing the letters of a text", "Use an array of letters: char text[20];")
        message = "Only a variable can be given a value."
        raise Problem(error("no-place", span_of(node), message, "Write a variable on the left."))

    def _update_expression(self, node: Node) -> Value:
        inner = part(node, "argument")
        sign = text_of(node.child_by_field_name("operator") or node.children[0])
        first = text_of(node.children[0]) == sign and node.children[0].type in ("++", "--")
        target, kept = self._once(self.expression(inner))
        value = self.operation(sign[0], target, Value("1", self.int, 1), node)
        stored = self.store(target, self.fitted(value, target.kind, node), node)
        if first:
            return Value(f"({kept}{stored.text})[-1]" if kept else stored.text, stored.kind)
        old = self.temporary()
        return Value(f"({kept}({old} := {target.text}), {stored.text}, {old})[-1]", target.kind)

    # Calls

    def _call_expression(self, node: Node) -> Value:
        callee, arguments = part(node, "function"), part(node, "arguments")
        given = named(arguments)
        if callee.type == "field_expression":
            return self._method(callee, given, node)
        if callee.type == "template_function" and text_of(callee).startswith("static_cast"):
            described = named(callee.children[-1])
            return self.cast(described[0], given[0], node)
        if callee.type in ("primitive_type", "sized_type_specifier") and len(given) == 1:
            return self.cast(callee, given[0], node)
        name = _plain_name(callee)
        if callee.type != "identifier" and not name:
            raise not_read(node, "this call", "Call a function by its name.")
        function = self.names.functions.get(name)
        if function is not None and self.variable(name) is None:
            return self._own(function, given, node)
        if self.variable(name) is not None:
            message = f'"{name}" is a variable, and no function.'
            raise Problem(error("no-function", span_of(node), message, "Give the variable another name."))
        word = self.names.word(name)
        if word is not None:
            if word.given is None:
                message = f'"{name}" is a value, and no function.'
                raise Problem(error("no-function", span_of(node), message, "Write it without brackets."))
            return self._word(word, given, node)
        if self.names.thing(name) is not None:
            raise not_read(node, "an object that has no name", f"Declare it: {name} motor({text_of(arguments)[1:-1]});")
        kind = self.names.type(name) or (types.named([name], self.bits) if name in types.FIXED else None)
        if kind is not None and len(given) == 1:
            value = self.expression(given[0])
            return Value(converted(value.text, value.kind, kind), kind)
        return self._standard(name, given, node, callee)

    def _own(self, function: Function, given: list[Node], node: Node) -> Value:
        needed = sum(parameter.default is None for parameter in function.given)
        if not needed <= len(given) <= len(function.given):
            self.wrong_count(function.name, len(function.given), len(given), node)
        texts = []
        for index, parameter in enumerate(function.given):
            if index < len(given):
                texts.append(self.value(given[index], parameter.kind))
            elif parameter.default is not None:
                texts.append(self.value(parameter.default, parameter.kind))
        first, texts = self.last_first(texts)
        call = f"g_{function.name}({', '.join(texts)})"
        call = f"(yield from {call})" if function.name in self.timing.timed else call
        return Value(f"({first}{call})[-1]" if first else call, function.kind)

    def last_first(self, texts: list[str]) -> tuple[str, list[str]]:
        """Values of a call of which one does something: the order is left open, and compilers take the last first."""
        open_ = [text for text in texts if re.search(r"[A-Za-z_]", text)]
        if len(open_) < 2 or not any(_DOES.search(text) for text in open_):
            return "", texts
        names = [self.temporary() for _ in texts]
        pairs = [f"({name} := {text}), " for name, text in zip(names, texts, strict=True)]
        return "".join(reversed(pairs)), names

    def wrong_count(self, name: str, wanted: int, count: int, node: Node) -> None:
        """Raises the Problem that a call has another number of values than it wants."""
        message = f'"{name}" takes {wanted} value{"" if wanted == 1 else "s"}, and {count} are given.'
        raise Problem(error("value-count", span_of(node), message, "Add or take away a value."))

    def _word(self, word: BoundWord, given: list[Node], node: Node, part: str | None = None) -> Value:
        wanted = word.given or ()
        values: list[str] = []
        parts: list[str] = [] if part is None else [part]
        unknown: list[str] = []
        for index, one in enumerate(wanted):
            if index >= len(given):
                if one.default is None:
                    self.wrong_count(word.name, len(wanted), len(given), node)
                values.append(repr(one.default))
                continue
            if one.what == bound.FUNCTION:
                values.append(self._handler(given[index]))
                continue
            value = self.expression(given[index])
            if one.what == bound.PART:
                found = self.names.ports.get(value.constant) if isinstance(value.constant, int | str) else None
                parts.append(found or "")
                unknown.append(f"port_({value.text}, {word.name!r})")
            elif one.what == bound.TEXT:
                values.append(self.fitted(value, types.TEXT, given[index]))
            elif one.what == bound.LINE:
                values.append(value.text)
            else:
                values.append(self.fitted(value, types.DOUBLE, given[index]))
        if len(given) > len(wanted):
            self.wrong_count(word.name, len(wanted), len(given), node)
        first, values = self.last_first(values)
        if first:
            inner = self._word_with(word, values, parts, unknown, node)
            return Value(f"({first}{inner.text})[-1]", inner.kind)
        return self._word_with(word, values, parts, unknown, node)

    def _handler(self, node: Node) -> str:
        """A function of the program that an interrupt performs; none of it with NULL or 0."""
        while node.type in ("parenthesized_expression", "pointer_expression"):
            node = named(node)[-1]
        if text_of(node) in ("NULL", "nullptr", "0"):
            return "None"
        function = self.names.functions.get(text_of(node))
        if function is None or function.given:
            message = "A function of the program, without parameters, is performed here."
            raise Problem(error("no-function", span_of(node), message, "Write its name without brackets."))
        return f"g_{function.name}"

    def _word_with(self, word: BoundWord, values: list[str], parts: list[str], unknown: list[str], node: Node) -> Value:
        """A call of a word with its values as source."""
        kind = self.kind_of(word)
        line = str(line_of(node))
        if tuple(parts) in word.variants:
            self.names.calls[node.id] = word, tuple(parts)
            return Value(self.used(self.words.use(word, tuple(parts)), line, values, kind, word), kind)
        if all(parts):
            message = f'"{word.name}" cannot be used with "{parts[0]}".'
            raise Problem(error("wrong-part", span_of(node), message, "Look at what is plugged in there."))
        return Value(self._by_part(word, f"({''.join(f'{key}, ' for key in unknown)})", line, values), kind)

    def _by_part(self, word: BoundWord, key: str, line: str, values: list[str]) -> str:
        """A call of a word for a part that is known only when it runs."""
        used = {parts: self.words.use(word, parts) for parts in word.variants}
        name = self.tables.get((id(word), ""))
        if name is None:
            name = self.tables[id(word), ""] = f"d{len(self.tables)}"
            self.before.append((1, f"{name} = {{{', '.join(f'{k!r}: {f.name}' for k, f in used.items())}}}"))
        call = f"chosen_({name}, {key}, {word.name!r})({', '.join([line, *values])})"
        return f"(yield from {call})" if any(found.timed for found in used.values()) else call

    def used(self, used: Used, line: str, values: list[str], kind: Type, word: BoundWord) -> str:
        """A call of a word, and its value as one of its type."""
        if used.inline:
            text = f"({used.inline}{COUNTED}"
        else:
            text = f"{used.name}({', '.join([line, *values])})"
            text = f"(yield from {text})" if used.timed else text
        if isinstance(kind, Int) and word.what == bound.NUMBER:
            text = f"cut_({text}, {kind.bits}, {kind.signed})" if not word.whole else wrapped(text, kind)
        return text

    def kind_of(self, word: BoundWord) -> Type:
        """The type of a word's value."""
        if word.kind:
            return types.named(word.kind.split(), self.bits) or types.DOUBLE
        if word.what == bound.TRUTH:
            return types.BOOL
        if word.what == bound.TEXT:
            return types.TEXT
        if word.what == bound.NUMBER:
            return self.int if word.whole else types.DOUBLE
        return types.VOID

    def _method(self, callee: Node, given: list[Node], node: Node) -> Value:
        inner, label = part(callee, "argument"), part(callee, "field")
        name = text_of(label)
        if inner.type == "identifier" and self.variable(text_of(inner)) is None:
            word = self.names.word(f"{text_of(inner)}.{name}")
            if word is not None:
                return self._word(word, given, node)
        value = self.expression(inner)
        if not isinstance(value.kind, Device):
            message = f"This is {types.told(value.kind)}, and it has no functions."
            raise Problem(error("no-function", span_of(node), message, "Call a function by its name."))
        thing = self.names.thing(value.kind.name)
        word = thing.words.get(name) if thing is not None else None
        if thing is None or word is None:
            like = nearest(name, thing.words if thing else ())
            message = f'"{value.kind.name}" has no word "{name}".'
            remedy = f"Did you mean {like}?" if like else "Look into the class's list of words."
            raise Problem(error("unknown-name", span_of(label), message, remedy, like))
        variable = self.variable(text_of(inner)) if inner.type == "identifier" else None
        if variable is not None and variable.part is not None:
            return self._word(word, given, node, variable.part)
        values = []
        for index, one in enumerate(word.given or ()):
            if index < len(given):
                values.append(self.value(given[index], types.TEXT if one.what == bound.TEXT else types.DOUBLE))
            elif one.default is None:
                self.wrong_count(name, len(word.given or ()), len(given), node)
        return Value(self._by_part(word, f"({value.text},)", str(line_of(node)), values), self.kind_of(word))

    def _standard(self, name: str, given: list[Node], node: Node, callee: Node) -> Value:
        """A function of the standard headers."""
        found = standard(self, name, given, node)
        if found is not None:
            return found
        hint = self.unknown(callee, name)
        if hint.fix or self.names.header_of(name):
            raise Problem(hint)
        remedy = "If the class's robot has it, add it to the wordbook; else write the function above."
        raise Problem(replace(hint, code="unknown-word", remedy=remedy))


def _plain_name(callee: Node) -> str:
    """The name of what is called, without `std::`; empty where it is no plain name."""
    name = text_of(callee)
    if callee.type == "qualified_identifier":
        name = re.sub(r"\s", "", name)
        return name.removeprefix("std::") if name.startswith("std::") and "::" not in name[5:] else ""
    return name if callee.type == "identifier" else ""


def _unescaped(text: str) -> str:
    """A text literal without its escapes."""

    def one(match: re.Match[str]) -> str:
        letter = match[1]
        if letter[0] == "x":
            return chr(int(letter[1:], 16))
        return _ESCAPES.get(letter, letter)

    return re.sub(r"\\(x[0-9a-fA-F]{1,2}|.)", one, text, flags=re.DOTALL)


def _shown(value: int | float | str) -> str:
    """A constant as source."""
    if isinstance(value, str):
        return repr(value)
    if isinstance(value, float) and (value != value or value in (float("inf"), float("-inf"))):
        return "nan" if value != value else f"({'-' if value < 0 else ''}inf)"
    text = repr(value)
    return f"({text})" if text.startswith("-") else text
