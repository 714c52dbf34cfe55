"""Hints about a program on a given trace."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from geduld.binding import terms
from geduld.hints.intervals import interval
from geduld.hints.lines import Lines
from geduld.hints.truths import truths
from geduld.language.messages import Hint, listed
from geduld.language.quantities import TEXT, TRUTH, show
from geduld.rig.model import Part, Rig
from geduld.run.record.record import Record
from geduld.run.search.columns import as_array
from geduld.run.search.columns import values as evaluate
from geduld.run.search.search import Condition
from geduld.worlds.noise import noise_of
from geduld.worlds.signal import instants
from geduld.worlds.trace import Floats, Ticks, Trace

CHATTER_US = 1_000_000
MOST_TURNS = 50  # that are looked at
ANSWERS = 2  # so many of them make it chatter
BOUNCE_US = 100_000
SATURATED_SHARE = 0.5
_BOUNDED = ("scale", "clamp", "min", "max")
ABSENT_SHARE = 0.01
LONG_ABSENT_US = 200_000


def world_hints(bound: terms.Bound, rig: Rig, lines: Lines, trace: Trace, record: Record) -> list[Hint]:
    """Every hint that the trace, and the run on it, give cause for."""
    found = [*_already_true(bound, rig, lines, trace, record), *_never_came(bound, rig, lines, trace, record)]
    found += chatter(bound.thresholds, lines, trace, record, rig.loop_us, _with_bands)
    found += _chatter_of_worked_out(bound, lines, trace, record, rig.loop_us)
    found += [*_never_sent(bound, lines, trace, record), *_never_read(bound, lines, record)]
    found += _saturated(bound, rig, lines, record)
    for step, loops in terms.walk_steps(bound.steps):
        found += _bounce(step, loops, rig, lines, trace)
        found += _absent(step, lines, trace, record)
        found += _kept(step, lines, trace, record)
    return found


def shown(part: Part, value: float) -> str:
    """A reading for people."""
    if math.isnan(value):
        return "absent"
    if part.dimension == TRUTH:
        return "pressed" if value else "released"
    return show(part.unit.from_base(value), part.unit.word, 1) if part.unit else show(value)


def _readings(term: terms.Term) -> list[str]:
    return list(dict.fromkeys(item.part for item in term.walk() if isinstance(item, terms.Reading)))


def _untils(bound: terms.Bound) -> Iterator[tuple[int, terms.Until]]:
    for step, _ in terms.walk_steps(bound.steps):
        ending = getattr(step, "ending", None)
        if isinstance(ending, terms.Until):
            yield step.line, ending


def _guards(block: tuple[terms.Step, ...]) -> Iterator[int]:
    """The lines that wait for a reading to be out of the way before the next line waits for it to come."""
    for step, following in pairwise(block):
        pair = [getattr(item, "ending", None) for item in (step, following)]
        if isinstance(pair[0], terms.Until) and isinstance(pair[1], terms.Until):
            first, then = (interval(until.condition) for until in pair if isinstance(until, terms.Until))
            if first is not None and then is not None and first.apart(then):
                yield step.line


def _already_true(bound: terms.Bound, rig: Rig, lines: Lines, trace: Trace, record: Record) -> Iterator[Hint]:
    bodies = [body for step, _ in terms.walk_steps(bound.steps) for body in terms.bodies(step)]
    guards = {line for block in (bound.steps, *bodies) for line in _guards(block)}
    for line, until in _untils(bound):
        names = _readings(until.condition)
        if record.at_once.get(line) == 0 and names and line not in guards:
            seen = ", ".join(
                f"{n} is {shown(rig.channels[n], float(trace.channels[n][0]))}" for n in names if n in trace.channels
            )
            message = f"This holds already when the program starts ({seen}), so nothing is waited for."
            yield lines.warning("already-true", line, message, "Compare with a value past the one at rest.")


def _never_came(bound: terms.Bound, rig: Rig, lines: Lines, trace: Trace, record: Record) -> Iterator[Hint]:
    """The wait that the world ended in, when the values it waits for were never there."""
    if record.why != "time" or not record.program:
        return
    last = record.program[-1]
    for line, until in _untils(bound):
        if line != last.line or last.state != "waiting" or last.stop < record.lasted:
            continue
        if _comes(until, trace):
            return  # the value is one that this trace reaches; it only ended in between
        since = int(trace.times.searchsorted(last.start))
        channels = {name: trace.channels[name][since:] for name in trace.channels}
        seen = [range_seen(rig.channels[name], channels.get(name)) for name in _readings(until.condition)]
        place = "in this trace" if record.pose is None else "on this floor"
        message = f"This never came {place} from {show(last.start / 1e6, 's', 2)} on. {' '.join(seen)}".rstrip()
        yield lines.warning("never-came", line, message, "Check the value, or add a patience and what to do then.")
        return


def _comes(until: terms.Until, trace: Trace) -> bool:
    """Whether the condition is fulfilled anywhere in the trace; one with kept values may be."""
    kept = terms.Variable | terms.Timer | terms.Just | terms.Encoder
    if any(isinstance(term, kept) for term in until.condition.walk()):
        return True
    held = round(until.held.value * 1_000_000) if isinstance(until.held, terms.Const) else 0
    return Condition.of(until.condition).search(trace, {}).first(0, held, trace.duration_us) <= trace.duration_us


def range_seen(part: Part, values: Floats | None) -> str:
    """What a part's readings were, as a sentence."""
    if values is None or not len(values) or np.isnan(values).all():
        return f"{part.name} was not recorded."
    low, high = float(np.nanmin(values)), float(np.nanmax(values))
    if part.dimension == TRUTH:
        return f"{part.name} was {shown(part, low)} all along." if low == high else ""
    return f"{part.name} went from {shown(part, low)} to {shown(part, high)}."


def chatter(
    thresholds: Iterable[terms.Threshold],
    lines: Lines,
    trace: Trace,
    record: Record,
    answers_us: int,
    remedy: Callable[[Part, str], str],
) -> Iterator[Hint]:
    """An output that goes back and forth with a reading that trembles around a threshold.

    `answers_us` is how long after the reading a program may answer; `remedy` is told the part and a slack for it.
    """
    turns = _back_and_forth(record)
    for threshold in thresholds:
        values = trace.column(threshold.part)
        if values is not None and _answered(values > threshold.value, turns, trace, answers_us):
            yield _trembles(threshold.part, values, threshold.span.line, lines, record, remedy)


def _chatter_of_worked_out(
    bound: terms.Bound, lines: Lines, trace: Trace, record: Record, answers_us: int
) -> Iterator[Hint]:
    """The same of what is worked out from one reading: `knob.raw > 620`, `scale(range, …) < 30 %`."""
    said: set[tuple[int, str]] = set()
    turns = _back_and_forth(record)
    for step, _ in terms.walk_steps(bound.steps):
        for term in (item for truth in truths(step) for item in truth.walk()):
            names = _readings(term)
            if not isinstance(term, terms.Compare) or isinstance(term.left, terms.Reading) or len(names) != 1:
                continue
            values = trace.column(names[0])
            if values is None or (step.line, names[0]) in said or not _of_readings_alone(term):
                continue
            truth = as_array(evaluate(term, lambda reading: trace.column(reading.part)), len(values)).astype(np.bool_)
            if _answered(truth, turns, trace, answers_us):
                said.add((step.line, names[0]))
                yield _trembles(names[0], values, step.line, lines, record, _with_bands)


def _of_readings_alone(term: terms.Term) -> bool:
    known = terms.Reading | terms.Const | terms.Arithmetic | terms.Function | terms.Compare
    return all(isinstance(item, known) and not isinstance(item, terms.Encoder) for item in term.walk())


def _answered(truth: NDArray[np.bool_], turns: Ticks, trace: Trace, answers_us: int) -> bool:
    """Whether outputs go back and forth, at `turns`, with a truth of the samples."""
    edges = trace.times[1:][truth[1:] != truth[:-1]]
    if not len(edges) or not len(turns):
        return False
    last = edges.searchsorted(turns, "right") - 1
    answered = (last >= 0) & (turns - edges[np.maximum(last, 0)] <= answers_us)
    return bool(np.count_nonzero(answered) >= ANSWERS)


def _back_and_forth(record: Record) -> Ticks:
    """The first instants at which outputs leave a value and come back to it a moment later."""
    found: list[Ticks] = []
    for signal in record.commands.values():
        times, values = signal.times, signal.values
        back = np.flatnonzero((values[2:] == values[:-2]) & (times[2:] - times[:-2] <= CHATTER_US))
        found += [times[back + 1], times[back + 2]]
    return instants([], *found)[:MOST_TURNS]


def _trembles(
    name: str, values: Floats, line: int, lines: Lines, record: Record, remedy: Callable[[Part, str], str]
) -> Hint:
    part, noise = record.rig.channels[name], noise_of(values)
    slack = math.ceil(4 * noise * 2) / 2
    told = show(part.unit.from_base(slack), part.unit.word, 1) if part.unit else show(slack)
    trembles = show(part.unit.from_base(noise), part.unit.word, 2) if part.unit else show(noise)
    message = f"{part.name} trembles by {trembles} around this value, and an output goes on and off with it."
    return lines.warning("chatter", line, message, remedy(part, told))


def _never_sent(bound: terms.Bound, lines: Lines, trace: Trace, record: Record) -> Iterator[Hint]:
    """A message that is waited for or asked for, and that nobody sends in this world."""
    for step, _ in terms.walk_steps(bound.steps):
        for term in (item for truth in truths(step) for item in truth.walk()):
            if not isinstance(term, terms.Compare) or not isinstance(term.left, terms.Reading):
                continue
            if term.left.dimension != TEXT or not isinstance(term.right, terms.Const):
                continue
            values = trace.column(term.left.part)
            sent = [] if values is None else np.unique(values[~np.isnan(values)]).tolist()
            if term.right.value not in sent:
                told = listed(f'"{record.texts.get(code, "?")}"' for code in sent)
                message = f"Nobody sends this message here: {f'what comes is {told}' if sent else 'none comes at all'}."
                remedy = "Check its letters, or send it with the hands or in the inputs."
                yield lines.warning("never-sent", step.line, message, remedy)


def _never_read(bound: terms.Bound, lines: Lines, record: Record) -> Iterator[Hint]:
    """A message that is sent to another device whose program never asks for it."""
    for step, _ in terms.walk_steps(bound.steps):
        if isinstance(step, terms.Send) and step.text in record.unheard:
            message = "The other device's program never asks for this message."
            yield lines.warning("never-read", step.line, message, "Check its letters on both sides.")


def _with_bands(part: Part, slack: str) -> str:
    return f"Use by {part.name}, slack {slack}: with bands, or ask for held 50 ms."


def _saturated(bound: terms.Bound, rig: Rig, lines: Lines, record: Record) -> Iterator[Hint]:
    """A value worked out from readings that stands at the output's limit for most of the time."""
    for step, _ in terms.walk_steps(bound.steps):
        if not isinstance(step, terms.Command | terms.Follow):
            continue
        for name, value in step.settings:
            signal, part = record.commands[name], rig.parts[name]
            if not _readings(value) or len(signal.times) < 2 or _is_bounded(value):
                continue
            ends = np.append(signal.times[1:], record.lasted)
            spans = ends - signal.times
            moving = signal.values != 0
            full = np.array([moving[k] and part.clamp(v * 1.001) == v for k, v in enumerate(signal.values.tolist())])
            share = float(spans[full].sum()) / max(1.0, float(spans[moving].sum()))
            if share >= SATURATED_SHARE:
                message = f'"{name}" stood at its limit for {show(share * 100, "%", 0)} of the time it moved.'
                remedy = "Make the factor smaller: past the limit the reading no longer steers anything."
                yield lines.advice("saturated", step.line, message, remedy)
                break


def _is_bounded(value: terms.Term) -> bool:
    """Whether a value ends where its text says, and so stands there on purpose."""
    return any(isinstance(item, terms.Function) and item.name in _BOUNDED for item in value.walk())


def _bounce(step: terms.Step, loops: int, rig: Rig, lines: Lines, trace: Trace) -> Iterator[Hint]:
    """A press waited for again and again, on a contact that bounces."""
    ending = getattr(step, "ending", None)
    if not loops or not isinstance(ending, terms.Until) or ending.held is not None:
        return
    for name in _readings(ending.condition):
        values = trace.column(name)
        if values is None or rig.channels[name].dimension != TRUTH:
            continue
        rises = trace.times[1:][(values[1:] == 1) & (values[:-1] == 0)]
        gaps = np.diff(rises)
        if len(gaps) and gaps.min() < BOUNCE_US:
            apart = show(float(gaps.min()) / 1e3, "ms")
            message = f"{name} bounces in this run: two presses {apart} apart are one."
            fix = f"{lines.text(step.line)}, held 30 ms" if lines.shows_until(step.line) else None
            yield lines.warning("bounce", step.line, message, 'Write ", held 30 ms" behind the condition.', fix)


def _kept(step: terms.Step, lines: Lines, trace: Trace, record: Record) -> Iterator[Hint]:
    """An output worked out from a reading that stays away for long: it keeps its last value all that time."""
    if not any(event.kind == "absent" and event.line == step.line for event in record.events):
        return
    settings = step.settings if isinstance(step, terms.Command | terms.Follow) else ()
    for name in dict.fromkeys(name for _, value in settings for name in _readings(value)):
        values = trace.column(name)
        away = trace.duration_us if values is None else _longest_absent(trace, values)
        if away >= LONG_ABSENT_US:
            message = (
                f"{name} has no reading for up to {show(away / 1e6, 's', 2)}, and the output keeps its last value then."
            )
            yield lines.advice("absent-kept", step.line, message, "Ask with is absent, and say what to do then.")
            return


def _longest_absent(trace: Trace, values: Floats) -> int:
    edges = np.flatnonzero(np.diff(np.concatenate(([0], np.isnan(values).astype(np.int8), [0]))))
    ends = np.append(trace.times, trace.duration_us)
    return int(max((ends[edges[1::2]] - ends[edges[::2]]).tolist(), default=0))


def _absent(step: terms.Step, lines: Lines, trace: Trace, record: Record) -> Iterator[Hint]:
    """An if whose else runs when there is no reading, as if that were a distance."""
    if not isinstance(step, terms.Branches) or step.arms[-1][0] is not None:
        return
    conditions = [condition for condition, _ in step.arms if condition is not None]
    if any(isinstance(term, terms.Absent) for condition in conditions for term in condition.walk()):
        return
    for name in dict.fromkeys(name for condition in conditions for name in _readings(condition)):
        if record.rig.channels[name].dimension in (TEXT, TRUTH):
            continue  # a radio without a message and a key that nobody touches are no lost reading
        values = trace.column(name)
        share = float(np.isnan(values).mean()) if values is not None else 0.0
        if share >= ABSENT_SHARE:
            message = f"{name} has no reading for {show(share * 100, '%', 1)} of this run, and then the else runs."
            yield lines.advice("absent-as-a-value", step.line, message, f"Ask first: if {name} is absent:")
