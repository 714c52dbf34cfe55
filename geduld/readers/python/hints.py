"""What is risky about a Python program that can be run, seen from its text alone."""

from __future__ import annotations

import ast
import builtins
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from geduld.binding.terms import Setting, Threshold
from geduld.hints.commanded import set_twice
from geduld.hints.counters import told_of_every_pass
from geduld.hints.scripts import WaitingLoop
from geduld.language.messages import Hint, error
from geduld.readers.python.bands import band_hints
from geduld.readers.python.imports import Own
from geduld.readers.python.meanings import Names
from geduld.readers.python.names import Scope, inside
from geduld.readers.python.passes import every_pass
from geduld.readers.python.readings import Readings
from geduld.readers.python.statements import PLAIN_BASES
from geduld.readers.python.unread import span_of
from geduld.script.settings import settings_of
from geduld.script.slips import slipped_unit
from geduld.script.thresholds import commands, parts_read, threshold
from geduld.wordbook.bound import BoundWord

LONG_COUNT = 1_000


def _warning(code: str, node: ast.AST, message: str, remedy: str, fix: str | None = None) -> Hint:
    return replace(error(code, span_of(node), message, remedy, fix), level="warning")


class PythonHints:
    """The hints of one program."""

    def __init__(self, names: Names) -> None:
        self.names = names
        self.readings = Readings(names)
        self.scope_of = names.scope_of
        self.annotations = _annotations(names.module)

    def all(self) -> Iterator[Hint]:
        """Every hint."""
        called = {id(node.func) for node in ast.walk(self.names.module) if isinstance(node, ast.Call)}
        for node, scope in list(self.scope_of.items()):
            yield from self._brackets(node, scope, called)
            if isinstance(node, ast.Assign | ast.AugAssign):
                yield from self._written_over(node)
            elif isinstance(node, ast.Expr):
                yield from self._thrown_away(node)
            elif isinstance(node, ast.Compare):
                yield from self._identity(node)
            elif isinstance(node, ast.Call):
                yield from self._call(node, scope)
            elif isinstance(node, ast.For):
                yield from self._burning(node, scope)
            elif isinstance(node, ast.While):
                yield from self._never_changes(node, scope)
                for arm, contact in every_pass(node, scope, self.readings):
                    yield _warning("every-pass", arm, *told_of_every_pass(contact))
            elif isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load):
                yield from self._unknown(node, scope)
        for node in ast.walk(self.names.module):
            for body in (getattr(node, "body", None), getattr(node, "orelse", None), getattr(node, "finalbody", None)):
                if isinstance(body, list):
                    yield from self._behind_endless(body)
                    yield from self._set_twice(body)
                    yield from self._bands(body, isinstance(node, ast.If) and body is node.orelse and len(body) == 1)
            if isinstance(node, ast.FunctionDef):
                yield from self._without_global(node)

    def _is_function(self, node: ast.expr, scope: Scope) -> str:
        """The name of a word or function that a node is; empty for anything else."""
        word = self.readings.word(node, scope)
        if word is not None:
            return word.name
        if isinstance(node, ast.Name) and isinstance(self.names.once.get(node.id), ast.FunctionDef):
            return node.id if scope.holder(node.id) is self.names.top else ""
        return ""

    def _brackets(self, node: ast.AST, scope: Scope, called: set[int]) -> Iterator[Hint]:
        """`if touched:` asks whether there is such a function, which is always so."""
        asked: list[ast.expr] = []
        if isinstance(node, ast.If | ast.While | ast.IfExp):
            asked = [node.test]
        elif isinstance(node, ast.BoolOp):
            asked = node.values
        elif isinstance(node, ast.UnaryOp):
            asked = [node.operand]
        elif isinstance(node, ast.Compare):
            asked = [node.left, *node.comparators]
        elif isinstance(node, ast.BinOp):
            asked = [node.left, node.right]
        elif isinstance(node, ast.Expr):
            asked = [node.value]
        for item in asked:
            name = self._is_function(item, scope) if id(item) not in called else ""
            if name:
                message = f'"{name}" stands here without its brackets, so it is not called.'
                shown = ast.unparse(item)
                yield _warning("no-brackets", item, message, f"Write: {shown}()", f"{shown}()")

    def _written_over(self, node: ast.Assign | ast.AugAssign) -> Iterator[Hint]:
        targets = node.targets if isinstance(node, ast.Assign) else [node.target]
        for target in targets:
            for item in target.elts if isinstance(target, ast.Tuple) else [target]:
                if not isinstance(item, ast.Name):
                    continue
                meaning = self.names.written_over.get(item.id)
                if isinstance(meaning, BoundWord) and meaning.given is not None:
                    message = f'"{item.id}" is a word of the class; from here on it is a value, and cannot be called.'
                    yield _warning("written-over", item, message, "Give the value another name.")

    def _thrown_away(self, node: ast.Expr) -> Iterator[Hint]:
        if isinstance(node.value, ast.Compare) and any(isinstance(op, ast.Eq) for op in node.value.ops):
            message = "This compares two values and does nothing with the answer."
            yield _warning("compared-for-nothing", node, message, "Write one = to give the name a value.")

    def _identity(self, node: ast.Compare) -> Iterator[Hint]:
        for op, right in zip(node.ops, node.comparators, strict=True):
            literal = isinstance(right, ast.Constant) and isinstance(right.value, int | float | str)
            if isinstance(op, ast.Is | ast.IsNot) and literal and not isinstance(right.value, bool):  # type: ignore[attr-defined]
                sign = "==" if isinstance(op, ast.Is) else "!="
                message = '"is" asks whether two things are the same thing, not whether they are equal.'
                yield _warning("is-for-equal", node, message, f"Write {sign}.")

    def _call(self, node: ast.Call, scope: Scope) -> Iterator[Hint]:
        word = self.readings.word(node.func, scope)
        if word is not None:
            for given, value in zip(word.given or (), node.args, strict=False):
                number = value.value if isinstance(value, ast.Constant) else None
                slip = slipped_unit(given, number)
                if slip:
                    yield replace(_warning("unit-slipped", value, *slip), level="advice")
            return
        if not isinstance(node.func, ast.Name) or scope.holder(node.func.id) is not self.names.top:
            return
        known = self.names.once.get(node.func.id)
        if not isinstance(known, ast.FunctionDef) or any(isinstance(value, ast.Starred) for value in node.args):
            return
        args = known.args
        count, most = len(node.args) + len(node.keywords), len(args.posonlyargs) + len(args.args) + len(args.kwonlyargs)
        needed = most - len(args.defaults) - sum(value is not None for value in args.kw_defaults)
        if args.vararg is None and not needed <= count <= most:
            wanted = str(most) if needed == most else f"{needed} to {most}"
            message = f'"{known.name}" takes {wanted} value{"" if wanted == "1" else "s"}, and {count} are given.'
            yield _warning("value-count", node, message, "Add or take away a value; here the program breaks off.")

    def _burning(self, node: ast.For, scope: Scope) -> Iterator[Hint]:
        """A counted loop that does nothing: nobody knows how long it lasts."""
        if not all(isinstance(item, ast.Pass) for item in node.body) or not isinstance(node.iter, ast.Call):
            return
        last = node.iter.args[-1] if node.iter.args else None
        if isinstance(last, ast.Constant) and isinstance(last.value, int) and last.value >= LONG_COUNT:
            message = "This loop only counts, to let time pass; how long that is, nobody knows, and here it takes none."
            yield _warning("burns-time", node, message, "Wait with a word of the class, or time.sleep().")

    def _never_changes(self, node: ast.While, scope: Scope) -> Iterator[Hint]:
        """A loop whose condition looks at values that nothing in it changes."""
        names = {item.id for item in ast.walk(node.test) if isinstance(item, ast.Name)}
        if isinstance(node.test, ast.Constant) or not names or self.names.timing.watched:
            return
        if any(isinstance(item, ast.Call | ast.Attribute | ast.Subscript) for item in ast.walk(node.test)):
            return
        if any(self.names.meaning(item, scope) for item in ast.walk(node.test) if isinstance(item, ast.expr)):
            return
        for item in (inner for statement in node.body for inner in inside(statement)):
            if isinstance(item, ast.Break | ast.Return | ast.Raise):
                return
            if isinstance(item, ast.Name) and isinstance(item.ctx, ast.Store) and item.id in names:
                return
            if isinstance(item, ast.Call) and self.names.meaning(item.func, scope) is None:
                return  # a function of the program may change it
        shown = ", ".join(sorted(names))
        message = f"Nothing in this loop changes {shown}, so once it is begun it never ends."
        yield _warning("never-changes", node, message, "Look at the sensor again inside the loop.")

    def _unknown(self, node: ast.Name, scope: Scope) -> Iterator[Hint]:
        names = self.names
        if scope.holder(node.id) is not None or node.id in names.meanings or node.id == "__name__":
            return
        if id(node) in self.annotations:
            return
        if node.id in _PYTHON or node.id in PLAIN_BASES or (node.id == "auto" and scope.kind == "class"):
            return
        message = f'Nothing is called "{node.id}" here, so the program breaks off when it comes to this.'
        remedy = "Correct the name, give it a value first, or import it."
        yield _warning("unknown-name", node, message, remedy)

    def _behind_endless(self, body: list[ast.stmt]) -> Iterator[Hint]:
        for statement, behind in pairwise(body):
            if not isinstance(statement, ast.While) or statement.orelse:
                continue
            endless = isinstance(statement.test, ast.Constant) and bool(statement.test.value)
            leaves = any(
                isinstance(item, ast.Return | ast.Raise) or (isinstance(item, ast.Break) and _own(item, statement))
                for item in inside(statement)
            )
            exits = any(
                isinstance(item, ast.Call) and isinstance(self.names.meaning(item.func, self.names.top), Own)
                for item in inside(statement)
            )
            if endless and not leaves and not exits:
                message = "The loop above never ends, so this is never reached."
                yield _warning("behind-endless", behind, message, "Leave the loop with break, or move this.")

    def _bands(self, body: list[ast.stmt], elif_: bool) -> Iterator[Hint]:
        scope = self.scope_of.get(body[0]) if body and not elif_ else None
        for told in band_hints(body, scope, self.readings) if scope is not None else ():
            yield _warning(told.code, told.place, told.message, told.remedy)

    def _set_twice(self, body: list[ast.stmt]) -> Iterator[Hint]:
        scope = self.scope_of.get(body[0]) if body else None
        if scope is not None:
            calls = [self.readings.called(item.value, scope) if isinstance(item, ast.Expr) else None for item in body]
            for told in set_twice(calls):
                yield _warning(told.code, told.place, told.message, told.remedy)

    def _without_global(self, node: ast.FunctionDef) -> Iterator[Hint]:
        """A name of the module that a function gives a value of its own, without saying global."""
        scope = self.names.scopes[node]
        parameters = {item.arg for item in (*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs)}
        top = {name for name in self.names.top.assigned if name not in self.names.once}
        for name in sorted((scope.assigned & top) - parameters - set(scope.outer)):
            stores = [i for s in node.body for i in inside(s) if isinstance(i, ast.Name) and i.id == name]
            first = min(stores, key=lambda item: (item.lineno, item.col_offset), default=None)
            read = any(isinstance(item.ctx, ast.Load) for item in stores)
            changed = any(
                isinstance(item, ast.AugAssign) and isinstance(item.target, ast.Name) and item.target.id == name
                for statement in node.body
                for item in inside(statement)
            )
            if first is not None and (changed or not read):
                message = f'"{name}" is set here for this function alone; the one outside stays as it is.'
                remedy = f"Write at the start of {node.name}: global {name}"
                yield _warning("no-global", first, message, remedy)

    def thresholds(self) -> Iterator[Threshold]:
        """The numbers that readings are compared with."""
        for node, scope in self.scope_of.items():
            if not isinstance(node, ast.Compare):
                continue
            items = [node.left, *node.comparators]
            for left, right in pairwise(items):
                for reading, number in ((left, right), (right, left)):
                    word, literal = self.readings.reading(reading, scope), self.readings.literal(number, scope)
                    if word is None or literal is None:
                        continue
                    found = threshold(word, float(literal.value), span_of(literal))  # type: ignore[arg-type]
                    if found is not None:
                        yield found

    def settings(self) -> Iterator[Setting]:
        """The numbers that calls of the class's words set something with."""
        for node, scope in self.scope_of.items():
            performed = self.readings.performed(node, scope) if isinstance(node, ast.Call) else None
            if performed is not None and isinstance(node, ast.Call):
                word, parts = performed
                given = [item and (item[0], span_of(item[1])) for item in self.readings.given(node, word, scope)]
                yield from settings_of(word, parts, node.lineno, given)

    def waiting_loops(self) -> Iterator[WaitingLoop]:
        """The loops whose end is asked of readings."""
        top = {id(node) for node in self.names.module.body}
        for node, scope in self.scope_of.items():
            if not isinstance(node, ast.While):
                continue
            tests = [node.test]
            tests += [
                item.test
                for item in node.body
                if isinstance(item, ast.If) and any(isinstance(inner, ast.Break) for inner in ast.walk(item))
            ]
            asked = [item for test in tests for item in ast.walk(test) if isinstance(item, ast.expr)]
            words = [self.readings.reading(item, scope) for item in asked]
            parts = tuple(dict.fromkeys(part for word in words if word is not None for part in parts_read(word)))
            if parts:
                calls = [item for inner in node.body for item in ast.walk(inner) if isinstance(item, ast.Call)]
                meant = [self.readings.word(call.func, scope) for call in calls]
                quiet = all(word is not None and not commands(word) for word in meant)
                yield WaitingLoop(node.lineno, node.end_lineno or node.lineno, parts, id(node) in top and quiet)


def _annotations(module: ast.Module) -> set[int]:
    """The nodes that only say of what type something is."""
    said: list[ast.expr | None] = []
    for node in ast.walk(module):
        if isinstance(node, ast.AnnAssign | ast.arg):
            said.append(node.annotation)
        elif isinstance(node, ast.FunctionDef):
            said.append(node.returns)
    return {id(inner) for item in said if item is not None for inner in ast.walk(item)}


def _own(item: ast.Break, loop: ast.While) -> bool:
    """Whether a break leaves this loop, and not one inside it."""
    inner = [node for node in inside(loop) if isinstance(node, ast.While | ast.For) and node is not loop]
    return not any(item is found for node in inner for found in inside(node))


_PYTHON = frozenset(dir(builtins))
