"""Steps that set outputs or take time: each becomes an op, and one line of source that yields it."""

from __future__ import annotations

from geduld.binding import terms
from geduld.run.program.functions import as_ticks
from geduld.run.program.requests import AWAIT, BRAKE, COAST, FOLLOW, POWER, RAMP, SLEEP, SPEED, TRAVEL, Op
from geduld.run.program.scalar import SharedNames
from geduld.run.program.writer import Writer, keeping

_STYLES = {"": POWER, "brake": BRAKE, "coast": COAST}
# What waits cost in steps: a step that takes no time is about 0.1 us of work, a plain wait 3 us.
_PLAIN, _KEEPS, _MOVES = 50, 200, 1_200


def command(writer: Writer, level: int, step: terms.Command) -> None:
    """An output that is set, with its ending where it has one."""
    control = SPEED if step.regulated else POWER
    if step.ending is None and (writer.depth or not is_fixed(step)):
        for part, value in step.settings:
            writer.put(level, part, writer.names.scalar(value), writer.line(step), control)
        return
    op = _acting(writer, SLEEP, step.line, [part for part, _ in step.settings], control, step.stops, step.abandons)
    values = None
    if is_fixed(step):
        parts = writer.rig.parts
        op.fixed = tuple((part, parts[part].clamp(value.value)) for part, value in step.settings)  # type: ignore[attr-defined]
        op.sets = ()
    else:
        values = "(" + "".join(f"{writer.names.scalar(value)}, " for _, value in step.settings) + ")"
    if step.ending is None:
        _do(writer, level, op)
    else:
        ask(writer, level, step.ending, op, values)


def is_fixed(step: terms.Command) -> bool:
    """Whether all its values are known beforehand."""
    return all(isinstance(value, terms.Const) and value.value == value.value for _, value in step.settings)


def halt(writer: Writer, level: int, step: terms.Halt) -> None:
    """Outputs that are stopped."""
    if writer.depth:
        for part in step.parts:
            writer.put(level, part, "0.0", writer.line(step), _style(writer, part, step.style))
        return
    controls = tuple((part, _style(writer, part, step.style)) for part in step.parts if part in writer.controlled)
    _do(writer, level, Op(SLEEP, step.line, fixed=_at_rest(writer, step.parts), controls=controls))


def _do(writer: Writer, level: int, op: Op) -> None:
    """Sets outputs to what is known beforehand."""
    writer.add(level, f"do({writer.op(op)}, now)")
    writer.forget(level, {part for part, _ in op.fixed})


def _style(writer: Writer, part: str, style: str) -> int:
    return _STYLES[style] if writer.rig.parts[part].kind.spins else POWER


def _at_rest(writer: Writer, parts: tuple[str, ...]) -> tuple[tuple[str, float], ...]:
    found = writer.at_rest.get(parts)
    if found is None:
        found = writer.at_rest[parts] = tuple((part, writer.rig.parts[part].clamp(0.0)) for part in parts)
    return found


def _acting(
    writer: Writer,
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


def ask(writer: Writer, level: int, ending: terms.Ending, op: Op, values: str | None = None, more: str = "()") -> None:
    """Yields a step that takes time, and goes on behind its end."""
    kept, amount = "()", None
    if isinstance(ending, terms.Until):
        op.ending, op.index = AWAIT, writer.condition(ending.condition)
        writer.look_afresh(level, ending.condition)
        kept = writer.kept(ending.condition)
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
    give(writer, level, op, kept, values, amount, more)
    _ended(writer, level, op, ending)


def give(
    writer: Writer,
    level: int,
    op: Op,
    kept: str = "()",
    values: str | None = None,
    amount: str | None = None,
    more: str = "()",
) -> None:
    """Yields an op, with what it does not know itself."""
    request = f"{writer.op(op)}, now"
    if writer.guards or kept != "()" or values or amount or more != "()":
        request += f", {writer.guards_now()}, {kept}, {values}, {amount}, {more}"
    writer.add(level, f"now, i, came = yield {request}")


def _ticks(writer: Writer, term: terms.Term | None) -> int | str:
    """A time in ticks: as a number where it is fixed, else as an expression."""
    if term is None:
        return 0
    return as_ticks(term.value) if isinstance(term, terms.Const) else f"_ticks({writer.names.scalar(term)})"


def _ended(writer: Writer, level: int, op: Op, ending: terms.Ending) -> None:
    """What the source does behind a wait; the executor has stopped what is to be stopped."""
    if writer.inline:
        writer.forget(level, {part for part, _ in (*op.fixed, *op.stops, *op.abandons)} | set(op.sets))
    if writer.depth:
        writer.add(level, f"steps += {_cost(writer, op, ending)}")
    writer.called_out(level)
    if isinstance(ending, terms.Until) and ending.otherwise:
        writer.add(level, "if not came:")
        writer.block(writer, level + 1, ending.otherwise)


def _cost(writer: Writer, op: Op, ending: terms.Ending) -> int:
    """What a wait costs in steps: those that are searched for anew each time, or that keep something moving, most."""
    if op.kind in (FOLLOW, RAMP) or isinstance(ending, terms.Travel):
        return _MOVES
    asked = [term for _, _, term in writer.guards]
    asked += [ending.condition] if isinstance(ending, terms.Until) else []
    if any(isinstance(term, terms.Clock | terms.Timer | terms.Encoder) for top in asked for term in top.walk()):
        return _MOVES
    if writer.in_lane:
        return 1  # whoever runs the lanes counts what they cost
    return _KEEPS if writer.guards or any(keeping(term) for term in asked) else _PLAIN


def follow(writer: Writer, level: int, step: terms.Follow) -> None:
    """The outputs are set now; at the later samples the executor sets them, from whole columns."""
    first = len(writer.follows)
    writer.follows += [value for _, value in step.settings]
    parts, control = [part for part, _ in step.settings], SPEED if step.regulated else POWER
    op = _acting(writer, FOLLOW, step.line, parts, control, step.stops, step.abandons)
    op.follows = tuple(range(first, len(writer.follows)))
    names = SharedNames()
    asks = writer.closed or any(isinstance(item, terms.Encoder) for _, value in step.settings for item in value.walk())
    values_of = "".join(f"{names.scalar(value)}, " for _, value in step.settings) if asks else ""
    writer.samplers.append((names, f"({values_of})") if asks else None)
    op.sampler = len(writer.samplers) - 1
    terms_used = [value for _, value in step.settings]
    values = "(" + "".join(f"{writer.names.scalar(value)}, " for value in terms_used) + ")"
    ask(writer, level, step.ending, op, values, writer.kept(*terms_used))


def ramp(writer: Writer, level: int, step: terms.Ramp) -> None:
    """Outputs that are taken from one value to another."""
    values = f"({writer.names.scalar(step.start)}, {writer.names.scalar(step.stop)})"
    control = SPEED if step.regulated else POWER
    op = _acting(writer, RAMP, step.line, list(step.parts), control, step.stops, step.abandons)
    op.onwards = step.onwards
    ask(writer, level, step.over, op, values)
