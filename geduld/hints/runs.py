"""Hints about a finished run."""

from __future__ import annotations

from collections.abc import Iterator

from geduld.binding import terms
from geduld.hints.lines import Lines
from geduld.language.messages import Hint
from geduld.language.quantities import show
from geduld.run.record.record import Record


def run_hints(bound: terms.Bound, lines: Lines, record: Record) -> list[Hint]:
    """Every hint that the run's end and its events give cause for."""
    return [*_left_running(lines, record), *_at_once(bound, lines, record), *_events(bound, lines, record)]


def _left_running(lines: Lines, record: Record) -> Iterator[Hint]:
    if record.why != "finished" or record.rig.stops_at_end:
        return
    running: dict[int, list[str]] = {}
    for name, signal in record.commands.items():
        if record.rig.parts[name].kind.spins and signal.values[-1] != 0:
            running.setdefault(record.set_by[name], []).append(f"{name} at {show(float(signal.values[-1]), '%', 1)}")
    for line, parts in running.items():
        message = f"The program ends and leaves {' and '.join(parts)} running; a real robot would go on."
        yield lines.warning("left-running", line, message, "Give this step an ending, or stop it before the end.")


def _at_once(bound: terms.Bound, lines: Lines, record: Record) -> Iterator[Hint]:
    """Actions that ended at the instant at which they began, each time they were reached."""
    took_time = {bar.line for bar in record.program}
    acting = {
        step.line
        for step, _ in terms.walk_steps(bound.steps)
        if isinstance(step, terms.Command | terms.Follow) and isinstance(step.ending, terms.Until)
    }
    for line, tick in record.at_once.items():
        if line in acting and line not in took_time and tick > 0:
            message = f"This ends at the instant at which it begins, at {show(tick / 1e6, 's', 2)}, so nothing moves."
            yield lines.advice("ended-at-once", line, message, "Its condition holds already when it is reached.")


def _events(bound: terms.Bound, lines: Lines, record: Record) -> Iterator[Hint]:
    handled = {
        step.line
        for step, _ in terms.walk_steps(bound.steps)
        if isinstance(getattr(step, "ending", None), terms.Until) and step.ending.has_otherwise  # type: ignore[attr-defined]
    }
    said: set[tuple[str, int]] = set()
    for event in record.events:
        if (event.kind, event.line) in said:
            continue
        said.add((event.kind, event.line))
        at = show(event.tick / 1e6, "s", 2)
        if event.kind == "patience" and event.line not in handled:
            message = f"The patience ran out at {at}, and the program went on as if nothing had happened."
            indent = lines.indent(event.line)
            fix = None
            if lines.shows_until(event.line):
                fix = f'{lines.text(event.line)}\n{indent}    otherwise:\n{indent}        finish "patience ran out"'
            yield lines.advice("patience-ran-out", event.line, message, "Say under otherwise: what to do then.", fix)
        elif event.kind == "limit":
            yield lines.warning("limit-passed", max(1, event.line), event.text, "")
