"""What is risky about a C program that can be run, seen from its text alone."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import cached_property
from itertools import pairwise

from tree_sitter import Node

from geduld.binding.terms import Setting, Threshold
from geduld.hints.bands import Told
from geduld.hints.commanded import set_twice
from geduld.hints.counters import told_of_every_pass
from geduld.hints.scripts import WaitingLoop
from geduld.language.messages import Hint, Span, error
from geduld.readers.c.bands import band_hints
from geduld.readers.c.names import Names
from geduld.readers.c.passes import every_pass
from geduld.readers.c.preprocess import Macro
from geduld.readers.c.readings import NUMBER, Readings, number_in
from geduld.readers.c.syntax import LEAVES, asks_only_whether, line_of, named, span_of, text_of, walk
from geduld.readers.c.timing import LOOPS, Timing, is_counted
from geduld.script.settings import settings_of
from geduld.script.slips import slipped_unit
from geduld.script.thresholds import commands, parts_read, threshold

_COMPARISONS = ("<", ">", "<=", ">=", "==", "!=")
LONG_COUNT = 1_000
_DECLARING = ("declaration", "init_declarator", "parameter_declaration", "optional_parameter_declaration")


def _warning(code: str, node: Node, message: str, remedy: str, fix: str | None = None) -> Hint:
    return replace(error(code, span_of(node), message, remedy, fix), level="warning")


class CHints:
    """The hints of one program. `text` is as it was written, with its `macros`; `less` are the bytes at which the
    tree's `>` is a `<`.
    """

    def __init__(
        self,
        root: Node,
        names: Names,
        timing: Timing,
        text: str,
        less: frozenset[int],
        macros: Mapping[str, Macro],
    ) -> None:
        self.root = root
        self.names = names
        self.timing = timing
        self.lines = text.split("\n")
        self.readings = Readings(root, names, less)
        self.macros = macros

    def all(self) -> Iterator[Hint]:
        """Every hint."""
        for node in walk(self.root):
            if node.type in ("if_statement", *LOOPS):
                yield from self._empty_body(node)
                yield from self._indented_second(node)
                yield from self._assigned(node)
            if node.type == "while_statement":
                yield from self._never_changes(node)
            if node.type in LOOPS:
                for arm, contact in every_pass(node, self.readings):
                    yield _warning("every-pass", arm, *told_of_every_pass(contact))
            if node.type == "for_statement":
                yield from self._burning(node)
            if node.type == "binary_expression":
                yield from self._chained(node)
                yield from self._one_sign(node)
                yield from self._whole_division(node)
                yield from self._runs_over(node)
            if node.type == "identifier":
                yield from self._no_brackets(node)
            if node.type == "switch_statement":
                yield from self._falls_through(node)
            if node.type == "compound_statement":
                yield from self._behind_endless(node)
                for told in (*band_hints(named(node), self.readings), *self._set_twice(node)):
                    yield _warning(told.code, told.place, told.message, told.remedy)
            if node.type == "function_definition":
                yield from self._never_set(node)
            if node.type == "call_expression":
                yield from self._slipped(node)

    def _no_brackets(self, node: Node) -> Iterator[Hint]:
        """`if (touched)` and `halt;`: C compiles them, and nothing is called."""
        name, word = text_of(node), self.names.word(text_of(node))
        is_word = word is not None and word.constant is None and word.given is not None
        is_function = is_word or name in self.names.functions
        if is_function and name not in self._variables and asks_only_whether(node):
            alone = node.parent is not None and node.parent.type == "expression_statement"
            why = "nothing is called" if alone else "this is always true"
            message = f'"{name}" is a function, and its brackets are missing: {why}.'
            yield _warning("no-brackets", node, message, f"Write: {name}()", f"{name}()")

    @cached_property
    def _variables(self) -> set[str]:
        """The names of all variables and parameters."""
        declared = [node.child_by_field_name("declarator") for node in walk(self.root) if node.type in _DECLARING]
        return {
            text_of(node).lstrip("*& ") for node in declared if node is not None and node.type != "function_declarator"
        }

    def _empty_body(self, node: Node) -> Iterator[Hint]:
        """`while (x > 3);` in front of what was meant to be its body."""
        body = node.child_by_field_name("body") or node.child_by_field_name("consequence")
        if body is None or node.type == "do_statement" or body.type != "expression_statement" or named(body):
            return
        after = node.next_named_sibling
        same_line = body.start_point[0] == node.start_point[0]
        deeper = after is not None and after.start_point[1] > node.start_point[1]
        block = after is not None and after.type == "compound_statement"
        if same_line and (node.type == "if_statement" or deeper or block):
            word = node.type.split("_")[0]
            message = f"The ; here is the whole body of this {word}: what comes below does not belong to it."
            yield _warning("empty-body", body, message, "Take the ; away.", "")

    def _indented_second(self, node: Node) -> Iterator[Hint]:
        """A second line that is indented like the body, but stands outside, because the braces are missing."""
        last = node.child_by_field_name("alternative")
        body = node.child_by_field_name("body") or node.child_by_field_name("consequence")
        if last is not None:
            inner = named(last)
            body = inner[-1] if inner else last
        if body is None or body.type in ("compound_statement", "if_statement") or not named(body):
            return
        after = node.next_named_sibling
        if after is None or after.start_point[0] <= body.start_point[0] or body.start_point[0] == node.start_point[0]:
            return
        if after.start_point[1] == body.start_point[1] and after.start_point[1] > node.start_point[1]:
            message = (
                "This line is indented as if it belonged to the line above the last, but without braces it does not."
            )
            yield _warning("braces-missing", after, message, "Put { and } around both lines.")

    def _assigned(self, node: Node) -> Iterator[Hint]:
        """`if (x = 3)`."""
        test = node.child_by_field_name("condition")
        inner = test.child_by_field_name("value") or test if test is not None else None
        while inner is not None and inner.type == "parenthesized_expression" and named(inner):
            inner = named(inner)[0]
        waiting = [inner] if inner is not None else []
        while waiting:
            item = waiting.pop()
            if item.type == "assignment_expression" and self.readings.sign(item) == "=":
                message = "One = gives the variable a value; it does not compare."
                operator = item.child_by_field_name("operator") or item
                yield _warning("assigned-in-condition", operator, message, "Write == to compare.", "==")
            elif item.type == "binary_expression" and self.readings.sign(item) in ("&&", "||"):
                waiting += named(item)

    def _chained(self, node: Node) -> Iterator[Hint]:
        """`1 < x < 3` compares a yes or no with 3."""
        left = node.child_by_field_name("left")
        if left is None or left.type != "binary_expression":
            return
        if self.readings.sign(node) in _COMPARISONS[:4] and self.readings.sign(left) in _COMPARISONS[:4]:
            message = "In C this compares the answer of the first comparison, 0 or 1, with the last number."
            yield _warning("chained-comparison", node, message, "Write: low < x && x < high")

    def _one_sign(self, node: Node) -> Iterator[Hint]:
        """`a & b` between conditions."""
        sign = self.readings.sign(node)
        if sign not in ("&", "|"):
            return
        sides = [node.child_by_field_name("left"), node.child_by_field_name("right")]
        for side in sides:
            while side is not None and side.type == "parenthesized_expression" and named(side):
                side = named(side)[0]
            if side is not None and side.type == "binary_expression" and self.readings.sign(side) in _COMPARISONS:
                meant = sign * 2
                message = f'"{sign}" works on the bits of two numbers; between conditions stands "{meant}".'
                operator = node.child_by_field_name("operator") or node
                yield _warning("one-sign", operator, message, f"Write {meant}.", meant)
                return

    def _whole_division(self, node: Node) -> Iterator[Hint]:
        """`8 / 10` is 0."""
        if self.readings.sign(node) != "/":
            return
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        if left is None or right is None or {left.type, right.type} != {"number_literal"}:
            return
        one, other = text_of(left), text_of(right)
        if one.isdigit() and other.isdigit() and int(other) and int(one) % int(other):
            found = int(one) // int(other)
            message = f"Between whole numbers / cuts: {one} / {other} is {found}."
            yield _warning("whole-division", node, message, f"Write {one}.0 / {other}.", f"{one}.0 / {other}")

    def _runs_over(self, node: Node) -> Iterator[Hint]:
        """`40 * 1000` where an int has 16 bits."""
        parent = node.parent
        if parent is not None and parent.type == "binary_expression" and self._whole(parent) is not None:
            return
        exact = self._whole(node)
        most = 1 << (self.names.bits - 1)
        if exact is not None and not -most <= exact < most:
            kept = (exact + most) % (2 * most) - most
            message = f"This is {exact}, and an int has {self.names.bits} bits here: it runs over and becomes {kept}."
            yield _warning("runs-over", node, message, "Write L behind one of the numbers, or use long variables.")

    def _whole(self, node: Node, depth: int = 0) -> int | None:
        """The exact value of an expression of int numbers, and of variables that only ever have one; else None."""
        if depth > 20:
            return None
        if node.type == "number_literal":
            text = text_of(node)
            return int(text) if text.isdigit() and int(text) < 1 << (self.names.bits - 1) else None
        if node.type == "parenthesized_expression" and named(node):
            return self._whole(named(node)[0], depth + 1)
        if node.type == "identifier":
            return self.readings.steady_ints.get(text_of(node))
        if node.type != "binary_expression" or self.readings.sign(node) not in ("+", "-", "*"):
            return None
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        one = self._whole(left, depth + 1) if left is not None else None
        other = self._whole(right, depth + 1) if right is not None else None
        if one is None or other is None:
            return None
        return {"+": one + other, "-": one - other, "*": one * other}[self.readings.sign(node)]

    def _falls_through(self, node: Node) -> Iterator[Hint]:
        """A case that goes on into the next, without a word that it is meant."""
        body = node.child_by_field_name("body")
        cases = named(body) if body is not None else []
        for case, following in pairwise(cases):
            label = case.child_by_field_name("value")
            inside = [item for item in named(case) if label is None or item != label]
            if not inside or _ends(inside[-1]):
                continue
            between = "\n".join(self.lines[inside[-1].start_point[0] : following.start_point[0]])
            if re.search(r"fall|no\s*-?break", between, re.IGNORECASE):
                continue
            message = f"This case has no break, so the program goes on into the case in line {line_of(following)}."
            yield _warning(
                "no-break", inside[-1], message, "Write break; behind it, or // falls through where it is meant."
            )

    def _behind_endless(self, node: Node) -> Iterator[Hint]:
        statements = named(node)
        for statement, behind in pairwise(statements):
            if statement.type not in ("while_statement", "for_statement") or behind.type == "return_statement":
                continue
            test = statement.child_by_field_name("condition")
            told = text_of(test).strip("() ") if test is not None else ""
            endless = told in ("1", "true") or (statement.type == "for_statement" and test is None)
            if endless and not _leaves(statement):
                message = "The loop above never ends, so this is never reached."
                yield _warning("behind-endless", behind, message, "Leave the loop with break, or move this.")

    def _set_twice(self, block: Node) -> Iterator[Told[Node]]:
        statements = [item for item in named(block) if item.type != "comment"]
        only = [named(item)[0] if item.type == "expression_statement" and named(item) else None for item in statements]
        return set_twice(self.readings.called(item) if item is not None else None for item in only)

    def _never_changes(self, node: Node) -> Iterator[Hint]:
        """A loop whose condition looks at variables that nothing in it changes."""
        test, body = node.child_by_field_name("condition"), node.child_by_field_name("body")
        if test is None or body is None or self.timing.watched:
            return
        asked = list(walk(test))
        if any(item.type in ("call_expression", "subscript_expression", "field_expression", "update_expression",
                             "assignment_expression", "pointer_expression") for item in asked):  # fmt: skip
            return
        names = {text_of(item) for item in asked if item.type == "identifier"}
        if not names or names & (set(self.names.constants) | {"NULL"}) == names:
            return
        for item in walk(body):
            if item.type in ("break_statement", "return_statement", "goto_statement"):
                return
            if item.type in ("assignment_expression", "update_expression"):
                target = item.child_by_field_name("left") or item.child_by_field_name("argument")
                if target is not None and text_of(target).strip("()*") in names:
                    return
            if item.type == "call_expression":
                callee = item.child_by_field_name("function")
                if callee is not None and text_of(callee) in self.names.functions:
                    return  # a function of the program may change it
            if item.type == "pointer_expression":
                return
        shown = ", ".join(sorted(names))
        message = f"Nothing in this loop changes {shown}, so once it is begun it never ends."
        yield _warning("never-changes", test, message, "Look at the sensor again inside the loop.")

    def _burning(self, node: Node) -> Iterator[Hint]:
        """A counted loop that does nothing: nobody knows how long it lasts."""
        body, test = node.child_by_field_name("body"), node.child_by_field_name("condition")
        if body is None or test is None or named(body):
            return
        for item in walk(test):
            if item.type == "number_literal" and text_of(item).rstrip("uUlL").isdigit():
                if int(text_of(item).rstrip("uUlL")) >= LONG_COUNT:
                    message = (
                        "This loop only counts, to let time pass; how long that is, nobody knows: here it takes none."
                    )
                    yield _warning("burns-time", node, message, "Wait with a word of the class.")
                return

    def _never_set(self, node: Node) -> Iterator[Hint]:
        """A variable that is read and never given a value."""
        declared: dict[str, Node] = {}
        used: set[str] = set()
        given: set[str] = set()
        for item in walk(node):
            if item.type == "declaration":
                words = {text_of(child) for child in item.children if child.type == "storage_class_specifier"}
                kind = item.child_by_field_name("type")
                plain = kind is not None and kind.type in ("primitive_type", "sized_type_specifier")
                if plain and "static" not in words:
                    for declarator in item.children_by_field_name("declarator"):
                        if declarator.type == "identifier":
                            declared[text_of(declarator)] = declarator
            elif item.type in ("assignment_expression", "update_expression"):
                target = item.child_by_field_name("left") or item.child_by_field_name("argument")
                if target is not None and target.type == "identifier" and self.readings.sign(item) == "=":
                    given.add(text_of(target))
            elif item.type == "pointer_expression":
                given |= {text_of(child) for child in named(item)}
            elif item.type == "call_expression":
                callee = item.child_by_field_name("function")
                function = self.names.functions.get(text_of(callee)) if callee is not None else None
                arguments = item.child_by_field_name("arguments")
                if function is not None and arguments is not None:
                    given |= {text_of(child) for child in named(arguments) if child.type == "identifier"}
            elif item.type == "identifier" and item.parent is not None and item.parent.type != "declaration":
                used.add(text_of(item))
        for name, place in declared.items():
            if name in used and name not in given:
                message = f'"{name}" is never given a value: what it holds is left to chance.'
                yield _warning("never-set", place, message, f"Write for example: {name} = 0", f"{name} = 0")

    def _slipped(self, node: Node) -> Iterator[Hint]:
        callee, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        word = self.names.word(text_of(callee)) if callee is not None else None
        if word is None or arguments is None:
            return
        for given, value in zip(word.given or (), named(arguments), strict=False):
            number = number_in(value)
            slip = slipped_unit(given, number)
            if slip:
                yield replace(_warning("unit-slipped", value, *slip), level="advice")

    def thresholds(self) -> Iterator[Threshold]:
        """The numbers that readings are compared with, where they stand in the text as the tree has them."""
        for node in walk(self.root):
            if node.type != "binary_expression" or self.readings.sign(node) not in _COMPARISONS:
                continue
            left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
            for reading, number in ((left, right), (right, left)):
                if reading is None or number is None:
                    continue
                word = self.readings.reading(reading)
                value = number_in(number)
                place = self._written(number) if word is not None and value is not None else None
                if word is None or value is None or place is None:
                    continue
                found = threshold(word, value, place)
                if found is not None:
                    yield found

    def settings(self) -> Iterator[Setting]:
        """The numbers that calls of the class's words set something with."""
        for node in walk(self.root):
            arguments = node.child_by_field_name("arguments") if node.type == "call_expression" else None
            performed = self.names.calls.get(node.id)
            if performed is not None and arguments is not None:
                word, parts = performed
                yield from settings_of(word, parts, line_of(node), [self._given(value) for value in named(arguments)])

    def _given(self, value: Node) -> tuple[float, Span] | None:
        """A number that a call is given, with its sign, where it stands in the text."""
        turned = value.type == "unary_expression" and text_of(value).startswith("-")
        inner = value.child_by_field_name("argument") if turned else value
        number = number_in(inner) if inner is not None else None
        place = self._written(value if turned else inner) if inner is not None and number is not None else None
        return None if place is None or number is None else (-number if turned else number, place)

    def _written(self, number: Node) -> Span | None:
        """Where a number of the tree stands in the text as it was written: on its line, or in the #define of a macro
        that stands there. None where that is not clear.
        """
        span, text = span_of(number), text_of(number)
        line = self.lines[span.line - 1] if span.line <= len(self.lines) else ""
        if line[span.column - 1 :].startswith(text):
            return span
        here = [match.start() for match in re.finditer(rf"(?<![\w.]){re.escape(text)}(?![\w.])", line)]
        named_here = {name for name in re.findall(r"[A-Za-z_]\w*", line) if self._stands_for(name) == text}
        if len(here) == 1 and not named_here:
            return Span(span.line, here[0] + 1, span.line, here[0] + 1 + len(text))
        if here or len(named_here) != 1:
            return None
        name = named_here.pop()
        while self.macros[name].body in self.macros:
            name = self.macros[name].body
        row = self.macros[name].line
        match = re.search(rf"(?<=\b{name})\s+{re.escape(text)}(?![\w.])", self.lines[row - 1])
        column = match.end() - len(text) + 1 if match else 0
        return Span(row, column, row, column + len(text)) if match else None

    def _stands_for(self, name: str) -> str:
        """The number that a macro is a name for; empty for anything else."""
        seen = 0
        while name in self.macros and self.macros[name].parameters is None and seen < len(self.macros):
            name, seen = self.macros[name].body, seen + 1
        return name if NUMBER.fullmatch(name) else ""

    def waiting_loops(self) -> Iterator[WaitingLoop]:
        """The loops whose end is asked of readings."""
        for node in walk(self.root):
            body = node.child_by_field_name("body")
            if node.type not in LOOPS or is_counted(node) or body is None:
                continue
            tests = [node.child_by_field_name("condition")]
            tests += [
                item.child_by_field_name("condition")
                for item in named(body)
                if item.type == "if_statement" and any(inner.type == "break_statement" for inner in walk(item))
            ]
            asked = [item for test in tests if test is not None for item in walk(test)]
            words = [self.readings.reading(item) for item in asked]
            parts = tuple(dict.fromkeys(part for word in words if word is not None for part in parts_read(word)))
            top = node.parent.parent if node.parent is not None else None
            first = top is not None and top.type == "function_definition" and node.type == "while_statement"
            if parts:
                start, end = line_of(node), int(node.end_point[0]) + 1
                quiet = not any(self._commands(item) for item in walk(body))
                yield WaitingLoop(start, end, parts, first and quiet and self._begins(top))

    def _begins(self, function: Node | None) -> bool:
        """Whether a function is the one with which the program begins."""
        declarator = function.child_by_field_name("declarator") if function is not None else None
        name = declarator.child_by_field_name("declarator") if declarator is not None else None
        entries = {book.book.entry[0] for book in self.names.books if book.book.entry} or {"main"}
        return name is not None and text_of(name) in entries

    def _commands(self, node: Node) -> bool:
        """Whether a node is a call of something that may do more than wait and read."""
        if node.type != "call_expression":
            return False
        callee = node.child_by_field_name("function")
        word = self.names.word(text_of(callee)) if callee is not None else None
        return word is None or commands(word)


def _ends(node: Node) -> bool:
    """Whether nothing goes on behind a statement."""
    if node.type == "compound_statement":
        inside = named(node)
        return bool(inside) and _ends(inside[-1])
    if node.type == "if_statement":
        yes, no = node.child_by_field_name("consequence"), node.child_by_field_name("alternative")
        inner = named(no) if no is not None else []
        return bool(inner) and yes is not None and _ends(yes) and _ends(inner[-1])
    return node.type in LEAVES


def _leaves(loop: Node) -> bool:
    """Whether a loop is left by a return, or by a break of its own."""
    waiting = [(child, False) for child in loop.children]
    while waiting:
        item, inner = waiting.pop()
        if item.type in ("return_statement", "goto_statement") or (item.type == "break_statement" and not inner):
            return True
        inner = inner or item.type in (*LOOPS, "switch_statement", "for_range_loop")
        waiting += [(child, inner) for child in item.children]
    return False
