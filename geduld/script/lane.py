"""Puts a script's lane together: what the engine keeps, the words, and the script's own source between them."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from dataclasses import dataclass, field
from types import GeneratorType
from typing import Any

import numpy as np

from geduld.binding import terms
from geduld.run.program.compiler import PARAMETERS, Compiled, outside_the_lane, tables
from geduld.run.program.functions import TOOLS, Finished
from geduld.run.program.requests import NOTHING, PASS, UNTIL_CALLED, Op
from geduld.script.ends import BROKEN_OFF, Idle, Left, TooMuch
from geduld.script.lines import Lines
from geduld.script.memory import SOURCE
from geduld.script.quiet import Quiet
from geduld.script.seeking import seek
from geduld.script.words import OpByLine, Words

# What the machine does under names of the lane.
MACHINE = {
    "number_": "number",
    "text_": "text",
    "message_": "message",
    "say_": "say",
    "deeper_": "deeper",
}


# The lanes of an interrupt: one notices each time, for which its condition must first not hold; one performs it.
_HOOKED = """\
    def watch_(key, off, on):
        nonlocal now, i
        while True:
            now, i, x = yield off, now
            now, i, x = yield on, now
            calls.pending[key] = None
    def perform_(handler):
        try:
            x = handler()
            if type_(x) is generator_: yield from x
        except Left: raise Finished(now) from None
        except TooMuch as problem:
            event(now, 'limit', *machine.crashed(problem, lines_))
            raise Stuck(now, 'memory') from None
        except BROKEN_OFF as problem:
            event(now, 'error', *machine.crashed(problem, lines_))
            raise Stuck(now, 'error') from None
        return now
        yield
""".splitlines()

# Stands where a reading is worked out in the source itself, behind its value; and where functions share the outputs.
# No text of the student can hold such a mark: in the source all texts are as `repr` writes them.
COUNTED = "\x00counted"
OUTPUTS = "\x00outputs"


@dataclass
class Source:
    """The source of a script, line by line, with the student's line for each."""

    lines: list[str] = field(default_factory=list)
    places: list[int] = field(default_factory=list)
    place: int = 0

    def add(self, level: int, text: str) -> None:
        """A line of source, for the student's line `place`."""
        self.lines.append("    " * level + text)
        self.places.append(self.place)


def compile_script(
    words: Words,
    start: tuple[terms.Step, ...],
    source: Source,
    tools: dict[str, Any],
    machine: Callable[..., Any],
    methods: dict[str, str],
    kept: int,
    names: list[str],
) -> Compiled:
    """A script as a generator function.

    `source` stands at level 2 of the lane. `tools` are what it may use, `machine` makes what one run works with, whose
    `methods` it calls by the names given there; `kept` is how many values the words keep; `names` are the script's own,
    which functions share.
    """
    writer = words.writer
    functions = words.source()
    ahead = "reach" if writer.closed else "times"
    head = [
        f"def lane({PARAMETERS.format(ahead)}):",
        "    now = i = steps = acts = depth = over = here = 0",
        "    machine = machine_(event, most, texts, seed)",
        *(
            ["    lines = lines_on_(rig_, put, control, line_at, event)"]
            if any("lines.set(" in line for line in functions)
            else []
        ),
        "    random_ = machine.random",
        *(f"    {name} = machine.{method}" for name, method in (MACHINE | methods).items()),
        *(["    kept_ = kept_with_(channel)"] if not writer.closed else []),
        *(f"    c{index} = channel({name!r})" for name, index in writer.names.channels.items()),
        *(f"    o{index} = nan" for index in range(len(writer.outputs))),
        *(f"    kept[{step.index}] = 0.0" for step in start if isinstance(step, terms.Assign)),
        *(f"    {name} = None; del {name}" for name in names),
        *(_HOOKED if words.watched else []),
        *functions,
    ]
    if not writer.closed:
        head += [f"    a{index} = column_(c{index})" for index in writer.names.channels.values()]
    head += ["    try:"]
    tail = [
        "    except Idle: raise Stuck(now, 'idle') from None",
        "    except Left: pass",
        "    except TooMuch as problem:",
        "        event(now, 'limit', *machine.crashed(problem, lines_))",
        "        raise Stuck(now, 'memory') from None",
        "    except BROKEN_OFF as problem:",
        "        event(now, 'error', *machine.crashed(problem, lines_))",
        "        raise Stuck(now, 'error') from None",
        "    return now",
        "    yield",
    ]
    lines = [*head, *source.lines, *tail, *outside_the_lane(writer)]
    outputs = "".join(f", o{index}" for index in range(len(writer.outputs)))
    text = "\n".join(lines).replace(OUTPUTS, outputs)
    # What is touched is counted only where a loop asks whether it was.
    text = text.replace(COUNTED, " if (acts := acts + 1) else 0)" if "if acts != " in text else ")")
    ops = {f"k{index}": OpByLine(op) for index, op in enumerate(writer.ops)}
    namespace: dict[str, Any] = {
        "__builtins__": {"__build_class__": __build_class__},
        "__name__": SOURCE,
        **TOOLS,
        **ops,
        **_ENGINE,
        **tools,
        "machine_": machine,
        "called_": OpByLine(UNTIL_CALLED),
        "pass_": OpByLine(Op(PASS, 0, amount=words.rig.loop_us)),
        "lines_on_": Lines,
        "rig_": words.rig,
        "lines_": [0] * len(head) + source.places + [0] * len(tail),
    }
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # what is odd about a student's program is said in hints
        code = compile(text, SOURCE, "exec", dont_inherit=True, optimize=2)
    exec(code, namespace)
    return tables(writer, namespace, text, words.watched, kept)


def _kept_with(channel: Any) -> dict[Any, Any]:
    """What loops that only wait have looked up in a recording: kept with it, as it is the same for every program."""
    found: dict[Any, Any] = channel.__self__.looked_up
    return found


def _column(view: Any) -> Any:
    return np.asarray(view)


def _where(holds: Any, value: Any, otherwise: float) -> Any:
    return np.where(holds, value, otherwise)


def _cut_time(number: int, by: int) -> int:
    """A quotient of whole numbers, without what is behind its point."""
    return number // by if number >= 0 else -(-number // by)


_ENGINE: dict[str, Any] = {
    "cut_time_": _cut_time,
    "nothing": NOTHING,
    "type_": type,
    "generator_": GeneratorType,
    "Idle": Idle,
    "Left": Left,
    "TooMuch": TooMuch,
    "Finished": Finished,
    "BROKEN_OFF": BROKEN_OFF,
    "quiet_": Quiet,
    "seek_": seek,
    "kept_with_": _kept_with,
    "column_": _column,
    "where_": _where,
    "trunc_": np.trunc,
    "rint_": np.rint,
    "isnan_": np.isnan,
    "round_": round,
    "int_": int,
}
