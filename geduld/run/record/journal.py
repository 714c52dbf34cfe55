"""What a run writes down as it goes: commands, events, and which line waited when."""

from __future__ import annotations

from array import array
from collections.abc import Callable, Iterator, Mapping, Sequence

import numpy as np

from geduld.rig.model import Rig
from geduld.run.record.record import Bar, Event
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Floats, Ticks

LEAST_EVENTS = 10_000
Order = tuple[int, ...]
_FEW = 32
PATIENCE = "The patience ran out before the condition held."


def _line(found: int | Callable[[], int | None]) -> int:
    return found if isinstance(found, int) else found() or 0


class EventsExhausted(Exception):
    """The program made more events than a run may. Carries the tick."""


class Journal:
    """The growing record of one run. `end` is the last tick of the world."""

    def __init__(self, rig: Rig, end: int, texts: Sequence[str]) -> None:
        self.parts = rig.output_parts
        self.ticks: dict[str, list[int] | array[int]] = {name: [0] for name in self.parts}
        self.levels: dict[str, list[float] | array[float]] = {name: [level] for name, level in rig.at_rest}
        self.set_by: dict[str, int | Callable[[], int | None]] = {}
        self.controls: dict[str, list[tuple[int, int]]] = {}
        self.line_levels: dict[str, list[tuple[int, float]]] = {}
        self.measured: set[int] = set()
        self.texts = texts
        self.events: list[Event] = []
        self.most_events = LEAST_EVENTS + end // (10 * rig.loop_us)
        self.absent_lines: set[int] = set()
        self.bars: list[tuple[int, int, int, str, str, Order]] = []
        self.last_bar: dict[str, int] = {}

    def put(self, name: str, value: float, now: int, line: int) -> float:
        """Commands an output: the last command of an instant counts; no change leaves no trace.

        Gives back the value that the output has now.
        """
        if value != value:
            self.set_by[name] = line
            self.absent(now, line, name)
            return self.levels[name][-1]
        value = self.parts[name].clamp(value)
        self.put_fixed(((name, value),), now, line)
        return value

    def put_fixed(self, settings: tuple[tuple[str, float], ...], now: int, line: int) -> None:
        """Commands outputs to values that are known, inside their range and never absent; as `put` does."""
        for name, value in settings:
            ticks, levels = self.ticks[name], self.levels[name]
            self.set_by[name] = line
            if ticks[-1] == now:
                if len(ticks) > 1 and levels[-2] == value:
                    ticks.pop()
                    levels.pop()
                else:
                    levels[-1] = value
            elif levels[-1] != value:
                ticks.append(now)
                levels.append(value)

    def put_changes(self, name: str, ticks: Ticks, values: Floats) -> None:
        """Commands an output at rising instants, all later than its last change: each value differs from the last."""
        old_ticks, old_levels = self.ticks[name], self.levels[name]
        if isinstance(old_ticks, list) or isinstance(old_levels, list):
            if len(values) <= _FEW:
                old_ticks.extend(ticks.tolist())
                old_levels.extend(values.tolist())
                return
            old_ticks = self.ticks[name] = array("q", old_ticks)
            old_levels = self.levels[name] = array("d", old_levels)
        old_ticks.frombytes(np.ascontiguousarray(ticks).tobytes())
        old_levels.frombytes(np.ascontiguousarray(values).tobytes())

    def polled(self, name: str, line: Callable[[], int | None]) -> None:
        """Notes that a stateless loop has set an output; on which line is asked only when somebody asks."""
        before = self.set_by.get(name, 0)
        self.set_by[name] = lambda: line() or _line(before)

    def lines(self) -> dict[str, int]:
        """The line that commanded each output last."""
        return {name: _line(found) for name, found in self.set_by.items()}

    def control(self, name: str, code: int, now: int) -> None:
        """Notes how a motor is controlled from now on: the last way of an instant counts."""
        entries = self.controls.setdefault(name, [(0, 0)])
        if entries[-1][0] == now:
            entries.pop()
        if not entries or entries[-1][1] != code:
            entries.append((now, code))

    def line_at(self, name: str, level: float, now: int) -> None:
        """Notes the level of a line of the controller from now on, in %: the last of an instant counts."""
        entries = self.line_levels.setdefault(name, [(0, 0.0)])
        if entries[-1][0] == now:
            entries.pop()
        if not entries or entries[-1][1] != level:
            entries.append((now, level))

    def line_signals(self) -> dict[str, Signal]:
        """The levels of the lines that were ever set."""
        return {
            name: Signal(np.array([tick for tick, _ in entries], np.int64), np.array([level for _, level in entries]))
            for name, entries in self.line_levels.items()
        }

    def move_measured(self, tick: int, line: int, text: str) -> None:
        """Notes, once for each line, how the way of its moves is measured."""
        if line not in self.measured:
            self.measured.add(line)
            self.note(tick, "move", line, text)

    def put_many(self, name: str, ticks: Ticks, values: Floats) -> None:
        """Commands an output at rising instants, all later than its last change; no value is absent."""
        low, high = self.parts[name].bounds
        clamped = np.minimum(np.maximum(values, low), high)
        keep = clamped != np.concatenate((self.levels[name][-1:], clamped[:-1]))
        self.put_changes(name, ticks[keep], clamped[keep])

    def move(self, line: int, ticks: Ticks, moves: list[tuple[str, Floats]]) -> None:
        """Commands outputs at rising instants; an absent value leaves an output as it is, and is said once."""
        absent = []
        for order, (name, values) in enumerate(moves):
            missing = np.isnan(values)
            if missing.any():
                absent.append((int(ticks[missing.argmax()]), order, name))
            self.put_many(name, ticks[~missing], values[~missing])
        for tick, _, name in sorted(absent)[:1]:
            self.absent(tick, line, name)

    def absent(self, tick: int, line: int, name: str) -> None:
        """Notes, once for each line, that an output was given an absent value."""
        if line not in self.absent_lines:
            self.absent_lines.add(line)
            self.note(tick, "absent", line, f'"{name}" was given an absent value and kept what it had.')

    def event(self, tick: int, kind: str, line: int, text: int | str) -> None:
        """Notes an event, whose text is given or stands in the program's table."""
        said = text if isinstance(text, str) else PATIENCE if kind == "patience" else self.texts[text]
        self.note(tick, kind, line, said)

    def note(self, tick: int, kind: str, line: int, text: str) -> None:
        """Notes an event. Raises EventsExhausted when there are more than a run may have."""
        if len(self.events) >= self.most_events:
            raise EventsExhausted(tick)
        self.events.append(Event(tick, kind, line, text))

    def looped(self, line: int, start: int, stop: int, lane: str = "begin", order: Order = ()) -> None:
        """Notes one pass of a loop that never waited; passes of a lane in a row become one bar."""
        if stop == start:
            return
        index = self.last_bar.get(lane)
        if index is not None:
            bar = self.bars[index]
            if bar[3] == "looping" and bar[0] == line and bar[2] == start:
                self.bars[index] = (line, bar[1], stop, "looping", lane, order)
                return
        self.last_bar[lane] = len(self.bars)
        self.bars.append((line, start, stop, "looping", lane, order))

    def waited(self, line: int, start: int, stop: int, lane: str, order: Order) -> None:
        """Notes a wait that took time."""
        if stop > start:
            self.bars.append((line, start, stop, "waiting", lane, order))

    def program(self, end: int) -> tuple[Bar, ...]:
        """The bars in the order of their start, and of their lanes; none past the end."""
        bars = sorted(self.bars, key=lambda bar: (bar[1], bar[5]))
        return tuple(Bar(line, start, min(stop, end), state, lane) for line, start, stop, state, lane, _ in bars)

    def control_signals(self) -> dict[str, Signal]:
        """How each motor was controlled, of those that were ever controlled otherwise than by power."""
        return {
            name: Signal(
                np.array([tick for tick, _ in entries], np.int64), np.array([float(code) for _, code in entries])
            )
            for name, entries in self.controls.items()
            if entries != [(0, 0)]
        }

    def commands(self) -> Mapping[str, Signal]:
        """Every output's changes; each is made when it is asked for."""
        return _Commands(self.ticks, self.levels)


class _Commands(Mapping[str, Signal]):
    def __init__(self, ticks: Mapping[str, Sequence[int]], levels: Mapping[str, Sequence[float]]) -> None:
        self.ticks = ticks
        self.levels = levels
        self.made: dict[str, Signal] = {}

    def __getitem__(self, name: str) -> Signal:
        if name not in self.made:
            self.made[name] = Signal(np.array(self.ticks[name], np.int64), np.array(self.levels[name], np.float64))
        return self.made[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self.ticks)

    def __len__(self) -> int:
        return len(self.ticks)
