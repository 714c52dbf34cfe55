"""Statements and declarations of C as source, and what loops cost."""

from __future__ import annotations

from dataclasses import dataclass

from tree_sitter import Node

from geduld.language.messages import Problem, error
from geduld.readers.c import types
from geduld.readers.c.declarations import AUTO
from geduld.readers.c.expressions import Expressions
from geduld.readers.c.names import Function, Variable
from geduld.readers.c.syntax import first_in, line_of, named, not_read, part, span_of, text_of, walk
from geduld.readers.c.timing import is_counted
from geduld.readers.c.types import Array, Device, Pointer, Struct, Type
from geduld.readers.c.value import Value
from geduld.readers.c.waiting import waiting_loop
from geduld.script.lane import OUTPUTS
from geduld.script.loops import end_of_pass
from geduld.script.waiting import leave_out
from geduld.wordbook.bound import NUMBER

MOST_BLOCKS, MOST_DEPTH = 18, 60
_ENGINE = "now, i, steps, acts, depth"
_CONST = {"const", "constexpr"}


@dataclass(eq=False)
class Around:
    """What stands around a statement that `break` or `continue` may leave.

    `number` is that of a loop whose passes cost (0 where they do not), `update` what a `for` does at the end of a pass.
    `sure` when each pass touches the world and takes no time by itself. `switch` names the flag by which a switch says
    that the loop around it goes on.
    """

    number: int = 0
    line: int = 0
    touches: bool = False
    straight: bool = False
    update: Node | None = None
    switch: str = ""
    sure: bool = False


class Statements(Expressions):
    """Statements, one after another, into `source`."""

    around: list[Around]
    used_names: set[str]
    defined: set[str]
    blocks = 0

    def add(self, text: str) -> None:
        """A line of source at the level that is being written."""
        self.source.add(self.level, text)

    # Functions

    def function(self, function: Function) -> None:
        """A function of the program as a function of the lane."""
        assert function.body is not None
        self.source.place = line_of(function.body)
        self.around, self.used_names, self.assigned = [], set(), set()
        self.at_top = False
        self.scopes = [{}]
        given = []
        for parameter in function.given:
            variable = self.declare(parameter.name or self.temporary(), parameter.kind)
            given.append(variable)
        self.add(f"def g_{function.name}({', '.join(variable.own for variable in given)}):")
        self.level += 1
        place = len(self.source.lines)
        self.add("depth += 1")
        self.add("if depth > 200: deeper_(depth)")
        for variable in given:
            if variable.boxed:
                self.add(f"{variable.own} = [{variable.own}]")
        self.returns = function.kind
        self.add("try:")
        self.block(function.body)
        self.source.place = line_of(function.body)
        self.add("finally: depth -= 1")
        if function.name in self.timing.timed:
            self.add("if 0: yield")
        shared = sorted(name for name in self.assigned if name.startswith("g_"))
        self.source.lines.insert(place, "    " * self.level + f"nonlocal {', '.join([_ENGINE, *shared])}{OUTPUTS}")
        self.source.places.insert(place, self.source.place)
        self.level -= 1
        self.scopes = []
        self.at_top = True

    def block(self, node: Node) -> None:
        """A block with braces, or one statement, one level deeper."""
        self.level += 1
        self.scopes.append({})
        first = len(self.source.lines)
        for item in named(node) if node.type == "compound_statement" else [node]:
            self.statement(item)
        if len(self.source.lines) == first:
            self.add("pass")
        self.scopes.pop()
        self.level -= 1

    def statement(self, node: Node) -> None:
        """One statement; what is wrong with it is kept as a hint, and the next ones are looked at all the same."""
        self.source.place = line_of(node)
        writer = getattr(self, f"_do_{node.type}", None)
        try:
            if writer is None:
                raise not_read(node, "this statement", "Write it in simpler steps.")
            writer(node)
        except Problem as problem:
            self.hints.append(problem.hint)

    # Declarations

    def declare(self, name: str, kind: Type, shared: bool = False) -> Variable:
        """A variable of the innermost block."""
        own = f"{'g' if shared else 's'}_{name}"
        while own in self.used_names:
            self.counted += 1
            own = f"{'g' if shared else 's'}_{name}_{self.counted}"
        self.used_names.add(own)
        boxed = name in self.names.boxed and not isinstance(kind, Pointer | Array | Device)
        variable = Variable(name, own, kind, shared, boxed)
        if shared and self.at_top:
            self.names.globals[name] = variable
        else:
            self.scopes[-1][name] = variable
        return variable

    def _do_declaration(self, node: Node) -> None:
        words = {
            text_of(child) for child in node.children if child.type in ("storage_class_specifier", "type_qualifier")
        }
        declarators = node.children_by_field_name("declarator")
        if "extern" in words:
            missing = [item for item in declarators if not self._is_defined(item)]
            if missing:
                remedy = f"Say what {text_of(missing[0])} is, in a file that is handed in too."
                raise not_read(node, "extern for what no file of the program has", remedy)
            return
        base = self.declarations.base(node)
        for declarator in declarators:
            self._declared(declarator, base, words)

    def _is_defined(self, node: Node) -> bool:
        """Whether what `extern` speaks of is a function, or a variable that a file of the program has."""
        while node.type in ("array_declarator", "pointer_declarator"):
            node = node.child_by_field_name("declarator") or named(node)[0]
        return node.type == "function_declarator" or text_of(node) in self.defined

    def _declared(self, node: Node, base: Type, words: set[str]) -> None:
        inner, given = node, None
        if node.type == "init_declarator":
            inner, given = node.child_by_field_name("declarator") or node, node.child_by_field_name("value")
        if inner.type == "function_declarator":
            if isinstance(base, Device):
                message = f"This declares a function and no object {base.name}."
                raise Problem(error("no-object", span_of(node), message, "Write it without empty brackets."))
            return  # a prototype
        name, kind = self.declarations.declared(inner, base)
        if kind is AUTO and given is not None and given.type != "initializer_list":
            kind = self.expression(given).kind
        if name in self.scopes[-1] if self.scopes else name in self.names.globals:
            message = f'"{name}" is declared twice here.'
            raise Problem(error("name-taken", span_of(inner), message, "Take one away, or rename it."))
        if self.names.word(name) is not None or name in self.names.functions:
            message = f'"{name}" is also the name of a function; here it hides it.'
            raise Problem(error("name-taken", span_of(inner), message, "Give the variable another name."))
        if isinstance(kind, types.Void):
            raise Problem(error("wrong-type", span_of(inner), "A variable cannot be void.", "Give it a type."))
        if isinstance(kind, Pointer) and not kind.reference:
            raise not_read(node, "pointers beside parameters of functions", "Use the variable itself, or an array.")
        kind, value = self._initial(kind, given, node)
        if isinstance(kind, Device):
            self._device(name, kind, given, node)
            return
        static = "static" in words and not self.at_top
        if static:
            self._static(name, kind, value, node)
            return
        variable = self.declare(name, kind, self.at_top)
        if value is not None and words & _CONST and isinstance(value.constant, int | float):
            fitted = self.fitted(value, kind, node)
            known = self._fitted_constant(value, kind)
            variable.constant = known
            self.add(f"{variable.own} = {fitted}")
            return
        text = self._start(kind) if value is None and self.at_top else None
        if value is not None:
            text = (
                value.text
                if isinstance(kind, Array | Struct) and value.place == "made"
                else self.fitted(value, kind, node)
            )
        elif isinstance(kind, Array | Struct):
            text = self._start(kind)
        if text is not None:
            if (count := types.places(kind)) > 1:
                self.add(f"items_({count})")
            self.add(f"{variable.own} = {'[' + text + ']' if variable.boxed else text}")
        elif variable.boxed:
            self.add(f"{variable.own} = [0]")

    def _fitted_constant(self, value: Value, kind: Type) -> int | float | None:
        """A constant as its type keeps it."""
        found = value.constant
        if isinstance(kind, types.Int) and isinstance(found, int):
            return kind.wrapped(found)
        if isinstance(kind, types.Float) and isinstance(found, int | float):
            return float(found) if kind == types.DOUBLE else None
        return None

    def _static(self, name: str, kind: Type, value: Value | None, node: Node) -> None:
        """A variable that is made once, before the program."""
        own = f"g_{name}_{self.temporary()}"
        boxed = name in self.names.boxed and not isinstance(kind, Pointer | Array)
        self.scopes[-1][name] = Variable(name, own, kind, True, boxed)
        made = value is not None and value.place == "made"
        text = self._start(kind) if value is None else value.text if made else self.fitted(value, kind, node)
        if (count := types.places(kind)) > 1:
            text = f"(items_({count}), {text})[1]"
        self.statics.append((line_of(node), f"{own} = {'[' + text + ']' if boxed else text}"))

    def _start(self, kind: Type) -> str:
        """What a variable holds that was given nothing."""
        if isinstance(kind, Array):
            inner = self._start(kind.of)
            several = f"[{inner} for _ in range_({kind.size})]"
            return several if isinstance(kind.of, Array | Struct) else f"[{inner}] * {kind.size}"
        if isinstance(kind, Struct):
            return f"[{', '.join(self._start(inner) for _, inner in kind.fields)}]"
        return "None" if isinstance(kind, types.Text | Device) else "0.0" if isinstance(kind, types.Float) else "0"

    def _initial(self, kind: Type, given: Node | None, node: Node) -> tuple[Type, Value | None]:
        """The type that a variable has in the end, and its first value."""
        if isinstance(kind, Device):
            return kind, None
        if given is None or given.type == "argument_list":
            if isinstance(kind, Array) and kind.size < 0:
                message = "Nothing says how long this array is."
                raise Problem(error("no-size", span_of(node), message, "Write for example: int values[5];"))
            if given is not None and len(named(given)) == 1:
                return kind, self.expression(first_in(given))
            return kind, None
        if given.type == "initializer_list":
            if types.is_number(kind) and len(named(given)) <= 1:
                inside = named(given)
                return kind, self.expression(inside[0]) if inside else Value("0", self.int, 0)
            kind = self._sized(kind, given)
            return kind, Value(self._filled(kind, given), kind, None, "made")
        value = self.expression(given)
        if isinstance(kind, Array) and types.holds_letters(kind) and isinstance(value.constant, str):
            kind = Array(kind.of, kind.size if kind.size >= 0 else len(value.constant) + 1)
            return kind, Value(self.letters(kind, value, node), kind, None, "made")
        if isinstance(kind, Pointer) and kind.reference:
            raise not_read(node, "references beside parameters of functions", "Use the variable itself.")
        return kind, value

    def _sized(self, kind: Type, given: Node) -> Type:
        if isinstance(kind, Array) and kind.size < 0:
            if any(value.type == "initializer_pair" for value in named(given)):
                raise not_read(given, "an array without a size here", "Write how many values it is for.")
            return Array(kind.of, len(named(given)))
        return kind

    def _filled(self, kind: Type, given: Node) -> str:
        """An array or a struct with the values of a list; the rest is nothing."""
        values = named(given)
        if types.holds_letters(kind) and [value.type for value in values] == ["string_literal"]:
            return self.value(values[0], kind)
        if isinstance(kind, Array):
            inner: list[Type] = [kind.of] * kind.size
        elif isinstance(kind, Struct):
            inner = [field for _, field in kind.fields]
        else:
            raise not_read(given, "this list of values", "Give one value.")
        if len(values) > len(inner):
            message = f"Here are {len(values)} values, and there is place for {len(inner)}."
            raise Problem(error("value-count", span_of(given), message, "Take some away, or make it longer."))
        if any(value.type == "initializer_pair" for value in values):
            return self._filled_by_name(kind, inner, values)
        texts = [self._one(value, one) for value, one in zip(values, inner, strict=False)]
        if len(inner) - len(values) > 8 and isinstance(kind, Array) and not isinstance(kind.of, Array | Struct):
            return f"[{', '.join(texts)}] + [{self._start(kind.of)}] * {len(inner) - len(values)}"
        texts += [self._start(one) for one in inner[len(values) :]]
        return f"[{', '.join(texts)}]"

    def _one(self, value: Node, kind: Type) -> str:
        return self._filled(kind, value) if value.type == "initializer_list" else self.value(value, kind)

    def _filled_by_name(self, kind: Type, inner: list[Type], values: list[Node]) -> str:
        """A list of values in which some say by name, or by number, where they belong; the next ones follow."""
        texts = [self._start(one) for one in inner]
        at = 0
        for value in values:
            if value.type == "initializer_pair":
                label, *others = named(value)
                value = part(value, "value")
                place: int | None = None
                if label.type == "field_designator" and isinstance(kind, Struct):
                    place = kind.place(text_of(first_in(label)))
                elif label.type == "subscript_designator" and isinstance(kind, Array):
                    place = self.whole_constant(first_in(label))
                if place is None or not 0 <= place < len(inner) or len(others) > 1:
                    raise not_read(label, "this name in a list of values", "Write the values in their order.")
                at = place
            if at >= len(inner):
                raise not_read(value, "so many values", "Take some away, or make it longer.")
            texts[at] = self._one(value, inner[at])
            at += 1
        return f"[{', '.join(texts)}]"

    def _device(self, name: str, kind: Device, given: Node | None, node: Node) -> None:
        """An object of the wordbook: it is kept as the name of its part."""
        thing = self.names.thing(kind.name)
        assert thing is not None
        values = [] if given is None else named(given)
        if given is not None and given.type == "call_expression":
            values = named(given.child_by_field_name("arguments") or given)
        port = (
            self.expression(values[0])
            if values
            else Value(repr(thing.given[0].default), types.TEXT, thing.given[0].default)
        )
        if not values and thing.given[0].default is None:
            message = f'"{kind.name}" needs the part, or the port it is plugged into.'
            raise Problem(error("value-count", span_of(node), message, f'Write for example: {kind.name} motor("M1");'))
        variable = self.declare(name, kind, self.at_top)
        variable.part = self.names.ports.get(port.constant) if isinstance(port.constant, str | int) else None
        self.add(f"{variable.own} = port_({port.text}, {kind.name!r})")

    statics: list[tuple[int, str]]
    returns: Type = types.VOID

    def _do_type_definition(self, node: Node) -> None:
        base = self.declarations.base(node)
        for declarator in node.children_by_field_name("declarator"):
            name, kind = self.declarations.declared(declarator, base)
            self.names.types[name] = kind

    def _do_enum_specifier(self, node: Node) -> None:
        self.declarations.enum(node)

    def _do_struct_specifier(self, node: Node) -> None:
        self.declarations.struct(node)

    # Plain statements

    def _do_expression_statement(self, node: Node) -> None:
        inside = named(node)
        if inside and not self._commanded(inside[0]):
            self._effect(inside[0])

    def _commanded(self, node: Node) -> bool:
        """Writes a call of a word that only sets outputs to known numbers as such."""
        callee, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        if node.type != "call_expression" or callee is None or callee.type != "identifier" or arguments is None:
            return False
        name = text_of(callee)
        if self.variable(name) is not None or name in self.names.functions:
            return False
        word = self.names.word(name)
        if word is None or () not in word.variants or len(named(arguments)) != len(word.given or ()):
            return False
        if any(one.what != NUMBER for one in word.given or ()):
            return False
        values = [self.expression(item).constant for item in named(arguments)]
        known = [float(value) for value in values if isinstance(value, int | float)]
        lines = self.words.commands(word, (), known, line_of(node)) if len(known) == len(values) else None
        if lines is None:
            return False
        self.names.calls[node.id] = word, ()
        self.add("acts += 1")
        for line in lines:
            self.add(line)
        return True

    def _effect(self, node: Node) -> None:
        """An expression for what it does, not for its value."""
        if node.type == "comma_expression":
            for child in named(node):
                self._effect(child)
            return
        if node.type in ("assignment_expression", "update_expression"):
            target_node = node.child_by_field_name("left") or node.child_by_field_name("argument")
            assert target_node is not None
            target = self.expression(target_node)
            if isinstance(target.place, str) and target.constant is None:
                self.assigned.add(target.place)
                self.add(f"{target.place} = {self._new_value(node, target)}")
                return
        self.add(self.expression(node).text)

    def _new_value(self, node: Node, target: Value) -> str:
        """What a plain variable becomes."""
        if node.type == "update_expression":
            sign = text_of(node.child_by_field_name("operator") or node.children[0])[0]
            return self.fitted(self.operation(sign, target, Value("1", self.int, 1), node), target.kind, node)
        right = part(node, "right")
        sign = text_of(node.child_by_field_name("operator") or node.children[1])
        if sign == "=":
            return self.value(right, target.kind)
        return self.fitted(self.operation(sign[:-1], target, self.expression(right), node), target.kind, node)

    def _do_compound_statement(self, node: Node) -> None:
        self.add("if True:")
        self.block(node)

    def _do_return_statement(self, node: Node) -> None:
        inside = named(node)
        if not inside:
            self.add("return 0" if types.is_number(self.returns) else "return")
        elif isinstance(self.returns, types.Void):
            message = "This function gives nothing back."
            raise Problem(error("wrong-type", span_of(node), message, "Write return; or give the function a type."))
        else:
            self.add(f"return {self.value(inside[0], self.returns)}")

    def _do_goto_statement(self, node: Node) -> None:
        raise not_read(node, "goto", "Use a loop, or a function.")

    def _do_labeled_statement(self, node: Node) -> None:
        raise not_read(node, "goto and its labels", "Use a loop, or a function.")

    # Branches

    def _do_if_statement(self, node: Node) -> None:
        self._deeper(node)
        test, yes = part(node, "condition"), part(node, "consequence")
        no = node.child_by_field_name("alternative")
        self.add(f"if {self.truth(test)}:")
        self.block(yes)
        if no is not None:
            self.add("else:")
            self.block(first_in(no) if no.type == "else_clause" else no)
        self.blocks -= 1

    def _deeper(self, node: Node) -> None:
        self.blocks += 1
        if self.blocks > MOST_DEPTH:
            self.blocks -= 1
            raise not_read(node, "so many blocks in each other", "Put some of them into functions.")

    def _do_switch_statement(self, node: Node) -> None:
        """Each case is performed from the one that fits on, until a break."""
        self._nested(node)
        test, body = part(node, "condition"), part(node, "body")
        inner = test.child_by_field_name("value") or test
        value = self.expression(inner)
        if not isinstance(value.kind, types.Int | types.Bool):
            message = f"A switch looks at a whole number, and this is {types.told(value.kind)}."
            raise Problem(error("wrong-type", span_of(test), message, "Use if and else if."))
        cases = named(body)
        table: dict[int, int] = {}
        otherwise = len(cases)
        for index, case in enumerate(cases):
            if case.type != "case_statement":
                raise not_read(case, "this in a switch", "Write it under a case.")
            label = case.child_by_field_name("value")
            if label is None:
                otherwise = index
                continue
            number = self.whole_constant(label)
            if number in table:
                message = f"There are two cases for {number}."
                raise Problem(error("name-taken", span_of(case), message, "Take one away."))
            table[number] = index
        self.counted += 1
        place, flag = f"j{self.counted}", f"k{self.counted}_"
        places = ", ".join(f"{key}: {index}" for key, index in table.items())
        self.add(f"{place} = {{{places}}}.get({value.text}, {otherwise})")
        self.add(f"{flag} = 0")
        self.add("for _ in (0,):")
        self.level += 1
        self.around.append(Around(switch=flag))
        self.scopes.append({})
        self.add("pass")
        for index, case in enumerate(cases):
            label = case.child_by_field_name("value")
            statements = [item for item in named(case) if label is None or item != label]
            if not statements:
                continue
            self.source.place = line_of(case)
            self.add(f"if {place} <= {index}:")
            self.level += 1
            for item in statements:
                self.statement(item)
            self.add("pass")
            self.level -= 1
        self.scopes.pop()
        self.around.pop()
        self.level -= 1
        if any(not item.switch for item in self.around):
            self.add(f"if {flag}:")
            self.level += 1
            self._go_on()
            self.level -= 1

    # Loops

    def _nested(self, node: Node) -> None:
        if len(self.around) >= MOST_BLOCKS:
            raise not_read(node, "so many loops in each other", "Put some of them into functions.")

    def _do_break_statement(self, node: Node) -> None:
        if not self.around:
            message = "This break stands in no loop and in no switch."
            raise Problem(error("lonely-break", span_of(node), message, "Take it away."))
        self.add("break")

    def _do_continue_statement(self, node: Node) -> None:
        if not any(not item.switch for item in self.around):
            message = "This continue stands in no loop."
            raise Problem(error("lonely-continue", span_of(node), message, "Take it away."))
        self._go_on()

    def _go_on(self) -> None:
        """Goes on with the next pass of the innermost loop."""
        inner = self.around[-1]
        if inner.switch:
            self.add(f"{inner.switch} = 1")
            self.add("break")
            return
        self._end_of_pass(inner)
        self.add("continue")

    def _do_while_statement(self, node: Node) -> None:
        test, body = part(node, "condition"), part(node, "body")
        self._loop(node, test, body, None)

    def _do_do_statement(self, node: Node) -> None:
        test, body = part(node, "condition"), part(node, "body")
        self._loop(node, test, body, None, behind=True)

    def _do_for_statement(self, node: Node) -> None:
        start, update = node.child_by_field_name("initializer"), node.child_by_field_name("update")
        test, body = node.child_by_field_name("condition"), part(node, "body")
        self.scopes.append({})
        if start is not None:
            if start.type == "declaration":
                self._do_declaration(start)
            else:
                self._effect(start)
        self._loop(node, test, body, update, counted=is_counted(node))
        self.scopes.pop()

    def _do_for_range_loop(self, node: Node) -> None:
        self._nested(node)
        declarator, right = part(node, "declarator"), part(node, "right")
        body = part(node, "body")
        over = self._listed(right) if right.type == "initializer_list" else self.expression(right)
        inner = base = over.kind.of if isinstance(over.kind, Array) else None
        kind_node = node.child_by_field_name("type")
        if base is None or inner is None:
            raise not_read(node, "this loop", "Go over an array, or count.")
        if kind_node is not None and kind_node.type != "placeholder_type_specifier":
            base = self.declarations.named(kind_node)
        name, kind = self.declarations.declared(declarator, base)
        if isinstance(kind, Pointer):
            raise not_read(node, "a loop over references", "Count, and write values[i].")
        self.scopes.append({})
        variable = self.declare(name, kind)
        value = self.temporary()
        self.add(f"for {value} in {over.text}:")
        self.level += 1
        text = self.fitted(Value(value, inner), kind, node)
        self.add(f"{variable.own} = {'[' + text + ']' if variable.boxed else text}")
        self.add("steps += 1")
        self.add("if steps > most: raise StepsExhausted(now)")
        self.level -= 1
        self.around.append(Around())
        self.block(body)
        self.around.pop()
        self.scopes.pop()

    def _listed(self, node: Node) -> Value:
        """A list of numbers that is gone through."""
        values = [self.expression(item) for item in named(node)]
        if not values or not all(types.is_number(value.kind) for value in values):
            raise not_read(node, "this list of values", "Go over an array.")
        kind = values[0].kind
        if any(value.kind != kind for value in values):
            raise not_read(node, "a list of values of several types", "Write them all with a point, or none.")
        return Value(f"[{', '.join(value.text for value in values)}]", Array(kind, len(values)))

    def _loop(
        self,
        node: Node,
        test: Node | None,
        body: Node,
        update: Node | None,
        counted: bool = False,
        behind: bool = False,
    ) -> None:
        """A loop. Where it is not counted, a pass that took no time and touched the world costs one of the rig's."""
        self._nested(node)
        self.counted += 1
        number, timing, line = self.counted, self.timing, line_of(node)
        parts = [part for part in (test, body, update) if part is not None]
        touches = any(timing.touches(part) for part in parts)
        straight = touches and not any(map(timing.takes_time, parts)) and not counted and not self.words.watched
        loop = Around(0 if counted else number, line, touches, straight, update)
        sure = straight and self._surely_touches(test if test is not None and not behind else body)
        loop.sure = sure
        waits = None
        looks_ahead = not self.words.writer.closed and not self.words.watched
        if touches and looks_ahead and not counted and not behind and update is None:
            waits = waiting_loop(test, body, self)
        base = self.level
        if not counted:
            self.add(f"u{number} = quiet_()")
            self.add(f"p{number} = now; a{number}_ = acts")
        if straight:
            self.add(f"n{number} = now")
            self.add("try:")
            self.level += 1
        if behind:
            self.add(f"f{number} = 0")
        self.add("while True:")
        self.level += 1
        if waits is not None:
            leave_out(self.source, self.level, line, number, waits)
        if not counted and not behind and not sure:
            self.add(f"p{number} = now; a{number}_ = acts")
        if behind:
            # The condition is looked at behind the pass; what it touches counts for the next one.
            assert test is not None
            self.add(f"if f{number}:")
            self.level += 1
            self.add(f"p{number} = now; a{number}_ = acts")
            self.add(f"if not {self.truth(test)}: break")
            self.level -= 1
            self.add(f"f{number} = 1")
        elif test is not None:
            told = self.truth(test)
            if told not in ("1", "True"):
                self.add(f"if not {told}: break")
        self.add(f"steps += {_count(body)}")
        self.add("if steps > most: raise StepsExhausted(now)")
        self.around.append(loop)
        self.level -= 1
        self.block(body)
        self.level += 1
        self.source.place = line
        self._end_of_pass(loop)
        self.around.pop()
        self.level = base
        if straight:
            self.add(f"finally: looped({line}, n{number}, now)")

    def _surely_touches(self, node: Node) -> bool:
        """Whether a condition, or the start of a body, touches the world each time, whatever comes of it."""
        if node.type in ("parenthesized_expression", "condition_clause", "expression_statement", "compound_statement"):
            inside = named(node)
            return bool(inside) and self._surely_touches(inside[0])
        if node.type == "binary_expression":
            left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
            operator = node.child_by_field_name("operator")
            if left is None or right is None or operator is None:
                return False
            both = text_of(operator) not in ("&&", "||", "and", "or")
            return self._surely_touches(left) or (both and self._surely_touches(right))
        if node.type == "unary_expression":
            return self._surely_touches(node.children[-1])
        if node.type != "call_expression":
            return False
        callee = node.child_by_field_name("function")
        name = text_of(callee) if callee is not None and callee.type == "identifier" else ""
        known = name and self.variable(name) is None and name not in self.names.functions
        return bool(known) and self.names.word(name) is not None

    def _end_of_pass(self, loop: Around) -> None:
        """What a `for` does at the end of a pass, and the clock goes on where the pass took no time."""
        if loop.update is not None:
            self._effect(loop.update)
        if loop.number:
            end_of_pass(self.source, self.level, loop, self.words)


def _count(body: Node) -> int:
    """What a pass costs in steps: its statements."""
    return max(1, sum(item.type.endswith(("_statement", "declaration")) for item in walk(body)))
