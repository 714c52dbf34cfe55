"""Turns bound steps into a Python generator.

Nothing of the student's text reaches the generated source: names become indices, numbers are printed
with `repr`, texts stay in a table. The generator yields what it waits for and is sent the instant at
which it goes on; a loop pass that never waited moves the clock inside the generator.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator
from dataclasses import dataclass, field
from typing import Any

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.polling import commanded, is_stateless, terms_of
from geduld.run.tools import TOOLS

Lane = Generator[tuple[Any, ...], tuple[int, int, int], int]
SLEEP, AWAIT, OVER, FOLLOW, RAMP, PASS, POLL, SIDE, TRAVEL = range(9)
POWER, SPEED, BRAKE, COAST = range(4)
_STYLES = {"": POWER, "brake": BRAKE, "coast": COAST}
_SHARED = "# what the lanes share"
STEPS_OF_A_WAIT = 10  # a wait costs about ten times as much as a step that takes no time
_NAMES = {"<": "<", "<=": "<=", ">": ">", ">=": ">=", "=": "=="}


@dataclass
class Compiled:
    """A program that can be run many times: its generator function, and its tables."""

    lane: Callable[..., Lane]
    conditions: tuple[terms.Term, ...]
    follows: tuple[terms.Term, ...]
    polls: tuple[terms.Repeat, ...]
    travels: tuple[terms.Travel, ...]
    texts: tuple[str, ...]
    source: str
    has_lanes: bool


@dataclass
class _Writer:
    rig: Rig
    controlled: frozenset[str] = frozenset()
    lines: list[str] = field(default_factory=list)
    conditions: list[terms.Term] = field(default_factory=list)
    follows: list[terms.Term] = field(default_factory=list)
    polls: list[terms.Repeat] = field(default_factory=list)
    travels: list[terms.Travel] = field(default_factory=list)
    texts: list[str] = field(default_factory=list)
    channels: list[str] = field(default_factory=list)
    outputs: list[str] = field(default_factory=list)
    loops: int = 0
    lanes: bool = False
    in_lane: bool = False
    guards: list[tuple[int, terms.Term]] = field(default_factory=list)
    guard_numbers: list[int] = field(default_factory=list)
    guard_count: int = 0
    lane_count: int = 0

    def add(self, level: int, text: str) -> None:
        self.lines.append("    " * level + text)

    def variable(self, index: int) -> str:
        """A value that `set` keeps: a local, or an item that all lanes and the executor see."""
        return f"kept[{index}]" if self.lanes else f"v{index}"

    def text(self, text: str) -> int:
        self.texts.append(text)
        return len(self.texts) - 1


def compile_program(bound: terms.Bound, rig: Rig) -> Compiled:
    """The bound program as a generator function. The program must have no errors."""
    steps = [step for step, _ in terms.walk_steps(bound.steps)]
    writer = _Writer(rig, controlled(steps, rig), lanes=any(isinstance(step, terms.Side) for step in steps))
    _block(writer, 1, bound.steps)
    shared = "    nonlocal " + ", ".join(["steps", *(f"o{index}" for index in range(len(writer.outputs)))])
    lines = [line.replace(_SHARED, shared.strip()) for line in writer.lines]
    variables = [f"    v{index} = nan" for index in range(0 if writer.lanes else len(bound.variables))]
    channels = [f"    c{index} = channel({name!r})" for index, name in enumerate(writer.channels)]
    source = "\n".join(
        [
            "def lane(put, channel, event, looped, control, encoder, turn, times, end, loop, most, kept):",
            "    now = i = steps = 0",
            *variables,
            *channels,
            *(f"    o{index} = nan" for index in range(len(writer.outputs))),
            *lines,
            "    return now",
            "    yield",
        ]
    )
    namespace: dict[str, Any] = {"__builtins__": {}, **TOOLS}
    exec(compile(source, "<behaviour>", "exec"), namespace)
    return Compiled(
        namespace["lane"],
        tuple(writer.conditions),
        tuple(writer.follows),
        tuple(writer.polls),
        tuple(writer.travels),
        tuple(writer.texts),
        source,
        writer.lanes,
    )


def _block(writer: _Writer, level: int, steps: tuple[terms.Step, ...]) -> None:
    if not steps:
        writer.add(level, "pass")
    for step in steps:
        _step(writer, level, step)


def _step(writer: _Writer, level: int, step: terms.Step) -> None:
    match step:
        case terms.Command():
            _command(writer, level, step)
        case terms.Follow():
            _follow(writer, level, step)
        case terms.Ramp():
            _ramp(writer, level, step)
        case terms.Bands():
            _bands(writer, level, step)
        case terms.Halt():
            for part in step.parts:
                style = _STYLES[step.style] if writer.rig.parts[part].kind.word == "motor" else POWER
                _put(writer, level, part, "0.0", step.line, style)
        case terms.Wait():
            _wait(writer, level, step.line, step.ending, (), ())
        case terms.Repeat():
            _repeat(writer, level, step)
        case terms.Guarded():
            _guarded(writer, level, step)
        case terms.Side():
            _side(writer, level, step)
        case terms.Leave():
            writer.add(level, "break")
        case terms.Branches():
            _branches(writer, level, step)
        case terms.Assign():
            writer.add(level, f"{writer.variable(step.index)} = {_scalar(writer, step.value)}")
        case terms.Send():
            writer.add(level, f"event(now, 'send', {step.line}, {writer.text(step.text)})")
        case terms.Note():
            writer.add(level, f"event(now, 'note', {step.line}, {writer.text(step.text)})")
        case terms.Finish():
            writer.add(level, f"event(now, 'finish', {step.line}, {writer.text(step.why or '')})")
            writer.add(level, "raise Finished(now)")


def _command(writer: _Writer, level: int, step: terms.Command) -> None:
    for part, value in step.settings:
        _put(writer, level, part, _scalar(writer, value), step.line, SPEED if step.regulated else POWER)
    if step.ending is not None:
        _wait(writer, level, step.line, step.ending, step.stops, step.abandons)


def controlled(steps: list[terms.Step], rig: Rig) -> frozenset[str]:
    """The motors that are ever commanded otherwise than by power."""
    found: set[str] = set()
    for step in steps:
        if isinstance(step, terms.Command | terms.Follow) and step.regulated:
            found |= {part for part, _ in step.settings}
        elif (isinstance(step, terms.Ramp) and step.regulated) or (isinstance(step, terms.Halt) and step.style):
            found |= {part for part in step.parts if rig.parts[part].kind.word == "motor"}
    return frozenset(found)


def _put(writer: _Writer, level: int, part: str, value: str, line: int, control: int = POWER) -> None:
    """Commands an output. Its last value is a local, so that a command that changes nothing is cheap."""
    if part in writer.controlled:
        writer.add(level, f"control({part!r}, {control}, now)")
    if part not in writer.outputs:
        writer.outputs.append(part)
    last = f"o{writer.outputs.index(part)}"
    if value.replace(".", "").isdigit():
        writer.add(level, f"if {last} != {value}: {last} = put({part!r}, {value}, now, {line})")
    else:
        writer.add(level, f"x = {value}")
        writer.add(level, f"if x != {last}: {last} = put({part!r}, x, now, {line})")


def _wait(
    writer: _Writer,
    level: int,
    line: int,
    ending: terms.Ending,
    stops: tuple[str, ...],
    abandons: tuple[str, ...],
) -> None:
    _begin_looking(writer, level, ending)
    writer.add(level, f"now, i, came = yield ({_request(writer, line, ending)})")
    _ended(writer, level, line, ending, stops, abandons)


def _guarded(writer: _Writer, level: int, step: terms.Guarded) -> None:
    """A body that any wait inside it may be called out of, and its handler."""
    number = writer.guard_count
    writer.guard_count += 1
    writer.conditions.append(step.condition)
    _look_afresh(writer, level, step.condition)
    writer.add(level, "try:")
    writer.add(level + 1, f"if {_scalar(writer, step.condition)}: raise Abandoned({number})")
    writer.guards.append((len(writer.conditions) - 1, step.condition))
    numbers = writer.guard_numbers
    numbers.append(number)
    _block(writer, level + 1, step.body)
    writer.guards.pop()
    numbers.pop()
    writer.add(level, "except Abandoned as gone:")
    writer.add(level + 1, f"if gone.args[0] != {number}: raise")
    _block(writer, level + 1, step.handler)


def _side(writer: _Writer, level: int, step: terms.Side) -> None:
    """Each lane becomes a generator of its own inside this one; the executor runs them together."""
    number, writer.lane_count = writer.lane_count, writer.lane_count + len(step.lanes)
    outer, writer.in_lane = writer.in_lane, True
    for index, (_, body) in enumerate(step.lanes):
        writer.add(level, f"def lane{number + index}(now, i):")
        writer.add(level + 1, _SHARED)
        _block(writer, level + 1, body)
        writer.add(level + 1, "return now")
        writer.add(level + 1, "yield")
    writer.in_lane = outer
    lanes = "".join(f"lane{number + index}(now, i), " for index in range(len(step.lanes)))
    names = tuple(name for name, _ in step.lanes)
    writer.add(level, f"now, i, came = yield ({SIDE}, {step.line}, now, {_guards(writer)}, ({lanes}), {names!r})")
    _called_out(writer, level, step.line, ())


def _guards(writer: _Writer) -> str:
    """The guards around a step, the outermost first: number, condition, and its variables now."""
    pairs = zip(writer.guard_numbers, writer.guards, strict=True)
    return "(" + "".join(f"({number}, {index}, {_variables(writer, term)}), " for number, (index, term) in pairs) + ")"


def _called_out(writer: _Writer, level: int, line: int, abandons: tuple[str, ...]) -> None:
    """Behind a wait: when a guard ended it, the action in progress stops and the body is left."""
    if not writer.guards:
        return
    writer.add(level, "if came > 1:")
    for part in abandons:
        _put(writer, level + 1, part, "0.0", line)
    writer.add(level + 1, "raise Abandoned(came - 2)")


def _look(writer: _Writer, level: int, *conditions: terms.Term) -> None:
    """Before conditions are asked: what has just become so is what was not there when they were asked last."""
    for just in _justs(*conditions):
        seen = writer.variable(just.index)
        writer.add(level, f"j{just.index} = {seen}")
        writer.add(level, f"{seen} = {_channel(writer, just.counter)}")


def _look_afresh(writer: _Writer, level: int, *conditions: terms.Term) -> None:
    """Before a wait: only what becomes so from now on counts."""
    for just in _justs(*conditions):
        writer.add(level, f"j{just.index} = {writer.variable(just.index)} = {_channel(writer, just.counter)}")


def _begin_looking(writer: _Writer, level: int, ending: terms.Ending) -> None:
    if isinstance(ending, terms.Until):
        _look_afresh(writer, level, ending.condition)


def _justs(*conditions: terms.Term) -> Iterator[terms.Just]:
    return (term for condition in conditions for term in condition.walk() if isinstance(term, terms.Just))


def _request(writer: _Writer, line: int, ending: terms.Ending) -> str:
    """What the executor is asked: to sleep until a tick, to await a condition, or to see a way made."""
    if isinstance(ending, terms.Travel):
        writer.travels.append(ending)
        amount = _scalar(writer, ending.amount)
        return f"{TRAVEL}, {line}, now, {_guards(writer)}, {len(writer.travels) - 1}, {amount}"
    if not isinstance(ending, terms.Until):
        return f"{SLEEP}, {line}, now, {_guards(writer)}, now + _ticks({_scalar(writer, ending)})"
    held = f"_ticks({_scalar(writer, ending.held)})" if ending.held else "0"
    patience = f"_ticks({_scalar(writer, ending.patience)})" if ending.patience else "None"
    writer.conditions.append(ending.condition)
    values = _variables(writer, ending.condition)
    return f"{AWAIT}, {line}, now, {_guards(writer)}, {len(writer.conditions) - 1}, {values}, {held}, {patience}"


def _variables(writer: _Writer, *used: terms.Term) -> str:
    """What some terms keep: their variables with their values now, their encoders with how they turn."""
    items = [item for term in used for item in term.walk()]
    indices = sorted({item.index for item in items if isinstance(item, terms.Variable | terms.Timer | terms.Just)})
    encoders = sorted({item.part for item in items if isinstance(item, terms.Encoder)})
    kept = [f"({index}, {writer.variable(index)}), " for index in indices]
    kept += [f"({name!r}, turn({name!r}, now)), " for name in encoders]
    return "(" + "".join(kept) + ")"


def _ended(
    writer: _Writer,
    level: int,
    line: int,
    ending: terms.Ending,
    stops: tuple[str, ...],
    abandons: tuple[str, ...],
) -> None:
    writer.add(level, f"steps += {STEPS_OF_A_WAIT}")
    _called_out(writer, level, line, abandons)
    for part in stops:
        _put(writer, level, part, "0.0", line)
    if isinstance(ending, terms.Until) and ending.patience is not None:
        writer.add(level, "if not came:")
        writer.add(level + 1, f"event(now, 'patience', {line}, -1)")
        _block(writer, level + 1, ending.otherwise)


def _follow(writer: _Writer, level: int, step: terms.Follow) -> None:
    """The outputs are set now; at the later samples the executor sets them, from whole columns."""
    followers = []
    for part, value in step.settings:
        _put(writer, level, part, _scalar(writer, value), step.line, SPEED if step.regulated else POWER)
        writer.follows.append(value)
        followers.append(f"({part!r}, {len(writer.follows) - 1}), ")
    used = _variables(writer, *(value for _, value in step.settings))
    _begin_looking(writer, level, step.ending)
    inner = _request(writer, step.line, step.ending)
    head = f"{FOLLOW}, {step.line}, now, {_guards(writer)}"
    writer.add(level, f"now, i, came = yield ({head}, ({inner}), ({''.join(followers)}), {used})")
    _forget(writer, level, [part for part, _ in step.settings])
    _ended(writer, level, step.line, step.ending, step.stops, step.abandons)


def _ramp(writer: _Writer, level: int, step: terms.Ramp) -> None:
    writer.add(level, f"a, b = {_scalar(writer, step.start)}, {_scalar(writer, step.stop)}")
    control = SPEED if step.regulated else POWER
    for part in step.parts:
        _put(writer, level, part, "a", step.line, control)
    over = f"now + _ticks({_scalar(writer, step.over)})"
    writer.add(
        level, f"now, i, came = yield ({RAMP}, {step.line}, now, {_guards(writer)}, {over}, {step.parts!r}, a, b)"
    )
    _forget(writer, level, list(step.parts))
    _called_out(writer, level, step.line, step.abandons)
    for part in step.parts:
        _put(writer, level, part, "b", step.line, control)
    _ended(writer, level, step.line, step.over, step.stops, step.abandons)


def _forget(writer: _Writer, level: int, parts: list[str]) -> None:
    """The executor has set these outputs, so their last value is no longer known here."""
    for part in parts:
        writer.add(level, f"o{writer.outputs.index(part)} = nan")


def _bands(writer: _Writer, level: int, step: terms.Bands) -> None:
    name = writer.variable(step.index)
    writer.add(level, f"x = {_scalar(writer, step.value)}")
    writer.add(level, "if x != x:")
    _block(writer, level + 1, step.absent)
    writer.add(level, "else:")
    writer.add(level + 1, f"{name} = _band(x, {name}, {step.edges!r}, {step.slack!r})")
    for index, body in enumerate(step.bodies):
        writer.add(level + 1, f"{'elif' if index else 'if'} {name} == {index}:")
        _block(writer, level + 2, body)


def _poll(writer: _Writer, level: int, step: terms.Repeat) -> None:
    """A loop without state: the executor does all its passes at once and says how many steps they were."""
    writer.polls.append(step)
    used = _variables(writer, *terms_of(step))
    cost = max(1, _count(step.body))
    request = f"{POLL}, {step.line}, now, (), {len(writer.polls) - 1}, {used}, {cost}, most - steps"
    writer.add(level, f"now, i, came = yield ({request})")
    writer.add(level, "if came < 0: raise StepsExhausted(now)")
    writer.add(level, "steps += came")
    for part in dict.fromkeys(commanded(step)):
        if part in writer.outputs:
            _forget(writer, level, [part])


def _repeat(writer: _Writer, level: int, step: terms.Repeat) -> None:
    stateless = is_stateless(step) and writer.controlled.isdisjoint(commanded(step))
    if stateless and not writer.guards and not writer.in_lane:
        _poll(writer, level, step)
        return
    number = writer.loops
    writer.loops += 1
    inner = level + 1
    if step.form == "times" and step.value:
        writer.add(level, f"for _ in _times({_scalar(writer, step.value)}):")
    else:
        writer.add(level, "while True:")
    if step.form in ("while", "until") and step.value:
        _look(writer, inner, step.value)
        truth = _scalar(writer, step.value)
        writer.add(inner, f"if {truth}: break" if step.form == "until" else f"if not {truth}: break")
    writer.add(inner, f"s{number} = now")
    writer.add(inner, f"steps += {max(1, _count(step.body))}")
    writer.add(inner, "if steps > most: raise StepsExhausted(now)")
    _block(writer, inner, step.body)
    writer.add(inner, f"if now == s{number}:")
    if writer.guards or writer.in_lane:
        request = f"{PASS}, {step.line}, now, {_guards(writer)}, now + loop"
        writer.add(inner + 1, f"now, i, came = yield ({request})")
        _called_out(writer, inner + 1, step.line, ())
        return
    writer.add(inner + 1, "now += loop")
    writer.add(inner + 1, f"looped({step.line}, s{number}, now)")
    writer.add(inner + 1, f"if now > end: yield ({OVER},)")
    writer.add(inner + 1, "while times[i + 1] <= now: i += 1")


def _branches(writer: _Writer, level: int, step: terms.Branches) -> None:
    word = "if"
    _look(writer, level, *(condition for condition, _ in step.arms if condition is not None))
    for condition, body in step.arms:
        writer.add(level, "else:" if condition is None else f"{word} {_scalar(writer, condition)}:")
        _block(writer, level + 1, body)
        word = "elif"


def _count(steps: tuple[terms.Step, ...]) -> int:
    """Steps of a body, with those of its branches; loops inside count their own."""
    total = len(steps)
    for step in steps:
        if isinstance(step, terms.Branches):
            total += sum(_count(body) for _, body in step.arms)
        elif isinstance(step, terms.Guarded):
            total += _count(step.body)
        elif isinstance(step, terms.Bands):
            total += sum(_count(body) for body in step.bodies)
    return total


def _channel(writer: _Writer, name: str) -> str:
    """A channel's value at the sample that holds now."""
    if name not in writer.channels:
        writer.channels.append(name)
    return f"c{writer.channels.index(name)}[i]"


def _scalar(writer: _Writer, term: terms.Term) -> str:
    """The term as a Python expression over the generator's locals."""
    match term:
        case terms.Const():
            return repr(term.value) if term.value >= 0 else f"({term.value!r})"
        case terms.Encoder():
            return f"encoder({term.part!r}, now, i)"
        case terms.Reading():
            return _channel(writer, term.part)
        case terms.Variable():
            return writer.variable(term.index)
        case terms.Clock():
            return "(now / 1000000)"
        case terms.Now():
            return "now"
        case terms.Timer():
            return f"((now - {writer.variable(term.index)}) / 1000000)"
        case terms.Just():
            return f"({_channel(writer, term.counter)} > j{term.index})"
        case terms.Arithmetic():
            left, right = _scalar(writer, term.left), _scalar(writer, term.right)
            return f"_divide({left}, {right})" if term.sign == "/" else f"({left} {term.sign} {right})"
        case terms.Function():
            tool = {"abs": "_abs", "min": "_least", "max": "_most", "clamp": "_clamp", "round": "_round"}[term.name]
            return f"{tool}({', '.join(_scalar(writer, value) for value in term.values)})"
        case terms.Compare():
            left, right = _scalar(writer, term.left), _scalar(writer, term.right)
            if term.sign == "!=":
                return f"({left} < {right} or {left} > {right})"
            return f"({left} {_NAMES[term.sign]} {right})"
        case terms.Junction():
            return f"({_scalar(writer, term.left)} {term.word} {_scalar(writer, term.right)})"
        case terms.Opposite():
            return f"(not {_scalar(writer, term.value)})"
        case terms.Absent():
            value = _scalar(writer, term.value)
            return f"({value} != {value})"
    raise TypeError(f"not a term: {term!r}")
