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
from geduld.run.ops import AWAIT, BRAKE, COAST, FOLLOW, NOTHING, PASS, POLL, POWER, RAMP, SIDE, SLEEP, SPEED, TRAVEL, Op
from geduld.run.polling import Poll, commanded, is_stateless, terms_of
from geduld.run.scalar import Names
from geduld.run.search import Condition
from geduld.run.tools import TOOLS, as_ticks

Lane = Generator[tuple[Any, ...], tuple[int, int, int], int]
_STYLES = {"": POWER, "brake": BRAKE, "coast": COAST}
_KEEPING = (terms.Variable, terms.Timer, terms.Just, terms.Encoder)
_SHARED = "# what the lanes share"
# What waits cost in steps: a step that takes no time is about 0.1 us of work, a plain wait 3 us.
_PLAIN, _KEEPS, _MOVES, _A_LANE = 50, 200, 1_200, 30


@dataclass
class Compiled:
    """A program that can be run many times: its generator function, and its tables."""

    lane: Callable[..., Lane]
    samplers: tuple[Callable[..., Any] | None, ...]
    conditions: tuple[Condition, ...]
    follows: tuple[terms.Term, ...]
    polls: tuple[Poll, ...]
    travels: tuple[terms.Travel, ...]
    texts: tuple[str, ...]
    source: str
    has_lanes: bool
    asks_encoders: bool


@dataclass
class _Writer:
    rig: Rig
    names: Names
    controlled: frozenset[str]
    inline: frozenset[str]
    lines: list[str] = field(default_factory=list)
    ops: list[Op] = field(default_factory=list)
    conditions: list[terms.Term] = field(default_factory=list)
    follows: list[terms.Term] = field(default_factory=list)
    polls: list[terms.Repeat] = field(default_factory=list)
    travels: list[terms.Travel] = field(default_factory=list)
    texts: list[str] = field(default_factory=list)
    outputs: list[str] = field(default_factory=list)
    loops: int = 0
    depth: int = 0
    in_lane: bool = False
    guards: list[tuple[int, int, terms.Term]] = field(default_factory=list)
    guard_count: int = 0
    lane_count: int = 0
    most_lanes: int = 0
    samplers: list[tuple[Names, str] | None] = field(default_factory=list)
    asks_encoders: bool = False
    at_rest: dict[tuple[str, ...], tuple[tuple[str, float], ...]] = field(default_factory=dict)

    def add(self, level: int, text: str) -> None:
        self.lines.append("    " * level + text)

    def text(self, text: str) -> int:
        self.texts.append(text)
        return len(self.texts) - 1

    def condition(self, term: terms.Term) -> int:
        self.conditions.append(term)
        return len(self.conditions) - 1

    def op(self, op: Op) -> str:
        """An op under the name that the generated source has for it."""
        self.ops.append(op)
        return f"k{len(self.ops) - 1}"


def compile_program(bound: terms.Bound, rig: Rig) -> Compiled:
    """The bound program as a generator function. The program must have no errors."""
    steps = list(terms.walk_steps(bound.steps))
    lanes = sum(len(step.lanes) for step, _ in steps if isinstance(step, terms.Side))
    has_lanes = lanes > 0
    writer = _Writer(rig, Names(has_lanes), _controlled(steps, rig), _inline(steps), most_lanes=lanes)
    _block(writer, 1, bound.steps)
    shared = "    nonlocal " + ", ".join(["steps", *(f"o{index}" for index in range(len(writer.outputs)))])
    lines = [line.replace(_SHARED, shared.strip()) for line in writer.lines]
    variables = [] if has_lanes else [f"    v{index} = nan" for index in range(len(bound.variables))]
    channels = [f"    c{index} = channel({name!r})" for name, index in writer.names.channels.items()]
    source = "\n".join(
        [
            "def lane(put, do, channel, event, looped, control, encoder, times, end, loop, most, kept):",
            "    now = i = steps = 0",
            *variables,
            *channels,
            *(f"    o{index} = nan" for index in range(len(writer.outputs))),
            *lines,
            "    return now",
            "    yield",
            *(line for index, found in enumerate(writer.samplers) if found for line in _sampler(index, *found)),
        ]
    )
    ops = {f"k{index}": op for index, op in enumerate(writer.ops)}
    namespace: dict[str, Any] = {"__builtins__": {}, **TOOLS, **ops, "nothing": NOTHING}
    exec(compile(source, "<behaviour>", "exec", dont_inherit=True, optimize=2), namespace)
    return Compiled(
        namespace["lane"],
        tuple(namespace.get(f"sampler{index}") for index in range(len(writer.samplers))),
        tuple(Condition.of(term) for term in writer.conditions),
        tuple(writer.follows),
        tuple(Poll.of(step) for step in writer.polls),
        tuple(writer.travels),
        tuple(writer.texts),
        source,
        has_lanes,
        writer.asks_encoders,
    )


def _sampler(index: int, names: Names, values: str) -> list[str]:
    """A function that works out, sample by sample, the outputs of a step that follows what they themselves turn."""
    channels = [f"    c{place} = channel({name!r})" for name, place in names.channels.items()]
    return [
        f"def sampler{index}(channel, encoder, kept):",
        *channels,
        f"    def values(now, i): return {values}",
        "    return values",
    ]


def _controlled(steps: list[tuple[terms.Step, int]], rig: Rig) -> frozenset[str]:
    """The motors that are ever commanded otherwise than by power."""
    found: set[str] = set()
    for step, _ in steps:
        if isinstance(step, terms.Command | terms.Follow) and step.regulated:
            found |= {part for part, _ in step.settings}
        elif (isinstance(step, terms.Ramp) and step.regulated) or (isinstance(step, terms.Halt) and step.style):
            found |= {part for part in step.parts if rig.parts[part].kind.word == "motor"}
    return frozenset(found)


def _inline(steps: list[tuple[terms.Step, int]]) -> frozenset[str]:
    """The outputs that the source itself sets, in loops or to values worked out there."""
    found: set[str] = set()
    for step, loops in steps:
        if isinstance(step, terms.Halt) and loops:
            found |= set(step.parts)
        elif isinstance(step, terms.Command) and step.ending is None and (loops or not _is_fixed(step)):
            found |= {part for part, _ in step.settings}
    return frozenset(found)


def _is_fixed(step: terms.Command) -> bool:
    return all(isinstance(value, terms.Const) and value.value == value.value for _, value in step.settings)


def _block(writer: _Writer, level: int, steps: tuple[terms.Step, ...]) -> None:
    if not steps:
        writer.add(level, "pass")
    for step in steps:
        _step(writer, level, step)


def _step(writer: _Writer, level: int, step: terms.Step) -> None:
    match step:
        case terms.Command():
            _command(writer, level, step)
        case terms.Wait():
            _ask(writer, level, step.ending, Op(SLEEP, step.line))
        case terms.Repeat():
            _repeat(writer, level, step)
        case terms.Branches():
            _branches(writer, level, step)
        case terms.Assign():
            writer.add(level, f"{writer.names.variable(step.index)} = {writer.names.scalar(step.value)}")
        case terms.Halt():
            _halt(writer, level, step)
        case terms.Follow():
            _follow(writer, level, step)
        case terms.Ramp():
            _ramp(writer, level, step)
        case terms.Bands():
            _bands(writer, level, step)
        case terms.Guarded():
            _guarded(writer, level, step)
        case terms.Side():
            _side(writer, level, step)
        case terms.Leave():
            writer.add(level, "break")
        case terms.Send():
            writer.add(level, f"event(now, 'send', {step.line}, {writer.text(step.text)})")
        case terms.Note():
            writer.add(level, f"event(now, 'note', {step.line}, {writer.text(step.text)})")
        case terms.Finish():
            writer.add(level, f"event(now, 'finish', {step.line}, {writer.text(step.why or '')})")
            writer.add(level, "raise Finished(now)")


def _command(writer: _Writer, level: int, step: terms.Command) -> None:
    control = SPEED if step.regulated else POWER
    if step.ending is None and (writer.depth or not _is_fixed(step)):
        for part, value in step.settings:
            _put(writer, level, part, writer.names.scalar(value), step.line, control)
        return
    op = _acting(writer, SLEEP, step.line, [part for part, _ in step.settings], control, step.stops, step.abandons)
    values = None
    if _is_fixed(step):
        parts = writer.rig.parts
        op.fixed = tuple((part, parts[part].clamp(value.value)) for part, value in step.settings)  # type: ignore[attr-defined]
        op.sets = ()
    else:
        values = "(" + "".join(f"{writer.names.scalar(value)}, " for _, value in step.settings) + ")"
    if step.ending is None:
        _do(writer, level, op)
    else:
        _ask(writer, level, step.ending, op, values)


def _halt(writer: _Writer, level: int, step: terms.Halt) -> None:
    if writer.depth:
        for part in step.parts:
            _put(writer, level, part, "0.0", step.line, _style(writer, part, step.style))
        return
    controls = tuple((part, _style(writer, part, step.style)) for part in step.parts if part in writer.controlled)
    _do(writer, level, Op(SLEEP, step.line, fixed=_at_rest(writer, step.parts), controls=controls))


def _do(writer: _Writer, level: int, op: Op) -> None:
    """Sets outputs to what is known beforehand."""
    writer.add(level, f"do({writer.op(op)}, now)")
    _forget(writer, level, {part for part, _ in op.fixed})


def _style(writer: _Writer, part: str, style: str) -> int:
    return _STYLES[style] if writer.rig.parts[part].kind.word == "motor" else POWER


def _at_rest(writer: _Writer, parts: tuple[str, ...]) -> tuple[tuple[str, float], ...]:
    found = writer.at_rest.get(parts)
    if found is None:
        found = writer.at_rest[parts] = tuple((part, writer.rig.parts[part].clamp(0.0)) for part in parts)
    return found


def _acting(
    writer: _Writer,
    kind: int,
    line: int,
    sets: list[str],
    control: int,
    stops: tuple[str, ...],
    abandons: tuple[str, ...],
) -> Op:
    """An op that sets outputs and stops them."""
    return Op(
        kind,
        line,
        sets=tuple(sets),
        stops=_at_rest(writer, stops),
        abandons=_at_rest(writer, abandons),
        controls=tuple((part, control) for part in sets if part in writer.controlled) if writer.controlled else (),
        rests=tuple((part, POWER) for part in abandons if part in writer.controlled) if writer.controlled else (),
    )


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


def _ask(
    writer: _Writer, level: int, ending: terms.Ending, op: Op, values: str | None = None, more: str = "()"
) -> None:
    """Yields a step that takes time, and goes on behind its end."""
    kept, amount = "()", None
    if isinstance(ending, terms.Until):
        op.ending, op.index = AWAIT, writer.condition(ending.condition)
        _look_afresh(writer, level, ending.condition)
        kept = _kept(writer, ending.condition)
        times = [_ticks(writer, ending.held), _ticks(writer, ending.patience) if ending.patience else None]
        op.amount = tuple(times)
        if any(isinstance(time, str) for time in times):
            amount = f"({times[0]}, {times[1]})"
    elif isinstance(ending, terms.Travel):
        op.ending, op.index = TRAVEL, len(writer.travels)
        writer.travels.append(ending)
        fixed = isinstance(ending.amount, terms.Const)
        op.amount, amount = (ending.amount.value, None) if fixed else (None, writer.names.scalar(ending.amount))  # type: ignore[attr-defined]
    else:
        op.ending, op.amount = SLEEP, _ticks(writer, ending)
        amount = op.amount if isinstance(op.amount, str) else None
    if op.kind not in (FOLLOW, RAMP):
        op.kind = op.ending
    _yield(writer, level, op, kept, values, amount, more)
    _ended(writer, level, op, ending)


def _yield(
    writer: _Writer,
    level: int,
    op: Op,
    kept: str = "()",
    values: str | None = None,
    amount: str | None = None,
    more: str = "()",
) -> None:
    request = f"{writer.op(op)}, now"
    if writer.guards or kept != "()" or values or amount or more != "()":
        request += f", {_guards(writer)}, {kept}, {values}, {amount}, {more}"
    writer.add(level, f"now, i, came = yield {request}")


def _ticks(writer: _Writer, term: terms.Term | None) -> int | str:
    """A time in ticks: as a number where it is fixed, else as an expression."""
    if term is None:
        return 0
    return as_ticks(term.value) if isinstance(term, terms.Const) else f"_ticks({writer.names.scalar(term)})"


def _ended(writer: _Writer, level: int, op: Op, ending: terms.Ending) -> None:
    """What the source does behind a wait; the executor has stopped what is to be stopped."""
    if writer.inline:
        _forget(writer, level, {part for part, _ in (*op.fixed, *op.stops, *op.abandons)} | set(op.sets))
    if writer.depth:
        writer.add(level, f"steps += {_cost(writer, op, ending)}")
    _called_out(writer, level)
    if isinstance(ending, terms.Until) and ending.otherwise:
        writer.add(level, "if not came:")
        _block(writer, level + 1, ending.otherwise)


def _cost(writer: _Writer, op: Op, ending: terms.Ending) -> int:
    """What a wait costs in steps: those that are searched for anew each time, or that keep something moving, most."""
    if op.kind in (FOLLOW, RAMP) or isinstance(ending, terms.Travel):
        return _MOVES
    asked = [term for _, _, term in writer.guards]
    asked += [ending.condition] if isinstance(ending, terms.Until) else []
    if any(isinstance(term, terms.Clock | terms.Timer | terms.Encoder) for top in asked for term in top.walk()):
        return _MOVES + _A_LANE * writer.most_lanes
    if writer.guards or writer.in_lane or any(_keeping(term) for term in asked):
        return _KEEPS + _A_LANE * writer.most_lanes
    return _PLAIN


def _forget(writer: _Writer, level: int, parts: set[str]) -> None:
    """The executor has set these outputs, so their last value is no longer known here."""
    for part in sorted(parts & writer.inline):
        if part not in writer.outputs:
            writer.outputs.append(part)
        writer.add(level, f"o{writer.outputs.index(part)} = nan")


def _guards(writer: _Writer) -> str:
    """The guards around a step, the outermost first: number, condition, and its variables now."""
    return "(" + "".join(f"({n}, {index}, {_kept(writer, term)}), " for n, index, term in writer.guards) + ")"


def _called_out(writer: _Writer, level: int) -> None:
    """Behind a wait: when a guard ended it, the body is left."""
    if writer.guards:
        writer.add(level, "if came > 1: raise Abandoned(came - 2)")


def _guarded(writer: _Writer, level: int, step: terms.Guarded) -> None:
    """A body that any wait inside it may be called out of, and its handler."""
    number = writer.guard_count
    writer.guard_count += 1
    index = writer.condition(step.condition)
    _look_afresh(writer, level, step.condition)
    writer.add(level, "try:")
    writer.add(level + 1, f"if {writer.names.scalar(step.condition)}: raise Abandoned({number})")
    writer.guards.append((number, index, step.condition))
    _block(writer, level + 1, step.body)
    writer.guards.pop()
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
    op = Op(SIDE, step.line, lanes=tuple(name for name, _ in step.lanes))
    _yield(writer, level, op, amount=f"({lanes})")
    _called_out(writer, level)


def _look(writer: _Writer, level: int, *conditions: terms.Term) -> None:
    """Before conditions are asked: what has just become so is what was not there when they were asked last."""
    for just in _justs(*conditions):
        seen = writer.names.variable(just.index)
        writer.add(level, f"j{just.index} = {seen}")
        writer.add(level, f"{seen} = {writer.names.channel(just.counter)}")


def _look_afresh(writer: _Writer, level: int, *conditions: terms.Term) -> None:
    """Before a wait: only what becomes so from now on counts."""
    for just in _justs(*conditions):
        seen = writer.names.variable(just.index)
        writer.add(level, f"j{just.index} = {seen} = {writer.names.channel(just.counter)}")


def _justs(*conditions: terms.Term) -> Iterator[terms.Just]:
    return (term for condition in conditions for term in _keeping(condition) if isinstance(term, terms.Just))


def _keeping(term: terms.Term) -> list[terms.Term]:
    """The terms inside a term that keep something from one instant to the next."""
    if type(term) is terms.Compare and type(term.left) is terms.Reading and type(term.right) is terms.Const:
        return []
    return [inner for inner in term.walk() if type(inner) in _KEEPING]


def _kept(writer: _Writer, *used: terms.Term) -> str:
    """What some terms keep: their variables with their values now, their encoders to be filled in by the executor."""
    items = [item for term in used for item in _keeping(term)]
    if not items:
        return "()"
    indices = sorted({item.index for item in items if isinstance(item, terms.Variable | terms.Timer | terms.Just)})
    encoders = sorted({item.part for item in items if isinstance(item, terms.Encoder)})
    kept = [f"({index}, {writer.names.variable(index)}), " for index in indices]
    writer.asks_encoders |= bool(encoders)
    kept += [f"({name!r}, None), " for name in encoders]
    return "(" + "".join(kept) + ")"


def _follow(writer: _Writer, level: int, step: terms.Follow) -> None:
    """The outputs are set now; at the later samples the executor sets them, from whole columns."""
    first = len(writer.follows)
    writer.follows += [value for _, value in step.settings]
    parts, control = [part for part, _ in step.settings], SPEED if step.regulated else POWER
    op = _acting(writer, FOLLOW, step.line, parts, control, step.stops, step.abandons)
    op.follows = tuple(range(first, len(writer.follows)))
    names = Names(shared=True)
    asks = any(isinstance(item, terms.Encoder) for _, value in step.settings for item in value.walk())
    values_of = "".join(f"{names.scalar(value)}, " for _, value in step.settings) if asks else ""
    writer.samplers.append((names, f"({values_of})") if asks else None)
    op.sampler = len(writer.samplers) - 1
    terms_used = [value for _, value in step.settings]
    values = "(" + "".join(f"{writer.names.scalar(value)}, " for value in terms_used) + ")"
    _ask(writer, level, step.ending, op, values, _kept(writer, *terms_used))


def _ramp(writer: _Writer, level: int, step: terms.Ramp) -> None:
    values = f"({writer.names.scalar(step.start)}, {writer.names.scalar(step.stop)})"
    control = SPEED if step.regulated else POWER
    op = _acting(writer, RAMP, step.line, list(step.parts), control, step.stops, step.abandons)
    _ask(writer, level, step.over, op, values)


def _bands(writer: _Writer, level: int, step: terms.Bands) -> None:
    name = writer.names.variable(step.index)
    writer.add(level, f"x = {writer.names.scalar(step.value)}")
    writer.add(level, "if x != x:")
    _block(writer, level + 1, step.absent)
    writer.add(level, "else:")
    writer.add(level + 1, f"{name} = _band(x, {name}, {step.edges!r}, {step.slack!r})")
    for index, body in enumerate(step.bodies):
        writer.add(level + 1, f"{'elif' if index else 'if'} {name} == {index}:")
        _block(writer, level + 2, body)


def _poll(writer: _Writer, level: int, step: terms.Repeat) -> None:
    """A loop without state: the executor does all its passes at once and says how many steps they were."""
    op = Op(POLL, step.line, index=len(writer.polls))
    writer.polls.append(step)
    cost = max(1, _count(step.body))
    _yield(writer, level, op, _kept(writer, *terms_of(step)), amount=f"({cost}, most - steps)")
    writer.add(level, "if came < 0: raise StepsExhausted(now)")
    writer.add(level, "steps += came")
    _forget(writer, level, set(commanded(step)))


def _repeat(writer: _Writer, level: int, step: terms.Repeat) -> None:
    stateless = is_stateless(step) and writer.controlled.isdisjoint(commanded(step))
    if stateless and not writer.guards and not writer.in_lane:
        _poll(writer, level, step)
        return
    number, level = writer.loops, _begin_passes(writer, level, step)
    writer.loops += 1
    writer.depth += 1
    inner = level + 1
    if step.form == "times" and step.value:
        writer.add(level, f"for _ in _times({writer.names.scalar(step.value)}):")
    else:
        writer.add(level, "while True:")
    if step.form in ("while", "until") and step.value:
        _look(writer, inner, step.value)
        truth = writer.names.scalar(step.value)
        writer.add(inner, f"if {truth}: break" if step.form == "until" else f"if not {truth}: break")
    writer.add(inner, f"s{number} = now")
    writer.add(inner, f"steps += {max(1, _count(step.body))}")
    writer.add(inner, "if steps > most: raise StepsExhausted(now)")
    _block(writer, inner, step.body)
    writer.depth -= 1
    if writer.guards or writer.in_lane:
        writer.add(inner, f"if now == s{number}:")
        _yield(writer, inner + 1, Op(PASS, step.line, amount=writer.rig.loop_us))
        _called_out(writer, inner + 1)
        return
    straight = _goes_straight(step)
    if not straight:
        writer.add(inner, f"if now == s{number}:")
        inner += 1
    writer.add(inner, "now += loop")
    if not straight:
        writer.add(inner, f"looped({step.line}, s{number}, now)")
    writer.add(inner, "if now > end: yield nothing, now")
    writer.add(inner, "while times[i + 1] <= now: i += 1")
    if straight:
        writer.add(level - 1, f"finally: looped({step.line}, b{number}, now)")


def _begin_passes(writer: _Writer, level: int, step: terms.Repeat) -> int:
    """Before a loop whose passes follow each other at once, the one bar of all of them begins; the loop's level.

    Only around innermost loops: Python bounds how deep such blocks may stand in each other.
    """
    if writer.guards or writer.in_lane or not _goes_straight(step):
        return level
    writer.add(level, f"b{writer.loops} = now")
    writer.add(level, "try:")
    return level + 1


def _goes_straight(step: terms.Repeat) -> bool:
    """Whether no pass takes time but by itself: nothing in it waits, and it holds no loop."""
    return not any(
        isinstance(inner, terms.Wait | terms.Follow | terms.Ramp | terms.Guarded | terms.Side | terms.Repeat)
        or (isinstance(inner, terms.Command) and inner.ending is not None)
        for inner, _ in terms.walk_steps(step.body)
    )


def _branches(writer: _Writer, level: int, step: terms.Branches) -> None:
    word = "if"
    _look(writer, level, *(condition for condition, _ in step.arms if condition is not None))
    for condition, body in step.arms:
        writer.add(level, "else:" if condition is None else f"{word} {writer.names.scalar(condition)}:")
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
