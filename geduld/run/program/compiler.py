"""Turns bound steps into a Python generator.

Nothing of the student's text reaches the generated source: names become indices, numbers are printed
with `repr`, texts stay in a table. The generator yields what it waits for and is sent the instant at
which it goes on; a loop pass that never waited moves the clock inside the generator.
"""

from __future__ import annotations

from collections.abc import Callable, Generator
from dataclasses import dataclass
from typing import Any

from geduld.binding import terms
from geduld.rig.model import Rig
from geduld.run.program.functions import TOOLS
from geduld.run.program.loops import Poll, commanded, is_stateless, terms_of
from geduld.run.program.outputs import ask, command, follow, give, halt, is_fixed, ramp
from geduld.run.program.requests import NOTHING, PASS, POLL, SIDE, SLEEP, Op
from geduld.run.program.scalar import Names, SharedNames
from geduld.run.program.writer import Writer
from geduld.run.search.search import Condition

Lane = Generator[tuple[Any, ...], tuple[int, int, int], int]
_SHARED = "# what the lanes share"
# What a lane is given by a run; in the middle how it looks at what comes next.
PARAMETERS = "put, do, channel, event, looped, control, encoder, {}, end, loop, most, kept, texts, line_at, seed, calls"


@dataclass
class Compiled:
    """A program that can be run many times: its generator function, and its tables.

    `looks_ahead` when its source asks for the instant of the next sample; `tellers` tell of each condition whether it
    holds, in a closed world.
    """

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
    looks_ahead: bool
    variables: int
    tellers: tuple[Callable[..., Any], ...] = ()


def compile_program(bound: terms.Bound, rig: Rig, closed: bool = False) -> Compiled:
    """The bound program as a generator function. The program must have no errors.

    `closed` for worlds where what the program does changes what it reads: there nothing can be looked at ahead of time.
    """
    steps = list(terms.walk_steps(bound.steps))
    lanes = sum(len(step.lanes) for step, _ in steps if isinstance(step, terms.Side))
    has_lanes = lanes > 0
    names = Names(has_lanes or closed)
    writer = Writer(rig, names, controlled(steps, rig), _inline(steps), block, closed, has_lanes)
    block(writer, 1, bound.steps)
    shared = "    nonlocal " + ", ".join(["steps", *(f"o{index}" for index in range(len(writer.outputs)))])
    lines = [line.replace(_SHARED, shared.strip()) for line in writer.lines]
    variables = [] if names.shared else [f"    v{index} = nan" for index in range(len(bound.variables))]
    channels = [f"    c{index} = channel({name!r})" for name, index in writer.names.channels.items()]
    ahead = "reach" if closed else "times"
    source = "\n".join(
        [
            f"def lane({PARAMETERS.format(ahead)}):",
            "    now = i = steps = 0",
            *variables,
            *channels,
            *(f"    o{index} = nan" for index in range(len(writer.outputs))),
            *lines,
            "    return now",
            "    yield",
            *outside_the_lane(writer),
        ]
    )
    ops = {f"k{index}": op for index, op in enumerate(writer.ops)}
    namespace: dict[str, Any] = {"__builtins__": {}, **TOOLS, **ops, "nothing": NOTHING}
    exec(compile(source, "<behaviour>", "exec", dont_inherit=True, optimize=2), namespace)
    return tables(writer, namespace, source, has_lanes, len(bound.variables))


def tables(writer: Writer, namespace: dict[str, Any], source: str, has_lanes: bool, variables: int) -> Compiled:
    """A program whose source was run in `namespace`, with the tables that its writer has gathered."""
    asked = writer.conditions if writer.closed else []
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
        "times[" in source,
        variables,
        tuple(namespace[f"teller{index}"] for index, _ in enumerate(asked)),
    )


def outside_the_lane(writer: Writer) -> list[str]:
    """The source of what is asked for beside the lane: what outputs follow, and in a closed world each condition."""
    asked = list(enumerate(writer.conditions)) if writer.closed else []
    return [
        *(line for index, found in enumerate(writer.samplers) if found for line in _sampler(index, *found)),
        *(line for index, term in asked for line in _teller(index, term)),
    ]


def _sampler(index: int, names: Names, values: str) -> list[str]:
    """A function that works out, sample by sample, the outputs of a step that follows what they themselves turn."""
    channels = [f"    c{place} = channel({name!r})" for name, place in names.channels.items()]
    return [
        f"def sampler{index}(channel, encoder, kept):",
        *channels,
        f"    def values(now, i): return {values}",
        "    return values",
    ]


def _teller(index: int, term: terms.Term) -> list[str]:
    """A function that tells whether a condition holds at an instant."""
    names = SharedNames()
    told = names.scalar(term)
    channels = [f"    c{place} = channel({name!r})" for name, place in names.channels.items()]
    return [
        f"def teller{index}(channel, encoder, kept):",
        *channels,
        f"    def holds(now, i): return {told}",
        "    return holds",
    ]


def controlled(steps: list[tuple[terms.Step, int]], rig: Rig) -> frozenset[str]:
    """The motors that are ever commanded otherwise than by power."""
    found: set[str] = set()
    for step, _ in steps:
        if isinstance(step, terms.Command | terms.Follow) and step.regulated:
            found |= {part for part, _ in step.settings}
        elif (isinstance(step, terms.Ramp) and step.regulated) or (isinstance(step, terms.Halt) and step.style):
            found |= {part for part in step.parts if rig.parts[part].kind.spins}
    return frozenset(found)


def _inline(steps: list[tuple[terms.Step, int]]) -> frozenset[str]:
    """The outputs that the source itself sets, in loops or to values worked out there."""
    found: set[str] = set()
    for step, loops in steps:
        if isinstance(step, terms.Halt) and loops:
            found |= set(step.parts)
        elif isinstance(step, terms.Command) and step.ending is None and (loops or not is_fixed(step)):
            found |= {part for part, _ in step.settings}
    return frozenset(found)


def block(writer: Writer, level: int, steps: tuple[terms.Step, ...]) -> None:
    """Writes the steps of a block."""
    if not steps:
        writer.add(level, "pass")
    for step in steps:
        _step(writer, level, step)


def _step(writer: Writer, level: int, step: terms.Step) -> None:
    match step:
        case terms.Command():
            command(writer, level, step)
        case terms.Wait():
            ask(writer, level, step.ending, Op(SLEEP, step.line))
        case terms.Repeat():
            _repeat(writer, level, step)
        case terms.Branches():
            _branches(writer, level, step)
        case terms.Assign():
            writer.add(level, f"{writer.names.variable(step.index)} = {writer.names.scalar(step.value)}")
        case terms.Halt():
            halt(writer, level, step)
        case terms.Follow():
            follow(writer, level, step)
        case terms.Ramp():
            ramp(writer, level, step)
        case terms.Bands():
            _bands(writer, level, step)
        case terms.Guarded():
            _guarded(writer, level, step)
        case terms.Side():
            _side(writer, level, step)
        case terms.Leave():
            if writer.left:
                writer.add(level, f"{writer.left} = 1")
            writer.add(level, "break")
        case terms.Continue():
            writer.add(level, "break")
        case terms.Send():
            writer.add(level, f"event(now, 'send', {writer.line(step)}, {writer.text(step.text)})")
        case terms.Note():
            writer.add(level, f"event(now, 'note', {writer.line(step)}, {writer.text(step.text)})")
        case terms.SetLine():
            writer.set_line(level, step)
        case terms.EachTime():
            writer.each_time(level, step)
        case terms.Finish():
            writer.add(level, f"event(now, 'finish', {writer.line(step)}, {writer.text(step.why or '')})")
            writer.add(level, "raise Finished(now)")


def _guarded(writer: Writer, level: int, step: terms.Guarded) -> None:
    """A body that any wait inside it may be called out of, and its handler.

    The handler stands behind the `try`, not in it: Python bounds how many such blocks may stand in each other.
    """
    number = writer.guard_count
    writer.guard_count += 1
    index = writer.condition(step.condition)
    writer.look_afresh(level, step.condition)
    writer.add(level, f"g{number} = 0")
    writer.add(level, "try:")
    writer.add(level + 1, f"if {writer.names.scalar(step.condition)}: raise Abandoned({number})")
    writer.guards.append((number, index, step.condition))
    block(writer, level + 1, step.body)
    writer.guards.pop()
    writer.add(level, "except Abandoned as gone:")
    writer.add(level + 1, f"if gone.args[0] != {number}: raise")
    writer.add(level + 1, f"g{number} = 1")
    writer.add(level, f"if g{number}:")
    block(writer, level + 1, step.handler)


def _side(writer: Writer, level: int, step: terms.Side) -> None:
    """Each lane becomes a generator of its own inside this one; the executor runs them together."""
    number, writer.lane_count = writer.lane_count, writer.lane_count + len(step.lanes)
    outer, writer.in_lane = writer.in_lane, True
    for index, (_, body) in enumerate(step.lanes):
        writer.add(level, f"def lane{number + index}(now, i):")
        writer.add(level + 1, _SHARED)
        block(writer, level + 1, body)
        writer.add(level + 1, "return now")
        writer.add(level + 1, "yield")
    writer.in_lane = outer
    lanes = "".join(f"lane{number + index}(now, i), " for index in range(len(step.lanes)))
    op = Op(SIDE, step.line, lanes=tuple(name for name, _ in step.lanes))
    give(writer, level, op, amount=f"({lanes})")
    writer.called_out(level)


def _bands(writer: Writer, level: int, step: terms.Bands) -> None:
    name = writer.names.variable(step.index)
    writer.add(level, f"x = {writer.names.scalar(step.value)}")
    writer.add(level, "if x != x:")
    block(writer, level + 1, step.absent)
    writer.add(level, "else:")
    writer.add(level + 1, f"{name} = _band(x, {name}, {step.edges!r}, {step.slack!r})")
    for index, body in enumerate(step.bodies):
        writer.add(level + 1, f"{'elif' if index else 'if'} {name} == {index}:")
        block(writer, level + 2, body)


def _poll(writer: Writer, level: int, step: terms.Repeat) -> None:
    """A loop without state: the executor does all its passes at once and says how many steps they were."""
    op = Op(POLL, step.line, index=len(writer.polls))
    writer.polls.append(step)
    cost = max(1, _count(step.body))
    give(writer, level, op, writer.kept(*terms_of(step)), amount=f"({cost}, most - steps)")
    writer.add(level, "if came < 0: raise StepsExhausted(now)")
    writer.add(level, "steps += came")
    writer.forget(level, set(commanded(step)))


def _repeat(writer: Writer, level: int, step: terms.Repeat) -> None:
    stateless = is_stateless(step) and writer.controlled.isdisjoint(commanded(step))
    if stateless and not writer.guards and not writer.has_lanes and not writer.closed:
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
        writer.look(inner, step.value)
        truth = writer.names.scalar(step.value)
        writer.add(inner, f"if {truth}: break" if step.form == "until" else f"if not {truth}: break")
    writer.add(inner, f"s{number} = now")
    writer.add(inner, f"steps += {max(1, _count(step.body))}")
    writer.add(inner, "if steps > most: raise StepsExhausted(now)")
    _pass(writer, inner, step, number)
    writer.depth -= 1
    if writer.guards or writer.in_lane:
        writer.add(inner, f"if now == s{number}:")
        give(writer, inner + 1, Op(PASS, step.line, amount=writer.rig.loop_us))
        writer.called_out(inner + 1)
        return
    straight = _goes_straight(step)
    if not straight:
        writer.add(inner, f"if now == s{number}:")
        inner += 1
    writer.add(inner, "now += loop")
    if not straight:
        writer.add(inner, f"looped({writer.line(step)}, s{number}, now)")
    writer.add(inner, "if now > end: yield nothing, now")
    writer.add(inner, "i = reach(now)" if writer.closed else "while times[i + 1] <= now: i += 1")
    if straight:
        writer.add(level - 1, f"finally: looped({writer.line(step)}, b{number}, now)")


def _pass(writer: Writer, level: int, step: terms.Repeat, number: int) -> None:
    """The body of a loop.

    Where it may be cut short, it stands in a loop of one pass, whose end it jumps to: what is behind the body is done
    in every pass, the clock moves on, and no loop is endless at one instant.
    """
    outer = writer.left
    if not any(_continues(inner) for inner in step.body):
        writer.left = ""
        block(writer, level, step.body)
        writer.left = outer
        return
    writer.left = f"l{number}"
    writer.add(level, f"{writer.left} = 0")
    writer.add(level, "for _ in (0,):")
    block(writer, level + 1, step.body)
    writer.add(level, f"if {writer.left}: break")
    writer.left = outer


def _continues(step: terms.Step) -> bool:
    """Whether a step may go on with the next pass of the loop that it stands in."""
    if isinstance(step, terms.Repeat):
        return False
    return isinstance(step, terms.Continue) or any(_continues(inner) for body in terms.bodies(step) for inner in body)


def _begin_passes(writer: Writer, level: int, step: terms.Repeat) -> int:
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


def _branches(writer: Writer, level: int, step: terms.Branches) -> None:
    word = "if"
    writer.look(level, *(condition for condition, _ in step.arms if condition is not None))
    for condition, body in step.arms:
        writer.add(level, "else:" if condition is None else f"{word} {writer.names.scalar(condition)}:")
        block(writer, level + 1, body)
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
