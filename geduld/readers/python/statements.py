"""Statements of a Python program as source of a lane, and what loops cost."""

from __future__ import annotations

import ast

from geduld.language.messages import Problem
from geduld.readers.python import enums, kinds
from geduld.readers.python.expressions import Expressions
from geduld.readers.python.imports import Space
from geduld.readers.python.names import Scope, inside
from geduld.readers.python.unread import not_read
from geduld.readers.python.waiting import waiting_loop
from geduld.script.ends import CAUGHT, RAISED
from geduld.script.lane import OUTPUTS
from geduld.script.loops import end_of_pass
from geduld.script.timing import word_takes_time
from geduld.script.waiting import Waiting, leave_out
from geduld.wordbook.bound import BoundThing, BoundWord

MOST_BLOCKS = 18
_ABOVE = {"staticmethod": "static_", "classmethod": "class_", "property": "property_"}
# Bases that change nothing about what is read of a class: its values stand for themselves.
PLAIN_BASES = ("object", *enums.BASES)
_ENGINE = "now, i, steps, acts, here, depth, over"


class Statements(Expressions):
    """Statements, one after another, into `source`."""

    loops: list[Loop]
    blocks = 0

    def add(self, text: str) -> None:
        """A line of source at the level that is being written."""
        self.source.add(self.level, text)

    def body(self, statements: list[ast.stmt], scope: Scope) -> None:
        """A block, one level deeper."""
        self.level += 1
        first = len(self.source.lines)
        for statement in statements:
            self.statement(statement, scope)
        if len(self.source.lines) == first:
            self.add("pass")
        self.level -= 1

    def statement(self, node: ast.stmt, scope: Scope) -> None:
        """One statement; what is not read in it is kept as a hint, and the next ones are looked at all the same."""
        self.source.place = node.lineno
        writer = getattr(self, f"_{type(node).__name__.lower()}_", None)
        try:
            if writer is None:
                raise Problem(not_read(node, "this statement", "Write it in simpler steps."))
            self.needs_here = False
            writer(node, scope)
        except Problem as problem:
            self.hints.append(problem.hint)

    def _with_here(self, text: str) -> None:
        """A line in which an object may act, which asks for the line that it stands in."""
        if self.needs_here:
            self.add(f"here = {self.source.place}")
            self.needs_here = False
        self.add(text)

    # Plain statements

    def _expr_(self, node: ast.Expr, scope: Scope) -> None:
        if isinstance(node.value, ast.Constant) or self._commanded(node.value, scope):
            return
        self._with_here(self.expression(node.value, scope))

    def _commanded(self, node: ast.expr, scope: Scope) -> bool:
        """Writes a call of a word that only sets outputs to known numbers as such."""
        if not isinstance(node, ast.Call) or node.keywords:
            return False
        word = self.names.meaning(node.func, scope)
        values = [_number(value) for value in node.args]
        known = [value for value in values if value is not None]
        if not isinstance(word, BoundWord) or () not in word.variants or len(known) != len(values):
            return False
        lines = self.words.commands(word, (), known, node.lineno)
        if lines is None:
            return False
        self.add("acts += 1")
        for line in lines:
            self.add(line)
        return True

    def _pass_(self, node: ast.Pass, scope: Scope) -> None:
        """Nothing."""

    def _import_(self, node: ast.Import, scope: Scope) -> None:
        """What it brings in is known beforehand; a word that is written over later is a variable from here on."""
        for alias in node.names:
            self._bring_in(alias.asname or alias.name, scope)

    def _importfrom_(self, node: ast.ImportFrom, scope: Scope) -> None:
        names = list(self.names.written_over) if node.names[0].name == "*" else None
        for name in names if names is not None else [alias.asname or alias.name for alias in node.names]:
            self._bring_in(name, scope)

    def _bring_in(self, name: str, scope: Scope) -> None:
        meaning = self.names.written_over.get(name)
        if isinstance(meaning, BoundWord):
            value = repr(meaning.constant) if meaning.constant is not None else self._as_value(meaning)
            self.add(f"g_{name} = {value}")
        elif meaning is not None and not isinstance(meaning, BoundThing | Space) and meaning.kind != "exit":
            self.add(f"g_{name} = {meaning.kind}_{meaning.name}")

    def _global_(self, node: ast.Global, scope: Scope) -> None:
        """Said at the start of the function."""

    _nonlocal_ = _global_

    def _assign_(self, node: ast.Assign, scope: Scope) -> None:
        value = self.expression(node.value, scope)
        if len(node.targets) == 1 and isinstance(node.targets[0], ast.Name | ast.Attribute):
            self._with_here(f"{self.target(node.targets[0], scope)} = {value}")
            return
        self._with_here(f"x = {value}")
        for target in node.targets:
            self._store(target, "x", scope)

    def _store(self, target: ast.expr, value: str, scope: Scope) -> None:
        """Gives a target a value that has been worked out."""
        if isinstance(target, ast.Tuple | ast.List):
            names = [self.temporary() for _ in target.elts]
            starred = [f"*{n}" if isinstance(t, ast.Starred) else n for n, t in zip(names, target.elts, strict=True)]
            self.add(f"{''.join(f'{name}, ' for name in starred)} = unpack_({value})")
            for name, item in zip(names, target.elts, strict=True):
                self._store(item.value if isinstance(item, ast.Starred) else item, name, scope)
        elif isinstance(target, ast.Subscript):
            container = self.expression(target.value, scope)
            if isinstance(target.slice, ast.Slice):
                self.add(f"item_({container}, slice({self._slice(target.slice, scope)}), {value})")
            else:
                self.add(f"item_({container}, {self.expression(target.slice, scope)}, {value})")
        else:
            self.add(f"{self.target(target, scope)} = {value}")

    def _annassign_(self, node: ast.AnnAssign, scope: Scope) -> None:
        if node.value is not None:
            assign = ast.copy_location(ast.Assign([node.target], node.value), node)
            self._assign_(assign, scope)

    def _augassign_(self, node: ast.AugAssign, scope: Scope) -> None:
        value, target = self.expression(node.value, scope), node.target
        other = self.names.kind(node.value, scope)
        if isinstance(target, ast.Name):
            own = self.name(target.id, scope) or f"missing_({target.id!r})"
            one = self.names.kind(ast.copy_location(ast.Name(target.id, ast.Load()), node), scope)
            self._with_here(f"{own} = {self._changed(node.op, own, value, one, other)}")
            return
        held = self.temporary()
        if isinstance(target, ast.Attribute):
            self._with_here(f"{held} = {self.expression(target.value, scope)}")
            old = f"{held}.m_{target.attr}"
            self.add(f"{old} = {self._changed(node.op, old, value, kinds.ANY, other)}")
        elif isinstance(target, ast.Subscript) and not isinstance(target.slice, ast.Slice):
            key = self.temporary()
            self._with_here(f"{held} = {self.expression(target.value, scope)}")
            self.add(f"{key} = {self.expression(target.slice, scope)}")
            changed = self._changed(node.op, f"{held}[{key}]", value, kinds.ANY, other)
            self.add(f"item_({held}, {key}, {changed})")
        else:
            raise Problem(not_read(node, "this on the left of =", "Assign to a name first."))

    def _changed(self, op: ast.operator, old: str, value: str, one: str, other: str) -> str:
        if isinstance(op, ast.Add) and not kinds.is_number(other) and not kinds.is_number(one):
            return f"extend_({old}, {value})"
        return self.joined_by(op, old, value, one, other)

    def _delete_(self, node: ast.Delete, scope: Scope) -> None:
        for target in node.targets:
            if isinstance(target, ast.Subscript):
                place = target.slice
                told = f"slice({self._slice(place, scope)})" if isinstance(place, ast.Slice) else self.key(place, scope)
                self.add(f"del {self.expression(target.value, scope)}[{told}]")
            else:
                self.add(f"del {self.target(target, scope)}")

    def _assert_(self, node: ast.Assert, scope: Scope) -> None:
        said = self.expression(node.msg, scope) if node.msg else "''"
        self._with_here(f"if not {self.expression(node.test, scope)}: raise error_AssertionError({said})")

    def _raise_(self, node: ast.Raise, scope: Scope) -> None:
        raised = node.exc
        if raised is None:
            self.add("raise")
            return
        callee = raised.func if isinstance(raised, ast.Call) else raised
        name = self.names.builtin(callee, scope)
        if name in RAISED:
            given = self._given(raised, scope, "") if isinstance(raised, ast.Call) else ""
            self._with_here(f"raise error_{name}({given})")
        elif self._own_error(callee, scope):
            given = self._given(raised, scope, "") if isinstance(raised, ast.Call) else ""
            self._with_here(f"raise {self.expression(callee, scope)}({given})")
        elif isinstance(callee, ast.Name) and not name and not isinstance(raised, ast.Call):
            self.add(f"raise {self.expression(callee, scope)}")
        else:
            raise Problem(not_read(node, "errors of one's own", "Raise ValueError or RuntimeError."))

    def _return_(self, node: ast.Return, scope: Scope) -> None:
        value = self.expression(node.value, scope) if node.value else ""
        self._with_here(f"return {value}".rstrip())

    # Blocks

    def _if_(self, node: ast.If, scope: Scope) -> None:
        self._with_here(f"if {self.expression(node.test, scope)}:")
        self._deeper(node)
        self.body(node.body, scope)
        if node.orelse:
            self.add("else:")
            self.body(node.orelse, scope)
        self.blocks -= 1

    def _deeper(self, node: ast.stmt) -> None:
        self.blocks += 1
        if self.blocks > 3 * MOST_BLOCKS:
            self.blocks -= 1
            raise Problem(not_read(node, "so many blocks in each other", "Put some of them into functions."))

    def _for_(self, node: ast.For, scope: Scope) -> None:
        self._nested(node)
        over = self.expression(node.iter, scope)
        simple = isinstance(node.target, ast.Name)
        target = self.target(node.target, scope) if simple else self.temporary()
        self._with_here(f"for {target} in each_({over}):")
        self.level += 1
        self.add(f"steps += {_count(node.body)}")
        self.add("if steps > most: raise StepsExhausted(now)")
        if not simple:
            self._store(node.target, target, scope)
        self.level -= 1
        self.loops.append(Loop())
        self.body(node.body, scope)
        self.loops.pop()
        self._orelse(node, scope)

    def _nested(self, node: ast.stmt) -> None:
        if len(self.loops) >= MOST_BLOCKS:
            raise Problem(not_read(node, "so many loops in each other", "Put some of them into functions."))

    def _orelse(self, node: ast.For | ast.While, scope: Scope) -> None:
        if node.orelse:
            self.add("else:")
            self.body(node.orelse, scope)

    def _while_(self, node: ast.While, scope: Scope) -> None:
        """A loop that is not counted: a pass that took no time and touched the world costs one of the rig's."""
        self._nested(node)
        self.counted += 1
        number, timing = self.counted, self.names.timing
        touches = timing.touches(node.test) or any(timing.touches(item) for item in node.body)
        straight = touches and not any(map(timing.takes_time, (node.test, *node.body))) and not self.words.watched
        sure = straight and (self._surely_touches(node.test) or self._touched_first(node.body))
        looks_ahead = not self.words.writer.closed and not self.words.watched
        waits = waiting_loop(node, scope, self) if touches and looks_ahead else None
        loop = Loop(number, node.lineno, touches, straight, sure, waits)
        base = self.level
        self.add(f"u{number} = quiet_()")
        if straight:
            self.add(f"n{number} = now")
            self.add("try:")
            self.level += 1
        self.add("while True:")
        self.level += 1
        if waits is not None:
            leave_out(self.source, self.level, node.lineno, number, waits)
        self.needs_here = False
        forever = isinstance(node.test, ast.Constant) and bool(node.test.value)
        test = self.expression(node.test, scope)
        if not sure:
            self.add(f"p{number} = now; a{number}_ = acts")
        if not forever:
            left = f"e{number} = 1; break" if node.orelse else "break"
            if node.orelse:
                self.add(f"e{number} = 0")
            self._with_here(f"if not {test}: {left}")
        elif node.orelse:
            self.add(f"e{number} = 0")
        self.add(f"steps += {_count(node.body)}")
        self.add("if steps > most: raise StepsExhausted(now)")
        self.loops.append(loop)
        self.level -= 1
        self.body(node.body, scope)
        self.level += 1
        self.loops.pop()
        self.source.place = node.lineno
        self._pass_over(loop)
        self.level = base
        if straight:
            self.add(f"finally: looped({node.lineno}, n{number}, now)")
        if node.orelse:
            self.add(f"if e{number}:")
            self.body(node.orelse, scope)

    def _pass_over(self, loop: Loop) -> None:
        """At the end of a pass: the clock goes on, where the pass took no time."""
        if loop.number:
            end_of_pass(self.source, self.level, loop, self.words)

    def _surely_touches(self, node: ast.expr) -> bool:
        """Whether an expression touches the world each time it is worked out, whatever comes of it."""
        while isinstance(node, ast.BoolOp):
            node = node.values[0]
        if isinstance(node, ast.Compare):
            return any(self._surely_touches(item) for item in [node.left, node.comparators[0]])
        if isinstance(node, ast.UnaryOp):
            return self._surely_touches(node.operand)
        if isinstance(node, ast.BinOp):
            return self._surely_touches(node.left) or self._surely_touches(node.right)
        if not isinstance(node, ast.Call):
            return False
        meaning = self.names.meaning(node.func, self.names.top)
        return isinstance(meaning, BoundWord) and not word_takes_time(meaning)

    def _touched_first(self, body: list[ast.stmt]) -> bool:
        """Whether the first statements of a body touch the world, before anything can go another way."""
        for statement in body:
            if isinstance(statement, ast.Expr | ast.Assign) and self._surely_touches(statement.value):
                return True
            if isinstance(statement, ast.If) and self._surely_touches(statement.test):
                return True
            if not isinstance(statement, ast.Assign | ast.AugAssign | ast.Expr | ast.Pass):
                return False
        return False

    def _break_(self, node: ast.Break, scope: Scope) -> None:
        self.add("break")

    def _continue_(self, node: ast.Continue, scope: Scope) -> None:
        self._pass_over(self.loops[-1])
        self.add("continue")

    def _try_(self, node: ast.Try, scope: Scope) -> None:
        """A try. What ends the program for good passes by its handlers, and then `finally` is left out as well."""
        self._nested(node)
        self.loops.append(self.loops[-1] if self.loops else Loop())
        base = self.level
        if node.finalbody:
            self.add("try:")
            self.level += 1
            self.add("try:")
            self.level += 1 if node.handlers else 0
        if node.handlers:
            self.add("try:")
        self.body(node.body, scope)
        for handler in node.handlers:
            self.source.place = handler.lineno
            name = f" as {self.name(handler.name, scope)}" if handler.name else ""
            self.add(f"except {self._caught(handler.type, scope)}{name}:")
            self.body(handler.body, scope)
        if node.orelse:
            self.add("else:")
            self.body(node.orelse, scope)
        if node.finalbody:
            self.source.place = node.lineno
            self.level = base + 1
            self.add("except ENDS: over = 1; raise")
            self.level = base
            self.add("finally:")
            self.level += 1
            self.add("if not over:")
            self.body(node.finalbody, scope)
        self.level = base
        self.loops.pop()

    def _caught(self, node: ast.expr | None, scope: Scope) -> str:
        if node is None:
            return "caught_BaseException"
        every = node.elts if isinstance(node, ast.Tuple) else [node]
        told = []
        for item in every:
            name = self.names.builtin(item, scope)
            if name not in CAUGHT and not self._own_error(item, scope):
                raise Problem(not_read(node, "this kind of error", "Write: except Exception:"))
            told.append(f"*caught_{name}, " if name in CAUGHT else f"{self.expression(item, scope)}, ")
        return f"({''.join(told)})"

    def _own_error(self, node: ast.expr, scope: Scope) -> bool:
        """Whether a name is that of an error of the program: a class of Python's errors that has nothing of its own."""
        found = self.names.once.get(node.id) if isinstance(node, ast.Name) else None
        if not isinstance(found, ast.ClassDef) or len(found.bases) != 1:
            return False
        if not all(isinstance(item, ast.Pass | ast.Expr) for item in found.body):
            return False
        base = found.bases[0]
        return self.names.builtin(base, scope) in RAISED or self._own_error(base, scope)

    # Functions and classes

    def _functiondef_(self, node: ast.FunctionDef, scope: Scope) -> None:
        inner = self.names.scopes[node]
        timed = node.name in self.timed_names() and not (
            isinstance(scope.node, ast.ClassDef) and any(_called(item) == "property" for item in node.decorator_list)
        )
        own = self.name(node.name, scope)
        if isinstance(scope.node, ast.ClassDef) and any(map(self.names.timing.takes_time, node.body)):
            if any(_called(item) == "property" for item in node.decorator_list):
                raise Problem(not_read(node, "a property that waits", "Write a function, and call it with brackets."))
            if node.name in ("__str__", "__repr__"):
                raise Problem(not_read(node, "a text of an object that waits", "Read first, and keep what was read."))
        for item in node.decorator_list:
            self.add(f"@{_ABOVE[_called(item)]}")
        self.add(f"def {own}({self.parameters(node.args, scope)}):")
        loops, self.loops, blocks, self.blocks = self.loops, [], self.blocks, 0
        self.level += 1
        self.add(f"nonlocal {_ENGINE}{OUTPUTS}")
        for kind in ("global", "nonlocal"):
            names = [self.name(name, inner) for name, said in inner.outer.items() if said == kind]
            if names and all(names):
                self.add(f"nonlocal {', '.join(names)}")
        self.add("depth += 1")
        self.add("if depth > 200: deeper_(depth)")
        self.add("try:")
        self.body(node.body, inner)
        self.source.place = node.lineno
        self.add("finally: depth -= 1")
        if timed:
            self.add("if 0: yield")
        self.level -= 1
        self.loops, self.blocks = loops, blocks

    def _classdef_(self, node: ast.ClassDef, scope: Scope) -> None:
        inner = self.names.scopes[node]
        bases = ", ".join(self.expression(base, scope) for base in node.bases if _named(base) not in PLAIN_BASES)
        enum = next((_named(base) for base in node.bases if _named(base) in enums.BASES), "")
        if enum:
            bases = "metaclass=enum_kind_" if enum == "Enum" else "int_, metaclass=enum_kind_"
        self.add(f"class {self.name(node.name, scope)}({bases}):")
        self.body(node.body, inner)
        if enum:
            self.add(f"enum_complete_({self.name(node.name, scope)}, {_members(node)!r})")
        fields = getattr(node, "fields", ())
        if fields:
            told = any(isinstance(item, ast.FunctionDef) and item.name == "__repr__" for item in node.body)
            self.add("    __eq__ = lambda one, other: same_fields_(one, other)")
            self.add("    __hash__ = None")
            if not told:
                self.add(f"    m___repr__ = lambda one: told_fields_(one, {tuple(fields)!r})")


class Loop:
    """A loop around what is being written. `number` is 0 for a counted one, whose passes cost nothing."""

    def __init__(
        self,
        number: int = 0,
        line: int = 0,
        touches: bool = False,
        straight: bool = False,
        sure: bool = False,
        waits: Waiting | None = None,
    ) -> None:
        self.number = number
        self.line = line
        self.touches = touches
        self.straight = straight
        self.sure = sure
        self.waits = waits


def _members(node: ast.ClassDef) -> tuple[str, ...]:
    """The names that a class gives a value, in their order."""
    named = [target for item in node.body if isinstance(item, ast.Assign) for target in item.targets]
    return tuple(target.id for target in named if isinstance(target, ast.Name) and not target.id.startswith("_"))


def _number(node: ast.expr) -> float | None:
    """A number as it stands in the text."""
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        inner = _number(node.operand)
        return None if inner is None else -inner
    if isinstance(node, ast.Constant) and type(node.value) in (int, float) and abs(node.value) < 1e15:  # type: ignore[arg-type]
        return float(node.value)  # type: ignore[arg-type]
    return None


def _named(node: ast.expr) -> str:
    """The last name of a base."""
    return node.id if isinstance(node, ast.Name) else node.attr if isinstance(node, ast.Attribute) else ""


def _called(node: ast.expr) -> str:
    return node.id if isinstance(node, ast.Name) else ""


def _count(body: list[ast.stmt]) -> int:
    """What a pass costs in steps: its statements, with those in its branches."""
    return max(1, sum(isinstance(item, ast.stmt) for statement in body for item in inside(statement)))
