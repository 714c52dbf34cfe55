"""What the expressions of a Python program read: words of the class, values that came from them, and numbers."""

from __future__ import annotations

import ast

from geduld.hints.commanded import Call, commanded
from geduld.readers.python.meanings import Names
from geduld.readers.python.names import Scope
from geduld.wordbook.bound import BoundWord


class Readings:
    """What the expressions of one program read."""

    def __init__(self, names: Names) -> None:
        self.names = names

    def word(self, node: ast.expr, scope: Scope) -> BoundWord | None:
        """The word of the class that a node is."""
        meaning = self.names.meaning(node, scope)
        return meaning if isinstance(meaning, BoundWord) and meaning.given is not None else None

    def reading(self, node: ast.expr, scope: Scope) -> BoundWord | None:
        """The word that a value came from: called here, or the only one that a variable was ever given."""
        if isinstance(node, ast.Call):
            return self.word(node.func, scope)
        if isinstance(node, ast.Name):
            holder = scope.holder(node.id)
            values = self.names.kinds.assigned.get((holder, node.id), []) if holder is not None else []
            words = [self.word(v.func, s) if isinstance(v, ast.Call) else None for v, s in values]
            return words[0] if words and all(word is words[0] for word in words) else None
        return None

    def literal(self, node: ast.expr, scope: Scope) -> ast.Constant | None:
        """A number in the text: here, or where the only value of a name is given."""
        if isinstance(node, ast.Constant) and type(node.value) in (int, float):
            return node
        if isinstance(node, ast.Name):
            holder = scope.holder(node.id)
            values = self.names.kinds.assigned.get((holder, node.id), []) if holder is not None else []
            if len(values) == 1 and values[0][0] is not None and not isinstance(values[0][0], ast.Name):
                return self.literal(values[0][0], values[0][1])
        return None

    def called(self, node: ast.AST, scope: Scope) -> Call[ast.AST] | None:
        """A call of a word of the class, with what it sets; None for anything else."""
        word = self.word(node.func, scope) if isinstance(node, ast.Call) else None
        if word is None or not isinstance(node, ast.Call):
            return None
        given = [*node.args, *(keyword.value for keyword in node.keywords)]
        literals = [self.literal(value, scope) for value in given]
        numbers = [None if item is None else float(item.value) for item in literals]  # type: ignore[arg-type]
        told = list(zip(map(ast.unparse, given), numbers, strict=True))
        return Call(node, node.lineno, word, commanded(word, ast.unparse(node.func), told))

    def performed(self, node: ast.Call, scope: Scope) -> tuple[BoundWord, tuple[str, ...]] | None:
        """The word that a call performs, of an object too, and the parts that it is for.

        None where it is none, or where the text does not say for which parts.
        """
        word = self.word(node.func, scope)
        if word is not None:
            given = dict(zip((one.name for one in word.given or ()), node.args, strict=False))
            given |= {keyword.arg: keyword.value for keyword in node.keywords if keyword.arg is not None}
            parts = [self.names.part(given.get(one.name, ast.Constant(one.default)), scope) for one in word.parts]
            return None if None in parts else (word, tuple(part for part in parts if part is not None))
        thing = self.names.object(node.func.value, scope) if isinstance(node.func, ast.Attribute) else None
        own = thing[0].words.get(node.func.attr) if thing and isinstance(node.func, ast.Attribute) else None
        return (own, (thing[1],)) if thing and own is not None and not own.parts else None

    def given(self, node: ast.Call, word: BoundWord, scope: Scope) -> list[tuple[float, ast.expr] | None]:
        """The values of a call that are numbers in the text, with their signs, by their places; None for any other."""
        if any(isinstance(value, ast.Starred) for value in node.args):
            return []
        names = [one.name for one in word.given or ()]
        values: dict[int, ast.expr] = dict(enumerate(node.args))
        values |= {names.index(keyword.arg): keyword.value for keyword in node.keywords if keyword.arg in names}
        return [self._number(values.get(place), scope) for place in range(max(values, default=-1) + 1)]

    def _number(self, value: ast.expr | None, scope: Scope) -> tuple[float, ast.expr] | None:
        """A number in the text with its sign, and what it is written as; None for anything else."""
        if value is None:
            return None
        inner = value.operand if isinstance(value, ast.UnaryOp) and isinstance(value.op, ast.USub) else value
        literal = self.literal(inner, scope)
        if literal is None:
            return None
        number = float(literal.value)  # type: ignore[arg-type]
        if inner is value:
            return number, literal
        return (-number, value) if literal is inner else None
