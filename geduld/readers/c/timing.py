"""Which functions of a C program may take time, and which may touch the world. It goes by names, never too few."""

from __future__ import annotations

from collections.abc import Mapping

from tree_sitter import Node

from geduld.readers.c.names import Function, Names
from geduld.readers.c.syntax import text_of, walk
from geduld.script.timing import interrupts, word_takes_time
from geduld.wordbook.bound import BoundWord

LOOPS = ("while_statement", "do_statement", "for_statement")


class Timing:
    """The names of the functions that take time (`timed`) and of those that touch the world (`touching`).

    In a program that is `watched` for interrupts a loop may take time though it does nothing: until one comes.
    """

    def __init__(self, names: Names, functions: Mapping[str, Function], watched: bool) -> None:
        self.watched = watched
        self.words: dict[str, list[BoundWord]] = {}
        for book in names.books:
            for name, word in book.words.items():
                self.words.setdefault(name.split(".")[-1], []).append(word)
            for thing in book.things.values():
                for name, word in thing.words.items():
                    self.words.setdefault(name, []).append(word)
        self.timed: set[str] = set()
        self.touching: set[str] = set()
        changed = True
        while changed:
            changed = False
            for name, function in functions.items():
                if function.body is None:
                    continue
                if name not in self.touching and self.touches(function.body):
                    self.touching.add(name)
                    changed = True
                if name not in self.timed and self.takes_time(function.body):
                    self.timed.add(name)
                    changed = True

    def touches(self, node: Node | None) -> bool:
        """Whether something in a node may look at the world or change it."""
        return node is not None and any(self._touching(item) for item in walk(node))

    def _touching(self, node: Node) -> bool:
        if node.type not in ("identifier", "field_identifier"):
            return False
        name = text_of(node)
        return name in self.touching or any(word.constant is None for word in self.words.get(name, ()))

    def takes_time(self, node: Node | None) -> bool:
        """Whether something in a node may take time: a wait, or a loop that looks at the world."""
        if node is None:
            return False
        for item in walk(node):
            if item.type in ("identifier", "field_identifier"):
                name = text_of(item)
                if name in self.timed or any(word_takes_time(word) for word in self.words.get(name, ())):
                    return True
            elif item.type in LOOPS and not is_counted(item) and (self.watched or self.touches(item)):
                return True
        return False


def uses_interrupts(root: Node, names: Names) -> bool:
    """Whether a program names a word that asks for interrupts."""
    asking = {name for book in names.books for name, word in book.words.items() if interrupts(word)}
    asking |= {
        name
        for book in names.books
        for thing in book.things.values()
        for name, w in thing.words.items()
        if interrupts(w)
    }
    return bool(asking) and any(
        item.type in ("identifier", "field_identifier") and text_of(item) in asking for item in walk(root)
    )


def is_counted(node: Node) -> bool:
    """Whether a loop is a `for` with a condition and a step."""
    return (
        node.type == "for_statement"
        and node.child_by_field_name("condition") is not None
        and node.child_by_field_name("update") is not None
    )
