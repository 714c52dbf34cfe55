"""Turns the expressions of a Python program into the source of a lane.

Every name of the student gets a prefix that nothing of ours has (`g_` in the module, `s_` in functions, `m_` for
attributes), so that no text can reach what is not the program's own.
"""

from __future__ import annotations

import ast
from collections.abc import Callable

from geduld.language.messages import Hint, Problem, error, nearest
from geduld.readers.python import kinds
from geduld.readers.python.builtins import FUNCTIONS, KINDS
from geduld.readers.python.imports import Meaning, Own, Space
from geduld.readers.python.kinds import FLOAT, SMALL
from geduld.readers.python.meanings import Names
from geduld.readers.python.methods import NAMES as METHODS
from geduld.readers.python.methods import UNREAD
from geduld.readers.python.names import Scope
from geduld.readers.python.unread import names_a_kind, not_read, span_of
from geduld.script.ends import CAUGHT, RAISED
from geduld.script.lane import COUNTED, Source
from geduld.script.timing import word_takes_time
from geduld.script.words import Used, Words
from geduld.wordbook import bound
from geduld.wordbook.bound import BoundThing, BoundWord

_SIGNS: dict[type[ast.AST], str] = {
    ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.FloorDiv: "//", ast.Mod: "%", ast.Pow: "**",
    ast.LShift: "<<", ast.RShift: ">>", ast.BitAnd: "&", ast.BitOr: "|", ast.BitXor: "^",
    ast.Eq: "==", ast.NotEq: "!=", ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Is: "is",
    ast.IsNot: "is not", ast.USub: "-", ast.UAdd: "+", ast.Invert: "~", ast.Not: "not ",
}  # fmt: skip
_CHECKED = {"+": "add_", "-": "subtract_", "*": "multiply_", "%": "modulo_", "**": "power_", "<<": "shift_"}
METHODS_OF_MACHINE = {
    "add_": "add", "subtract_": "subtract", "multiply_": "multiply", "modulo_": "modulo", "power_": "power",
    "shift_": "shift_left", "extend_": "extend", "compare_": "compare", "inside_": "inside", "item_": "put_item",
    "slice_": "slice", "each_": "each", "whole_": "whole", "unpack_": "unpack", "made_": "made",
    "key_": "key", "keys_": "keys",
}  # fmt: skip


class Expressions:
    """Expressions as source."""

    def __init__(self, names: Names, words: Words) -> None:
        self.names = names
        self.words = words
        self.hints: list[Hint] = []
        self.before: list[tuple[int, str]] = []
        self.source = Source()
        self.level = 2
        self.counted = 0
        self.values: dict[int, str] = {}
        self.things: dict[int, tuple[str, ...]] = {}
        self.needs_here = False
        self.in_comprehension = 0

    # Names

    def name(self, name: str, scope: Scope) -> str:
        """A variable as the source has it."""
        holder = scope.holder(name)
        if holder is None:
            return ""
        prefix = "g_" if holder.kind == "module" else "m_" if holder.kind == "class" else "s_"
        return prefix + name

    def temporary(self) -> str:
        """A name for a value in between."""
        self.counted += 1
        return f"t{self.counted}"

    def expression(self, node: ast.expr, scope: Scope) -> str:
        """An expression. Raises Problem for what is not read."""
        writer = getattr(self, f"_{type(node).__name__.lower()}", None)
        if writer is None:
            raise Problem(not_read(node, "this", "Write it in simpler steps."))
        found: str = writer(node, scope)
        return found

    def _constant(self, node: ast.Constant, scope: Scope) -> str:
        value = node.value
        if isinstance(value, float) and value in (float("inf"),):
            return "inf"
        return f"({value!r})" if isinstance(value, int | float) else repr(value)

    def _name(self, node: ast.Name, scope: Scope) -> str:
        own = self.name(node.id, scope)
        if own:
            return own
        if node.id == "__name__":
            return "'__main__'"
        meaning = self.names.meanings.get(node.id)
        if meaning is not None:
            return self._meant(meaning, node)
        if node.id in KINDS:
            return f"kind_{node.id}"
        if node.id in FUNCTIONS:
            return f"b_{node.id}"
        if node.id in CAUGHT:
            return f"error_{node.id}"
        return f"missing_({node.id!r})"

    def _meant(self, meaning: Meaning, node: ast.expr) -> str:
        """What is not the program's own, used as a value."""
        if isinstance(meaning, BoundWord):
            if meaning.constant is not None:
                return repr(meaning.constant)
            if meaning.given is None:
                return self.word(meaning, [], [], node, None, self.names.top)
            return self._as_value(meaning)
        if isinstance(meaning, BoundThing):
            return self._thing_class(meaning)
        if isinstance(meaning, Own) and meaning.kind in ("math", "random"):
            return f"{meaning.kind}_{meaning.name}"
        raise Problem(not_read(node, "this as a value", "Call it, with its brackets."))

    def _as_value(self, word: BoundWord) -> str:
        """A word as a function that can be given on: a function of the lane that calls it."""
        found = self.values.get(id(word))
        if found is None:
            found = self.values[id(word)] = f"v{len(self.values)}"
            given = word.given or ()
            takes = ", ".join(f"s_{one.name}" + ("" if one.default is None else f"={one.default!r}") for one in given)
            before, self.in_comprehension = self.in_comprehension, 1  # a function that only asks counts nothing itself
            call = self._call_word(
                word, [f"s_{one.name}" for one in given], "here", [None] * len(given), self.names.top
            )
            self.in_comprehension = before
            for level, text in ((1, f"def {found}({takes}):"), (2, f"return {call}")):
                self.before.append((level, text))
        return found

    # Words

    def word(
        self,
        word: BoundWord,
        values: list[str],
        constants: list[ast.expr | None],
        node: ast.expr,
        line: int | None,
        scope: Scope,
    ) -> str:
        """A call of a word with its values in the order of its parameters."""
        given = word.given or ()
        while len(values) < len(given) and given[len(values)].default is not None:
            values = [*values, repr(given[len(values)].default)]
            constants = [*constants, ast.Constant(given[len(values) - 1].default)]
        if len(values) != len(given):
            wanted = len(given)
            message = f'"{word.name}" takes {wanted} value{"" if wanted == 1 else "s"}, and {len(values)} are given.'
            names = ", ".join(one.name for one in given)
            remedy = f"Write: {word.name}({names})" if given else f"Write: {word.name}()"
            raise Problem(error("value-count", span_of(node), message, remedy))
        return self._call_word(word, values, str(line or node.lineno), constants, scope)

    def _call_word(
        self, word: BoundWord, values: list[str], line: str, constants: list[ast.expr | None], scope: Scope
    ) -> str:
        given = word.given or ()
        parts = [index for index, one in enumerate(given) if one.what == bound.PART]
        plain = [value for index, value in enumerate(values) if index not in parts]
        if not parts:
            return self._used(self.words.use(word, next(iter(word.variants))), line, plain)
        chosen = [self.names.part(constants[index], scope) for index in parts]
        known = tuple(part for part in chosen if part is not None)
        if len(known) == len(chosen) and known in word.variants:
            return self._used(self.words.use(word, known), line, plain)
        used = {key: self.words.use(word, key) for key in word.variants}
        table = ", ".join(f"{key!r}: {found.name}" for key, found in used.items())
        name = f"d{len(self.values)}"
        self.values[-len(self.values) - 1] = name
        self.before.append((1, f"{name} = {{{table}}}"))
        keys = "".join(f"port_({values[index]}, {word.name!r}), " for index in parts)
        call = f"chosen_({name}, ({keys}), {word.name!r})({', '.join([line, *plain])})"
        return f"(yield from {call})" if any(found.timed for found in used.values()) else call

    def _used(self, used: Used, line: str, values: list[str]) -> str:
        if used.inline and not self.in_comprehension:
            return f"({used.inline}{COUNTED}"
        call = f"{used.name}({', '.join([line, *values])})"
        return f"(yield from {call})" if used.timed else call

    # Things

    def _thing_class(self, thing: BoundThing) -> str:
        """An object of the wordbook as a class of the lane, with the parts that the program may make it of."""
        name = f"t_{thing.name}"
        if id(thing) in self.things:
            return name
        self.things[id(thing)] = parts = self._parts_named()
        rows: list[tuple[int, str]] = [(1, f"class {name}:")]
        rows.append((2, f"def __init__(self, given): self.part = port_(given, {thing.name!r})"))
        for word in thing.words.values():
            timed = word.name in self.timed_names()
            used = {key[0]: self.words.use(word, key) for key in word.variants if key[0] in parts}
            table = ", ".join(f"{part!r}: {found.name}" for part, found in used.items())
            given = [one for one in word.given or () if one.what != bound.PART]
            takes = ["self", *(f"s_{one.name}{'' if one.default is None else f'={one.default!r}'}" for one in given)]
            self.before.append((1, f"d_{thing.name}_{word.name} = {{{table}}}"))
            call = f"chosen_(d_{thing.name}_{word.name}, self.part, {word.name!r})"
            call += f"({', '.join(['here', *(f's_{one.name}' for one in given)])})"
            if any(found.timed for found in used.values()):
                call = f"(yield from {call})"
            rows.append((2, f"def m_{word.name}({', '.join(takes)}):"))
            rows.append((3, f"return {call}"))
            if timed:
                rows.append((3, "if 0: yield"))
            if word.given is None:
                rows.append((2, f"m_{word.name} = property_(m_{word.name})"))
        self.before += rows
        return name

    def _parts_named(self) -> tuple[str, ...]:
        """The parts that objects may be made of: those that constants of the program name; all if not only these do."""
        named: list[str] = []
        for node in ast.walk(self.names.module):
            scope = self.names.scope_of.get(node, self.names.top)
            if isinstance(node, ast.Call) and isinstance(self.names.meaning(node.func, scope), BoundThing):
                values = [*node.args, *(keyword.value for keyword in node.keywords)]
                part = self.names.part(values[0], scope) if values else None
                if part is None:
                    return tuple(dict.fromkeys(self.names.ports.values()))
                named.append(part)
        return tuple(dict.fromkeys(named))

    def timed_names(self) -> set[str]:
        """The names of functions and methods that are generators."""
        timing = self.names.timing
        return timing.timed | {name for name, word in timing.thing_words.items() if word_takes_time(word)}

    # Calls

    def _call(self, node: ast.Call, scope: Scope) -> str:
        meaning = self.names.meaning(node.func, scope)
        if meaning is not None:
            return self._call_meant(node, meaning, scope)
        callee = node.func
        named = getattr(callee, "id", getattr(callee, "attr", ""))
        if scope.kind == "class" and named == "auto" and scope.holder("auto") is None:
            return "auto_"
        if isinstance(callee, ast.Attribute):
            self._in_its_module(callee, scope)
        builtin = self.names.builtin(callee, scope)
        if builtin == "super":
            raise Problem(not_read(node, "super() alone", "Write: super().__init__(…)"))
        if builtin:
            return self._call_builtin(builtin, node, scope)
        if isinstance(callee, ast.Name):
            return self._call_own(callee.id, node, scope)
        if isinstance(callee, ast.Attribute):
            return self._call_method(callee, node, scope)
        return self._call_unknown(self.expression(callee, scope), node, scope)

    def _given(self, node: ast.Call, scope: Scope, prefix: str = "s_") -> str:
        """The values of a call, in brackets' order."""
        parts = []
        for value in node.args:
            if isinstance(value, ast.Starred):
                parts.append(f"*unpack_({self.expression(value.value, scope)})")
            else:
                parts.append(self.expression(value, scope))
        for keyword in node.keywords:
            if keyword.arg is None:
                raise Problem(not_read(keyword.value, "values with **", "Give the values one by one."))
            parts.append(f"{prefix}{keyword.arg}={self.expression(keyword.value, scope)}")
        return ", ".join(parts)

    def _call_meant(self, node: ast.Call, meaning: Meaning, scope: Scope) -> str:
        if isinstance(meaning, BoundWord):
            if meaning.given is None:
                message = f'"{meaning.name}" is a value, and no function.'
                raise Problem(error("no-function", span_of(node), message, "Write it without brackets."))
            return self._call_of_word(meaning, node, scope)
        if isinstance(meaning, BoundThing):
            first = [*node.args, *(keyword.value for keyword in node.keywords)]
            if not first and meaning.given[0].default is None:
                message = f'"{meaning.name}" needs the part, or the port it is plugged into.'
                raise Problem(error("value-count", span_of(node), message, f'Write for example: {meaning.name}("M1")'))
            port = self.expression(first[0], scope) if first else repr(meaning.given[0].default)
            return f"{self._thing_class(meaning)}({port})"
        if isinstance(meaning, Space):
            message = f'"{meaning.name}" is a module, and no function.'
            raise Problem(error("no-function", span_of(node), message, "Name what is in it, behind a point."))
        if meaning.kind == "exit":
            return f"exit_({self._given(node, scope)})"
        return f"{meaning.kind}_{meaning.name}({self._given(node, scope, '')})"

    def _call_of_word(self, word: BoundWord, node: ast.Call, scope: Scope) -> str:
        given = word.given or ()
        if any(isinstance(value, ast.Starred) for value in node.args):
            call = f"{self._as_value(word)}({self._given(node, scope)})"
            return f"(yield from {call})" if word_takes_time(word) else call
        values = dict(enumerate(node.args))
        for keyword in node.keywords:
            found = next((index for index, one in enumerate(given) if one.name == keyword.arg), None)
            if found is None or found in values:
                message = f'"{word.name}" has no parameter called "{keyword.arg}" that is still free.'
                names = ", ".join(one.name for one in given)
                raise Problem(error("value-count", span_of(keyword.value), message, f"It has: {names or 'none'}"))
            values[found] = keyword.value
        ordered = [values.get(index) for index in range(max(values, default=-1) + 1)]
        for index, ordered_value in enumerate(ordered):
            if ordered_value is None:
                default = given[index].default if index < len(given) else None
                if default is None:
                    return self.word(word, [], [], node, node.lineno, scope)
                ordered[index] = ast.copy_location(ast.Constant(default), node)
        texts = [self.expression(value, scope) for value in ordered if value is not None]
        return self.word(word, texts, list(ordered), node, node.lineno, scope)

    def _call_builtin(self, name: str, node: ast.Call, scope: Scope) -> str:
        if name == "print":
            return self._print(node, scope)
        if name in ("exit", "quit"):
            return "exit_()"
        if name == "isinstance":
            return f"b_isinstance({self._given(node, scope, '')})"
        first = node.args[0] if len(node.args) == 1 else None
        if name in ("any", "all") and isinstance(first, ast.GeneratorExp) and self.names.timing.touches(first):
            return self._until_one(first, scope, name == "any")
        for keyword in node.keywords:
            if keyword.arg == "key" and self._takes_time_called(keyword.value):
                raise Problem(not_read(keyword.value, "a key that waits", "Read into a list first, and sort that."))
        if name in FUNCTIONS:
            return f"b_{name}({self._given(node, scope, '')})"
        if name in RAISED:
            return f"error_{name}({self._given(node, scope, '')})"
        return f"missing_({name!r})"

    def _takes_time_called(self, node: ast.expr) -> bool:
        """Whether what a value is takes time when it is called."""
        timing = self.names.timing
        return timing.takes_time(node) or (isinstance(node, ast.Name) and node.id in timing.timed)

    def _print(self, node: ast.Call, scope: Scope) -> str:
        values = "".join(
            f"*unpack_({self.expression(value.value, scope)}), "
            if isinstance(value, ast.Starred)
            else f"{self.expression(value, scope)}, "
            for value in node.args
        )
        named = {keyword.arg: keyword.value for keyword in node.keywords}
        separator = self.expression(named["sep"], scope) if "sep" in named else "' '"
        end = self.expression(named["end"], scope) if "end" in named else "'\\n'"
        return f"say_(({values}), {separator}, {end}, now, {node.lineno})"

    def _call_own(self, name: str, node: ast.Call, scope: Scope) -> str:
        """A call of a variable: a function or class of the program, or what nobody knows."""
        own = self.name(name, scope)
        holder = scope.holder(name)
        known = self.names.once.get(name) if holder is self.names.top else None
        given = self._given(node, scope)
        if isinstance(known, ast.FunctionDef):
            call = f"{own}({given})"
            return f"(yield from {call})" if name in self.timed_names() else call
        if isinstance(known, ast.ClassDef):
            return self._made(own, known, given)
        return self._call_unknown(own, node, scope, given)

    def _made(self, own: str, node: ast.ClassDef, given: str) -> str:
        """A new object of a class of the program."""
        values = f", {given}" if given else ""
        if "__init__" in self.names.timing.timed:
            return f"(yield from make_timed_({own}{values}))"
        return f"make_({own}{values})"

    def _call_unknown(self, callee: str, node: ast.Call, scope: Scope, given: str | None = None) -> str:
        values = self._given(node, scope) if given is None else given
        values = f", {values}" if values else ""
        if self.names.timing.call_takes_time(node):
            return f"(yield from call_timed_({callee}{values}))"
        return f"call_({callee}{values})"

    def _call_method(self, callee: ast.Attribute, node: ast.Call, scope: Scope) -> str:
        inner = callee.value
        if isinstance(inner, ast.Call) and isinstance(inner.func, ast.Name) and inner.func.id == "super":
            return self._super(callee, node, scope)
        name, timing = callee.attr, self.names.timing
        own = name in timing.functions or name in timing.thing_words
        self._known_method(callee, own)
        if self.names.builtin(inner, scope) in KINDS and node.args:  # str.upper(text)
            first = ast.Attribute(node.args[0], name, ast.Load())
            again = ast.Call(ast.copy_location(first, callee), node.args[1:], node.keywords)
            return self._call_method(first, ast.copy_location(again, node), scope)
        value = self.expression(inner, scope)
        kept_function = name in timing.rebound and timing.call_takes_time(node)  # self.index = a function that waits
        if name in METHODS and not own and not kept_function:
            given = self._given(node, scope, "")
            return f"method_({value}, {name!r}, {given})" if given else f"method_({value}, {name!r})"
        given = self._given(node, scope)
        if name in METHODS:
            values = f", {given}" if given else ""
            if timing.call_takes_time(node) or name in self.timed_names():
                return f"(yield from either_timed_({value}, {name!r}{values}))"
            return f"either_({value}, {name!r}{values})"
        if own and name in timing.rebound and name not in timing.thing_words:
            return self._call_unknown(f"{value}.m_{name}", node, scope, given)
        if own:
            self.needs_here = True
            call = f"{value}.m_{name}({given})"
            return f"(yield from {call})" if name in self.timed_names() else call
        return self._call_unknown(f"{value}.m_{name}", node, scope, given)

    def _known_method(self, node: ast.Attribute, own: bool) -> None:
        """Raises Problem for what Python's own values have, and is not read."""
        if node.attr in UNREAD and not own and node.attr not in self.names.attributes:
            raise Problem(not_read(node, f"Python's .{node.attr}", "Write it in simpler steps."))

    def _super(self, callee: ast.Attribute, node: ast.Call, scope: Scope) -> str:
        around: Scope | None = scope
        while around is not None and not isinstance(around.node, ast.ClassDef):
            around = around.parent
        method = scope.function.node
        if around is None or not isinstance(around.node, ast.ClassDef) or not around.node.bases:
            raise Problem(not_read(node, "super() here", "It belongs into a class that has a base."))
        first = method.args.args[0].arg if isinstance(method, ast.FunctionDef) and method.args.args else "self"
        base = self.expression(around.node.bases[0], around)
        given = ", ".join(part for part in (f"s_{first}", self._given(node, scope)) if part)
        call = f"{base}.m_{callee.attr}({given})"
        return f"(yield from {call})" if callee.attr in self.timed_names() else call

    # Values

    def _attribute(self, node: ast.Attribute, scope: Scope) -> str:
        meaning = self.names.meaning(node, scope)
        if meaning is not None:
            return self._meant(meaning, node)
        self._in_its_module(node, scope)
        if names_a_kind(node):
            return f"kind_name_({self.expression(node.value, scope)})"
        if node.attr in self.names.timing.thing_words:
            self.needs_here = True
        elif node.attr in METHODS and node.attr not in self.names.attributes:
            return f"bound_({self.expression(node.value, scope)}, {node.attr!r})"
        elif node.attr == "args" and node.attr not in self.names.attributes:
            return f"args_({self.expression(node.value, scope)})"
        self._known_method(node, False)
        return f"{self.expression(node.value, scope)}.m_{node.attr}"

    def _in_its_module(self, node: ast.Attribute, scope: Scope) -> None:
        """Raises Problem for what a module does not have."""
        outer = self.names.meaning(node.value, scope)
        if isinstance(outer, Space) and node.attr not in outer.inside:
            like = nearest(node.attr, outer.inside)
            message = f'"{outer.name}" has nothing called "{node.attr}".'
            remedy = f"Did you mean {like}?" if like else "Look into the class's list of words."
            raise Problem(error("unknown-import", span_of(node), message, remedy, like))

    def _binop(self, node: ast.BinOp, scope: Scope) -> str:
        left, right = self.expression(node.left, scope), self.expression(node.right, scope)
        return self.joined_by(
            node.op, left, right, self.names.kind(node.left, scope), self.names.kind(node.right, scope)
        )

    def joined_by(self, op: ast.operator, left: str, right: str, one: str, other: str) -> str:
        """`left op right`, by Python's own sign where nothing can run away."""
        sign = _SIGNS.get(type(op), "")
        if not sign:
            return f"missing_({type(op).__name__!r})"
        if sign in ("+", "-"):
            own = FLOAT in (one, other) or SMALL in (one, other)
        elif sign == "*":
            own = (FLOAT in (one, other)) or (one == other == SMALL)
        elif sign == "%":
            own = kinds.is_number(one)
        else:
            own = sign not in _CHECKED
        return f"({left} {sign} {right})" if own else f"{_CHECKED[sign]}({left}, {right})"

    def _unaryop(self, node: ast.UnaryOp, scope: Scope) -> str:
        return f"({_SIGNS[type(node.op)]}{self.expression(node.operand, scope)})"

    def _boolop(self, node: ast.BoolOp, scope: Scope) -> str:
        word = " and " if isinstance(node.op, ast.And) else " or "
        return f"({word.join(self.expression(value, scope) for value in node.values)})"

    def _compare(self, node: ast.Compare, scope: Scope) -> str:
        operands = [node.left, *node.comparators]
        simple = [self._is_simple(item, scope) for item in operands]
        signs = [_SIGNS.get(type(op), "") for op in node.ops]
        own = all(
            sign in ("is", "is not") or (sign and (simple[index] or simple[index + 1]))
            for index, sign in enumerate(signs)
        )
        texts = [self.expression(item, scope) for item in operands]
        if own:
            told = texts[0] + "".join(f" {sign} {text}" for sign, text in zip(signs, texts[1:], strict=True))
            return f"({told})"
        parts = []
        left = texts[0]
        for index, op in enumerate(node.ops):
            right = texts[index + 1]
            kept = right
            if index + 1 < len(node.ops):
                kept = self.temporary()
                right = f"({kept} := {right})"
            parts.append(self._compared(op, left, right))
            left = kept
        return f"({' and '.join(parts)})"

    def _compared(self, op: ast.cmpop, left: str, right: str) -> str:
        if isinstance(op, ast.In):
            return f"inside_({left}, {right})"
        if isinstance(op, ast.NotIn):
            return f"(not inside_({left}, {right}))"
        sign = _SIGNS[type(op)]
        return f"({left} {sign} {right})" if sign.startswith("is") else f"compare_({sign!r}, {left}, {right})"

    def _is_simple(self, node: ast.expr, scope: Scope) -> bool:
        """Whether it is quickly compared with anything."""
        if isinstance(node, ast.Constant):
            return not isinstance(node.value, str) or len(node.value) < 1_000
        return kinds.is_number(self.names.kind(node, scope))

    def _ifexp(self, node: ast.IfExp, scope: Scope) -> str:
        test, body, orelse = (self.expression(item, scope) for item in (node.test, node.body, node.orelse))
        return f"({body} if {test} else {orelse})"

    def _namedexpr(self, node: ast.NamedExpr, scope: Scope) -> str:
        return f"({self.name(node.target.id, scope.function)} := {self.expression(node.value, scope)})"

    def _list(self, node: ast.List, scope: Scope) -> str:
        return f"made_([{self._items(node.elts, scope)}])"

    def _tuple(self, node: ast.Tuple, scope: Scope) -> str:
        return f"made_(({self._items(node.elts, scope)}))" if node.elts else "()"

    def _set(self, node: ast.Set, scope: Scope) -> str:
        return f"made_({{{self._items(node.elts, scope, self.key)}}})"

    def _items(self, values: list[ast.expr], scope: Scope, told: Callable[[ast.expr, Scope], str] | None = None) -> str:
        told = told or self.expression
        keys = "keys_" if told == self.key else "unpack_"
        return "".join(
            f"*{keys}({self.expression(value.value, scope)}), "
            if isinstance(value, ast.Starred)
            else f"{told(value, scope)}, "
            for value in values
        )

    def key(self, node: ast.expr, scope: Scope) -> str:
        """What a value is looked up by in a table or a set: what that costs is counted where it may be much."""
        told = self.expression(node, scope)
        quick = isinstance(node, ast.Constant) or self.names.kind(node, scope) in (kinds.FLOAT, kinds.SMALL)
        return told if quick else f"key_({told})"

    def _dict(self, node: ast.Dict, scope: Scope) -> str:
        pairs = []
        for key, value in zip(node.keys, node.values, strict=True):
            if key is None:
                raise Problem(not_read(value, "** in a table", "Write the pairs one by one."))
            pairs.append(f"{self.key(key, scope)}: {self.expression(value, scope)}")
        return f"made_({{{', '.join(pairs)}}})"

    def _subscript(self, node: ast.Subscript, scope: Scope) -> str:
        value = self.expression(node.value, scope)
        if isinstance(node.slice, ast.Slice):
            return f"slice_({value}, {self._slice(node.slice, scope)})"
        return f"{value}[{self.key(node.slice, scope)}]"

    def _slice(self, node: ast.Slice, scope: Scope) -> str:
        ends = (node.lower, node.upper, node.step)
        return ", ".join("None" if end is None else self.expression(end, scope) for end in ends)

    def _joinedstr(self, node: ast.JoinedStr, scope: Scope) -> str:
        parts = []
        for value in node.values:
            if isinstance(value, ast.FormattedValue):
                spec = (
                    self._joinedstr(value.format_spec, scope) if isinstance(value.format_spec, ast.JoinedStr) else "''"
                )
                conversion = chr(value.conversion) if value.conversion > 0 else ""
                parts.append(f"format_({self.expression(value.value, scope)}, {spec}, {conversion!r}), ")
            else:
                parts.append(f"{self.expression(value, scope)}, ")
        return f"joined_(({''.join(parts)}))" if parts else "''"

    def _lambda(self, node: ast.Lambda, scope: Scope) -> str:
        inner = self.names.scopes[node]
        if self.names.timing.takes_time(ast.Expr(node.body)):
            return self._waiting_lambda(node, scope, inner)
        before = self.in_comprehension
        self.in_comprehension = 1  # what stands in a lambda cannot count what it touches by itself
        body = self.expression(node.body, inner)
        self.in_comprehension = before
        return f"(lambda {self.parameters(node.args, scope)}: {body})"

    def _waiting_lambda(self, node: ast.Lambda, scope: Scope, inner: Scope) -> str:
        """One that takes time: a function of its own, just before the statement that it stands in."""
        if scope.kind == "comprehension" or self.in_comprehension:
            raise Problem(not_read(node, "a lambda that waits here", "Write a function with def."))
        name = f"f{self.temporary()}"
        given = self.parameters(node.args, scope)
        body = self.expression(node.body, inner)
        for level, text in ((0, f"def {name}({given}):"), (1, "nonlocal now, i, steps, acts"), (1, f"return {body}")):
            self.source.add(self.level + level, text)
        self.source.add(self.level + 1, "if 0: yield")
        return name

    def parameters(self, given: ast.arguments, scope: Scope) -> str:
        """The parameters of a function."""
        every = [*given.posonlyargs, *given.args]
        defaults = [None] * (len(every) - len(given.defaults)) + list(given.defaults)
        parts = [
            f"s_{item.arg}" + ("" if value is None else f"={self.expression(value, scope)}")
            for item, value in zip(every, defaults, strict=True)
        ]
        if given.vararg:
            parts.append(f"*s_{given.vararg.arg}")
        elif given.kwonlyargs:
            parts.append("*")
        for item, value in zip(given.kwonlyargs, given.kw_defaults, strict=True):
            parts.append(f"s_{item.arg}" + ("" if value is None else f"={self.expression(value, scope)}"))
        return ", ".join(parts)

    # Comprehensions

    def _listcomp(self, node: ast.ListComp, scope: Scope) -> str:
        return self._comprehension(node, [node.elt], scope, "[]")

    def _generatorexp(self, node: ast.GeneratorExp, scope: Scope) -> str:
        if id(node) not in self.names.used_up and self.names.timing.touches(node):
            remedy = "Write a list: [ … ], which is made at once."
            raise Problem(not_read(node, "a generator that looks at the robot bit by bit", remedy))
        return self._comprehension(node, [node.elt], scope, "[]")

    def _setcomp(self, node: ast.SetComp, scope: Scope) -> str:
        return self._comprehension(node, [node.elt], scope, "{}")

    def _dictcomp(self, node: ast.DictComp, scope: Scope) -> str:
        return self._comprehension(node, [node.key, node.value], scope, "{}")

    def _comprehension(
        self,
        node: ast.ListComp | ast.GeneratorExp | ast.SetComp | ast.DictComp,
        values: list[ast.expr],
        scope: Scope,
        brackets: str,
    ) -> str:
        inner = self.names.scopes[node]
        if self.names.timing.takes_time(node):
            return self._waiting_comprehension(node, scope, brackets)
        self.in_comprehension += 1
        parts = []
        for index, part in enumerate(node.generators):
            over = self.expression(part.iter, inner if index else scope)
            target = self.target(part.target, inner)
            parts.append(f"for {target} in whole_({over})")
            parts += [f"if {self.expression(condition, inner)}" for condition in part.ifs]
        looked_up = not isinstance(node, ast.ListComp | ast.GeneratorExp)
        told = ": ".join(
            (self.key if looked_up and not index else self.expression)(value, inner)
            for index, value in enumerate(values)
        )
        self.in_comprehension -= 1
        return f"made_({brackets[0]}{told} {' '.join(parts)}{brackets[1]})"

    def _until_one(self, node: ast.GeneratorExp, scope: Scope, wanted: bool) -> str:
        """`any` and `all` of what looks at the world: no further than to the one that decides."""
        timed = self.names.timing.takes_time(node)
        decides = "if {}: return True" if wanted else "if not {}: return False"
        call = self._looping(node, scope, lambda told: decides.format(told[0]), f"return {not wanted}", timed)
        return f"(yield from {call})" if timed else call

    def _looping(
        self,
        node: ast.ListComp | ast.GeneratorExp | ast.SetComp | ast.DictComp,
        scope: Scope,
        each: Callable[[list[str]], str],
        end: str,
        timed: bool = True,
        start: str = "pass",
    ) -> str:
        """A comprehension as a function of its own, just before the statement that it stands in: the call of it."""
        inner, name = self.names.scopes[node], f"f{self.temporary()}"
        first = self.expression(node.generators[0].iter, scope)
        rows = [(0, f"def {name}(over):"), (1, "nonlocal now, i, steps, acts"), (1, start)]
        before, self.in_comprehension = self.in_comprehension, 0 if timed else 1
        level = 1
        for index, part in enumerate(node.generators):
            over = "over" if index == 0 else self.expression(part.iter, inner)
            rows.append((level, f"for {self.target(part.target, inner)} in whole_({over}):"))
            level += 1
            for condition in part.ifs:
                rows.append((level, f"if {self.expression(condition, inner)}:"))
                level += 1
        values = [node.key, node.value] if isinstance(node, ast.DictComp) else [node.elt]
        rows.append((level, each([self.expression(value, inner) for value in values])))
        self.in_comprehension = before
        rows += [(1, end), *([(1, "if 0: yield")] if timed else [])]
        for row_level, text in rows:
            self.source.add(self.level + row_level, text)
        return f"{name}({first})"

    def _waiting_comprehension(
        self, node: ast.ListComp | ast.GeneratorExp | ast.SetComp | ast.DictComp, scope: Scope, brackets: str
    ) -> str:
        """One in which something takes time."""
        kind, adds = brackets, "found.append({})"
        if isinstance(node, ast.SetComp):
            kind, adds = "set_()", "found.add(key_({}))"
        elif isinstance(node, ast.DictComp):
            adds = "found[key_({})] = {}"
        call = self._looping(node, scope, lambda told: adds.format(*told), "return found", True, f"found = {kind}")
        return f"made_((yield from {call}))"

    # Targets

    def target(self, node: ast.expr, scope: Scope) -> str:
        """What is assigned to, where plain Python does it: names, attributes, and several of these."""
        if isinstance(node, ast.Name):
            return self.name(node.id, scope)
        if isinstance(node, ast.Attribute):
            return f"{self.expression(node.value, scope)}.m_{node.attr}"
        if isinstance(node, ast.Tuple | ast.List):
            return f"({''.join(f'{self.target(item, scope)}, ' for item in node.elts)})"
        if isinstance(node, ast.Starred):
            return f"*{self.target(node.value, scope)}"
        raise Problem(not_read(node, "this on the left of =", "Assign to a name first."))
