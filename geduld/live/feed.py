"""What comes from one robot: its lines, read by a recipe, with the last values and how they behave."""

from __future__ import annotations

from bisect import bisect_left
from collections import deque
from dataclasses import dataclass, field, replace

import numpy as np

from geduld.errors import TraceError
from geduld.recordings.forms import FORMS
from geduld.recordings.laying_out import layout_of
from geduld.recordings.layout import Table
from geduld.recordings.proposal import propose
from geduld.recordings.reading import read
from geduld.recordings.recipe import HOLD, Recipe
from geduld.recordings.text import Text
from geduld.recordings.timing import DROP, FILE, SPREAD, Timing
from geduld.recordings.understanding import for_this_table
from geduld.rig.model import Part, Rig
from geduld.worlds.noise import noise_of
from geduld.worlds.trace import Floats, Trace

LOOKED_AT = 12  # lines from which the form of a feed is found out
MOST_LETTERS = 2_000
MOST_LINES = 5_000  # of one batch
KEPT_S = 120.0  # of what comes while nothing is recorded
LONGEST_S = 3_600.0  # of one recording
PLAYED_S = 600.0  # for which a program can be played along with what comes
FORGOTTEN_S = 10.0  # after which nobody plays any more who has not asked again
MOST_HEARD = 200


@dataclass(frozen=True)
class Reading:
    """How a channel behaves: values in the part's unit, None where there is no reading.

    `raw` is the converter's number, where the rig says what its numbers mean; `absent` a share, 0 to 1; `strip` the
    last values with their times in s.
    """

    part: Part
    value: float | None
    raw: float | None
    least: float | None
    greatest: float | None
    noise: float
    absent: float
    strip: tuple[tuple[float, float | None], ...]


@dataclass
class Seen:
    """What a channel was like since the feed began: its least and greatest value in base units, how many were known."""

    least: float = np.inf
    greatest: float = -np.inf
    known: int = 0
    count: int = 0

    def add(self, values: Floats) -> None:
        """The next values."""
        known = values[~np.isnan(values)]
        self.count += len(values)
        self.known += len(known)
        if len(known):
            self.least = min(self.least, float(known.min()))
            self.greatest = max(self.greatest, float(known.max()))

    def told(self, part: Part) -> tuple[float | None, float | None, float]:
        """The least and the greatest in the part's unit, and the share of absent values."""
        absent = 1 - self.known / self.count if self.count else 0.0
        if not self.known:
            return None, None, absent
        ends = (self.least, self.greatest)
        low, high = (part.unit.from_base(end) if part.unit else end for end in ends)
        return low, high, absent


@dataclass
class Feed:
    """Everything that came from one robot. `recipe` is None until enough lines came to find one out.

    `heard` are the last lines as they came; `lines` and `unread` count them all, and those that could not be read.
    """

    rig: Rig
    recipe: Recipe | None = None
    heard: deque[str] = field(default_factory=lambda: deque(maxlen=MOST_HEARD))
    lines: int = 0
    unread: int = 0
    recording: bool = False
    _waiting: list[str] = field(default_factory=list)
    _arrived: list[float] = field(default_factory=list)
    _heading: str = ""
    _times: list[int] = field(default_factory=list)
    _values: dict[str, list[float]] = field(default_factory=dict)
    _texts: dict[float, str] = field(default_factory=dict)
    _seen: dict[str, Seen] = field(default_factory=dict)
    _last: int = -1
    _offset: int | None = None
    _before: float = 0.0
    _now: float = 0.0
    _names: set[str] = field(default_factory=set)
    _played: tuple[int, float] | None = None

    def add(self, lines: list[str], now: float) -> None:
        """The next lines, which came up to `now`, in s of any clock that goes on evenly."""
        kept = [line[:MOST_LETTERS] for line in lines[:MOST_LINES] if line.strip()]
        if not kept:
            return
        self._now = now
        self.lines += len(kept)
        self.heard.extend(kept)
        start = self._arrived[-1] if self._arrived else self._before or now - 0.02 * len(kept)
        start = min(start, now)
        step = (now - start) / len(kept)
        self._waiting += kept
        self._arrived += [start + step * (k + 1) for k in range(len(kept))]
        if self.recipe is None and len(self._waiting) >= LOOKED_AT:
            self._find_out()
        if self.recipe is not None:
            self._read()

    def use(self, recipe: Recipe) -> None:
        """Reads what comes from now on by another recipe; what came stays as it was read, when the channels do."""
        same = self.recipe is not None and [use.channel for use in self.recipe.uses] == [
            use.channel for use in recipe.uses
        ]
        self.recipe = _for_lines(recipe)
        if not same:
            self.forget()

    def _find_out(self) -> None:
        text = Text("\n".join(self._waiting), "utf-8")
        layout = layout_of(text)
        rows = self._waiting
        self._heading = rows[layout.heading - 1] if layout.heading else ""
        self.recipe = _for_lines(propose(text, self.rig, layout).recipe)

    def _read(self) -> None:
        recipe = self.recipe
        assert recipe is not None
        lines, arrived = self._waiting, self._arrived
        self._waiting, self._arrived, self._before = [], [], self._arrived[-1] if self._arrived else self._before
        layout = recipe.layout
        if layout.form == "table" and self._heading:
            lines, arrived = [self._heading, *(line for line in lines if line != self._heading)], arrived
            layout = replace(layout, heading=1, units=0, first=1)
        else:
            layout = replace(layout, heading=0, units=0, first=1)
        table: Table = FORMS[layout.form](iter(lines), layout, '"' in "".join(lines))
        self.unread += table.bad.count
        if not table.rows:
            return
        if not set(table.names) <= self._names:
            recipe = self._with_new_names(recipe, table)
        timed = recipe.timing.column and recipe.timing.column in table.names
        timing = replace(recipe.timing, starts=FILE) if timed else Timing(rate=1.0)
        try:
            trace, report = read(
                table, replace(recipe, layout=layout, timing=timing, bad_rows=DROP, missing=recipe.missing), self.rig
            )
        except TraceError:
            self.unread += table.rows
            return
        self.unread += report.bad.count - table.bad.count
        self._append(trace, arrived if not timed else None, bool(timed), recipe)

    def _with_new_names(self, recipe: Recipe, table: Table) -> Recipe:
        """The recipe with what names mean that came for the first time: a sensor may have had nothing to say before."""
        first = not self._names
        self._names |= set(table.names)
        if first:
            return recipe
        text = Text("\n".join(self.heard), "utf-8")
        found = propose(text, self.rig, recipe.layout, table).recipe
        self.recipe = _for_lines(replace(for_this_table(recipe, found, table, self.rig), layout=recipe.layout))
        return self.recipe

    def _append(self, trace: Trace, arrived: list[float] | None, timed: bool, recipe: Recipe) -> None:
        ticks = trace.times.astype(np.int64)
        if not timed and arrived is not None:
            rows = np.minimum(trace.times // 1_000_000, len(arrived) - 1)
            ticks = np.rint(np.array(arrived)[rows] * 1e6).astype(np.int64)
        if self._offset is None:
            self._offset = int(ticks[0])
        ticks = ticks - self._offset
        if self._last >= 0 and ticks[0] <= self._last:
            # the board's counter began again, or the board did: time goes on from what came last
            step = int(np.median(np.diff(self._times[-50:]))) if len(self._times) > 2 else 20_000
            shift = self._last + max(1, step) - int(ticks[0])
            self._offset -= shift
            ticks = ticks + shift
        fresh = np.concatenate(([True], np.diff(ticks) > 0))
        for tick in ticks[fresh].tolist():
            self._times.append(tick)
        self._last = self._times[-1]
        count = len(self._times)
        for name, values in trace.channels.items():
            column = self._values.setdefault(name, [np.nan] * (count - int(fresh.sum())))
            column += values[fresh].tolist()
            self._seen.setdefault(name, Seen()).add(values[fresh])
        for column in self._values.values():
            missing = count - len(column)
            if missing:
                hold = column[-1] if column and recipe.missing == HOLD else np.nan
                column += [hold] * missing
        self._texts |= trace.texts
        self._shorten()

    def _shorten(self) -> None:
        longest = LONGEST_S if self.recording else KEPT_S
        if self._played is not None and self._now - self._played[1] < FORGOTTEN_S:
            longest = max(longest, min(PLAYED_S, (self._times[-1] - self._played[0]) / 1e6))
        if self._times[-1] - self._times[0] <= longest * 1.1e6:
            return
        first = int(np.searchsorted(np.array(self._times), self._times[-1] - longest * 1e6))
        self._times = self._times[first:]
        self._values = {name: column[first:] for name, column in self._values.items()}

    def forget(self) -> None:
        """Begins anew; the recipe stays."""
        self._times, self._values, self._texts, self._seen = [], {}, {}, {}
        self._last, self._offset = -1, None

    def trace(self) -> Trace:
        """What came, from 0 s on. Raises TraceError where nothing did."""
        if not self._times:
            raise TraceError("no-samples", "Nothing has come yet.", "Let the robot send its readings.")
        times = np.array(self._times, np.int64)
        channels = {name: np.array(column) for name, column in self._values.items()}
        return Trace(times - times[0], channels, dict(self._texts))

    @property
    def clock(self) -> float:
        """How much has come since the feed began, in s of its own time."""
        return max(0, self._last) / 1e6

    def since(self, start: float) -> Trace:
        """What came from a reading of the clock on, from 0 s on; it is kept for as long as it is asked for again.

        Raises TraceError where nothing came since, or where it is too long ago.
        """
        tick = round(start * 1e6)
        self._played = tick, self._now
        first = bisect_left(self._times, tick)
        if first >= len(self._times):
            raise TraceError("no-samples", "Nothing has come since.", "Let the robot send its readings.")
        if self._times[-1] - tick > PLAYED_S * 1e6 or self._times[0] > tick + 2e6:
            message = f"A program is played along with what comes for {PLAYED_S / 60:.0f} min at most."
            raise TraceError("live-too-long", message, "Play it anew.")
        times = np.array(self._times[first:], np.int64) - tick
        channels = {name: np.array(column[first:]) for name, column in self._values.items()}
        return Trace(times, channels, dict(self._texts))

    def text_of(self, value: float | None) -> str | None:
        """The message that a value of a radio stands for."""
        return None if value is None else self._texts.get(value)

    @property
    def rate(self) -> float | None:
        """How many samples a second come; None until a few did."""
        times = self._times[-100:]
        return None if len(times) < 3 or times[-1] == times[0] else 1e6 * (len(times) - 1) / (times[-1] - times[0])

    @property
    def seconds(self) -> float:
        """How long what is kept lasts."""
        return (self._times[-1] - self._times[0]) / 1e6 if self._times else 0.0

    def readings(self, points: int = 120, over: float = 10.0) -> list[Reading]:
        """Each channel's last value, and how it behaved; the strips show the last `over` seconds in so many points."""
        if not self._times:
            return []
        last = self._times[-1]
        first = bisect_left(self._times, last - over * 1e6)
        times = self._times[first:]
        stride = max(1, len(times) // points)
        found = []
        for name, column in self._values.items():
            part = self.rig.channels.get(name)
            if part is None or name.endswith(".messages"):
                continue
            least, greatest, absent = self._seen[name].told(part)
            recent: Floats = np.array(column[first:])
            recent = part.unit.from_base(recent) if part.unit else recent
            strip = tuple(
                ((at - last) / 1e6, None if value != value else round(value, 4))
                for at, value in zip(times[::stride], recent[::stride].tolist(), strict=True)
            )
            now, base = float(recent[-1]), column[-1]
            raw = None if part.raw_unit is None or base != base else part.raw_unit.from_base(base)
            noise = noise_of(recent[-500:])
            found.append(Reading(part, None if now != now else now, raw, least, greatest, noise, absent, strip))
        return found


def _for_lines(recipe: Recipe) -> Recipe:
    """A recipe as it is used for lines that come: bad ones are left out and counted, and times may stand still."""
    timing = replace(recipe.timing, equal=SPREAD if not recipe.timing.column else recipe.timing.equal)
    return replace(recipe, timing=timing, bad_rows=DROP)
