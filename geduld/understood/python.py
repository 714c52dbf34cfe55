"""A program in Python, read aloud."""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator

from geduld.readers.python.meanings import Names
from geduld.readers.python.names import Scope
from geduld.readers.python.program import PythonProgram
from geduld.understood.page import Line, Page, stitched
from geduld.understood.phrases import (
    ALONE,
    AND,
    COMPARED,
    NOT,
    OR,
    PRODUCT,
    SIGNED,
    SUM,
    ClassWords,
    Phrase,
    compared,
)  # fmt: skip
from geduld.wordbook.bound import PART, BoundThing, BoundWord

_SIGNS: dict[type[ast.AST], tuple[str, int]] = {
    ast.Add: ("+", SUM), ast.Sub: ("-", SUM), ast.Mult: ("*", PRODUCT), ast.Div: ("/", PRODUCT),
}  # fmt: skip
_COMPARES: dict[type[ast.AST], str] = {
    ast.Eq: "=", ast.NotEq: "!=", ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Is: "is",
    ast.IsNot: "is not", ast.In: "is among", ast.NotIn: "is not among",
}  # fmt: skip


_ALONE = (ast.Subscript, ast.Attribute, ast.List, ast.Dict, ast.JoinedStr)


def python_aloud(program: PythonProgram) -> tuple[Line, ...]:
    """What a program without errors was understood as."""
    assert program.names is not None
    aloud = _Aloud(program, program.names)
    aloud.block(program.module.body, program.names.top)
    return tuple(aloud.page.lines)


class _Aloud:
    """Statements and expressions of one program."""

    def __init__(self, program: PythonProgram, names: Names) -> None:
        self.names = names
        self.page = Page()
        self.words = ClassWords(program.books, names.ports)
        self.text = program.text.encode()
        starts = [0]
        for line in program.text.split("\n"):
            starts.append(starts[-1] + len(line.encode()) + 1)
        self.starts = starts

    # Statements

    def block(self, statements: Iterable[ast.stmt], scope: Scope) -> None:
        """Statements one after another."""
        for node in statements:
            writer = getattr(self, f"_{type(node).__name__.lower()}_", None)
            if writer is not None:
                writer(node, scope)
            elif not isinstance(node, ast.Import | ast.ImportFrom | ast.Global | ast.Nonlocal | ast.Pass):
                self.page.say(node.lineno, self._source(node, scope))

    def _under(self, line: int, head: str, body: Iterable[ast.stmt], scope: Scope) -> None:
        with self.page.under(line, head):
            self.block(body, scope)

    def _expr_(self, node: ast.Expr, scope: Scope) -> None:
        if isinstance(node.value, ast.Constant):
            return
        for text in self._done(node.value, scope):
            self.page.say(node.lineno, text)

    def _done(self, node: ast.expr, scope: Scope) -> list[str]:
        """What is called for what it does."""
        if isinstance(node, ast.Call):
            word, part = self._word(node.func, scope)
            if word is not None:
                return self.words.steps(word, self._values(node, word, part, scope), part)
            name = self.names.builtin(node.func, scope)
            if name == "print":
                return [f"note {', '.join(self.told(value, scope) for value in node.args) or 'nothing'}"]
            if isinstance(node.func, ast.Name) and scope.holder(node.func.id) is not None:
                return [self._performed(node, scope)]
        return [self.told(node, scope)]

    def _performed(self, node: ast.Call, scope: Scope) -> str:
        given = [self.told(value, scope) for value in node.args]
        given += [f"{keyword.arg}: {self.told(keyword.value, scope)}" for keyword in node.keywords]
        return f"{self._source(node.func, scope)}{' with ' if given else ''}{', '.join(given)}"

    def _assign_(self, node: ast.Assign, scope: Scope) -> None:
        things = self._made(node.value, scope)
        for target in node.targets:
            name = self.told(target, scope)
            value = self.said(node.value, scope).kept
            self.page.say(node.lineno, f"{name} is {things}" if things else f"set {name} to {value}")

    def _made(self, node: ast.expr, scope: Scope) -> str:
        """The part that an object is made of."""
        if isinstance(node, ast.Call) and isinstance(self.names.meaning(node.func, scope), BoundThing):
            part = self._part_of(node)
            return f"the part {part}" if part else ""
        return ""

    def _annassign_(self, node: ast.AnnAssign, scope: Scope) -> None:
        if node.value is not None:
            self._assign_(ast.copy_location(ast.Assign([node.target], node.value), node), scope)

    def _augassign_(self, node: ast.AugAssign, scope: Scope) -> None:
        name = self.told(node.target, scope)
        value = ast.copy_location(ast.BinOp(node.target, node.op, node.value), node)
        self.page.say(node.lineno, f"set {name} to {self._binop(value, scope).told}")

    def _if_(self, node: ast.If, scope: Scope, word: str = "if") -> None:
        if _is_entry(node.test):
            self.block(node.body, scope)
            return
        self._under(node.lineno, f"{word} {self.told(node.test, scope)}:", node.body, scope)
        if len(node.orelse) == 1 and isinstance(node.orelse[0], ast.If):
            self._if_(node.orelse[0], scope, "else if")
        elif node.orelse:
            self._under(node.orelse[0].lineno, "else:", node.orelse, scope)

    def _while_(self, node: ast.While, scope: Scope) -> None:
        endless = isinstance(node.test, ast.Constant) and node.test.value
        head = "repeat:" if endless else f"repeat while {self.told(node.test, scope)}:"
        self._under(node.lineno, head, node.body, scope)
        self._not_left(node, scope)

    def _for_(self, node: ast.For, scope: Scope) -> None:
        name, over = self.told(node.target, scope), node.iter
        if isinstance(over, ast.Call) and self.names.builtin(over.func, scope) == "range" and len(over.args) == 1:
            times = self.said(over.args[0], scope).at(ALONE)
            head = f"repeat {times} times:" if name == "_" else f"repeat {times} times, {name} from 0 on:"
        else:
            head = f"repeat with {name} as each of {self.told(over, scope)}:"
        self._under(node.lineno, head, node.body, scope)
        self._not_left(node, scope)

    def _not_left(self, node: ast.While | ast.For, scope: Scope) -> None:
        if node.orelse:
            self._under(node.orelse[0].lineno, "if it was not left before its end:", node.orelse, scope)

    def _break_(self, node: ast.Break, scope: Scope) -> None:
        self.page.say(node.lineno, "leave")

    def _continue_(self, node: ast.Continue, scope: Scope) -> None:
        self.page.say(node.lineno, "begin the next pass")

    def _return_(self, node: ast.Return, scope: Scope) -> None:
        value = "" if node.value is None else f" with {self.told(node.value, scope)}"
        self.page.say(node.lineno, f"go back{value}")

    def _raise_(self, node: ast.Raise, scope: Scope) -> None:
        why = "" if node.exc is None else f" with {self.told(node.exc, scope)}"
        self.page.say(node.lineno, f"break off{why}")

    def _try_(self, node: ast.Try, scope: Scope) -> None:
        self._under(node.lineno, "try:", node.body, scope)
        for handler in node.handlers:
            kind = f" with {self.told(handler.type, scope)}" if handler.type is not None else ""
            self._under(handler.lineno, f"when that breaks off{kind}:", handler.body, scope)
        if node.orelse:
            self._under(node.orelse[0].lineno, "when it does not:", node.orelse, scope)
        if node.finalbody:
            self._under(node.finalbody[0].lineno, "in any case, at its end:", node.finalbody, scope)

    def _functiondef_(self, node: ast.FunctionDef, scope: Scope) -> None:
        given = self._source(node.args, scope) if node.args.args or node.args.vararg else ""
        self._under(
            node.lineno, f"to {node.name}{' with ' if given else ''}{given}:", node.body, self._inner(node, scope)
        )

    def _classdef_(self, node: ast.ClassDef, scope: Scope) -> None:
        self._under(node.lineno, f"things called {node.name}:", node.body, self._inner(node, scope))

    def _inner(self, node: ast.AST, scope: Scope) -> Scope:
        return self.names.scopes.get(node, scope)

    # Expressions

    def told(self, node: ast.expr, scope: Scope) -> str:
        """An expression by itself."""
        return self.said(node, scope).told

    def said(self, node: ast.expr, scope: Scope) -> Phrase:
        """An expression."""
        writer = getattr(self, f"_{type(node).__name__.lower()}", None)
        found: Phrase | None = writer(node, scope) if writer is not None else None
        if found is not None:
            return found
        return Phrase(self._source(node, scope), ALONE if isinstance(node, _ALONE) else OR)

    def _source(self, node: ast.AST, scope: Scope) -> str:
        """The student's own text, with the expressions in it said in other words."""
        first, last = self._ends(node)
        pieces = [
            (*self._ends(inner), self.told(inner, around))
            for inner, around in self._expressions_in(node, scope)
            if not isinstance(node, ast.JoinedStr) and self._ends(inner) != (first, last)
        ]
        text = self.text[first:last]
        return stitched(text.decode("utf-8", "replace"), first, pieces) if text.isascii() else text.decode()

    def _expressions_in(self, node: ast.AST, scope: Scope) -> Iterator[tuple[ast.expr, Scope]]:
        for child in ast.iter_child_nodes(node):
            around = self._inner(node, scope)
            if isinstance(child, ast.expr):
                yield child, around
            elif not isinstance(child, ast.stmt):
                yield from self._expressions_in(child, around)

    def _ends(self, node: ast.AST) -> tuple[int, int]:
        """Where a node's text begins and ends, in bytes."""
        if not hasattr(node, "lineno"):
            ends = [
                self._ends(child) for child in ast.iter_child_nodes(node) if not isinstance(child, ast.expr_context)
            ]
            return min(first for first, _ in ends), max(last for _, last in ends)
        assert isinstance(node, ast.expr | ast.stmt | ast.arg | ast.keyword) and node.end_lineno is not None
        first = self.starts[node.lineno - 1] + node.col_offset
        return first, self.starts[node.end_lineno - 1] + (node.end_col_offset or 0)

    def _constant(self, node: ast.Constant, scope: Scope) -> Phrase:
        if node.value is None:
            return Phrase("absent")
        if isinstance(node.value, bool):
            return Phrase("true" if node.value else "false")
        if isinstance(node.value, int | float):
            return Phrase(self._source(node, scope), ALONE, "", float(min(node.value, 1e300)))
        return Phrase(self._source(node, scope))

    def _name(self, node: ast.Name, scope: Scope) -> Phrase:
        meaning = self.names.meaning(node, scope)
        if isinstance(meaning, BoundWord) and (meaning.constant is not None or meaning.given is None):
            return self.words.value(meaning, [])
        return Phrase(f"the word {node.id} itself" if isinstance(meaning, BoundWord) else node.id)

    def _attribute(self, node: ast.Attribute, scope: Scope) -> Phrase | None:
        word, part = self._word(node, scope)
        if word is not None and (word.constant is not None or word.given is None):
            return self.words.value(word, [], part)
        return None

    def _unaryop(self, node: ast.UnaryOp, scope: Scope) -> Phrase:
        inner = self.said(node.operand, scope)
        if isinstance(node.op, ast.Not):
            return Phrase(f"not {inner.at(NOT)}", NOT)
        if isinstance(node.op, ast.USub):
            number = None if inner.number is None else -inner.number
            return Phrase(f"-{inner.at(SIGNED)}", SIGNED, "", number)
        return Phrase(self._source(node, scope), SIGNED)

    def _binop(self, node: ast.BinOp, scope: Scope) -> Phrase:
        left, right = self.said(node.left, scope), self.said(node.right, scope)
        sign, rank = _SIGNS.get(type(node.op), ("", OR))
        if sign:
            return Phrase(f"{left.at(rank)} {sign} {right.at(rank + 1)}", rank)
        between = self._sign_between(node)
        return Phrase(f"{left.at(SIGNED)} {between} {right.at(SIGNED)}", OR)

    def _sign_between(self, node: ast.BinOp) -> str:
        names = {
            ast.FloorDiv: "//", ast.Mod: "mod", ast.Pow: "to the power", ast.LShift: "<<", ast.RShift: ">>",
            ast.BitAnd: "bitwise and", ast.BitOr: "bitwise or", ast.BitXor: "bitwise xor",
        }  # fmt: skip
        return names.get(type(node.op), "?")

    def _boolop(self, node: ast.BoolOp, scope: Scope) -> Phrase:
        word, rank = ("and", AND) if isinstance(node.op, ast.And) else ("or", OR)
        return Phrase(f" {word} ".join(self.said(value, scope).at(rank + 1) for value in node.values), rank)

    def _compare(self, node: ast.Compare, scope: Scope) -> Phrase:
        told, left = [], node.left
        for sign, right in zip(node.ops, node.comparators, strict=True):
            if isinstance(right, ast.Constant) and right.value is None:
                no = "not " if isinstance(sign, ast.NotEq | ast.IsNot) else ""
                told.append(f"{no}{self.said(left, scope).sure.text} is absent")
            else:
                told.append(compared(_COMPARES[type(sign)], self.said(left, scope), self.said(right, scope)).text)
            left = right
        return Phrase(" and ".join(told), COMPARED if len(told) == 1 else AND)

    def _ifexp(self, node: ast.IfExp, scope: Scope) -> Phrase:
        one, other = self.said(node.body, scope), self.said(node.orelse, scope)
        return Phrase(f"{one.at(OR)} if {self.told(node.test, scope)}, else {other.at(OR)}", OR)

    def _call(self, node: ast.Call, scope: Scope) -> Phrase | None:
        word, part = self._word(node.func, scope)
        if word is None:
            return Phrase(self._source(node, scope))
        if word.what:
            return self.words.value(word, self._values(node, word, part, scope), part)
        return Phrase("; ".join(self.words.steps(word, self._values(node, word, part, scope), part)), OR)

    def _word(self, node: ast.expr, scope: Scope) -> tuple[BoundWord | None, str]:
        """The word that is meant, and the part of the object it is called on."""
        meaning = self.names.meaning(node, scope)
        if isinstance(meaning, BoundWord):
            return meaning, ""
        own = isinstance(node, ast.Attribute) and node.attr in self.names.timing.functions
        if isinstance(node, ast.Attribute) and meaning is None and not own and node.attr in self.words.object_words:
            return self.words.object_words[node.attr], self._part_of(node.value) or self._source(node.value, scope)
        return None, ""

    def _part_of(self, node: ast.expr) -> str:
        """The part of an object: made here, or by the one assignment that its name has."""
        if isinstance(node, ast.Name):
            values = self.names.kinds.assigned.get((self.names.top, node.id), [])
            if len(values) == 1 and isinstance(values[0][0], ast.Call):
                return self._part_of(values[0][0])
        if isinstance(node, ast.Call) and isinstance(self.names.meaning(node.func, self.names.top), BoundThing):
            given = [*node.args, *(keyword.value for keyword in node.keywords)]
            if given and isinstance(given[0], ast.Constant):
                return self.words.part(given[0].value, "")
        return ""

    def _values(self, node: ast.Call, word: BoundWord, part: str, scope: Scope) -> list[Phrase]:
        """The values of a call in the order of the word's parameters, as far as they are given."""
        given = [one for one in word.given or () if not (part and one.what == PART)]
        found = {index: self.said(value, scope) for index, value in enumerate(node.args)}
        for keyword in node.keywords:
            place = next((index for index, one in enumerate(given) if one.name == keyword.arg), None)
            if place is not None:
                found[place] = self.said(keyword.value, scope)
        defaults = [Phrase(str(one.default), ALONE, "", _number(one.default)) for one in given]
        return [found.get(index, default) for index, default in enumerate(defaults)]


def _number(value: object) -> float | None:
    return float(value) if isinstance(value, int | float) else None


def _is_entry(node: ast.expr) -> bool:
    """Whether this is the question of a module whether it is the program."""
    return isinstance(node, ast.Compare) and isinstance(node.left, ast.Name) and node.left.id == "__name__"
