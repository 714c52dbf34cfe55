"""A program in C, read aloud."""

from __future__ import annotations

from collections.abc import Iterator

from tree_sitter import Node

from geduld.readers.c.names import Names
from geduld.readers.c.program import CProgram
from geduld.readers.c.syntax import line_of, named, text_of, walk
from geduld.understood.page import Line, Page, stitched
from geduld.understood.phrases import (
    ALONE,
    AND,
    NOT,
    OR,
    PRODUCT,
    SIGNED,
    SUM,
    ClassWords,
    Phrase,
    compared,
)  # fmt: skip
from geduld.wordbook.bound import BoundWord

_SIGNS = {"+": SUM, "-": SUM, "*": PRODUCT, "/": PRODUCT}
_COMPARES = {"==": "=", "!=": "!=", "<": "<", "<=": "<=", ">": ">", ">=": ">="}
_TELLING = {"printf", "puts"}


def c_aloud(program: CProgram) -> tuple[Line, ...]:
    """What a program without errors was understood as."""
    assert program.root is not None and program.names is not None
    aloud = _Aloud(program, program.names, program.root)
    for node in named(program.root):
        aloud.statement(node)
    return tuple(aloud.page.lines)


class _Aloud:
    """Statements and expressions of one program."""

    def __init__(self, program: CProgram, names: Names, root: Node) -> None:
        self.names = names
        self.page = Page()
        self.words = ClassWords(program.books, names.ports)
        self.text = program.prepared.text.encode()
        self.less = program.less
        self.parts = dict(self._objects(root))

    def _objects(self, root: Node) -> Iterator[tuple[str, str]]:
        """The objects that are declared, and the parts they are made of."""
        for node in walk(root):
            kind = node.child_by_field_name("type") if node.type == "declaration" else None
            if kind is None or self.names.thing(text_of(kind)) is None:
                continue
            for item in node.children_by_field_name("declarator"):
                name = item.child_by_field_name("declarator") or item
                value = item.child_by_field_name("value")
                given = [inner for inner in walk(value) if inner.type.endswith("literal")] if value else []
                yield text_of(name), self.words.part(_plain(text_of(given[0])) if given else None, text_of(name))

    # Statements

    def statement(self, node: Node) -> None:
        """One statement, declaration or function."""
        writer = getattr(self, f"_do_{node.type}", None)
        if writer is not None:
            writer(node)
        elif node.type not in ("using_declaration", "preproc_include", ";"):
            self._say(node, self._source(node).rstrip(";"))

    def _say(self, node: Node, text: str) -> None:
        self.page.say(line_of(node), text)

    def _under(self, node: Node, head: str, body: Node | None) -> None:
        with self.page.under(line_of(node), head):
            if body is not None:
                self._inside(body)

    def _inside(self, node: Node) -> None:
        for item in named(node) if node.type in ("compound_statement", "declaration_list") else [node]:
            self.statement(item)

    def _do_compound_statement(self, node: Node) -> None:
        self._inside(node)

    def _do_linkage_specification(self, node: Node) -> None:
        body = node.child_by_field_name("body")
        if body is not None:
            self._inside(body)

    def _do_function_definition(self, node: Node) -> None:
        declarator = node.child_by_field_name("declarator")
        assert declarator is not None
        given = declarator.child_by_field_name("parameters")
        told = [self._source(item) for item in named(given)] if given is not None else []
        told = [item for item in told if item != "void"]
        name = text_of(declarator.child_by_field_name("declarator") or declarator)
        head = f"to {name}{' with ' if told else ''}{', '.join(told)}:"
        self._under(node, head, node.child_by_field_name("body"))

    def _do_declaration(self, node: Node) -> None:
        kept = "static" in [text_of(child) for child in node.children]
        if "extern" in [text_of(child) for child in node.children]:
            return
        kind = text_of(node.child_by_field_name("type") or node)
        for item in node.children_by_field_name("declarator"):
            if item.type == "function_declarator":
                continue
            name = self._source(item.child_by_field_name("declarator") or item)
            if name in self.parts and self.names.thing(kind) is not None:
                self._say(node, f"{name} is the part {self.parts[name]}")
                continue
            value = item.child_by_field_name("value") if item.type == "init_declarator" else None
            start = f" to {self._new(value)}" if value is not None else ""
            once = ", once for all calls" if kept and node.parent is not None and node.parent.parent is not None else ""
            self._say(node, f"set {name} ({kind}){start}{once}" if start else f"{name} ({kind}){once}")

    def _do_expression_statement(self, node: Node) -> None:
        for inner in named(node):
            for text in self._done(inner):
                self._say(node, text)

    def _done(self, node: Node) -> list[str]:
        """What is worked out for what it does."""
        if node.type == "parenthesized_expression":
            return self._done(named(node)[0])
        if node.type == "comma_expression":
            return [text for inner in named(node) for text in self._done(inner)]
        if node.type == "assignment_expression":
            return [self._assigned(node)]
        if node.type == "update_expression":
            name = self._source(named(node)[0])
            return [f"set {name} to {name} {'+' if '++' in text_of(node) else '-'} 1"]
        if node.type == "call_expression":
            word, part = self._word(node)
            given = self._given(node)
            if word is not None:
                return self.words.steps(word, [self.said(value) for value in given], part)
            name = text_of(node.child_by_field_name("function") or node)
            if name in _TELLING:
                return [f"note {', '.join(self.told(value) for value in given)}"]
            if name in self.names.functions:
                return [f"{name}{' with ' if given else ''}{', '.join(self.told(value) for value in given)}"]
        return [self.told(node)]

    def _assigned(self, node: Node) -> str:
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        assert left is not None and right is not None
        sign, name = text_of(node.child_by_field_name("operator") or node), self.told(left)
        if sign == "=":
            return f"set {name} to {self._new(right)}"
        rank = _SIGNS.get(sign[0], SIGNED)
        return f"set {name} to {name} {_spelled(sign[:-1])} {self.said(right).at(rank + 1)}"

    def _new(self, node: Node) -> str:
        return self.said(node).kept

    def _do_return_statement(self, node: Node) -> None:
        inner = named(node)
        self._say(node, f"go back with {self.told(inner[0])}" if inner else "go back")

    def _do_if_statement(self, node: Node, word: str = "if") -> None:
        self._under(node, f"{word} {self._condition(node)}:", node.child_by_field_name("consequence"))
        otherwise = node.child_by_field_name("alternative")
        inner = named(otherwise)[0] if otherwise is not None and named(otherwise) else None
        if inner is not None and inner.type == "if_statement":
            self._do_if_statement(inner, "else if")
        elif otherwise is not None:
            self._under(otherwise, "else:", inner)

    def _condition(self, node: Node) -> str:
        found = node.child_by_field_name("condition")
        inner = named(found)[-1] if found is not None and named(found) else found
        return self.told(inner) if inner is not None else "true"

    def _do_while_statement(self, node: Node) -> None:
        condition = self._condition(node)
        head = "repeat:" if condition in ("true", "1") else f"repeat while {condition}:"
        self._under(node, head, node.child_by_field_name("body"))

    def _do_do_statement(self, node: Node) -> None:
        head = f"repeat, and again while {self._condition(node)}:"
        self._under(node, head, node.child_by_field_name("body"))

    def _do_for_statement(self, node: Node) -> None:
        first, update = node.child_by_field_name("initializer"), node.child_by_field_name("update")
        condition = node.child_by_field_name("condition")
        if first is not None:
            self.statement(first) if first.type == "declaration" else self._say(node, self._done(first)[0])
        head = "repeat:" if condition is None else f"repeat while {self.told(condition)}:"
        with self.page.under(line_of(node), head):
            body = node.child_by_field_name("body")
            if body is not None:
                self._inside(body)
            for text in self._done(update) if update is not None else ():
                self._say(node, text)

    def _do_for_range_loop(self, node: Node) -> None:
        each, over = node.child_by_field_name("declarator"), node.child_by_field_name("right")
        head = f"repeat with {text_of(each or node)} as each of {self.told(over or node)}:"
        self._under(node, head, node.child_by_field_name("body"))

    def _do_break_statement(self, node: Node) -> None:
        around = node.parent
        if around is not None and around.type == "compound_statement":
            around = around.parent
        if around is not None and around.type == "case_statement":
            return  # the end of a case, where the next one begins
        while around is not None and around.type in _INSIDE:
            around = around.parent
        in_choice = around is not None and around.type == "switch_statement"
        self._say(node, "leave the choice" if in_choice else "leave")

    def _do_continue_statement(self, node: Node) -> None:
        self._say(node, "begin the next pass")

    def _do_switch_statement(self, node: Node) -> None:
        body = node.child_by_field_name("body")
        value = self._condition(node)
        cases = [item for item in named(body) if item.type == "case_statement"] if body is not None else []
        with self.page.under(line_of(node), f"by {value}:"):
            for index, case in enumerate(cases):
                key = case.child_by_field_name("value")
                inside = [item for item in named(case) if item != key]
                with self.page.under(line_of(case), "any other:" if key is None else f"{self.told(key)}:"):
                    for item in inside:
                        self.statement(item)
                    if index + 1 < len(cases) and not any(_goes(item) for item in inside):
                        self._say(case, "go on with the next one")

    # Expressions

    def told(self, node: Node) -> str:
        """An expression by itself."""
        return self.said(node).told

    def said(self, node: Node) -> Phrase:
        """An expression."""
        writer = getattr(self, f"_{node.type}", None)
        found: Phrase | None = writer(node) if writer is not None else None
        return found if found is not None else Phrase(self._source(node), ALONE if node.type in _ALONE else OR)

    def _source(self, node: Node) -> str:
        """The student's own text, with the expressions in it said in other words."""
        pieces = [
            (inner.start_byte, inner.end_byte, self._with_brackets(inner))
            for inner in named(node)
            if inner.type in _SAID
        ]
        text = self.text[node.start_byte : node.end_byte]
        return stitched(text.decode("utf-8", "replace"), node.start_byte, pieces) if text.isascii() else text.decode()

    def _with_brackets(self, node: Node) -> str:
        return f"({self.told(node)})" if node.type == "parenthesized_expression" else self.told(node)

    def _number_literal(self, node: Node) -> Phrase:
        text = text_of(node)
        try:
            return Phrase(text, ALONE, "", float(text.rstrip("fFlLuU")))
        except ValueError:
            return Phrase(text)

    def _identifier(self, node: Node) -> Phrase:
        word = self.names.word(text_of(node))
        if word is not None and (word.constant is not None or word.given is None):
            return self.words.value(word, [])
        return Phrase(text_of(node))

    def _parenthesized_expression(self, node: Node) -> Phrase:
        return self.said(named(node)[0])

    def _unary_expression(self, node: Node) -> Phrase:
        sign, inner = text_of(node.children[0]), self.said(named(node)[0])
        if sign == "!":
            return Phrase(f"not {inner.at(NOT)}", NOT)
        number = -inner.number if sign == "-" and inner.number is not None else None
        return Phrase(f"{sign}{inner.at(SIGNED)}", SIGNED, "", number)

    def _binary_expression(self, node: Node) -> Phrase:
        operator = node.child_by_field_name("operator")
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        assert operator is not None and left is not None and right is not None
        sign = "".join(
            "<" if operator.start_byte + place in self.less else letter
            for place, letter in enumerate(text_of(operator))
        )
        one, other = self.said(left), self.said(right)
        if sign in ("&&", "||"):
            word, rank = ("and", AND) if sign == "&&" else ("or", OR)
            return Phrase(f"{one.at(rank)} {word} {other.at(rank)}", rank)
        if sign in _COMPARES:
            return compared(_COMPARES[sign], one, other)
        known = _SIGNS.get(sign)
        if known is None:
            return Phrase(f"{one.at(SIGNED)} {_spelled(sign)} {other.at(SIGNED)}", OR)
        return Phrase(f"{one.at(known)} {sign} {other.at(known + 1)}", known)

    def _conditional_expression(self, node: Node) -> Phrase:
        test, one, other = (self.said(item) for item in named(node)[:3])
        return Phrase(f"{one.at(OR)} if {test.told}, else {other.at(OR)}", OR)

    def _call_expression(self, node: Node) -> Phrase:
        word, part = self._word(node)
        if word is None:
            return Phrase(self._source(node))
        values = [self.said(value) for value in self._given(node)]
        if word.what:
            return self.words.value(word, values, part)
        return Phrase("; ".join(self.words.steps(word, values, part)), OR)

    def _given(self, node: Node) -> list[Node]:
        arguments = node.child_by_field_name("arguments")
        return named(arguments) if arguments is not None else []

    def _word(self, node: Node) -> tuple[BoundWord | None, str]:
        """The word that is meant, and the part of the object it is called on."""
        callee = node.child_by_field_name("function")
        if callee is None:
            return None, ""
        word = self.names.word(text_of(callee))
        if word is None and callee.type == "field_expression":
            field, thing = callee.child_by_field_name("field"), callee.child_by_field_name("argument")
            name = text_of(thing) if thing is not None else ""
            word = self.words.object_words.get(text_of(field)) if field is not None else None
            return word, self.parts.get(name, name) if word is not None else ""
        return word, ""


_EXPRESSIONS = """
binary_expression unary_expression call_expression identifier number_literal parenthesized_expression
conditional_expression subscript_expression field_expression assignment_expression update_expression argument_list
initializer_list cast_expression init_declarator pointer_expression subscript_argument_list sizeof_expression
"""
_SAID = frozenset(_EXPRESSIONS.split())
_ALONE = (
    "subscript_expression",
    "field_expression",
    "string_literal",
    "char_literal",
    "true",
    "false",
    "initializer_list",
)
# What `break` does not leave.
_INSIDE = ("if_statement", "else_clause", "compound_statement", "case_statement")


def _spelled(sign: str) -> str:
    return {"%": "mod", "&": "bitwise and", "|": "bitwise or", "^": "bitwise xor"}.get(sign, sign)


def _plain(text: str) -> str | int:
    """A port as it stands in a text."""
    return int(text) if text.isdigit() else text.strip("\"'")


def _goes(node: Node) -> bool:
    """Whether a statement of a case surely goes elsewhere than to the next case."""
    if node.type == "compound_statement":
        return any(_goes(item) for item in named(node))
    return node.type in ("break_statement", "return_statement", "continue_statement")
