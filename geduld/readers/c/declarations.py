"""Reads C's declarators: the type of each name, and what functions take."""

from __future__ import annotations

from collections.abc import Callable

from tree_sitter import Node

from geduld.language.messages import Problem, error
from geduld.readers.c import types
from geduld.readers.c.names import Function, Names, Parameter
from geduld.readers.c.standard import FILLS
from geduld.readers.c.syntax import first_in, named, not_read, span_of, text_of, walk
from geduld.readers.c.types import Array, Pointer, Struct, Type

MOST_ITEMS = 100_000
AUTO = types.Void()  # stands for the type of what a variable is given first


class Declarations:
    """The types that a program names. `number` works out a constant whole number."""

    def __init__(self, names: Names, number: Callable[[Node], int]) -> None:
        self.names = names
        self.number = number
        self.unnamed = 0

    def base(self, node: Node) -> Type:
        """The type that stands before the declared names. Raises Problem for what is not read."""
        kind = node.child_by_field_name("type")
        if kind is None:
            raise not_read(node, "a declaration without a type", "Write its type, for example int.")
        return self.named(kind)

    def named(self, node: Node) -> Type:
        """A type by its node."""
        if node.type in ("primitive_type", "sized_type_specifier"):
            found = types.named(text_of(node).split(), self.names.bits)
            if found is not None:
                return found
        elif node.type == "type_identifier":
            found = self.names.type(text_of(node)) or types.named([text_of(node)], self.names.bits)
            if found is not None:
                return found
            header = self.names.header_of(text_of(node))
            remedy = f'Write at the top: #include "{header}"' if header else "Declare it above, or correct its name."
            raise Problem(error("unknown-type", span_of(node), f'There is no type "{text_of(node)}".', remedy))
        elif node.type == "enum_specifier":
            return self.enum(node)
        elif node.type == "struct_specifier":
            return self.struct(node)
        elif node.type == "class_specifier":
            raise not_read(node, "classes", "Use functions, and a struct for values that belong together.")
        elif node.type == "placeholder_type_specifier":
            return AUTO
        raise not_read(node, "this type", "Use int, float, bool, or a struct of these.")

    def enum(self, node: Node) -> Type:
        """An enum: its names become constants."""
        name, body = node.child_by_field_name("name"), node.child_by_field_name("body")
        value = 0
        # the names of an `enum class` are only known with its own in front of them
        front = (
            f"{text_of(name)}::"
            if name is not None and any(c.type in ("class", "struct") for c in node.children)
            else ""
        )
        for item in named(body) if body is not None else ():
            given, label = item.child_by_field_name("value"), item.child_by_field_name("name")
            if item.type != "enumerator" or label is None:
                raise not_read(item, "this in an enum", "Write only names, with commas between.")
            value = self.number(given) if given is not None else value
            self.names.constants[front + text_of(label)] = value
            value += 1
        kind = types.int_of(self.names.bits)
        if name is not None:
            self.names.types[text_of(name)] = kind
        return kind

    def struct(self, node: Node) -> Type:
        """A struct with its fields."""
        name, body = node.child_by_field_name("name"), node.child_by_field_name("body")
        if body is None:
            found = self.names.types.get(text_of(name)) if name is not None else None
            if found is None:
                raise not_read(node, "a struct that is declared later", "Write the struct above.")
            return found
        fields: list[tuple[str, Type]] = []
        for item in named(body):
            if item.type != "field_declaration" or item.child_by_field_name("default_value") is not None:
                raise not_read(item, "this in a struct", "In a struct stand variables; write functions outside.")
            base = self.base(item)
            for declarator in item.children_by_field_name("declarator"):
                label, kind = self.declared(declarator, base)
                if isinstance(kind, Pointer):
                    raise not_read(declarator, "pointers in a struct", "Keep the value itself.")
                fields.append((label, kind))
        self.unnamed += 1
        label = text_of(name) if name is not None else f"struct {self.unnamed}"
        made = Struct(label, tuple(fields))
        _must_fit(made, node)
        if name is not None:
            self.names.types[label] = made
        return made

    def declared(self, node: Node, base: Type, in_parameter: bool = False) -> tuple[str, Type]:
        """The name and the type of a declarator."""
        if node.type in ("identifier", "field_identifier", "type_identifier"):
            return text_of(node), base
        inner = node.child_by_field_name("declarator")
        if node.type == "array_declarator" and inner is not None:
            size = node.child_by_field_name("size")
            if in_parameter and inner.type != "array_declarator":
                return self.declared(inner, _pointer(base, inner), in_parameter)
            count = -1 if size is None else self.number(size)
            whole = Array(base, count)
            if count < 1 and size is not None:
                message = f"An array has 1 to {MOST_ITEMS:,} places."
                raise Problem(error("array-size", span_of(node), message, "Write how many values it is for."))
            _must_fit(whole, node)
            return self.declared(inner, whole, in_parameter)
        if node.type == "pointer_declarator" and inner is not None:
            if base == types.CHAR:
                kind = _pointer(base, inner) if in_parameter else types.TEXT
                return self.declared(inner, kind, in_parameter)
            return self.declared(inner, Pointer(base), in_parameter)
        if node.type == "reference_declarator":
            return self.declared(named(node)[-1], Pointer(base, True), in_parameter)
        if node.type == "parenthesized_declarator":
            return self.declared(first_in(node), base, in_parameter)
        raise not_read(node, "this declaration", "Declare one variable after another.")

    def function(self, node: Node, declarator: Node, body: Node | None) -> Function:
        """A function, or a prototype of one."""
        base = self.base(node)
        while declarator.type in ("pointer_declarator", "reference_declarator"):
            base = types.TEXT if base == types.CHAR else Pointer(base)
            declarator = named(declarator)[-1]
        if isinstance(base, Pointer):
            raise not_read(node, "functions that give back pointers", "Give back the value itself.")
        label, given = declarator.child_by_field_name("declarator"), declarator.child_by_field_name("parameters")
        if label is None or given is None or label.type != "identifier":
            raise not_read(node, "this function", "Write it as: int name(int value) { … }")
        parameters: list[Parameter] = []
        for item in named(given):
            if item.type not in ("parameter_declaration", "optional_parameter_declaration"):
                raise not_read(item, "this parameter", "Name the parameters one by one.")
            kind = self.base(item)
            inner = item.child_by_field_name("declarator")
            name = ""
            if inner is not None and inner.type not in ("abstract_pointer_declarator", "abstract_reference_declarator"):
                if inner.type == "abstract_array_declarator":
                    kind = Pointer(kind)
                else:
                    name, kind = self.declared(inner, kind, True)
            elif inner is not None:
                reference = inner.type == "abstract_reference_declarator"
                kind = types.TEXT if kind == types.CHAR and not reference else Pointer(kind, reference)
            if kind == types.VOID:
                continue
            parameters.append(Parameter(name, kind, item.child_by_field_name("default_value")))
        return Function(text_of(label), base, tuple(parameters), body)


def _must_fit(kind: Type, node: Node) -> None:
    """Raises Problem where a variable keeps more values than it may, all dimensions and fields together."""
    if types.places(kind) > MOST_ITEMS:
        what = "A struct" if isinstance(kind, Struct) else "An array"
        message = f"{what} has at most {MOST_ITEMS:,} places in all, and this has {types.places(kind):,}."
        raise Problem(error("array-size", span_of(node), message, "Write how many values it is for."))


def _pointer(base: Type, declarator: Node) -> Type:
    """What a parameter is that points: letters that the function only reads are a text."""
    if base != types.CHAR:
        return Pointer(base)
    function, name = declarator, text_of(declarator)
    while function.parent is not None and function.type != "function_definition":
        function = function.parent
    body = function.child_by_field_name("body")
    return Pointer(base) if body is not None and any(_writes(item, name) for item in walk(body)) else types.TEXT


def _writes(node: Node, name: str) -> bool:
    """Whether a node changes letters at the places of a parameter."""
    if node.type == "call_expression":
        called, given = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        first = named(given)[:1] if given is not None else []
        return called is not None and text_of(called) in FILLS and [text_of(item) for item in first] == [name]
    if node.type not in ("assignment_expression", "update_expression"):
        return False
    target = node.child_by_field_name("left") or node.child_by_field_name("argument")
    if target is None or target.type not in ("subscript_expression", "pointer_expression"):
        return False
    inner = target.child_by_field_name("argument")
    return inner is not None and text_of(inner) == name
