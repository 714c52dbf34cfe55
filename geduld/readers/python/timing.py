"""Which functions of a Python program may take time, and which may touch the world.

It goes by names: who may call something that takes time is taken to do so. That is never too few.
"""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator

from geduld.readers.python.builtins import FUNCTIONS
from geduld.readers.python.imports import Meaning, Own, Space
from geduld.readers.python.methods import NAMES as METHODS
from geduld.readers.python.names import inside
from geduld.script.timing import interrupts, word_takes_time
from geduld.wordbook.bound import BoundThing, BoundWord

_QUIET = FUNCTIONS | {"print", "super", "type", "input"}


class Timing:
    """The names of what may take time (`timed`) and of what may touch the world (`touching`).

    In a program that is `watched` for interrupts a loop may take time though it does nothing: until one comes.
    """

    def __init__(self, nodes: list[ast.AST], names: dict[str, Meaning], things: Iterable[BoundThing]) -> None:
        self.names = names
        self.functions: dict[str, list[ast.AST]] = {}
        self.thing_words = {word.name: word for thing in things for word in thing.words.values()}
        self.timed: set[str] = set()
        self.touching: set[str] = set()
        self.loose = False
        self.classes = {node.name for node in nodes if isinstance(node, ast.ClassDef)}
        self.rebound = set(_rebound(nodes))
        for node in nodes:
            if isinstance(node, ast.FunctionDef):
                self.functions.setdefault(node.name, []).append(node)
            elif isinstance(node, ast.ClassDef):
                self.functions.setdefault(node.name, [])
        self.watched = any(self._asks(node) for node in nodes)
        self._given_names(nodes)
        self._settle()

    def _asks(self, node: ast.AST) -> bool:
        """Whether a name is that of a word that asks for interrupts."""
        if not isinstance(node, ast.Name | ast.Attribute):
            return False
        meaning = self._dotted(node)
        if meaning is None and isinstance(node, ast.Attribute):
            meaning = self.thing_words.get(node.attr)
        return isinstance(meaning, BoundWord) and interrupts(meaning)

    def _given_names(self, nodes: list[ast.AST]) -> None:
        """Whether functions or words are given on as values: then any call of what nobody knows may be one of these."""
        called = {id(node.func) for node in nodes if isinstance(node, ast.Call)}
        for node in nodes:
            if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load) and id(node) not in called:
                self.loose |= node.id in self.functions or isinstance(self.names.get(node.id), BoundWord)
            elif isinstance(node, ast.Lambda):
                self.loose = True
            elif isinstance(node, ast.Attribute) and isinstance(node.ctx, ast.Load) and id(node) not in called:
                self.loose |= node.attr in self.functions or isinstance(self._dotted(node), BoundWord)

    def _settle(self) -> None:
        # a function called like a word of an object that waits is a generator, as every method of that name is
        alike = {name for name, word in self.thing_words.items() if word_takes_time(word)}
        self.timed |= alike & self.functions.keys()
        changed = True
        while changed:
            changed = False
            for name, bodies in self.functions.items():
                if name not in self.touching and any(self.touches(item) for body in bodies for item in _body(body)):
                    self.touching.add(name)
                    changed = True
                if name not in self.timed and any(self.takes_time(item) for body in bodies for item in _body(body)):
                    self.timed.add(name)
                    changed = True

    def _dotted(self, node: ast.expr) -> Meaning | None:
        """What a dotted name that begins with a module means."""
        if isinstance(node, ast.Name):
            return self.names.get(node.id)
        if isinstance(node, ast.Attribute):
            found = self._dotted(node.value)
            return found.inside.get(node.attr) if isinstance(found, Space) else None
        return None

    def touches(self, node: ast.AST) -> bool:
        """Whether something in a node may look at the world or change it."""
        return any(self._one(item, False) for item in inside(node))

    def takes_time(self, node: ast.AST) -> bool:
        """Whether something in a node may take time: a wait, or a loop that looks at the world."""
        return any(
            self._one(item, True) or (isinstance(item, ast.While) and (self.watched or self.touches(item)))
            for item in inside(node)
        )

    def _one(self, node: ast.AST, time: bool) -> bool:
        known = self.timed if time else self.touching
        if isinstance(node, ast.Attribute | ast.Name) and isinstance(node.ctx, ast.Load):
            meaning = self._dotted(node)
            if isinstance(meaning, BoundWord) and meaning.constant is None:
                return word_takes_time(meaning) if time else True
            if isinstance(meaning, Own):
                return False
            if isinstance(node, ast.Attribute) and meaning is None and node.attr in self.thing_words:
                return word_takes_time(self.thing_words[node.attr]) if time else True
            return False
        if not isinstance(node, ast.Call):
            return False
        callee = node.func
        if isinstance(callee, ast.Name):
            if callee.id in self.functions and self._one_of(callee.id, known):
                return True
            if callee.id not in self.rebound and (
                callee.id in self.functions or callee.id in self.names or callee.id in _QUIET
            ):
                return False  # a word is seen as a name
            return self.loose and self._any(known, time)
        if isinstance(callee, ast.Attribute):
            if self._dotted(callee) is not None:
                return False
            if callee.attr in self.functions and self._one_of(callee.attr, known):
                return True
            if callee.attr not in self.rebound and (
                callee.attr in self.functions or callee.attr in METHODS or callee.attr in self.thing_words
            ):
                return False
            return self.loose and self._any(known, time)
        return self.loose and self._any(known, time)

    def _one_of(self, name: str, known: set[str]) -> bool:
        """Whether a function, or the making of an object, is among those known: all of one name are alike."""
        return name in known or (name in self.classes and "__init__" in known)

    def call_takes_time(self, node: ast.Call) -> bool:
        """Whether what a call performs may take time, whatever its values do."""
        return self._one(node, True)

    def _any(self, known: set[str], time: bool) -> bool:
        if known:
            return True
        words = [*_words_in(self.names.values()), *self.thing_words.values()]
        return any(word_takes_time(word) for word in words) if time else bool(words)


def _rebound(nodes: list[ast.AST]) -> Iterator[str]:
    """The names that may stand for anything: variables, parameters, and attributes that are set."""
    for node in nodes:
        if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            yield node.id
        elif isinstance(node, ast.Attribute) and isinstance(node.ctx, ast.Store):
            yield node.attr
        elif isinstance(node, ast.arg):
            yield node.arg


def _words_in(meanings: Iterable[Meaning]) -> Iterator[BoundWord]:
    """The words among some meanings, and in the modules among them."""
    for meaning in meanings:
        if isinstance(meaning, BoundWord):
            yield meaning
        elif isinstance(meaning, Space):
            yield from _words_in(meaning.inside.values())


def _body(node: ast.AST) -> list[ast.stmt]:
    return node.body if isinstance(node, ast.FunctionDef) else []
